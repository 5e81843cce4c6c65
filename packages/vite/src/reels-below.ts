import { readdirSync } from 'node:fs';
import { join } from 'node:path';

const SKIPPED = ['node_modules', 'dist'];

/** All reels in a folder and below, in order. What is hidden, installed or built is passed over. */
export function reelsBelow(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isFile() && entry.name.endsWith('.reel.json')) return [path];
    return entry.isDirectory() && !entry.name.startsWith('.') && !SKIPPED.includes(entry.name) ? reelsBelow(path) : [];
  });
}
