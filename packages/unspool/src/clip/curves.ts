import { SOLVER_SIZE, solve } from '../easing/cubic.js';
import { ease, HOLD, LINEAR } from '../easing/evaluate.js';
import { fromMixing } from '../value/mixing.js';
import { multiplyQuat, normaliseQuat, slerp } from '../value/quat.js';

/**
 * What a segment does, beyond the codes of easings: a curve of its own for each channel, in powers of the share of the
 * segment (`CUBIC`), or in powers of the parameter of a Bezier curve in time and value (`HANDLES`).
 */
export const CUBIC = 8;
export const HANDLES = 9;
/** The code itself, and what is added to it: played backwards; its easing runs over a stretch of its own; it stands still. */
export const CODE = 15;
export const REVERSED = 16;
export const CUT = 32;
export const FROZEN = 64;

/** Numbers in the table for each channel of `CUBIC` and of `HANDLES`. */
export const CUBIC_SIZE = 3;
export const HANDLES_SIZE = SOLVER_SIZE + 3;

/** How the numbers of a curve are mixed. Colours are mixed in one of three spaces, from `MIX_COLORS` on. */
export const MIX_NUMBERS = 0;
export const MIX_QUATS = 1;
export const MIX_COLORS = 2;

/** What a curve does with its numbers: they are the property's, or are added to, or multiply, what it was. */
export const ABSOLUTE = 0;
export const ADDED = 1;
export const MULTIPLIED = 2;

/** What `heads` has for each curve: its first segment, width, target in the pose, mix, space, first bucket. */
export const HEAD_SIZE = 6;

/**
 * The tracks of a clip as numbers: what the hot path reads, and all that it reads. `compile.ts` fills it.
 *
 * A curve is one track: `width` numbers that share their times and easings. Its segments stand one after the other;
 * the first begins at 0, the last holds, and behind it stands a start of Infinity.
 */
export interface Curves {
  /** Number of curves. */
  readonly count: number;
  /** Per curve, HEAD_SIZE numbers: see there. */
  readonly heads: Int32Array;
  /**
   * Per curve: buckets per second. `buckets[first + ⌊time · scale⌋]` is the last segment that begins in an earlier
   * bucket, and the next entry the last that begins in this one: one of those is the segment at that time.
   */
  readonly scales: Float64Array;
  readonly buckets: Int32Array;
  /** Per segment: seconds, ascending within a curve. */
  readonly starts: Float64Array;
  /** Per segment: a code with its flags, where its numbers stand in `table`, and where its values do in `values`. */
  readonly codes: Uint8Array;
  readonly tables: Int32Array;
  readonly from: Int32Array;
  /**
   * The value that a segment comes from, and behind it the one that it goes to: `width` numbers each, as they are
   * mixed. Of colours, the four mixed numbers are followed by r g b a as written.
   */
  readonly values: Float64Array;
  /** Numbers of easings and curves. Where `CUT` is set, the origin and length of the stretch stand before them. */
  readonly table: Float64Array;
}

/** Where easings find how far a segment is, and leave their result. Sampling is never interrupted by itself. */
const progress = new Float64Array(1);

/**
 * Samples every curve at `time` into `out`. Allocates nothing, never throws.
 * At exactly a key's time the value is exactly that key's, unless its easing jumps at its own start.
 *
 * @param at    seconds inside the clip, 0 … duration: one number in a list, as a bare one would be boxed on its way here
 * @param hints per curve: the segment found last time, which a playhead that moves on finds again at once. To begin
 *              with, any segment of the curve
 * @param base  what offsets are added to, laid out as `out`; of colours, as they are mixed. Not read by other curves
 * @param out   receives each curve's numbers at its target; numbers that no curve writes stay as they are
 */
