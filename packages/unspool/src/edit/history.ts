import { checkReel } from '../reel/check/check.js';
import type { ReelDocument } from '../reel/document/document.js';
import { UnspoolError } from '../errors/error.js';
import { edit, type Edited, type Refused } from './edit.js';
import { countLines, readEntries, writeEntry, type JournalEntry } from './journal.js';
import type { Operation } from './operation.js';
import { checkOptions } from '../errors/check-options.js';
import { show } from '../errors/show.js';
import { factsOf } from './validate-edit.js';

/** A step back or forward in a history. */
interface Step {
  readonly said: string;
  /** The document before it, and after it: undo and redo have nothing to work out. */
  readonly before: ReelDocument;
  readonly after: ReelDocument;
}

/** Options of `new History(doc, options)`. */
export interface HistoryOptions {
  /** Receives each line of the journal. Append the lines to a file to recover the steps after a crash. */
  readonly journal?: (line: string) => void;
  /** The most steps that can be undone; older ones are dropped. Default: 1000. */
  readonly limit?: number;
}

/** Options of `history.apply(operation, options)`. */
export interface ApplyOptions {
  /**
   * Name of a drag. Consecutive operations with the same name become one step: each starts from the document before the
   * drag and replaces the previous one.
   */
  readonly drag?: string;
  /** An id of the caller's own. `history.knows(mark)` returns whether this operation was applied. */
  readonly mark?: string;
}

/**
 * A document with undo and redo.
 *
 * Laws: undoing everything restores the first document byte for byte. A refused operation changes nothing, not even the
 * steps to redo.
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

  /**
   * @param doc a document without errors; it counts as saved
   * @throws UnspoolError for anything else, and for unknown options
   */
  constructor(doc: ReelDocument, options: HistoryOptions = {}) {
    checkOptions(options, ['journal', 'limit'], 'History', 'edit');
    const { journal, limit = 1000 } = options;
    if (journal !== undefined && typeof journal !== 'function')
      throw new UnspoolError(
        'edit/options',
        `the journal ${show(journal)} is not a function`,
        'pass (line) => append(file, line)',
      );
    if (!(limit > 0))
      throw new UnspoolError('edit/options', `the limit ${show(limit)} is not a number above 0`, 'use such a number');
    factsOf(doc);
    this.#doc = doc;
    this.#saved = doc;
    this.#journal = journal;
    this.#limit = limit;
    this.#write({ begin: doc });
  }

  /** The current document. */
  get doc(): ReelDocument {
    return this.#doc;
  }

  /** The texts of the steps that can be undone, the latest last. */
  get done(): readonly string[] {
    return this.#done.map(({ said }) => said);
  }

  /** The texts of the steps that can be redone, the next first. */
  get undone(): readonly string[] {
    return this.#undone.map(({ said }) => said).reverse();
  }

  /** The nearest steps of both directions, at most so many, with the total counts. */
  nearest(most: number): NearestSteps {
    const last = (steps: readonly Step[]) => steps.slice(Math.max(0, steps.length - most));
    const [done, undone] = [last(this.#done), last(this.#undone).reverse()];
    return {
      done: done.map(({ said }) => said),
      undone: undone.map(({ said }) => said),
      doneCount: this.#done.length,
      undoneCount: this.#undone.length,
    };
  }

  /** Whether the document is the saved one. */
  get isSaved(): boolean {
    return this.#doc === this.#saved;
  }

  /** The last saved document; the first one when none was saved. */
  get saved(): ReelDocument {
    return this.#saved;
  }

  /**
   * Returns whether an operation with this mark was applied, undone or redone, also before a crash that was recovered.
   */
  knows(mark: string): boolean {
    return this.#marks.has(mark);
  }

  /**
   * Marks the document as saved.
   *
   * @param doc what is on disk, when it differs from the current document
   */
  markSaved(doc: ReelDocument = this.#doc): void {
    this.#saved = doc;
    this.#drag = undefined;
    this.#write({ saved: doc === this.#doc ? true : doc });
  }

  /** Applies an operation as a step, or as part of a drag. */
  apply(operation: Operation, options: ApplyOptions = {}): Edited | Refused {
    checkOptions(options, ['drag', 'mark'], 'apply', 'edit');
    const { drag, mark } = options;
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

  /** Undoes the last step. Returns its sentence, or `undefined` when there is none. */
  undo(options: Pick<ApplyOptions, 'mark'> = {}): string | undefined {
    checkOptions(options, ['mark'], 'undo', 'edit');
    return this.#go(this.#done, this.#undone, 'before', { undo: true, ...marked(options.mark) });
  }

  /** Redoes the last undone step. Returns its sentence, or `undefined` when there is none. */
  redo(options: Pick<ApplyOptions, 'mark'> = {}): string | undefined {
    checkOptions(options, ['mark'], 'redo', 'edit');
    return this.#go(this.#undone, this.#done, 'after', { redo: true, ...marked(options.mark) });
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
   * Recovers a history from a journal, up to the first line that is damaged or does not apply. The new journal starts
   * over in the lines that `journal` receives.
   *
   * @returns the history, and how many lines of the journal were dropped: 0, or 1 for a line that a crash cut off, or
   *   more when the journal is damaged (keep such a journal)
   * @throws UnspoolError when not even the first line can be read
   */
  static recover(text: string, options: HistoryOptions = {}): Recovered {
    const steps = History.recoverByStep(text, options);
    for (let step = steps.next(); ; step = steps.next()) if (step.done) return step.value;
  }

  /**
   * Like `recover`, but yields after every line, because a long journal takes seconds.
   *
   * @throws UnspoolError at the first step, like `recover`
   */
  static *recoverByStep(text: string, options: HistoryOptions = {}): Generator<void, Recovered, void> {
    if (typeof text !== 'string')
      throw new UnspoolError('edit/journal', `expected the text of a journal, found ${show(text)}`, 'read its file');
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

/** The steps near the current state, in the order of `done` and `undone`. */
export interface NearestSteps {
  readonly done: readonly string[];
  readonly undone: readonly string[];
  readonly doneCount: number;
  readonly undoneCount: number;
}

/** What was recovered from a journal. */
export interface Recovered {
  readonly history: History;
  /** Number of lines that were dropped. */
  readonly dropped: number;
}

const marked = (mark: string | undefined) => (mark === undefined ? {} : { mark });

const isReel = (document: unknown) => !checkReel(document).some(({ severity }) => severity === 'error');
