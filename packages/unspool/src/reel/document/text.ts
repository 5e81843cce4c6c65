import type { Diagnostics } from '../diagnostics/diagnostic.js';
import { findJsonError } from '../diagnostics/json-error.js';
import { LIMITS } from './limits.js';
import { TextLocations, locationIn, type TextLocation } from '../diagnostics/text-locations.js';

/** A JSON text, read: its value with the places in it, or the reason why there is none. */
export type TextReading =
  | { readonly value: unknown; readonly outline: TextLocations }
  | { readonly refuse: (diagnostics: Diagnostics) => void };

/** Reads the text of a reel: its size, its JSON, its depth. Never throws. */
export function readText(text: string): TextReading {
  const bytes = text.length > LIMITS.bytes ? text.length : utf8Length(text);
  if (bytes > LIMITS.bytes) {
    return { refuse: (to) => to.add('reel/too-large', { bytes, limit: LIMITS.bytes }, 'error', '', undefined) };
  }
  const start: TextLocation = { line: 1, column: 1 };
  const plain = text.startsWith('\uFEFF') ? text.slice(1) : text;
  if (plain.trim() === '') return { refuse: (to) => to.add('reel/empty', {}, 'error', '', start) };
  let value: unknown;
  try {
    value = JSON.parse(plain);
  } catch {
    const { message, offset } = findJsonError(plain);
    return { refuse: (to) => to.add('reel/json', { message }, 'error', '', locationIn(plain, offset)) };
  }
  const outline = new TextLocations(plain, LIMITS.depth);
  if (outline.depth > LIMITS.depth) {
    const place = outline.locationOf(outline.deepest);
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
