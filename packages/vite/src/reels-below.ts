import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

const SKIPPED = ['node_modules', 'dist'];

/** All reels in a folder and below, the largest first. What is hidden, installed or built is passed over. */
export function reelsBelow(folder: string): string[] {
  return allBelow(folder).sort((a, b) => statSync(b).size - statSync(a).size);
}

function allBelow(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isFile() && entry.name.endsWith('.reel.json')) return [path];
    return entry.isDirectory() && !entry.name.startsWith('.') && !SKIPPED.includes(entry.name) ? allBelow(path) : [];
  });
}
