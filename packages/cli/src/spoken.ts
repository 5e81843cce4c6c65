import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { CallError } from './failure.js';

const SOURCES = /\.([cm]?[jt]sx?|json|vue|svelte|html)$/;
/** Words in quotes, and those behind a dot: how a program speaks of names. */
const WORDS = /(["'`])([A-Za-z0-9_-]{1,64})\1|\.([A-Za-z_][A-Za-z0-9_]{0,63})\b|([A-Za-z_][A-Za-z0-9_]{0,63})\s*:/g;

/** Reels themselves, and their types, do not count. */
const REELS = /\.reel\.(json|d\.json\.ts)$/;

/** Tells of a name whether the sources of a game speak of it. */
export function spokenIn(paths: readonly string[]): (name: string) => boolean {
  const words = new Set<string>();
  for (const file of paths.flatMap(sourcesIn)) {
    for (const [, , quoted, member, label] of readFileSync(file, 'utf8').matchAll(WORDS))
      words.add((quoted ?? member ?? label)!);
  }
  return (name) => words.has(name);
}

/** A file itself; of a folder the sources in it and below. */
function sourcesIn(path: string): string[] {
  let isFolder: boolean;
  try {
    isFolder = statSync(path).isDirectory();
  } catch {
    throw new CallError(`there is no file ${path}`, 'name the sources of the game, files or folders');
  }
  if (!isFolder) return [path];
  return readdirSync(path).flatMap((name): string[] => {
    if (name === 'node_modules' || name === 'dist' || name.startsWith('.')) return [];
    const inner = join(path, name);
    // Links are followed; one that leads nowhere is nothing.
    if (statSync(inner, { throwIfNoEntry: false })?.isDirectory()) return sourcesIn(inner);
    return SOURCES.test(name) && !REELS.test(name) && existsSync(inner) ? [inner] : [];
  });
}
