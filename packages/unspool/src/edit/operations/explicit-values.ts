import { keysOf } from '../../reel/resolve/properties.js';
import type { KeyList, ReelDocument } from '../../reel/document/document.js';
import { curveOf, isWholeShape, textsOf, writeNumbers } from '../track-curve.js';
import { clipIn, isRow, trackIn } from '../document-access.js';

/**
 * Keys of a shape may leave out properties, which then are what earlier keys said. Where the keys before some go, or
 * others come between, these say all of it themselves, so that they stay what they are.
 *
 * @param isMeant which of the keys; of other tracks than whole shapes, keys say all in any case
 */
export function spellOut(
  document: ReelDocument,
  clip: string,
  name: string,
  isMeant: (index: number) => boolean,
): KeyList {
  const keys = keysOf(trackIn(clipIn(document, clip), name));
  const { track } = curveOf(document, clip, name);
  if (!isWholeShape(track)) return keys;
  return keys.map((key, i) => {
    if (isRow(key) || key.value === null || !isMeant(i)) return key;
    return { ...key, value: writeNumbers(track, track.keys[i]!.value, textsOf(document)) };
  });
}