export function sampleCurves(
  curves: Curves,
  at: Float64Array,
  hints: Int32Array,
  base: Float64Array,
  out: Float64Array,
): void {
  const time = at[0]!;
  const { count, heads, starts, codes, tables, from, values, table } = curves;
  for (let c = 0, head = 0; c < count; c++, head += HEAD_SIZE) {
    let s = hints[c]! | 0;
    if (time < starts[s]! || time >= starts[s + 1]!) {
      // Searched here and not in a function of its own: handing over `time` would put it in a box.
      if (time >= starts[s + 1]! && time < starts[s + 2]!) s = (s + 1) | 0;
      else {
        const bucket = (heads[head + 5]! + ((time * curves.scales[c]!) | 0)) | 0;
        let low = curves.buckets[bucket]! | 0;
        s = curves.buckets[bucket + 1]! | 0;
        while (s - low > 8) {
          const middle = (low + s) >> 1;
          if (starts[middle]! <= time) low = middle;
          else s = middle;
        }
        while (starts[s]! > time) s = (s - 1) | 0;
      }
      hints[c] = s;
    }

    const code = codes[s]! | 0;
    const width = heads[head + 1]! | 0;
    const target = heads[head + 2]! | 0;
    const mix = heads[head + 3]! | 0;
    const space = heads[head + 4]! | 0;
    const a = from[s]! | 0;
    let exact = a;
    if (code !== HOLD) {
      const b = (a + (mix < MIX_COLORS ? width : 8)) | 0;
      const numbers = tables[s]! | 0;
      let x: number;
      if (code < CUT) x = (time - starts[s]!) / (starts[s + 1]! - starts[s]!);
      else if (code < FROZEN) x = (time - table[numbers - 2]!) / table[numbers - 1]!;
      else x = table[numbers - 2]!;
      if ((code & REVERSED) !== 0) x = 1 - x;
      const kind = code & CODE;
      if (kind < CUBIC) {
        progress[0] = x;
        if (kind !== LINEAR) ease(kind, table, numbers, false, progress);
        const y = progress[0];
        // Exactly a key's value: arithmetic on the two would round.
        exact = y === 0 ? a : y === 1 ? b : -1;
        if (exact < 0) {
          if (mix === MIX_QUATS) slerp(values, a, b, progress, out, target);
          else {
            for (let k = 0; k < width; k++) {
              const value = values[a + k]!;
              out[target + k] = value + (values[b + k]! - value) * y;
            }
          }
        }
      } else {
        exact = x === 0 ? a : x === 1 ? b : -1;
        if (exact < 0) {
          for (let k = 0; k < width; k++) {
            let t = x;
            let n = (numbers + k * CUBIC_SIZE) | 0;
            if (kind === HANDLES) {
              const solver = (numbers + k * HANDLES_SIZE) | 0;
              n = (solver + SOLVER_SIZE) | 0;
              progress[0] = x;
              solve(table, solver, progress);
              t = progress[0];
            }
            out[target + k] = values[a + k]! + ((table[n + 2]! * t + table[n + 1]!) * t + table[n]!) * t;
          }
          if (mix === MIX_QUATS) normaliseQuat(out, target);
        }
      }
    }
    if (space === ABSOLUTE) {
      if (exact >= 0) {
        if (mix >= MIX_COLORS) exact = (exact + 4) | 0;
        for (let k = 0; k < width; k++) out[target + k] = values[exact + k]!;
      } else if (mix >= MIX_COLORS) fromMixing(mix - MIX_COLORS, out, target);
    } else {
      if (exact >= 0) for (let k = 0; k < width; k++) out[target + k] = values[exact + k]!;
      offset(mix, space, width, base, out, target);
    }
  }
}

/** Puts an offset onto what it is counted from. */
function offset(
  mix: number,
  space: number,
  width: number,
  base: Float64Array,
  out: Float64Array,
  target: number,
): void {
  if (mix === MIX_QUATS) {
    multiplyQuat(base, target, out, target, out, target);
    return;
  }
  for (let k = 0; k < width; k++) {
    if (space === ADDED) out[target + k] = base[target + k]! + out[target + k]!;
    else out[target + k] = base[target + k]! * out[target + k]!;
  }
  if (mix >= MIX_COLORS) fromMixing(mix - MIX_COLORS, out, target);
}
