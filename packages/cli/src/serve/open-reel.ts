import { existsSync, realpathSync } from 'node:fs';
import { basename } from 'node:path';
import { lock } from 'proper-lockfile';
import { formatReel, readReel, UnspoolError, type ReelDocument } from 'unspool';
import { compareReels, History, mergeReels, patchBetween } from 'unspool/edit';
import { CallError } from '../failure.js';
import { readReelFile, readTextFile, writeNewFile } from '../files.js';
import { changeFile, LOCK } from '../save.js';
import { JournalFile } from './journal-file.js';
import { SHOWN_STEPS, type Asked, type FileState, type Outside, type Settlement, type Told } from './protocol.js';
import { journalPath } from './state-folder.js';

/** So long (ms) after the last edit the file is written, and so long after a save that failed it is tried again. */
const AUTOSAVE = 800;
const RETRY = 5000;

/**
 * A reel that is open in the workbench: its one history, which all pages share; its journal; and its file, which is
 * written by itself and watched for what others write.
 */
export class OpenReel {
  readonly #history: History;
  readonly #pages = new Set<(told: Told) => void>();
  /** The text of the file as it was read or written last. */
  #text: string;
  #outside: { readonly state: Outside; readonly theirs?: ReelDocument; readonly text?: string } | undefined;
  #saveProblem: string | undefined;
  #journalProblem: string | undefined;
  #timer: NodeJS.Timeout | undefined;
  /** Writing the file, looking at it and settling it take turns: none sees the other half done. */
  #turns: Promise<void> = Promise.resolve();

  private constructor(
    readonly name: string,
    readonly file: string,
    readonly journal: JournalFile,
    { history, text }: { readonly history: History; readonly text: string },
    readonly release: () => Promise<void>,
  ) {
    this.#history = history;
    this.#text = text;
  }

  /**
   * Opens a reel: with what its journal has, when a workbench that had it open was killed.
   *
   * @param say hears what the person at the terminal should know
   */
  static async open(name: string, file: string, folder: string, say: (said: string) => void): Promise<OpenReel> {
    const { reel, text } = readReelFile(file);
    const path = journalPath(folder, realpathSync(file));
    const release = await lockJournal(path, file);
    // Both are made before the other; the journal tells of problems only later.
    const made: { open?: OpenReel } = {};
    const journal = new JournalFile(path, (problem) => made.open?.journalTells(problem));
    const left = journal.read();
    const history = (left && recover(left, journal, file, say)) || new History(reel.document, options(journal));
    journal.begin();
    const open = new OpenReel(name, file, journal, { history, text }, release);
    made.open = open;
    if (left !== undefined) {
      // What stands in the file now is what was saved, or what somebody has made of it since.
      open.#text = formatReel(history.saved);
      open.#look();
      if (!history.isSaved) open.#saveSoon();
    }
    return open;
  }

  get doc(): ReelDocument {
    return this.#history.doc;
  }

  get #state(): FileState {
    const problem = this.#saveProblem ?? this.#journalProblem;
    return {
      saved: this.#history.isSaved && !this.#outside,
      ...(problem !== undefined && { problem }),
      ...(this.#outside && { outside: this.#outside.state }),
    };
  }

