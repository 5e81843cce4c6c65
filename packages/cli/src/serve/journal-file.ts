import {
  closeSync,
  fdatasync,
  fstatSync,
  fsyncSync,
  ftruncateSync,
  openSync,
  readFileSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs';
import { dirname } from 'node:path';
import { CallError, writeFailure } from '../failure.js';
import { makeFolder } from './state-folder.js';

/** So long (ms) after a line that could not be written it is tried again. */
const RETRY = 1000;

/** What a program that was killed has left: its journal, or where one that cannot be read was put. */
export type Left = { readonly text: string } | { readonly aside: string; readonly why: string };

interface JournalEvents {
  /** A line could not be written; with `undefined`, all are again. */
  readonly onProblem: (message: string | undefined) => void;
  /** Another journal is in its place: another program may have taken over. */
  readonly onTaken: () => void;
}

/**
 * The journal of a reel on the disk: a line is handed to the system at once, and asked to be on the disk soon after. Lines
 * that could not be written wait, and are written before any that come later: what is in the file is whole up to its end.
 */
export class JournalFile {
  #file: number | undefined;
  /** Number of bytes in the file, all of them whole lines. */
  #length = 0;
  #waiting: string[] = [];
  #isPaused = false;
  #isFlushing = false;
  #timer: NodeJS.Timeout | undefined;

  constructor(
    readonly path: string,
    private readonly events: JournalEvents,
  ) {}

  /** The content of the file; `undefined` only when it does not exist. */
  read(): Left | undefined {
    try {
      return { text: readFileSync(this.path, 'utf8') };
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      return code === 'ENOENT' ? undefined : { aside: this.putAside(), why: message };
    }
  }

  /** Moves a journal that cannot be read completely aside, in the same folder. */
  putAside(): string {
    const aside = `${this.path}.${Date.now()}.unread`;
    try {
      renameSync(this.path, aside);
    } catch (error) {
      throw new CallError(
        `the journal ${this.path} can neither be read completely nor set aside: ${(error as Error).message}`,
        'move it elsewhere; it may contain work',
      );
    }
    return aside;
  }

  /** Starts again with the current lines: the old journal stays until the new one is complete. */
  begin(): void {
    try {
      this.#replace(Buffer.from(this.#waiting.join('')));
    } catch (error) {
      const { message, hint } = writeFailure(error, this.path, `the journal ${this.path} could not be created`);
      throw new CallError(message, `${hint}, or use another folder: UNSPOOL_STATE=/some/folder`);
    }
    this.#waiting = [];
  }

  write = (line: string): void => {
    this.#waiting.push(line);
    if (this.#file !== undefined) this.#drain();
  };

  /** Writes nothing until `goOn`: another program may have the journal now. */
  pause(): void {
    this.#isPaused = true;
  }

  /** Continues. What another program has left in its place is moved aside. */
  goOn(): void {
    this.#isPaused = false;
    if (statSync(this.path, { throwIfNoEntry: false }) && !this.#isThere()) this.putAside();
    this.#drain();
  }

  /** Writes what waits, each line where the last whole one ends. */
  #drain(): void {
    if (this.#isPaused || this.#file === undefined) return;
    clearTimeout(this.#timer);
    try {
      if (!this.#isThere()) {
        if (statSync(this.path, { throwIfNoEntry: false })) {
          this.#isPaused = true;
          this.events.onTaken();
          return;
        }
        this.#renew();
      }
      const bytes = Buffer.from(this.#waiting.join(''));
      writeAll(this.#file, bytes, this.#length);
      this.#length += bytes.length;
      this.#waiting = [];
      this.events.onProblem(undefined);
      this.#flush();
    } catch (error) {
      this.#cutBack();
      this.#fail(error);
    }
  }

  /** A part of a line, where the disk was full in the middle of it, is taken away again. */
  #cutBack(): void {
    try {
      ftruncateSync(this.#file!, this.#length);
    } catch {
      // The next write replaces it.
    }
  }

  #fail(error: unknown): void {
    this.events.onProblem(`the last steps are not in the journal: ${(error as Error).message}`);
    this.#timer = setTimeout(() => this.#drain(), RETRY).unref();
  }

  /** Whether the file that is written to is the one that the next workbench will find. */
  #isThere(): boolean {
    const there = statSync(this.path, { throwIfNoEntry: false });
    const own = fstatSync(this.#file!);
    return there?.ino === own.ino && there.dev === own.dev;
  }

  /** Writes the whole journal again: its file was removed, or may not be on the disk. */
  #renew(): void {
    const bytes = Buffer.alloc(this.#length);
    for (let at = 0; at < bytes.length;) {
      const count = readSync(this.#file!, bytes, at, bytes.length - at, at);
      if (count === 0) throw new Error('the journal was cut short');
      at += count;
    }
    makeFolder(dirname(this.path));
    this.#replace(bytes);
  }

  #replace(bytes: Buffer): void {
    const beside = `${this.path}.${process.pid}.tmp`;
    let file: number | undefined;
    try {
      file = openSync(beside, 'w+', 0o600);
      writeAll(file, bytes, 0);
      fsyncSync(file);
      renameSync(beside, this.path);
    } catch (error) {
      if (file !== undefined) closeSync(file);
      rmSync(beside, { force: true });
      throw error;
    }
    if (this.#file !== undefined) closeSync(this.#file);
    [this.#file, this.#length] = [file, bytes.length];
  }

  /** Flushes it to the disk. When that fails, its content is unknown: everything is written again. */
  #flush(): void {
    if (this.#isFlushing || this.#file === undefined) return;
    this.#isFlushing = true;
    fdatasync(this.#file, (error) => {
      this.#isFlushing = false;
      if (!error || this.#file === undefined || error.code === 'EBADF') return;
      try {
        this.#renew();
      } catch (again) {
        this.#fail(again);
      }
    });
  }

  /**
   * @param keep whether it is to be found by the next that opens the reel
   * @returns whether it has every line
   */
  close(keep: boolean): boolean {
    if (keep) this.#drain();
    clearTimeout(this.#timer);
    if (this.#file !== undefined) closeSync(this.#file);
    this.#file = undefined;
    if (!keep && !this.#isPaused) rmSync(this.path, { force: true });
    return this.#waiting.length === 0;
  }
}

/** A single write may take a part. */
function writeAll(file: number, bytes: Buffer, position: number): void {
  for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at, bytes.length - at, position + at);
}
