import type { ReelDocument } from '../reel/document.js';
import { checksum } from './checksum.js';
import type { Operation } from './operation.js';

/**
 * What an editing program writes down while it works, a line for each step, so that a crash loses nothing: first the
 * document that it began with, then what was done to it. Each line is a checksum (CRC-32, eight hexadecimal digits), a
 * space and JSON; a line counts when it is whole.
 */
export type JournalEntry =
  | { readonly begin: ReelDocument }
  | { readonly apply: Operation; readonly drag?: string; readonly mark?: string }
  | { readonly undo: true; readonly mark?: string }
  | { readonly redo: true; readonly mark?: string }
  /** As it was then, or another document. */
  | { readonly saved: true | ReelDocument };

/** One line, with its end. */
export function writeEntry(entry: JournalEntry): string {
  const text = JSON.stringify(entry);
  return `${checksum(text)} ${text}\n`;
}

export interface JournalReading {
  readonly entries: readonly JournalEntry[];
  /** Lines that were not whole, and what came after them: 0, or 1 for one that was torn by a crash. */
  readonly dropped: number;
}

/** Reads the entries of a journal up to the first line that is not whole. Never throws. */
export function readEntries(text: string): JournalReading {
  const lines = text.split('\n');
  const last = lines.pop(); // nothing after the last line's end, or a torn line
  const entries: JournalEntry[] = [];
  for (const line of lines) {
    const json = line.slice(9);
    if (line[8] !== ' ' || checksum(json) !== line.slice(0, 8)) break;
    entries.push(JSON.parse(json) as JournalEntry);
  }
  return { entries, dropped: lines.length - entries.length + (last === '' ? 0 : 1) };
}
