import { basename } from 'node:path';
import { readReel, type ReelDocument } from 'unspool';
import { compareReels, mergeReels } from 'unspool/edit';
import type { Outside } from './protocol.js';

/** What somebody else has made of a file, which a person has to look at. */
export interface Unsettled {
  readonly state: Outside;
  /** What stands in the file, where it is a reel, and as it is written. */
  readonly theirs?: ReelDocument;
  readonly text?: string;
}

/** What somebody else has made of a file, and what is here, put together. */
interface Together {
  readonly doc: ReelDocument;
  readonly theirs: ReelDocument;
  readonly said: string;
}

export const gone = (said: string): Outside => ({ why: 'gone', said, ours: [], theirs: [], conflicts: [] });

/**
 * What is to be made of a file that somebody else has changed.
 *
 * @param text what stands in it now; nothing when it is not there
 * @param base the reel when the file and what is here were the same
 */
export function outsideOf(
  file: string,
  text: string | undefined,
  base: ReelDocument,
  ours: ReelDocument,
): Unsettled | Together {
  if (text === undefined) return { state: gone(`${file} is gone, or cannot be read`) };
  const { reel, diagnostics } = readReel(text);
  if (!reel) {
    const first = diagnostics.find(({ severity }) => severity === 'error')!;
    const said = `${basename(file)} was changed outside, and has errors now: line ${first.line ?? 1}: ${first.message}`;
    return { state: { ...gone(said), why: 'broken' }, text };
  }
  const { document: theirs } = reel;
  const { doc, conflicts } = mergeReels(base, ours, theirs);
  const outside = compareReels(base, theirs).map(saidOf);
  if (conflicts.length > 0) {
    const said = `${basename(file)} was changed outside, where it was changed here too`;
    const both = { ours: compareReels(base, ours).map(saidOf), theirs: outside, conflicts };
    return { state: { why: 'conflict', said, ...both }, theirs, text };
  }
  const more = outside.length > 1 ? ` and ${outside.length - 1} more` : '';
  return { doc, theirs, said: `changed outside: ${outside[0] ?? 'how it is written'}${more}` };
}

const saidOf = ({ clip, track, said }: { clip?: string; track?: string; said: string }) =>
  `${[clip, track].filter(Boolean).join(', ')}${clip || track ? ': ' : ''}${said}`;
