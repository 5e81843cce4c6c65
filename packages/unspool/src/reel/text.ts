import type { Diagnostics } from './diagnostic.js';
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
  } catch (error) {
    const { said, offset } = syntaxFault(plain, error as SyntaxError);
    const place = placeIn(plain, offset);
    return { refuse: (to) => to.add('reel/json', { said }, 'error', '', place) };
  }
  const outline = new Outline(plain, LIMITS.depth);
  if (outline.depth > LIMITS.depth) {
    return { refuse: (to) => to.add('reel/too-deep', { limit: LIMITS.depth }, 'error', '', start) };
  }
  return { value, outline };
}

function utf8Length(text: string): number {
  let bytes = text.length;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (unit > 0x7f) bytes += unit > 0x7ff && (unit < 0xd800 || unit > 0xdfff) ? 2 : 1;
  }
  return bytes;
}

/** Where JSON goes wrong, and in which of the ways that people know. */
function syntaxFault(text: string, error: SyntaxError): { said: string; offset: number } {
  const position = /position (\d+)/.exec(error.message)?.[1];
  const offset = position === undefined ? text.trimEnd().length : Number(position);
  const rest = text.slice(offset);
  const before = text.slice(0, offset).trimEnd();
  if (rest.trim() === '') return { said: 'it ends before all its brackets and quotes are closed', offset };
  if (/^[}\]]/.test(rest) && before.endsWith(',')) {
    return { said: 'a comma stands before a closing bracket', offset: before.length - 1 };
  }
  if (/^\/[/*]/.test(rest)) return { said: 'it has a comment, which JSON does not know', offset };
  const word = /^-?[A-Za-z]+/.exec(rest)?.[0];
  if (word !== undefined) return { said: `${word} is neither a number, true, false, null nor a quoted text`, offset };
  if (rest.startsWith("'")) return { said: 'texts stand in double quotes', offset };
  if (/^["{[\d]/.test(rest) && /["}\]\d]$/.test(before)) return { said: 'a comma is missing before this', offset };
  const code = rest.codePointAt(0)!;
  const sign = code < 0x20 || code === 0xfffd ? `a byte that is no text (code ${code})` : JSON.stringify(rest[0]);
  return { said: `${sign} cannot stand here`, offset };
}
