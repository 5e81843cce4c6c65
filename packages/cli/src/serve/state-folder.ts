import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { CallError } from '../failure.js';

/**
 * Where the workbench keeps what must outlive it and does not belong into a game's folder: journals, and the token.
 * `UNSPOOL_STATE` names another place. (XDG Base Directory: state that is not portable.)
 */
export function stateFolder(): string {
  // An empty one counts as none, as the XDG specification has it: what is kept here does not belong into a game's folder.
  const { UNSPOOL_STATE, XDG_STATE_HOME, LOCALAPPDATA } = process.env;
  const folder = UNSPOOL_STATE || join(XDG_STATE_HOME || LOCALAPPDATA || join(homedir(), '.local', 'state'), 'unspool');
  try {
    makeFolder(resolve(folder, 'journals'));
  } catch (error) {
    throw new CallError(
      `the folder ${folder} for journals could not be created: ${(error as Error).message}`,
      ELSEWHERE,
    );
  }
  return folder;
}

/**
 * Creates a folder and its parents, readable only by the user. Not with `recursive`, which never ends where the system
 * refuses folders (/proc).
 */
export function makeFolder(folder: string): void {
  if (existsSync(folder)) return;
  if (dirname(folder) !== folder) makeFolder(dirname(folder));
  mkdirSync(folder, { mode: 0o700 });
}

const ELSEWHERE = 'use another folder: UNSPOOL_STATE=/some/folder unspool edit …';

/** Where the journal of a file is kept. */
export function journalPath(folder: string, realFile: string): string {
  return join(folder, 'journals', `${createHash('sha256').update(realFile).digest('hex').slice(0, 24)}.journal`);
}

/** What pages have to know to read and write. */
export interface Tokens {
  /** New on each start: the one in the address. */
  readonly present: string;
  /** The token of the previous start, for pages that were open then. When they reconnect they receive the new one. */
  readonly last: string | undefined;
}

/** The token of running games: the same on each start, because it is pasted into their code. It opens no reel. */
export function liveToken(folder: string): string {
  const file = join(folder, 'live-token');
  const known = readToken(file);
  if (known !== undefined) return known;
  const token = randomBytes(24).toString('hex');
  writeToken(file, token);
  return token;
}

export function newTokens(folder: string): Tokens {
  const file = join(folder, 'token');
  const present = randomBytes(24).toString('hex');
  const last = readToken(file);
  writeToken(file, present);
  return { present, last };
}

/** None yet, or none that may be read: then nothing that has it finds back. */
function readToken(file: string): string | undefined {
  try {
    return /^[0-9a-f]{48}$/.exec(readFileSync(file, 'utf8').trim())?.[0];
  } catch {
    return undefined;
  }
}

function writeToken(file: string, token: string): void {
  try {
    rmSync(file, { force: true });
    writeFileSync(file, `${token}\n`, { mode: 0o600, flag: 'wx' });
  } catch (error) {
    throw new CallError(`${file} could not be written: ${(error as Error).message}`, ELSEWHERE);
  }
}
