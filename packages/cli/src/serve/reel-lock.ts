import { realpathSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { CallError, writeFailure } from '../failure.js';
import { LOCK_EVERY, LOCK_TRIES, takeLock, type Release } from '../save.js';
import { makeFolder } from './state-folder.js';

/** The file behind a name, also when it no longer exists. */
export function realPath(file: string): string {
  try {
    return realpathSync(file);
  } catch {
    const [folder, name] = [dirname(resolve(file)), basename(file)];
    try {
      return join(realpathSync(folder), name);
    } catch {
      return join(folder, name);
    }
  }
}

/**
 * Takes the lock of an open reel, which is that of its journal. That of a killed program is waited for until it has
 * become stale; one that is renewed meanwhile belongs to a program that runs, and is not waited for.
 *
 * @param tries number of attempts, every 100 ms; by default longer than the lock of a killed program lasts
 */
export async function lockJournal(
  path: string,
  file: string,
  onLost: () => void,
  tries = LOCK_TRIES,
): Promise<Release> {
  let renewed: number | undefined;
  for (let i = 0; ; i++) {
    try {
      if (i === 0) makeFolder(dirname(path));
      return await takeLock(path, { realpath: false, onLost, tries: 0 });
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code !== 'ELOCKED') throw writeFailure(error, path, `the journal ${path} could not be locked`);
    }
    const now = statSync(`${path}.lock`, { throwIfNoEntry: false })?.mtimeMs;
    renewed ??= now;
    if (i >= tries || (now !== undefined && now !== renewed))
      throw new CallError(`${file} is open in another workbench`, 'use that one, or stop it first');
    await new Promise((resolve) => setTimeout(resolve, LOCK_EVERY));
  }
}
