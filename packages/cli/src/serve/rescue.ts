import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { formatReel, type ReelDocument } from 'unspool';
import { CallError } from '../failure.js';
import { writeNewFile } from '../files.js';

interface Unsaved {
  readonly name: string;
  readonly file: string;
  readonly doc: ReelDocument;
}

/** Keeps a reel that neither its file nor its journal can keep: in a new file wherever there is room, else printed. */
export function rescue({ name, file, doc }: Unsaved, say: (message: string) => void): void {
  const kept = `${name}.${Date.now()}.rescued.reel.json`;
  for (const folder of [tmpdir(), dirname(file), process.cwd()]) {
    try {
      writeNewFile(join(folder, kept), formatReel(doc), { overwrite: false });
      say(`the current reel is kept in ${join(folder, kept)}`);
      return;
    } catch (error) {
      if (!(error instanceof CallError)) throw error;
    }
  }
  say('the journal cannot be written either, and no other folder has space. This is the current reel:');
  say(JSON.stringify(doc));
}
