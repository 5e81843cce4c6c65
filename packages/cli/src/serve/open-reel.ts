import { formatReel, type ReelDocument } from 'unspool';
import { History, mergeReels, patchBetween } from 'unspool/edit';
import { CallError } from '../failure.js';
import { readReelFile, readTextFile, writeNewFile } from '../files.js';
import { changeFile, type Release } from '../save.js';
import { JournalFile } from './journal-file.js';
import { fileGone, externalChangeOf, type Unsettled } from './external-change.js';
import { SHOWN_STEPS, type FileState, type ReelRequest, type Settlement, type ServerMessage } from './protocol.js';
import { lockJournal, realPath } from './reel-lock.js';
import { rescue } from './rescue.js';
import { recover } from './recover.js';
import { journalPath } from './state-folder.js';

/** So long (ms) after the last edit the file is written, and so long after a save that failed it is tried again. */
const AUTOSAVE = 800;
const RETRY = 5000;
/** So long (ms) after a lock was lost that is known for sure. */
const NOTICED = 2500;

/**
 * A reel that is open in the workbench: its one history, which all pages share; its journal; and its file, which is
 * written by itself and watched for what others write.
 */
export class OpenReel {
  readonly #history: History;
  readonly #pages = new Set<(message: ServerMessage) => void>();
  /** The text of the file as it was read or written last. */
  #text: string;
  #outside: Unsettled | undefined;
  #saveProblem: string | undefined;
  #journalProblem: string | undefined;
  /** Why this workbench may write nothing: its lock on the reel was lost, and another one may have it. */
  #lost: string | undefined;
  #release: Release | undefined;
  #hasLock = true;
  #timer: NodeJS.Timeout | undefined;
  /** Writing the file, looking at it and settling it take turns: none sees the other half done. */
  #turns: Promise<void> = Promise.resolve();

  private constructor(
    readonly name: string,
    readonly file: string,
    /** The file behind it, where it is a link. One that leads elsewhere later is not written through. */
    private real: string,
    private readonly journal: JournalFile,
    { history, text }: { readonly history: History; readonly text: string },
    private readonly say: (message: string) => void,
  ) {
    this.#history = history;
    this.#text = text;
  }

  /**
   * Opens a reel, including the journal of a workbench that was killed. With a journal it is opened even when its file
   * is gone or has errors: the journal has the work.
   *
   * @param say called with messages for the terminal
   */
  static async open(name: string, file: string, folder: string, say: (message: string) => void): Promise<OpenReel> {
    const real = realPath(file);
    const path = journalPath(folder, real);
    // Everything is created before the other; problems are reported only later.
    const made: { open?: OpenReel } = {};
    const journal = new JournalFile(path, {
      onProblem: (problem) => made.open?.journalTells(problem),
      onTaken: () => made.open?.loseJournal(),
    });
    const release = await lockJournal(path, file, () => made.open?.loseLock());
    try {
      const left = await recover(journal, file, options(journal), say);
      const { history, text } = left ? { history: left, text: formatReel(left.saved) } : newIn(file, journal);
      journal.begin();
      const open = new OpenReel(name, file, real, journal, { history, text }, say);
      open.#release = release;
      made.open = open;
      if (left) {
        // The file now contains what was saved, or a later change by somebody else.
        open.#look();
        if (!history.isSaved) open.#saveSoon();
      }
      return open;
    } catch (error) {
      await release();
      throw error;
    }
  }

  get doc(): ReelDocument {
    return this.#history.doc;
  }

  get #state(): FileState {
    const problem = this.#lost ?? this.#journalProblem ?? this.#saveProblem;
    return {
      saved: this.#history.isSaved && !this.#outside,
      ...(problem !== undefined && { problem }),
      ...(this.#lost !== undefined && { lost: true as const }),
      ...(this.#outside && { outside: this.#outside.state }),
    };
  }

  get #steps() {
    return this.#history.nearest(SHOWN_STEPS);
  }

