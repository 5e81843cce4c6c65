import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { LIMITS, parseReel, ReelError, suggest, type Reel } from 'unspool';
import { CallError, EXIT } from './failure.js';
import { printDiagnostics } from './print/diagnostics.js';

/** The name that stands for standard input. */
export const STDIN = '-';

/** Reads a text file, or standard input. Every way in which that can fail is one line that says what to do. */
export function readTextFile(file: string): string {
  const said = file === STDIN ? 'standard input' : file;
  let bytes: Buffer;
  try {
    if (file !== STDIN) {
      const status = statSync(file);
      if (status.isDirectory()) throw new CallError(`${file} is a directory`, reelsIn(file));
      if (status.size > LIMITS.bytes) {
        throw new CallError(
          `${file} has ${status.size} bytes, more than the limit of ${LIMITS.bytes}`,
          'is it a reel?',
        );
      }
    }
    bytes = readFileSync(file === STDIN ? 0 : file);
  } catch (error) {
    throw asCallError(error, said, file);
  }
  if (bytes.includes(0))
    throw new CallError(
      `${said} is no text: it has a zero byte at ${bytes.indexOf(0)}`,
      'name a reel, which is a JSON text',
    );
  try {
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    throw new CallError(`${said} is not in UTF-8`, 'save it as UTF-8');
  }
}

function asCallError(error: unknown, said: string, file: string): CallError {
  if (error instanceof CallError) return error;
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT' || code === 'ENOTDIR') {
    const near = suggestFile(file);
    return new CallError(
      `there is no file ${said}`,
      near ?? 'check the name, or run `unspool new FILE` for a reel to start from',
    );
  }
  if (code === 'EACCES' || code === 'EPERM') return new CallError(`${said} may not be read`, 'check its permissions');
  return new CallError(`${said} could not be read: ${message}`, '');
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
  return reels.length === 0 ? 'name a reel' : `name a reel in it, as ${join(directory, reels[0]!)}`;
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
      'mend the reel first',
      EXIT.problems,
    );
  }
}

/** Writes a new file. Says what is in the way, and overwrites nothing unless told to. */
export function writeNewFile(file: string, content: string | Uint8Array, { overwrite }: { overwrite: boolean }): void {
  try {
    writeFileSync(file, content, { flag: overwrite ? 'w' : 'wx' });
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST')
      throw new CallError(`${file} is there already`, 'take another name, or say --force to replace it');
    if (code === 'ENOENT') throw new CallError(`the folder ${dirname(file)} is not there`, 'make it first');
    if (code === 'EISDIR') throw new CallError(`${file} is a directory`, 'name a file in it');
    throw new CallError(`${file} could not be written: ${message}`, 'check its folder and permissions');
  }
}
