import type { Asked, FileState, Steps, Told } from '@unspool/cli/protocol';
import type { ReelDocument } from 'unspool';
import { edit, type Edited, type Operation, type Refused } from 'unspool/edit';

/** Something that was asked for and has not come back yet, and the document as it is when it comes to pass. */
interface Pending {
  readonly asked: Extract<Asked, { mark: string }>;
  readonly after: ReelDocument;
}

/**
 * A reel as one of its pages sees it: what the server has told, and over it what this page has asked for since. What is
 * shown is there at once; when the server tells of something else first, that is put under it.
 */
export class SharedReel {
  #confirmed: ReelDocument | undefined;
  #pending: Pending[] = [];
  /** The document before the last step that came: to compare with. */
  before: ReelDocument | undefined;
  steps: Steps = { done: [], undone: [], doneCount: 0, undoneCount: 0 };
  file: FileState = { saved: true };

  /** @param left what a page that was loaded anew had asked for without hearing of it */
  constructor(left: readonly Pending['asked'][] = []) {
    this.#pending = left.map((asked) => ({ asked, after: NOTHING }));
  }

  /** The document as it is shown; nothing before the server has told of it. */
  get doc(): ReelDocument | undefined {
    return this.#confirmed && (this.#pending.at(-1)?.after ?? this.#confirmed);
  }

  /** What was asked for and not answered: to be asked again on a new connection. */
  get unanswered(): readonly Pending['asked'][] {
    return this.#pending.map(({ asked }) => asked);
  }

  /** Asks for an operation, unless it does not apply to what is shown. */
  apply(operation: Operation, mark: string): Edited | Refused {
    const made = edit(this.doc!, operation);
    if (made.ok) this.#pending.push({ asked: { ask: 'apply', mark, operation }, after: made.doc });
    return made;
  }

  /** Asks for a step back or forward, which only the server can take. */
  go(ask: 'undo' | 'redo', mark: string): void {
    this.#pending.push({ asked: { ask, mark }, after: this.doc! });
  }

  /** @returns a sentence, where something that was shown has come to nothing */
  take(told: Told): string | undefined {
    if (told.tell === 'file') {
      this.file = told.file;
      return undefined;
    }
    if (told.tell === 'open') {
      this.steps = told.steps;
      this.file = told.file;
      this.#confirmed = told.doc;
      this.#replay();
      return undefined;
    }
    if (told.tell === 'refused') {
      const was = this.#drop(told.mark);
      this.#replay();
      return was && told.code !== 'workbench/known' ? told.said : undefined;
    }
    this.steps = told.steps;
    // Until the server says that it is.
    this.file = { ...this.file, saved: false };
    this.before = this.#confirmed;
    const [first] = this.#pending;
    if (first?.asked.ask === 'apply' && first.asked.mark === told.mark) {
      // The very thing that is shown already.
      this.#pending.shift();
      this.#confirmed = first.after;
      return undefined;
    }
    if (told.mark !== undefined) this.#drop(told.mark);
    const made = edit(this.#confirmed!, told.operation);
    if (!made.ok) return `this page has fallen behind: ${made.said}. Load it anew`;
    this.#confirmed = made.doc;
    this.#replay();
    return undefined;
  }

  #drop(mark: string): boolean {
    const count = this.#pending.length;
    this.#pending = this.#pending.filter(({ asked }) => asked.mark !== mark);
    return this.#pending.length < count;
  }

  /** What is pending on top of what is confirmed; what no longer applies is left for the server to refuse. */
  #replay(): void {
    let doc = this.#confirmed!;
    this.#pending = this.#pending.map(({ asked }) => {
      const made = asked.ask === 'apply' ? edit(doc, asked.operation) : undefined;
      if (made?.ok) doc = made.doc;
      return { asked, after: doc };
    });
  }
}

const NOTHING: ReelDocument = { unspool: 1, clips: {} };
