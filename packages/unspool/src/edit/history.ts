import { checkReel } from '../reel/check.js';
import type { ReelDocument } from '../reel/document.js';
import { UnspoolError } from '../errors/error.js';
import { edit, type Edited, type Refused } from './edit.js';
import { countLines, readEntries, writeEntry, type JournalEntry } from './journal.js';
import type { Operation } from './operation.js';

/** A step back or forward in a history. */
interface Step {
  readonly said: string;
  /** The document before it, and after it: undo and redo have nothing to work out. */
  readonly before: ReelDocument;
  readonly after: ReelDocument;
}

export interface HistoryOptions {
  /** Receives each line of the journal, to be kept where a crash does not reach it. */
  readonly journal?: (line: string) => void;
  /** The most steps that can be undone; the oldest are forgotten. Default: 1000. */
  readonly limit?: number;
}

export interface ApplyOptions {
  /**
   * Names a movement of the hand: operations that come one after the other with the same name are one step. Each begins
   * where the movement began, and takes the place of the one before.
   */
  readonly drag?: string;
  /** A name of the caller's own, by which `knows` tells whether this got through. */
  readonly mark?: string;
}

/**
 * A document that is being edited: what was done can be undone and done again.
 *
 * Laws: undoing everything gives the bytes of the first document; an operation that is refused changes nothing, not
 * even what can be done again.
 */
export class History {
  #doc: ReelDocument;
  #saved: ReelDocument;
  readonly #done: Step[] = [];
  readonly #undone: Step[] = [];
  #drag: string | undefined;
  readonly #marks = new Set<string>();
  readonly #journal: ((line: string) => void) | undefined;
  readonly #limit: number;

  /** @param doc a document without errors, which counts as saved */
  constructor(doc: ReelDocument, { journal, limit: most = 1000 }: HistoryOptions = {}) {
    this.#doc = doc;
    this.#saved = doc;
    this.#journal = journal;
    this.#limit = most;
    this.#write({ begin: doc });
  }

  get doc(): ReelDocument {
    return this.#doc;
  }

  /** The sentences of what can be undone, the last step last. */
  get done(): readonly string[] {
    return this.#done.map(({ said: summary }) => summary);
  }

  /** The sentences of what can be done again, the next step first. */
  get undone(): readonly string[] {
    return this.#undone.map(({ said: summary }) => summary).reverse();
  }

