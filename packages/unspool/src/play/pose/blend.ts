import { fromMixing, intoMixing } from '../../value/mixing.js';
import { MIX_COLORS, MIX_QUATS, HEAD_MIX, HEAD_SHORTEST } from '../../clip/curves.js';
import { isShape, KINDS, type Kind } from '../../value/kind.js';

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
  const mix = heads[head + HEAD_MIX]!;
  if (mix >= MIX_COLORS) return COLORS + mix - MIX_COLORS;
  if (mix === MIX_QUATS) return QUATS;
  return heads[head + HEAD_SHORTEST] === 1 ? TURNS : NUMBERS;
}

// The rules of blending, over numbers and over ranges of numbers. A rule that changes, changes in both: a range holds
// whatever the number can be while shares and values stay within theirs (a property of the tests of hits).

/** Bounds of some numbers. */
export interface Range {
  readonly low: Float64Array;
  readonly high: Float64Array;
}

export const range = (size: number): Range => ({ low: new Float64Array(size), high: new Float64Array(size) });

/** From this share on, a value is taken over bit for bit. */
export const WHOLE = 1 - 1e-12;

/** Shares of ranges closer than this may be equal. */
export const SURE = 1e-9;

/**
 * Blends some numbers of `from` into `out` by a share: 0 leaves them, 1 copies them bit for bit. Angles and quaternions
 * go the shorter way, colors in their space; quaternions are left to be normalized.
 *
 * @param share in its first number: as an argument the engine would box it
 */
export function blend(
  out: Float64Array,
  from: Float64Array,
  target: number,
  width: number,
  how: number,
  share: Float64Array,
): void {
  const by = share[0]!;
  if (by >= WHOLE) {
    for (let k = target; k < target + width; k++) out[k] = from[k]!;
    return;
  }
  if (how >= COLORS) {
    intoMixing(how - COLORS, out, target);
    intoMixing(how - COLORS, from, target);
  }
  let sign = 1;
  let turn = 0;
  if (how === QUATS) {
    let dot = 0;
    for (let k = target; k < target + 4; k++) dot += out[k]! * from[k]!;
    if (dot < 0) sign = -1;
  } else if (how === TURNS) turn = -360 * Math.round((from[target]! - out[target]!) / 360);
  for (let k = target; k < target + width; k++) {
    const n = out[k]!;
    out[k] = n + (sign * from[k]! + turn - n) * by;
  }
  if (how >= COLORS) fromMixing(how - COLORS, out, target);
}

/** Like `blend`, of the bounds of one number, by a share between two. Not for colors. */
export function blendRange(out: Range, from: Range, k: number, how: number, least: number, most: number): void {
  const [a0, a1] = [out.low[k]!, out.high[k]!];
  // The shorter way from middle to middle.
  const turn = how === TURNS ? 360 * Math.round((a0 + a1 - from.low[k]! - from.high[k]!) / 720) : 0;
  const [b0, b1] = [from.low[k]! + turn, from.high[k]! + turn];
  const low = Math.min(a0 * (1 - least) + b0 * least, a0 * (1 - most) + b0 * most);
  const high = Math.max(a1 * (1 - least) + b1 * least, a1 * (1 - most) + b1 * most);
  // Normalized, each number of a quaternion may be larger.
  const more = how === QUATS ? high - low : 0;
  out.low[k] = low - more;
  out.high[k] = high + more;
}

/**
 * Whether the heaviest value of a layer is shown over what is below, of numbers that are held: it is, if it has at least
 * as much of the whole as what the layer leaves.
 *
 * @param of its share of the layer, the shares of the layer together, the weight of the layer: as arguments the engine
 *   would box them
 */
export function isShown(of: ArrayLike<number>): boolean {
  return of[0]! * of[2]! >= 1 - of[1]! * of[2]!;
}

/** Like `isShown` for the smallest shares that may be: it is shown, whatever they are. */
export function isSurelyShown(heaviest: number, all: number, layer: number): boolean {
  return heaviest * layer > 1 - all * layer + SURE;
}

/** And for the largest. */
export function isPossiblyShown(heaviest: number, all: number, layer: number): boolean {
  return heaviest * layer >= 1 - all * layer - SURE;
}
