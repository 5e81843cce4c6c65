import { realpathSync, statSync } from 'node:fs';
import { LIMITS } from 'unspool';
import { CallError, writeFailure } from './failure.js';
import { readTextFile } from './files.js';
import { replaceFile } from './replace-file.js';

/** A lock that its holder has not renewed for so long (in ms) is that of a program that is gone. */
const STALE = 4000;
/** How every lock is held, and waited for: longer than one that was left behind takes to become stale. */
const LOCK = {
  stale: STALE,
  update: STALE / 4,
  retries: { retries: 60, factor: 1, minTimeout: 100, maxTimeout: 100 },
};

/** Gives a lock free. */
export type Release = () => Promise<void>;

/**
 * Takes a lock on a file, and waits for one who has it. The package is loaded here: it listens to the signals that end a
 * program, and one that listens is not ended by them while it computes.
 *
 * @param onLost hears that the lock was lost: it was removed, or this process stood still for longer than it lasts
 * @throws an error with the code `ELOCKED` while another has it
 */
export async function takeLock(
  path: string,
  { onLost, tries = LOCK.retries.retries, ...options }: LockOptions,
): Promise<Release> {
  const { default: lockfile } = await import('proper-lockfile');
  const retries = { ...LOCK.retries, retries: tries };
  const release = await lockfile.lock(path, { ...LOCK, ...options, retries, onCompromised: onLost });
  // One that was lost is not there to be given free.
  return () => release().catch(() => {});
}

interface LockOptions {
  readonly onLost: (error: Error) => void;
  readonly realpath?: boolean;
  /** How often it is asked for, every 100 ms. */
  readonly tries?: number;
}

/**
 * Changes a file so that no work is lost: what is made of it takes its place at once (written beside it, flushed to the
 * disk, renamed), under a lock, which other writers wait for. Whatever happens on the way, the file is as it was or as it
 * should be. A text that could not be read again is not written.
 *
 * @param change makes the new text of the present one; nothing when it should stay. Called again where another program
 *   has written in the meantime
 * @returns whether it was written
 */
export async function changeFile(file: string, change: (text: string) => string | undefined): Promise<boolean> {
  const real = existing(file);
  // The long work is done before the lock is taken: it can be interrupted, and nobody waits for it.
  const before = readTextFile(file);
  let next = change(before);
  if (next === undefined) return false;
  const release = await lockFile(real, file);
  try {
    const present = readTextFile(file);
    if (present !== before) next = change(present);
    if (next === undefined) return false;
    const bytes = Buffer.byteLength(next);
    if (bytes > LIMITS.bytes) {
      throw new CallError(
        `${file} would have ${bytes} bytes, the limit is ${LIMITS.bytes}; the file is unchanged`,
        'split it into two reels, or remove keys',
      );
    }
    replaceFile(real, next);
    return true;
  } catch (error) {
    throw error instanceof CallError ? error : writeFailure(error, file, `${file} is unchanged`);
  } finally {
    await release();
  }
}

/** The file behind a name that may be a link. One that may not be written is not replaced either. */
function existing(file: string): string {
  let real: string;
  let mode: number;
  try {
    real = realpathSync(file);
    mode = statSync(real).mode;
  } catch {
    readTextFile(file); // says what is wrong
    throw new CallError(`${file} could not be opened`, 'check the name');
  }
  if ((mode & 0o222) === 0)
    throw new CallError(`${file} is read-only and unchanged`, `allow writing: chmod u+w ${file}`);
  return real;
}

async function lockFile(real: string, message: string): Promise<Release> {
  try {
    // It is held for a moment, in which nothing else of this process runs: it cannot be lost before it is given free.
    return await takeLock(real, { onLost: () => {} });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'ELOCKED') throw writeFailure(error, message, `${message} is unchanged`);
    throw new CallError(`another program is writing ${message}`, 'wait for it, then run this again');
  }
}
