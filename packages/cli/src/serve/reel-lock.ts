import { realpathSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import { CallError, writeFailure } from '../failure.js';
import { takeLock, type Release } from '../save.js';
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
 * Takes the lock of an open reel, which is that of its journal.
 *
 * @param tries number of attempts, every 100 ms; by default longer than the lock of a killed program lasts
 */
export async function lockJournal(path: string, file: string, onLost: () => void, tries?: number): Promise<Release> {
  try {
    makeFolder(dirname(path));
    return await takeLock(path, { realpath: false, onLost, ...(tries !== undefined && { tries }) });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code !== 'ELOCKED') throw writeFailure(error, path, `the journal ${path} could not be locked`);
    throw new CallError(`${file} is open in another workbench`, 'use that one, or stop it first');
  }
}
