import {
  chownSync,
  closeSync,
  fchmodSync,
  fsyncSync,
  openSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';

/**
 * Replaces a file at once: the new text or bytes are written beside it, flushed to the disk, and renamed. By hand,
 * because a full disk matters: a single write may write a part and report success, and only the next one fails.
 * `writeFileSync` continues until everything is written, or throws.
 *
 * @param file an existing file, not a link
 */
export function replaceFile(file: string, text: string | Uint8Array): void {
  clearLeftovers(file);
  const { mode, uid, gid } = statSync(file);
  const beside = `${file}.${process.pid}.tmp`;
  try {
    const to = openSync(beside, 'wx', 0o600);
    try {
      writeFileSync(to, text);
      fchmodSync(to, mode & 0o7777);
      fsyncSync(to);
    } finally {
      closeSync(to);
    }
    keepOwner(beside, uid, gid);
    renameSync(beside, file);
  } catch (error) {
    rmSync(beside, { force: true });
    throw error;
  }
  flushFolder(dirname(file));
}

/** Who may not give files away keeps them: the text matters more. */
function keepOwner(file: string, uid: number, gid: number): void {
  const { uid: mine, gid: ours } = statSync(file);
  if (mine === uid && ours === gid) return;
  try {
    chownSync(file, uid, gid);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EPERM') throw error;
  }
}

/** The new name is on the disk too, where the system lets a folder be flushed. */
function flushFolder(folder: string): void {
  try {
    const at = openSync(folder, 'r');
    try {
      fsyncSync(at);
    } finally {
      closeSync(at);
    }
  } catch {
    // Not on Windows; the file itself is whole either way.
  }
}

/** Removes what a killed writer has left beside a file. The caller holds its lock. */
function clearLeftovers(file: string): void {
  const name = `${basename(file)}.`;
  for (const other of readdirSync(dirname(file))) {
    if (other.startsWith(name) && /^\d+\.tmp$/.test(other.slice(name.length)))
      rmSync(join(dirname(file), other), { force: true });
  }
}
