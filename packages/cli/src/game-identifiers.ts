import { existsSync, readdirSync, readFileSync, realpathSync } from 'node:fs';
import { join } from 'node:path';
import { CallError } from './failure.js';
import { isFolder } from './files.js';

const SOURCES = /\.([cm]?[jt]sx?|json|vue|svelte|html)$/;
/** Words in quotes, and those behind a dot: how a program speaks of names. */
const WORDS = /(["'`])([A-Za-z0-9_-]{1,64})\1|\.([A-Za-z_][A-Za-z0-9_]{0,63})\b|([A-Za-z_][A-Za-z0-9_]{0,63})\s*:/g;

/** Reels themselves, and their types, do not count. */
const REELS = /\.reel\.(json|d\.json\.ts)$/;

/** Returns a function that tells whether the sources of a game contain a name. */
export function identifiersIn(paths: readonly string[]): (name: string) => boolean {
  const [words, seen] = [new Set<string>(), new Set<string>()];
  for (const file of paths.flatMap((path) => sourcesIn(path, seen))) {
    for (const [, , quoted, member, label] of readSource(file).matchAll(WORDS)) words.add((quoted ?? member ?? label)!);
  }
  return (name) => words.has(name);
}

function readSource(file: string): string {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new CallError(`${file} could not be read: ${(error as Error).message}`, 'name readable files');
  }
}

/** A file itself; for a folder all sources below it. Links are followed, but not in a circle. */
function sourcesIn(path: string, seen: Set<string>): string[] {
  if (!isFolder(path)) {
    if (existsSync(path)) return [path];
    throw new CallError(`file not found: ${path}`, 'name source files or folders of the game');
  }
  const real = realpathSync(path);
  if (seen.has(real)) return [];
  seen.add(real);
  return entriesOf(path).flatMap((name): string[] => {
    if (name === 'node_modules' || name === 'dist' || name.startsWith('.')) return [];
    const inner = join(path, name);
    if (isFolder(inner)) return sourcesIn(inner, seen);
    // A link that leads nowhere is nothing.
    return SOURCES.test(name) && !REELS.test(name) && existsSync(inner) ? [inner] : [];
  });
}

function entriesOf(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch (error) {
    throw new CallError(`${folder} could not be read: ${(error as Error).message}`, 'name readable files');
  }
}
