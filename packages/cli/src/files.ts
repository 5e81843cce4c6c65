import {
  closeSync,
  fstatSync,
  lstatSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  realpathSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { LIMITS, parseReel, ReelError, suggest, type Reel } from 'unspool';
import { CallError, EXIT, writeFailure } from './failure.js';
import { printDiagnostics } from './print/diagnostics.js';
import { replaceFile } from './replace-file.js';

/** The name for standard input. */
export const STDIN = '-';

/** The most bytes that a file of another format may have. */
const MOST_BYTES = 256 * 1024 * 1024;

/** Reads a file of any format, or standard input. Each failure is one line with what to do. */
export function readBytes(file: string, limit = MOST_BYTES): Buffer {
  const source = file === STDIN ? 'standard input' : file;
  try {
    if (file === STDIN) return readInput(limit);
    const status = statSync(file);
    if (status.isDirectory()) throw new CallError(`${file} is a directory`, reelsIn(file));
    if (status.size > limit) throw tooLarge(`${file} has ${status.size} bytes`, limit);
    return readFileSync(file);
  } catch (error) {
    throw asCallError(error, source, file);
  }
}

/** Reads a text file or standard input. Each failure is one line with what to do. */
export function readTextFile(file: string): string {
  const source = file === STDIN ? 'standard input' : file;
  const bytes = readBytes(file, LIMITS.bytes);
  if (bytes.includes(0))
    throw new CallError(
      `${source} is not text: it has a zero byte at ${bytes.indexOf(0)}`,
      'name a reel, which is a JSON file',
    );
  try {
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    throw new CallError(`${source} is not in UTF-8`, 'save it as UTF-8');
  }
}

const tooLarge = (source: string, limit: number) =>
  new CallError(
    `${source}, the limit is ${limit}`,
    limit === LIMITS.bytes ? 'check that it is a reel' : 'use a smaller file',
  );

/** Standard input, up to a size limit. */
function readInput(limit: number): Buffer {
  const chunks: Buffer[] = [];
  for (let bytes = 0; ;) {
    const chunk = Buffer.allocUnsafe(64 * 1024);
    const count = readSome(chunk);
    if (count === 0) return Buffer.concat(chunks);
    chunks.push(chunk.subarray(0, count));
    bytes += count;
    if (bytes > limit) throw tooLarge(`standard input has more than ${bytes} bytes`, limit);
  }
}

function readSome(chunk: Buffer): number {
  for (;;) {
    try {
      return readSync(0, chunk);
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      // An input that is slow is waited for; on Windows, its end is an error.
      if (code === 'EOF') return 0;
      if (code !== 'EAGAIN') throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 10);
    }
  }
}

function asCallError(error: unknown, source: string, file: string): CallError {
  if (error instanceof CallError) return error;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT' || code === 'ENOTDIR') {
    if (isLink(file))
      return new CallError(
        `${source} is a link to a file that does not exist`,
        'fix the link, or name the file itself',
      );
    const near = suggestFile(file);
    return new CallError(
      `file not found: ${source}`,
      near ?? 'check the name, or run `unspool new FILE` to create a reel',
    );
  }
  if (code === 'EACCES' || code === 'EPERM')
    return new CallError(`no permission to read ${source}`, 'check its permissions');
  if (code === 'ELOOP') return new CallError(`${source} is a link that leads back to itself`, 'fix the link');
  return new CallError(`${source} could not be read: ${message}`, '');
}

function isLink(file: string): boolean {
  return lstatSync(file, { throwIfNoEntry: false })?.isSymbolicLink() ?? false;
}

function suggestFile(file: string): string | undefined {
  try {
    const hint = suggest(basename(file), readdirSync(dirname(file)));
    return hint.startsWith('did you mean') ? hint : undefined;
  } catch {
    return undefined;
  }
}

function reelsIn(directory: string): string {
  const reels = readdirSync(directory).filter((name) => name.endsWith('.reel.json'));
  return reels.length === 0 ? 'name a reel' : `name a reel inside it, such as ${join(directory, reels[0]!)}`;
}

/** Reads a reel that a command needs whole. With errors in it, they are printed, and the command fails with exit 1. */
export function readReelFile(file: string): { readonly reel: Reel; readonly text: string } {
  const text = readTextFile(file);
  try {
    return { reel: parseReel<unknown>(text, { source: file }), text };
  } catch (error) {
    if (!(error instanceof ReelError)) throw error;
    printDiagnostics(error.diagnostics, text, process.stderr);
    const count = error.diagnostics.filter((one) => one.severity === 'error').length;
    throw new CallError(
      `${file} has ${count} ${count === 1 ? 'error' : 'errors'}`,
      'fix the reel first',
      EXIT.problems,
    );
  }
}

/**
 * Writes a new file, whole or not at all. Reports what prevents it, and overwrites nothing unless told to; an
 * overwritten file stays as it was until the new one is complete.
 */
export function writeNewFile(file: string, content: string | Uint8Array, { overwrite }: { overwrite: boolean }): void {
  try {
    if (overwrite && isFile(file)) {
      replaceFile(realpathSync(file), content);
      return;
    }
    // Only what is made here is taken away again.
    const to = openSync(file, overwrite ? 'w' : 'wx');
    try {
      writeFileSync(to, content);
    } catch (error) {
      if (fstatSync(to).isFile()) rmSync(file, { force: true });
      throw error;
    } finally {
      closeSync(to);
    }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST')
      throw new CallError(`${file} already exists`, 'use another name, or --force to replace it');
    throw writeFailure(error, file, `${file} was not written`);
  }
}

/** Whether there is a plain file of this name, which may be a link. */
function isFile(file: string): boolean {
  try {
    return statSync(file).isFile();
  } catch {
    return false;
  }
}

/** Whether there is a folder of this name. */
export function isFolder(path: string): boolean {
  try {
    return statSync(path).isDirectory();
  } catch {
    return false;
  }
}
