import { readFile, writeFile } from 'node:fs/promises';
import { declarationOf, type Reel } from 'unspool';

/** Keeps the declaration beside a reel as the reel is. A file that is right already is left alone. */
export async function writeDeclaration(file: string, reel: Reel): Promise<void> {
  const path = file.replace(/\.json$/, '.d.json.ts');
  const text = declarationOf(reel, 'reel', '@unspool/vite');
  const before = await readFile(path, 'utf8').catch(() => undefined);
  if (before !== text) await writeFile(path, text);
}