  get #steps() {
    const { done, undone } = this.#history;
    return {
      ...{ done: done.slice(-SHOWN_STEPS), undone: undone.slice(0, SHOWN_STEPS) },
      ...{ doneCount: done.length, undoneCount: undone.length },
    };
  }

  /** A page comes. Returns what ends its visit. */
  join(page: (told: Told) => void): () => void {
    this.#pages.add(page);
    page({ tell: 'open', doc: this.doc, steps: this.#steps, file: this.#state });
    return () => void this.#pages.delete(page);
  }

  /** Does what a page asks for; the answer goes to all of them, a refusal to the one that asked. */
  receive(asked: Asked, page: (told: Told) => void): void {
    if (asked.ask === 'save') void this.save();
    else if (asked.ask === 'settle') void this.#inTurn(() => this.#settle(asked.take));
    else if (this.#history.knows(asked.mark)) {
      page({ tell: 'refused', mark: asked.mark, code: 'workbench/known', said: 'it had been done before' });
    } else if (asked.ask === 'apply') {
      const { mark, operation } = asked;
      const done = this.#history.apply(operation, { mark });
      if (done.ok) this.#step({ tell: 'step', mark, operation, steps: this.#steps });
      else page({ tell: 'refused', mark, code: done.code, said: done.said });
    } else {
      const { mark, ask } = asked;
      const before = this.doc;
      const said = ask === 'undo' ? this.#history.undo({ mark }) : this.#history.redo({ mark });
      const operation = said === undefined ? null : patchBetween(before, this.doc, said);
      if (operation) this.#step({ tell: 'step', mark, operation, steps: this.#steps });
      else page({ tell: 'refused', mark, code: 'workbench/no-step', said: `there is nothing to ${ask}` });
    }
  }

  #step(told: Told): void {
    this.#tell(told);
    this.#tellFile();
    this.#saveSoon();
  }

  #tell(told: Told): void {
    for (const page of this.#pages) page(told);
  }

  #tellFile(): void {
    this.#tell({ tell: 'file', file: this.#state });
  }

  journalTells(problem: string | undefined): void {
    if (problem === this.#journalProblem) return;
    this.#journalProblem = problem;
    this.#tellFile();
  }

  #saveSoon(after = AUTOSAVE): void {
    clearTimeout(this.#timer);
    if (this.#outside) return;
    this.#timer = setTimeout(() => void this.save(), after);
  }

  /** Writes the file, unless somebody else has changed it meanwhile: then that is looked at first. */
  save(): Promise<void> {
    clearTimeout(this.#timer);
    return this.#inTurn(() => this.#write());
  }

  #inTurn(work: () => void | Promise<void>): Promise<void> {
    return (this.#turns = this.#turns.then(work));
  }

  async #write(): Promise<void> {
    if (this.#outside || this.#history.isSaved) return;
    let written: ReelDocument | undefined;
    try {
      await changeFile(this.file, (text) => {
        if (text !== this.#text) return undefined;
        written = this.doc;
        this.#text = formatReel(written);
        return this.#text;
      });
      if (!written) this.#look();
      else {
        this.#history.markSaved(written);
        this.#saveProblem = undefined;
        // Whatever was done while it was written is not in the file.
        if (!this.#history.isSaved) this.#saveSoon();
      }
    } catch (error) {
      if (!(error instanceof CallError)) throw error;
      if (existsSync(this.file)) this.#text = readSafely(this.file) ?? this.#text;
      this.#saveProblem = `${error.message} — ${error.hint}`;
      this.#look();
      if (!this.#outside) this.#saveSoon(RETRY);
    }
    this.#tellFile();
  }

  /** Looks at the file: what somebody else has written is taken over, merged, or shown. */
  look(): Promise<void> {
    return this.#inTurn(() => this.#look());
  }

  #look(): void {
    const text = readSafely(this.file);
    if (text === this.#text && !this.#outside) return;
    if (text !== undefined && text === this.#outside?.text) return;
    this.#outside = undefined;
    if (text !== this.#text) this.#takeIn(text);
    else if (!this.#history.isSaved) this.#saveSoon();
    this.#tellFile();
  }

  #takeIn(text: string | undefined): void {
    const none = { ours: [], theirs: [], conflicts: [] };
    if (text === undefined) {
      this.#outside = { state: { why: 'gone', said: `${this.file} is gone, or cannot be read`, ...none } };
      return;
    }
    const { reel, diagnostics } = readReel(text);
    if (!reel) {
      const first = diagnostics.find(({ severity }) => severity === 'error')!;
      const said = `${basename(this.file)} was changed outside, and has errors now: line ${first.line ?? 1}: ${first.message}`;
      this.#outside = { state: { why: 'broken', said, ...none }, text };
      return;
    }
    const { document: theirs } = reel;
    const [base, ours] = [this.#history.saved, this.doc];
    const { doc, conflicts } = mergeReels(base, ours, theirs);
    const outside = compareReels(base, theirs).map(saidOf);
    if (conflicts.length > 0) {
      const said = `${basename(this.file)} was changed outside, where it was changed here too`;
      const both = { ours: compareReels(base, ours).map(saidOf), theirs: outside, conflicts };
      this.#outside = { state: { why: 'conflict', said, ...both }, theirs, text };
      return;
    }
    const more = outside.length > 1 ? ` and ${outside.length - 1} more` : '';
    this.#become(doc, `changed outside: ${outside[0] ?? 'how it is written'}${more}`);
    this.#standsThere(theirs, text);
  }

  #become(doc: ReelDocument, said: string): void {
    const operation = patchBetween(this.doc, doc, said);
    if (!operation) return;
    this.#history.apply(operation);
    this.#tell({ tell: 'step', operation, steps: this.#steps });
  }

  /** In the file there is this document now, in this text. */
  #standsThere(doc: ReelDocument, text: string): void {
    this.#text = text;
    const isOurs = patchBetween(doc, this.doc, '') === null;
    this.#history.markSaved(isOurs ? this.doc : doc);
    if (!isOurs) this.#saveSoon();
  }

  #settle(take: Settlement): void {
    const outside = this.#outside;
    if (!outside) return;
    this.#outside = undefined;
    const { theirs, text } = outside;
    if (theirs && text !== undefined) {
      if (take === 'theirs') this.#become(theirs, 'took what was changed outside');
      if (take === 'merged')
        this.#become(mergeReels(this.#history.saved, this.doc, theirs).doc, 'merged with what was changed outside');
      this.#standsThere(theirs, text);
    } else if (text !== undefined) {
      // Broken: what is here takes its place.
      this.#text = text;
      this.#history.markSaved(NOTHING);
    } else {
      try {
        const own = formatReel(this.doc);
        writeNewFile(this.file, own, { overwrite: false });
        this.#text = own;
        this.#history.markSaved();
      } catch (error) {
        this.#saveProblem = (error as Error).message;
      }
    }
    this.#tellFile();
    void this.save();
  }

  /** Saves, and gives the file free. What could not be saved stays in the journal. */
  async close(): Promise<void> {
    await this.save();
    clearTimeout(this.#timer);
    this.journal.close(!this.#history.isSaved || this.#outside !== undefined);
    await this.release();
  }
}

/** What is on the disk when nothing of ours is. */
const NOTHING: ReelDocument = { unspool: 1, clips: {} };

const options = (journal: JournalFile) => ({ journal: journal.write, most: Infinity });

const saidOf = ({ clip, track, said }: { clip?: string; track?: string; said: string }) =>
  `${[clip, track].filter(Boolean).join(', ')}${clip || track ? ': ' : ''}${said}`;

function recover(left: string, journal: JournalFile, file: string, say: (said: string) => void): History | undefined {
  try {
    const { history } = History.recover(left, options(journal));
    const steps = history.done.length;
    say(`${file}: took up the journal of a workbench that was ended: ${steps} ${steps === 1 ? 'step' : 'steps'}`);
    return history;
  } catch (error) {
    if (!(error instanceof UnspoolError)) throw error;
    say(`${file}: its journal cannot be read (${error.message}), and was put aside: ${journal.putAside()}`);
    return undefined;
  }
}

function readSafely(file: string): string | undefined {
  try {
    return readTextFile(file);
  } catch (error) {
    if (error instanceof CallError) return undefined;
    throw error;
  }
}

async function lockJournal(path: string, file: string): Promise<() => Promise<void>> {
  try {
    // One that was killed a moment ago still seems to have it.
    return await lock(path, { ...LOCK, realpath: false });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ELOCKED') throw error;
    throw new CallError(`${file} is open in another workbench`, 'use that one, or end it first');
  }
}
