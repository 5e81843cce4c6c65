import { closeSync, fdatasync, fsyncSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs';

/** The journal of a reel on the disk: a line is handed to the system at once, and asked to be on the disk soon after. */
export class JournalFile {
  #file: number | undefined;
  #lines: string[] | undefined = [];
  #flushing = false;

  /** @param onProblem hears that a line could not be written, and of `undefined` when one could be again */
  constructor(
    readonly path: string,
    readonly onProblem: (said: string | undefined) => void,
  ) {}

  /** What a program that was killed has left. */
  read(): string | undefined {
    try {
      return readFileSync(this.path, 'utf8');
    } catch {
      return undefined;
    }
  }

  /** Begins anew with the lines that were written until now: the old journal is there until the new one is whole. */
  begin(): void {
    const lines = this.#lines ?? [];
    this.#lines = undefined;
    const beside = `${this.path}.${process.pid}.tmp`;
    const file = openSync(beside, 'w', 0o600);
    writeAll(file, lines.join(''));
    fsyncSync(file);
    renameSync(beside, this.path);
    this.#file = file;
  }

  /** Puts away a journal that cannot be read, beside where it was. */
  putAside(): string {
    const aside = `${this.path}.${Date.now()}.unread`;
    renameSync(this.path, aside);
    this.#lines = [];
    return aside;
  }

  write = (line: string): void => {
    if (this.#lines) {
      this.#lines.push(line);
      return;
    }
    if (this.#file === undefined) return;
    try {
      writeAll(this.#file, line);
      this.onProblem(undefined);
      this.#flush(this.#file);
    } catch (error) {
      this.onProblem(`the journal could not be written: ${(error as Error).message}`);
    }
  };

  #flush(file: number): void {
    if (this.#flushing) return;
    this.#flushing = true;
    fdatasync(file, () => (this.#flushing = false));
  }

  /** @param keep whether it is to be found by the next that opens the reel */
  close(keep: boolean): void {
    if (this.#file !== undefined) closeSync(this.#file);
    this.#file = undefined;
    if (!keep) rmSync(this.path, { force: true });
  }
}

/** A single write may take a part. */
function writeAll(file: number, text: string): void {
  const bytes = Buffer.from(text);
  for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at);
}
