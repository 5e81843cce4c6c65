import { expectReel, type CheckOptions } from '../reel/check.js';
import { reelOf } from './from-document.js';
import type { NamesOf } from './names.js';
import type { Reel } from './reel.js';

/**
 * Reads a reel from its JSON text or its document. Throws a `ReelError` that has every diagnostic when it has errors.
 * From a document whose type is known, the names of its clips, roles and cues are known too.
 */
export function parseReel<const D>(input: D, options: CheckOptions = {}): Reel<NamesOf<D>> {
  return reelOf<NamesOf<D>>(expectReel(input, options));
}
