import type { Diagnostics } from './diagnostic.js';
import { findJsonFault } from './json-fault.js';
import { LIMITS } from './limits.js';
import { Outline, placeIn, type Place } from './outline.js';

/** A JSON text, read: its value with the places in it, or the reason why there is none. */
export type TextReading =
  { readonly value: unknown; readonly outline: Outline } | { readonly refuse: (diagnostics: Diagnostics) => void };

/** Reads the text of a reel: its size, its JSON, its depth. Never throws. */
export function readText(text: string): TextReading {
  const bytes = text.length > LIMITS.bytes ? text.length : utf8Length(text);
  if (bytes > LIMITS.bytes) {
    return { refuse: (to) => to.add('reel/too-large', { bytes, limit: LIMITS.bytes }, 'error', '', undefined) };
  }
  const start: Place = { line: 1, column: 1 };
  const plain = text.startsWith('\uFEFF') ? text.slice(1) : text;
  if (plain.trim() === '') return { refuse: (to) => to.add('reel/empty', {}, 'error', '', start) };
  let value: unknown;
  try {
    value = JSON.parse(plain);
  } catch {
    const { said, offset } = findJsonFault(plain);
    return { refuse: (to) => to.add('reel/json', { said }, 'error', '', placeIn(plain, offset)) };
  }
  const outline = new Outline(plain, LIMITS.depth);
  if (outline.depth > LIMITS.depth) {
    const place = outline.placeOf(outline.deepest);
    return { refuse: (to) => to.add('reel/too-deep', { limit: LIMITS.depth }, 'error', '', place) };
  }
  return { value, outline };
}

/** How many bytes a text has in UTF-8. */
export function utf8Length(text: string): number {
  let bytes = text.length;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (unit > 0x7f) bytes += unit > 0x7ff && (unit < 0xd800 || unit > 0xdfff) ? 2 : 1;
  }
  return bytes;
}
