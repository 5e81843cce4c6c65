import { isObject } from '../errors/is-object.js';
import type { ReelDocument } from '../reel/document/document.js';
import { checksum } from './checksum.js';
import type { Operation } from './operation.js';

/**
 * An entry of the journal of a `History`: the first has the document, each other one a step. A line of the journal is
 * a checksum (CRC-32, eight hexadecimal digits), a space and the entry as JSON. Incomplete lines are ignored.
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

/** Reads a journal line by line, up to the first line that is cut off, damaged or of another form. Never throws. */
export function* readEntries(text: string): Generator<JournalEntry, void, void> {
  for (let at = 0; at < text.length;) {
    const end = text.indexOf('\n', at);
    const json = text.slice(at + 9, end);
    if (end < 0 || text[at + 8] !== ' ' || checksum(json) !== text.slice(at, at + 8)) return;
    const entry = parseEntry(json);
    if (!entry) return;
    yield entry;
    at = end + 1;
  }
}

/** How many lines a journal has; one that was torn counts. */
export function countLines(text: string): number {
  let count = 0;
  for (let at = 0; at < text.length; at++) if (text.charCodeAt(at) === 10) count++;
  return count + (text === '' || text.endsWith('\n') ? 0 : 1);
}

/** What was written by a program is as it was written; a checksum alone does not say that a program wrote it. */
function parseEntry(json: string): JournalEntry | undefined {
  try {
    const entry = JSON.parse(json) as Partial<Record<string, unknown>> | null;
    if (typeof entry !== 'object' || entry === null) return undefined;
    const { begin, apply, saved, undo, redo, drag, mark } = entry;
    const isNamed = [drag, mark].every((name) => name === undefined || typeof name === 'string');
    const isKnown =
      undo === true || redo === true || [begin, apply].some(isObject) || saved === true || isObject(saved);
    return isNamed && isKnown ? (entry as JournalEntry) : undefined;
  } catch {
    return undefined;
  }
}
