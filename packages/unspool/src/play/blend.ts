import { MIX_COLORS, MIX_QUATS } from '../clip/curves.js';
import { isShape, KINDS, type Kind } from '../value/kind.js';

/**
 * How the numbers of a curve are blended with those of other playbacks: as they are; as angles, the shorter way; as
 * quaternions; not at all, so that the heaviest wins (frames, flags, texts, shapes); as colors in one of three spaces.
 */
export const NUMBERS = 0;
export const TURNS = 1;
export const QUATS = 2;
export const HELD = 3;
export const COLORS = 4;

/**
 * The entries of `blends` for numbers that are blended together: their offset, their count, and how they are blended.
 */
export const BLEND_SIZE = 3;

/** Returns how a curve is blended, from its kind and `heads`. */
export function howOf(kind: Kind, heads: Int32Array, head: number): number {
  if (KINDS[kind].held || isShape(kind)) return HELD;
  const mix = heads[head + 3]!;
  if (mix >= MIX_COLORS) return COLORS + mix - MIX_COLORS;
  if (mix === MIX_QUATS) return QUATS;
  return heads[head + 6] === 1 ? TURNS : NUMBERS;
}
