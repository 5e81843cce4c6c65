import { expectReel, isSound, readDocument, type CheckOptions } from '../reel/check/check.js';
import type { Diagnostic } from '../reel/diagnostics/diagnostic.js';
import { reelOf } from './from-document.js';
import type { ReelNames } from './names.js';
import type { NamesOf } from './names-of.js';
import type { Reel } from './reel.js';

/**
 * Parses a reel from JSON text or a document. Throws a `ReelError` with all diagnostics when the reel has errors. A
 * document of known type also gives the names of its clips, roles and cues. The first clip is compiled at once, the
 * others on first use.
 *
 * @example
 * const reel = parseReel(await (await fetch('crab.reel.json')).text());
 */
export function parseReel<const D>(input: D, options: CheckOptions = {}): Reel<NamesOf<D>> {
  const reel = reelOf<NamesOf<D>>(expectReel(input, options));
  // Code that runs for the first time takes twice as long: better here than in the frame that first plays something.
  const [first] = Object.keys(reel.clips);
  if (first !== undefined) reel.clip(first);
  return reel;
}

/** The result of `readReel`. */
export interface ReelReading {
  /** `undefined` when there are errors. */
  readonly reel: Reel | undefined;
  /** All diagnostics, including warnings. See `checkReel`. */
  readonly diagnostics: Diagnostic[];
}

/**
 * Parses a reel and returns it with all its diagnostics, for tools. `checkReel` and `parseReel` in one call. Never
 * throws.
 */
export function readReel(input: unknown, options: CheckOptions = {}): ReelReading {
  const { checked, diagnostics } = readDocument(input, options);
  return { reel: isSound(checked, diagnostics) ? reelOf<ReelNames>(checked) : undefined, diagnostics };
}
