import { basename } from 'node:path';
import { readReel, type ReelDocument } from 'unspool';
import { compareReels, mergeReels } from 'unspool/edit';
import type { ExternalChange } from './protocol.js';

/** What somebody else has made of a file, which a person has to look at. */
export interface Unsettled {
  readonly state: ExternalChange;
  /** The reel in the file, if it is valid, and its text. */
  readonly theirs?: ReelDocument;
  readonly text?: string;
}

/** The merge of a foreign change with the current state. */
interface Together {
  readonly doc: ReelDocument;
  readonly theirs: ReelDocument;
  readonly summary: string;
}

export const fileGone = (summary: string): ExternalChange => ({
  why: 'gone',
  summary,
  ours: [],
  theirs: [],
  conflicts: [],
});

/**
 * Decides what to do about a file that another program has changed.
 *
 * @param text its current text; `undefined` when it is missing
 * @param base the reel when the file and the current state were equal
 */
export function externalChangeOf(
  file: string,
  text: string | undefined,
  base: ReelDocument,
  ours: ReelDocument,
): Unsettled | Together {
  if (text === undefined) return { state: fileGone(`${file} was deleted or cannot be read`) };
  const { reel, diagnostics } = readReel(text);
  if (!reel) {
    const first = diagnostics.find(({ severity }) => severity === 'error')!;
    const summary = `${basename(file)} was changed by another program and has errors: line ${first.line ?? 1}: ${first.message}`;
    return { state: { ...fileGone(summary), why: 'broken' }, text };
  }
  const { document: theirs } = reel;
  const { doc, conflicts } = mergeReels(base, ours, theirs);
  const outside = compareReels(base, theirs).map(describe);
  if (conflicts.length > 0) {
    const summary = `${basename(file)} was changed by another program in the same places as here`;
    const both = { ours: compareReels(base, ours).map(describe), theirs: outside, conflicts };
    return { state: { why: 'conflict', summary, ...both }, theirs, text };
  }
  const more = outside.length > 1 ? ` and ${outside.length - 1} more` : '';
  return { doc, theirs, summary: `changed on disk: ${outside[0] ?? 'formatting'}${more}` };
}

const describe = ({ clip, track, summary }: { clip?: string; track?: string; summary: string }) =>
  `${[clip, track].filter(Boolean).join(', ')}${clip || track ? ': ' : ''}${summary}`;