  /** The nearest of both, so many at most, and how many there are of each: for who shows them after every step. */
  nearest(most: number): NearestSteps {
    const last = (steps: readonly Step[]) => steps.slice(Math.max(0, steps.length - most));
    const [done, undone] = [last(this.#done), last(this.#undone).reverse()];
    return {
      done: done.map(({ said: summary }) => summary),
      undone: undone.map(({ said: summary }) => summary),
      doneCount: this.#done.length,
      undoneCount: this.#undone.length,
    };
  }

  /** Whether the document is the one that was saved last. */
  get isSaved(): boolean {
    return this.#doc === this.#saved;
  }

  /** The document that was saved last: the first one, when none was. */
  get saved(): ReelDocument {
    return this.#saved;
  }

  /** Whether something with this mark was applied, undone or done again: also before a crash that was recovered from. */
  knows(mark: string): boolean {
    return this.#marks.has(mark);
  }

  /**
   * Says that the document has been saved as it is now.
   *
   * @param doc what is on the disk instead: as it was a moment ago, or as somebody else has left it
   */
  markSaved(doc: ReelDocument = this.#doc): void {
    this.#saved = doc;
    this.#drag = undefined;
    this.#write({ saved: doc === this.#doc ? true : doc });
  }

  /** Applies an operation as a step, or as the rest of a drag. */
  apply(operation: Operation, { drag, mark }: ApplyOptions = {}): Edited | Refused {
    const folded = drag !== undefined && drag === this.#drag ? this.#done.at(-1) : undefined;
    const before = folded ? folded.before : this.#doc;
    const made = edit(before, operation);
    if (!made.ok) {
      // A drag that comes back to where it began has done nothing.
      if (!folded || made.code !== 'edit/no-change') return made;
      this.#done.pop();
      this.#doc = before;
      this.#drag = undefined;
      this.#write({ apply: operation, drag: drag!, ...marked(mark) });
      return made;
    }
    if (folded) this.#done.pop();
    this.#done.push({ said: made.said, before, after: made.doc });
    if (this.#done.length > this.#limit) this.#done.shift();
    this.#undone.length = 0;
    this.#doc = made.doc;
    this.#drag = drag;
    this.#write({ apply: operation, ...(drag !== undefined && { drag }), ...marked(mark) });
    return made;
  }

  /** Takes the last step back. Returns its sentence, or nothing when there is none. */
  undo({ mark }: Pick<ApplyOptions, 'mark'> = {}): string | undefined {
    return this.#go(this.#done, this.#undone, 'before', { undo: true, ...marked(mark) });
  }

  /** Does again what was undone last. Returns its sentence, or nothing when there is none. */
  redo({ mark }: Pick<ApplyOptions, 'mark'> = {}): string | undefined {
    return this.#go(this.#undone, this.#done, 'after', { redo: true, ...marked(mark) });
  }

  #go(from: Step[], to: Step[], side: 'before' | 'after', entry: JournalEntry): string | undefined {
    const step = from.pop();
    if (!step) return undefined;
    to.push(step);
    this.#doc = step[side];
    this.#drag = undefined;
    this.#write(entry);
    return step.said;
  }

  #write(entry: JournalEntry): void {
    if ('mark' in entry && entry.mark !== undefined) this.#marks.add(entry.mark);
    this.#journal?.(writeEntry(entry));
  }

  /**
   * Takes up a journal: goes through it again, up to the first line that is damaged or does not apply. The document and
   * its history are then as they were when the line before was written. The journal goes on in the lines that `journal`
   * receives, which begin it anew.
   *
   * @returns the history, and how many lines of the journal are not in it: 0, or 1 for a line that a crash has torn, or
   *   more where the journal is damaged (keep such a journal)
   * @throws UnspoolError for a text of which not even the first line is whole
   */
  static recover(text: string, options: HistoryOptions = {}): Recovered {
    const steps = History.recoverByStep(text, options);
    for (let step = steps.next(); ; step = steps.next()) if (step.done) return step.value;
  }

  /**
   * As `recover`, a line at each turn: a long journal takes seconds, and who has other things to do meanwhile does them
   * between two lines.
   *
   * @throws UnspoolError at the first turn, as `recover`
   */
  static *recoverByStep(text: string, options: HistoryOptions = {}): Generator<void, Recovered, void> {
    const entries = readEntries(text);
    const { value: first } = entries.next();
    if (!first || !('begin' in first) || !isReel(first.begin))
      throw new UnspoolError('edit/journal', 'not a journal: its first line is damaged', 'start from the saved reel');
    const history = new History(first.begin, options);
    let lines = 1;
    for (const entry of entries) {
      yield;
      if (!history.#take(entry)) break;
      lines++;
    }
    return { history, dropped: countLines(text) - lines };
  }

  /** @returns whether a line of a journal applies */
  #take(entry: JournalEntry): boolean {
    if ('apply' in entry) {
      const { apply, drag, mark } = entry;
      const made = this.apply(apply, { ...(drag !== undefined && { drag }), ...marked(mark) });
      return made.ok || made.code === 'edit/no-change';
    }
    if ('undo' in entry) return this.undo(marked(entry.mark)) !== undefined;
    if ('redo' in entry) return this.redo(marked(entry.mark)) !== undefined;
    if (!('saved' in entry) || (entry.saved !== true && !isReel(entry.saved))) return false;
    this.markSaved(entry.saved === true ? this.#doc : entry.saved);
    return true;
  }
}

/** The steps nearest to where a history stands, in the order of `done` and `undone`. */
export interface NearestSteps {
  readonly done: readonly string[];
  readonly undone: readonly string[];
  readonly doneCount: number;
  readonly undoneCount: number;
}

/** What of a journal was taken up. */
export interface Recovered {
  readonly history: History;
  /** How many of its lines were not. */
  readonly dropped: number;
}

const marked = (mark: string | undefined) => (mark === undefined ? {} : { mark });

const isReel = (document: unknown) => !checkReel(document).some(({ severity }) => severity === 'error');
