import { expect } from 'vitest';
import { edit, type Operation } from '../src/edit/index.js';
import { formatReel, type ReelDocument } from '../src/index.js';

/** The document after an operation, which must apply, and whose inverse must give back the text of the one before. */
export function applied(doc: ReelDocument, operation: Operation): ReelDocument {
  const one = edit(doc, operation);
  expect(one.ok, one.said).toBe(true);
  if (!one.ok) return doc;
  const back = edit(one.doc, one.inverse);
  expect(back.ok && formatReel(back.doc)).toBe(formatReel(doc));
  return one.doc;
}
