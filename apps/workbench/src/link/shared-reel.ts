import type { ReelRequest, FileState, Steps, ReelMessage } from '@unspool/cli/protocol';
import { LIMITS, type ReelDocument } from 'unspool';
import { edit, type Edited, type Operation, type Refused } from 'unspool/edit';
import { expectSteps } from './expected-steps.js';

/** A request that was not answered yet, the document with it applied, and its sentence where it applies. */
interface Pending {
  readonly request: Extract<ReelRequest, { mark: string }>;
  readonly after: ReelDocument;
  readonly said?: string | undefined;
}

/**
 * A reel as one of its pages sees it: what the server has confirmed, and on top of it what this page has requested
 * since. Requests are shown at once; when the server confirms something else first, that is inserted below.
 */
export class SharedReel {
  #confirmed: ReelDocument | undefined;
  #pending: Pending[] = [];
  /** The document before the last step that came: to compare with. */
  before: ReelDocument | undefined;
  #steps: Steps = { done: [], undone: [], doneCount: 0, undoneCount: 0 };
  file: FileState = { saved: true };

  /** @param left unconfirmed requests of the page before it was reloaded */
  constructor(left: readonly Pending['request'][] = []) {
    this.#pending = left.map((request) => ({ request, after: NOTHING }));
  }

  /** The document as it is shown; `undefined` until the server has sent it. */
  get doc(): ReelDocument | undefined {
    return this.#confirmed && (this.#pending.at(-1)?.after ?? this.#confirmed);
  }

  /** The history with what is pending: a redo can follow an undo before that is confirmed. */
  get steps(): Steps {
    return expectSteps(
      this.#steps,
      this.#pending.map(({ request: { ask }, said }) => (ask === 'apply' ? { ask, said } : { ask })),
    );
  }

  /** Unanswered requests, to be repeated on a new connection. */
  get unanswered(): readonly Pending['request'][] {
    return this.#pending.map(({ request }) => request);
  }

  /** Asks for an operation, unless it does not apply to what is shown, or the server would not take it. */
  apply(operation: Operation, mark: string): Edited | Refused {
    const made = edit(this.doc!, operation);
    if (!made.ok) return made;
    const request = { ask: 'apply', mark, operation } as const;
    const bytes = new TextEncoder().encode(JSON.stringify(request)).length;
    // The server would end the connection, and be asked again and again.
    if (bytes > LIMITS.bytes) return tooLarge(bytes);
    this.#pending.push({ request, after: made.doc, said: made.said });
    return made;
  }

  /** Asks for a step back or forward, which only the server can take. */
  go(ask: 'undo' | 'redo', mark: string): void {
    this.#pending.push({ request: { ask, mark }, after: this.doc! });
  }

  /** @returns a sentence, where something that was shown has come to nothing */
  take(message: ReelMessage): string | undefined {
    if (message.tell === 'file') {
      this.file = message.file;
      return undefined;
    }
    if (message.tell === 'open') {
      this.#steps = message.steps;
      this.file = message.file;
      this.#confirmed = message.doc;
      this.#replay();
      return undefined;
    }
    if (message.tell === 'refused') {
      const was = this.#drop(message.mark);
      this.#replay();
      return was && message.code !== 'workbench/known' ? message.message : undefined;
    }
    this.#steps = message.steps;
    // Until the server says that it is.
    this.file = { ...this.file, saved: false };
    this.before = this.#confirmed;
    const [first] = this.#pending;
    if (first?.request.ask === 'apply' && first.request.mark === message.mark) {
      // The very thing that is shown already.
      this.#pending.shift();
      this.#confirmed = first.after;
      return undefined;
    }
    if (message.mark !== undefined) this.#drop(message.mark);
    const made = edit(this.#confirmed!, message.operation);
    if (!made.ok) return `this page has fallen behind: ${made.said}. Load it anew`;
    this.#confirmed = made.doc;
    this.#replay();
    return undefined;
  }

  #drop(mark: string): boolean {
    const count = this.#pending.length;
    this.#pending = this.#pending.filter(({ request }) => request.mark !== mark);
    return this.#pending.length < count;
  }

  /** Applies what is pending on top of what is confirmed; what no longer applies is left for the server to refuse. */
  #replay(): void {
    let doc = this.#confirmed!;
    this.#pending = this.#pending.map(({ request }) => {
      const made = request.ask === 'apply' ? edit(doc, request.operation) : undefined;
      if (made?.ok) doc = made.doc;
      return { request, after: doc, said: made?.ok ? made.said : undefined };
    });
  }
}

function tooLarge(bytes: number): Refused {
  const [has, may] = [bytes, LIMITS.bytes].map((size) => size.toLocaleString('en'));
  const said = `This change has ${has} bytes, and the server takes ${may} at most: make it in several steps.`;
  return { ok: false, code: 'workbench/too-large', said };
}

const NOTHING: ReelDocument = { unspool: 1, clips: {} };
