import { existsSync } from 'node:fs';
import { basename, join } from 'node:path';
import { writeNewFile } from './files.js';

/** The pictures of the starter, drawn here: a hermit crab in its shell, and its claw. The name is that of the role. */
const PICTURES: Readonly<Record<string, string>> = {
  'body.png': `<svg xmlns="http://www.w3.org/2000/svg" width="192" height="176" viewBox="-48 -50 96 88">
    <g fill="none" stroke="#c2452d" stroke-width="6" stroke-linecap="round">
      <path d="M-24 20 l-9 13M-8 24 l-5 10M12 24 l4 10M26 20 l8 13"/>
    </g>
    <ellipse cx="8" cy="14" rx="32" ry="14" fill="#dd5a3f" stroke="#3a2a26" stroke-width="3"/>
    <circle cx="-8" cy="-10" r="34" fill="#b77f52" stroke="#3a2a26" stroke-width="3"/>
    <path d="M-8 -10 a9 9 0 1 1 9 9 a19 19 0 1 1 -20 -20 a28 28 0 0 1 38 8" fill="none" stroke="#6d4630"
      stroke-width="4" stroke-linecap="round"/>
    <g stroke="#3a2a26" stroke-width="2.5" fill="#fff"><circle cx="26" cy="-4" r="7"/><circle cx="39" cy="0" r="6"/></g>
    <circle cx="28" cy="-4" r="3" fill="#221b19"/><circle cx="41" cy="0" r="2.6" fill="#221b19"/>
  </svg>`,
  'claw.png': `<svg xmlns="http://www.w3.org/2000/svg" width="112" height="88" viewBox="0 -22 56 44">
    <path d="M2 0 C6 -14 22 -22 52 -16 C44 -10 34 -6 30 -2 C36 -2 46 4 53 12 C30 20 8 16 2 0 Z" fill="#e8694a"
      stroke="#3a2a26" stroke-width="3" stroke-linejoin="round"/>
    <path d="M12 -7 C20 -13 30 -15 38 -14" fill="none" stroke="#f7a487" stroke-width="4" stroke-linecap="round"/>
  </svg>`,
};

/**
 * Writes the pictures that are not there yet; others' files stay as they are.
 *
 * @returns the names of those that were written
 */
export async function writePictures(folder: string): Promise<readonly string[]> {
  const names = Object.keys(PICTURES).filter((name) => !existsSync(join(folder, name)));
  if (names.length === 0) return names;
  const { renderPng } = await import('./draw/png.js');
  for (const name of names) writeNewFile(join(folder, name), renderPng(PICTURES[name]!), { overwrite: false });
  return names;
}

/** `hermit crab` of `hermit-crab.reel.json`. */
export function titleOf(file: string): string {
  return (
    basename(file)
      .replace(/(\.reel)?\.json$/i, '')
      .replace(/[-_]+/g, ' ')
      .trim() || 'hermit crab'
  );
}
