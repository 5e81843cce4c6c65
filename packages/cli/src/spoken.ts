import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { CallError } from './failure.js';

const SOURCES = /\.([cm]?[jt]sx?|json|vue|svelte|html)$/;
/** Words in quotes, and those behind a dot: how a program speaks of names. */
const WORDS = /(["'`])([A-Za-z0-9_-]{1,64})\1|\.([A-Za-z_][A-Za-z0-9_]{0,63})\b|([A-Za-z_][A-Za-z0-9_]{0,63})\s*:/g;

/** Tells of a name whether the sources of a game speak of it. Reels themselves do not count. */
export function spokenIn(paths: readonly string[]): (name: string) => boolean {
  const words = new Set<string>();
  const read = (path: string): void => {
    let status;
    try {
      status = statSync(path);
    } catch {
      throw new CallError(`there is no file ${path}`, 'name the sources of the game, files or folders');
    }
    if (status.isDirectory()) {
      for (const name of readdirSync(path)) {
        if (name === 'node_modules' || name === 'dist' || name.startsWith('.')) continue;
        const inner = join(path, name);
        if (
          statSync(inner).isDirectory() ||
          (SOURCES.test(name) && !/\.reel\.(d\.)?json(\.ts)?$/.test(name) && !name.endsWith('.reel.d.json.ts'))
        )
          read(inner);
      }
      return;
    }
    for (const [, , quoted, member, label] of readFileSync(path, 'utf8').matchAll(WORDS))
      words.add((quoted ?? member ?? label)!);
  };
  paths.forEach(read);
  return (name) => words.has(name);
}
