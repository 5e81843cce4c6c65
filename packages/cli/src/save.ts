import { realpathSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { lock } from 'proper-lockfile';
import { CallError } from './failure.js';
import { readTextFile } from './files.js';
import { replaceFile } from './replace.js';

/** A lock that its holder has not renewed for so long (in ms) is that of a program that is gone. */
const STALE = 4000;
/** How every lock is held, and waited for: longer than one that was left behind takes to become stale. */
export const LOCK = {
  stale: STALE,
  update: STALE / 4,
  retries: { retries: 60, factor: 1, minTimeout: 100, maxTimeout: 100 },
};

/**
 * Changes a file so that no work is lost: under a lock, which other writers wait for, it is read anew, and what is made of
 * it takes its place at once (written beside it, flushed to the disk, renamed). Whatever happens on the way, the file is
 * as it was or as it should be.
 *
 * @param change makes the new text of the present one; nothing when it should stay
 * @returns whether it was written
 */
export async function changeFile(file: string, change: (text: string) => string | undefined): Promise<boolean> {
  const real = existing(file);
  const release = await lockFile(real, file);
  try {
    const next = change(readTextFile(file));
    if (next === undefined) return false;
    replaceFile(real, next);
    return true;
  } catch (error) {
    throw error instanceof CallError ? error : asCallError(error as NodeJS.ErrnoException, file);
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
    throw new CallError(`${file} is read-only, and is left as it is`, `allow it first: chmod u+w ${file}`);
  return real;
}

async function lockFile(real: string, said: string): Promise<() => Promise<void>> {
  try {
    return await lock(real, LOCK);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'ELOCKED') throw asCallError(error as NodeJS.ErrnoException, said);
    throw new CallError(`another program is writing ${said}`, 'wait for it to end, and run this again');
  }
}

function asCallError({ code, message }: NodeJS.ErrnoException, file: string): CallError {
  const still = `${file} is as it was`;
  if (code === 'ENOSPC' || code === 'EDQUOT' || code === 'EFBIG')
    return new CallError(`there is no room on the disk: ${still}`, 'free some, and run this again');
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return new CallError(`its folder may not be written: ${still}`, `allow it, as by chmod u+w ${dirname(file)}`);
  return new CallError(
    `${file} could not be written, and is as it was: ${message}`,
    'check its folder and permissions',
  );
}
