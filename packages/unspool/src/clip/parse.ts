import { expectReel, isSound, readDocument, type CheckOptions } from '../reel/check.js';
import type { Diagnostic } from '../reel/diagnostic.js';
import { reelOf } from './from-document.js';
import type { NamesOf, ReelNames } from './names.js';
import type { Reel } from './reel.js';

/**
 * Reads a reel from its JSON text or its document. Throws a `ReelError` that has every diagnostic when it has errors.
 * From a document whose type is known, the names of its clips, roles and cues are known too. Its first clip is compiled
 * at once, the others when they are first asked for.
 */
export function parseReel<const D>(input: D, options: CheckOptions = {}): Reel<NamesOf<D>> {
  const reel = reelOf<NamesOf<D>>(expectReel(input, options));
  // Code that runs for the first time takes twice as long: better here than in the frame that first plays something.
  const [first] = Object.keys(reel.clips);
  if (first !== undefined) reel.clip(first);
  return reel;
}

/** What reading a reel came to. */
export interface ReelReading {
  /** Nothing where there are errors. */
  readonly reel: Reel | undefined;
  /** As `checkReel` gives them: warnings too. */
  readonly diagnostics: Diagnostic[];
}

/** Reads a reel and says everything about it at once, for tools: `checkReel` and `parseReel` in one. Never throws. */
export function readReel(input: unknown, options: CheckOptions = {}): ReelReading {
  const { checked, diagnostics } = readDocument(input, options);
  return { reel: isSound(checked, diagnostics) ? reelOf<ReelNames>(checked) : undefined, diagnostics };
}