  /** A page comes. Returns what ends its visit. */
  join(page: (message: ServerMessage) => void): () => void {
    this.#pages.add(page);
    page({ tell: 'open', doc: this.doc, steps: this.#steps, file: this.#state });
    return () => void this.#pages.delete(page);
  }

  /** Does what a page asks for; the answer goes to all of them, a refusal to the one that asked. */
  receive(request: ReelRequest, page: (message: ServerMessage) => void): void {
    if (request.ask === 'save') void this.save();
    else if (request.ask === 'settle') void this.#inTurn(() => this.#settle(request.take));
    else if (request.ask === 'take-back') {
      if (this.#lost !== undefined) void this.#takeBack();
    } else if (this.#lost !== undefined)
      page({ tell: 'refused', mark: request.mark, code: 'workbench/lost', message: this.#lost });
    else if (this.#history.knows(request.mark)) {
      page({ tell: 'refused', mark: request.mark, code: 'workbench/known', message: 'it was already applied' });
    } else if (request.ask === 'apply') {
      const { mark, operation } = request;
      const done = this.#history.apply(operation, { mark });
      if (done.ok) this.#step({ tell: 'step', mark, operation, steps: this.#steps });
      else page({ tell: 'refused', mark, code: done.code, message: done.said });
    } else {
      const { mark, ask } = request;
      const before = this.doc;
      const message = ask === 'undo' ? this.#history.undo({ mark }) : this.#history.redo({ mark });
      const operation = message === undefined ? null : patchBetween(before, this.doc, message);
      if (operation) this.#step({ tell: 'step', mark, operation, steps: this.#steps });
      else page({ tell: 'refused', mark, code: 'workbench/no-step', message: `nothing to ${ask}` });
    }
  }

  #step(message: ServerMessage): void {
    this.#tell(message);
    this.#tellFile();
    this.#saveSoon();
  }

  #tell(message: ServerMessage): void {
    for (const page of this.#pages) page(message);
  }

  #tellFile(): void {
    this.#tell({ tell: 'file', file: this.#state });
  }

  journalTells(problem: string | undefined): void {
    if (problem === this.#journalProblem) return;
    this.#journalProblem = problem;
    this.say(`${this.file}: ${problem ?? 'all steps are in the journal again'}`);
    this.#tellFile();
  }

  /** The lock on the reel was lost: nothing is written until it is taken again, which is tried at once. */
  loseLock(): void {
    this.#hasLock = false;
    void this.#takeBack();
  }

  /** Another journal has replaced ours: the lock is lost too, which is noticed only a moment later. */
  loseJournal(): void {
    this.#standStill();
    setTimeout(() => void this.#takeBack(), NOTICED).unref();
  }

  #standStill(): void {
    this.journal.pause();
    this.#lost = `${this.file} may be open in another workbench, because this one was suspended. Nothing is written here`;
  }

  #takeBack(): Promise<void> {
    this.#standStill();
    return this.#inTurn(async () => {
      try {
        if (!this.#hasLock) this.#release = await lockJournal(this.journal.path, this.file, () => this.loseLock(), 10);
      } catch (error) {
        if (!(error instanceof CallError)) throw error;
        this.#lost = `${this.file} is open in another workbench, because this one was suspended. Nothing is written here. Stop the other one, then take over`;
        this.say(this.#lost);
        this.#tellFile();
        return;
      }
      this.#hasLock = true;
      this.#lost = undefined;
      this.journal.goOn();
      this.#look();
      if (!this.#history.isSaved) this.#saveSoon(0);
      this.#tellFile();
    });
  }

  #saveSoon(after = AUTOSAVE): void {
    clearTimeout(this.#timer);
    if (this.#outside || this.#lost !== undefined) return;
    this.#timer = setTimeout(() => void this.save(), after);
  }

  /** Writes the file, unless somebody else has changed it meanwhile: that is handled first. */
  save(): Promise<void> {
    clearTimeout(this.#timer);
    return this.#inTurn(() => this.#write());
  }

  #inTurn(work: () => void | Promise<void>): Promise<void> {
    // A fault of ours ends neither the program nor the turns after it.
    const onFault = (error: unknown) =>
      this.say(`${this.file}: internal error of the workbench: ${String((error as Error).stack)}`);
    return (this.#turns = this.#turns.then(work).catch(onFault));
  }

  async #write(): Promise<void> {
    if (this.#outside || this.#lost !== undefined || this.#history.isSaved) return;
    this.#look();
    if (this.#outside) return;
    const written = this.doc;
    const own = formatReel(written);
    try {
      const isWritten = await changeFile(this.file, (text) => (text === this.#text ? own : undefined));
      if (isWritten) this.#isNowSaved(written, own);
      else this.#look();
    } catch (error) {
      if (!(error instanceof CallError)) throw error;
      this.#saveProblem = error.text;
      this.#look();
      if (!this.#outside) this.#saveSoon(RETRY);
    }
    this.#tellFile();
  }

  #isNowSaved(written: ReelDocument, text: string): void {
    this.#text = text;
    this.#history.markSaved(written);
    this.#saveProblem = undefined;
    // Whatever was done while it was written is not in the file.
    if (!this.#history.isSaved) this.#saveSoon();
  }

  /** Looks at the file: what somebody else has written is taken over, merged, or shown. */
  look(): Promise<void> {
    return this.#inTurn(() => this.#look());
  }

  #look(): void {
    if (this.#isLinkedElsewhere()) return;
    const text = readSafely(this.file);
    if (text === this.#text && !this.#outside) return;
    if (text !== undefined && text === this.#outside?.text) return;
    this.#outside = undefined;
    if (text !== this.#text) this.#takeIn(text);
    else if (!this.#history.isSaved) this.#saveSoon();
    this.#tellFile();
  }

  /** Whether a link to another file has taken the place of the file. Then that is what a person has to look at. */
  #isLinkedElsewhere(): boolean {
    const real = realPath(this.file);
    if (real === this.real) return false;
    const message = `${this.file} was replaced by a link to ${real}. Edits are not written through it`;
    if (this.#outside?.state.summary !== message) {
      this.#outside = { state: fileGone(message) };
      this.#tellFile();
    }
    return true;
  }

  #takeIn(text: string | undefined): void {
    const seen = externalChangeOf(this.file, text, this.#history.saved, this.doc);
    if ('state' in seen) {
      this.#outside = seen;
      return;
    }
    this.#become(seen.doc, seen.summary);
    this.#standsThere(seen.theirs, text!);
  }

  #become(doc: ReelDocument, message: string): void {
    const operation = patchBetween(this.doc, doc, message);
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
      if (take === 'theirs') this.#become(theirs, 'took the changes from the file');
      if (take === 'merged')
        this.#become(mergeReels(this.#history.saved, this.doc, theirs).doc, 'merged with the changes in the file');
      this.#standsThere(theirs, text);
    } else if (text !== undefined) {
      // Broken: what is here takes its place.
      this.#text = text;
      this.#history.markSaved(NOTHING);
    } else {
      try {
        const own = formatReel(this.doc);
        // Where a link is in its place, a person has said that it is meant.
        writeNewFile(this.file, own, { overwrite: realPath(this.file) !== this.real });
        this.real = realPath(this.file);
        this.#isNowSaved(this.doc, own);
      } catch (error) {
        if (!(error instanceof CallError)) throw error;
        this.#saveProblem = error.text;
        this.#look();
      }
    }
    this.#tellFile();
    void this.save();
  }

  /**
   * Saves and releases the file. What could not be saved stays in the journal.
   *
   * @returns whether everything is saved; if not, the terminal shows where it is
   */
  async close(): Promise<boolean> {
    await this.save();
    clearTimeout(this.#timer);
    const isSaved = this.#history.isSaved && !this.#outside && this.#lost === undefined;
    const { lost, problem = this.#outside?.state.summary } = this.#state;
    const isKept = this.journal.close(!isSaved);
    await this.#release?.();
    if (isSaved) return true;
    const count = this.#history.nearest(0).doneCount;
    const steps = count === 1 ? 'its one step is' : `its ${count} steps are`;
    this.say(`${this.file} is NOT saved: ${problem ?? 'it was changed in the meantime'}`);
    if (lost) this.say('the other workbench has the earlier steps');
    // A journal is found by the file behind the name.
    else if (realPath(this.file) !== this.real) rescue(this, this.say);
    else if (isKept) {
      this.say(`${steps} kept in ${this.journal.path}. To recover: unspool edit ${this.file}`);
    } else rescue(this, this.say);
    return false;
  }
}

/** What is on the disk when nothing of ours is. */
const NOTHING: ReelDocument = { unspool: 1, clips: {} };

const options = (journal: JournalFile) => ({ journal: journal.write, limit: Infinity });

/** The history of a reel without a journal. */
function newIn(file: string, journal: JournalFile): { readonly history: History; readonly text: string } {
  const { reel, text } = readReelFile(file);
  return { history: new History(reel.document, options(journal)), text };
}

function readSafely(file: string): string | undefined {
  try {
    return readTextFile(file);
  } catch (error) {
    if (error instanceof CallError) return undefined;
    throw error;
  }
}
