import { realpathSync, statSync } from 'node:fs';
import { LIMITS } from 'unspool';
import { CallError, writeFailure } from './failure.js';
import { readTextFile } from './files.js';
import { replaceFile } from './replace-file.js';

/** A lock that was not renewed for this long (ms) belongs to a program that has ended. */
const STALE = 4000;
/** How often (ms) a lock that another program holds is tried again. */
export const LOCK_EVERY = 100;
/** And how often at most: longer than one that was left behind takes to become stale. */
export const LOCK_TRIES = 60;
/** How every lock is held, and waited for. */
const LOCK = {
  stale: STALE,
  update: STALE / 4,
  retries: { retries: LOCK_TRIES, factor: 1, minTimeout: LOCK_EVERY, maxTimeout: LOCK_EVERY },
};

/** Gives a lock free. */
export type Release = () => Promise<void>;

/**
 * Takes a lock on a file, and waits for its holder. The package is loaded here because it listens to the signals that
 * end a program, and a program that listens is not ended by them while it computes.
 *
 * @param onLost called when the lock was lost: it was removed, or this process was suspended for longer than it lasts
 * @throws an error with the code `ELOCKED` while another program holds it
 */
export async function takeLock(
  path: string,
  { onLost, tries = LOCK_TRIES, ...options }: LockOptions,
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
  /** How often it is tried again, every `LOCK_EVERY` ms. */
  readonly tries?: number;
}

/**
 * Changes a file so that no work is lost. The new text replaces the file at once (written beside it, flushed to the
 * disk, renamed), under a lock that other writers wait for. Whatever happens, the file is as before or as intended. A
 * text that could not be read again is not written.
 *
 * @param change returns the new text for the current one; `undefined` to leave it. Called again when another program
 * has written in the meantime
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
    readTextFile(file); // reports what is wrong
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
