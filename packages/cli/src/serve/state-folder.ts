import { createHash, randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { CallError } from '../failure.js';

/**
 * Where the workbench keeps what must outlive it and does not belong into a game's folder: journals, and the token.
 * `UNSPOOL_STATE` names another place. (XDG Base Directory: state that is not portable.)
 */
export function stateFolder(): string {
  const { UNSPOOL_STATE, XDG_STATE_HOME, LOCALAPPDATA } = process.env;
  const folder = UNSPOOL_STATE ?? join(XDG_STATE_HOME ?? LOCALAPPDATA ?? join(homedir(), '.local', 'state'), 'unspool');
  try {
    mkdirSync(join(folder, 'journals'), { recursive: true, mode: 0o700 });
  } catch (error) {
    throw new CallError(
      `the folder ${folder}, for the journals, could not be made: ${(error as Error).message}`,
      'name another one: UNSPOOL_STATE=/some/folder unspool edit …',
    );
  }
  return folder;
}

/** Where the journal of a file is kept. */
export function journalPath(folder: string, realFile: string): string {
  return join(folder, 'journals', `${createHash('sha256').update(realFile).digest('hex').slice(0, 24)}.journal`);
}

/** What pages have to know to read and write: kept, so that a page finds the way back to a server that was started anew. */
export function tokenIn(folder: string): string {
  const file = join(folder, 'token');
  try {
    const token = readFileSync(file, 'utf8').trim();
    if (/^[0-9a-f]{48}$/.test(token)) return token;
  } catch {
    // none yet
  }
  const token = randomBytes(24).toString('hex');
  writeFileSync(file, `${token}\n`, { mode: 0o600 });
  return token;
}
