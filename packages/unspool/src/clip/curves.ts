import { GUESSES, SOLVER_SIZE, solve } from '../easing/cubic.js';
import { BEZIER, ease, HOLD, LINEAR, type EasingCode } from '../easing/evaluate.js';
import { fromMixing } from '../value/mixing.js';
import { multiplyQuat, normalizeQuat, slerp, turnTimes } from '../value/quat.js';
import type { CompactArray } from './compact-array.js';

/**
 * Codes of segments in addition to those of easings: a curve per channel in powers of progress (`CUBIC`), or in powers
 * of the parameter of a Bézier curve in time and value (`HANDLES`).
 */
export const CUBIC = 4;
export const HANDLES = 9;

export type SegmentCode = EasingCode | typeof CUBIC | typeof HANDLES;
/** Codes up to here are evaluated in the loop itself. */
const COMMON = CUBIC;
/**
 * The code itself, and its flags: reversed; the easing covers a range of its own; constant; and, on every segment of a
 * curve, that the curve is an offset, accumulates, or does not have plain numbers.
 */
export const CODE = 15;

export const REVERSED = 16;
export const CUT = 32;
export const FROZEN = 64;
export const RARE = 128;

/** Numbers in the table for each channel of `CUBIC` and of `HANDLES`. */
export const CUBIC_SIZE = 3;
export const HANDLES_SIZE = SOLVER_SIZE + 3;

/** How the numbers of a curve are mixed. Colors are mixed in one of three spaces, from `MIX_COLORS` on. */
export const MIX_NUMBERS = 0;
export const MIX_QUATS = 1;
export const MIX_COLORS = 2;

/** How a curve uses its numbers: as the value, as an addition, or as a factor. */
export const ABSOLUTE = 0;
export const ADDED = 1;
export const MULTIPLIED = 2;

/** What `heads` has per curve: HEAD_SIZE whole numbers. */
export const HEAD_SIZE = 8;
/** Its first segment. */
export const HEAD_FIRST = 0;
/** How many numbers it has, and where they are in the pose. */
export const HEAD_WIDTH = 1;
export const HEAD_TARGET = 2;
/** How its numbers are mixed, and what they are: `MIX_NUMBERS` …, `ABSOLUTE` …. */
export const HEAD_MIX = 3;
export const HEAD_SPACE = 4;
/** Its first bucket. */
export const HEAD_BUCKET = 5;
/** 1 for an angle that takes the shorter way. */
export const HEAD_SHORTEST = 6;
/** Where `gains` has what each iteration adds to a curve that accumulates; −1 for one that does not. */
export const HEAD_GAIN = 7;

/**
 * The tracks of a clip as numbers: everything that the hot path reads. `compile.ts` fills it.
 *
 * A curve is one track: `width` numbers that share their times and easings. Its segments are contiguous; the first
 * starts at 0, the last holds, and a start of Infinity follows. Of a clip with a position and an opacity:
 *
 * ```
 * curve      0: position (x, y)                 1: opacity
 * heads      first 0 · width 2 · target 0 …     first 4 · width 1 · target 2 …
 * segment    0         1         2         3    4         5         6
 * starts     0         0.2       0.5       ∞    0         0.5       ∞
 * codes      BEZIER    CUBIC     HOLD           LINEAR    HOLD
 * values     x y → x y x y → x y x y → x y      o → o     o → o         where `from` says
 * table      solver    6 powers                                         where `tables` says
 *
 * buckets    which segment to begin with at a time:  first bucket + ⌊time · scale⌋
 * ```
 *
 * One index serves `starts`, `codes`, `from` and `tables`: the segments of all curves follow each other.
 */
export interface Curves {
  /** Number of curves. */
  readonly count: number;
  /** Per curve, HEAD_SIZE numbers: `HEAD_FIRST` …. */
  readonly heads: Int32Array;
  /**
   * Per curve: buckets per second. `buckets[first + ⌊time · scale⌋]` is the last segment that starts in an earlier
   * bucket, and the next entry the last that starts in this one: the segment at that time is between the two.
   */
  readonly scales: Float64Array;
  readonly buckets: CompactArray;
  /** Per segment: seconds, ascending within a curve. */
  readonly starts: Float64Array;
  /**
   * Per segment: a code with its flags, the index of its numbers in `table`, and the index of its values in `values`.
   */
  readonly codes: Uint8Array;
  readonly tables: Int32Array;
  readonly from: Int32Array;
  /**
   * The value that a segment comes from, and behind it the one that it goes to: `width` numbers each, as they are
   * mixed. Of colors, the four mixed numbers are followed by r g b a as written.
   */
  readonly values: Float64Array;
  /** Numbers of easings and curves. With `CUT`, the origin and length of the range precede them. */
  readonly table: Float64Array;
  /** Of each curve that accumulates: `width` numbers, or the axis and the angle of a quaternion's turn. */
  readonly gains: Float64Array;
}

/** Where easings find how far a segment is, and leave their result. Sampling is never interrupted by itself. */
const progress = new Float64Array(1);
/** Where curves are put by meanwhile: of all clips, as many as the largest so far has. */
let putBy = new Int32Array(64);

/**
 * Samples every curve at `time` into `out`. Allocates nothing, but for room when a clip has more curves than any before;
 * never throws.
 * At exactly a key's time the value is exactly that key's, unless its easing jumps at its own start.
 *
 * The loop over the curves calls nothing: between calls the compiler reads where an array lies anew, and that would
 * cost as much as the rest. What is mostly met is evaluated in it; the others are put by, and `sampleRare` does them.
 *
 * @param at    seconds inside the clip, 0 … duration; then the lap (see `lapOf`), by default 0. A list, because the
 *              engine may box a number that is passed on
 * @param hints per curve: the segment found last time, which a playhead that moves on finds again at once. To begin
 *              with, any segment of the curve
 * @param base  what offsets are added to, laid out as `out`; of colors, as they are mixed. Not read by other curves
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
  // The engine looks constants of a module up at every use, those of a function only once.
  const [SIZE, WIDTH, TARGET, BUCKET] = [HEAD_SIZE, HEAD_WIDTH, HEAD_TARGET, HEAD_BUCKET];
  const { count, heads, starts, codes, tables, from, values, table, scales, buckets } = curves;
  if (count > putBy.length) putBy = new Int32Array(2 * count);
  const rare = putBy;
  let put = 0;
  for (let c = 0, head = 0; c < count; c = (c + 1) | 0, head = (head + SIZE) | 0) {
    let s = hints[c]! | 0;
    let start = starts[s]!;
    let end = starts[s + 1]!;
    if (time < start || time >= end) {
      if (time >= end && time < starts[s + 2]!) s = (s + 1) | 0;
      else {
        const bucket = (heads[head + BUCKET]! + ((time * scales[c]!) | 0)) | 0;
        let low = buckets[bucket]! | 0;
        s = buckets[bucket + 1]! | 0;
        while (s - low > 8) {
          const middle = (low + s) >> 1;
          if (starts[middle]! <= time) low = middle;
          else s = middle;
        }
        while (starts[s]! > time) s = (s - 1) | 0;
      }
      hints[c] = s;
      start = starts[s]!;
      end = starts[s + 1]!;
    }

    const code = codes[s]! | 0;
    if (code > COMMON) {
      rare[put] = c;
      put = (put + 1) | 0;
      continue;
    }
    const a = from[s]! | 0;
    const width = heads[head + WIDTH]! | 0;
    const target = heads[head + TARGET]! | 0;
    const x = (time - start) / (end - start);
    const n = tables[s]! | 0;
    if (code === CUBIC) {
      for (let k = 0, t = n; k < width; k++, t += CUBIC_SIZE) {
        out[target + k] = values[a + k]! + ((table[t + 2]! * x + table[t + 1]!) * x + table[t]!) * x;
      }
      continue;
    }
    let y = 0;
    // Also what holds or is linear: see `compile.ts`.
    if (code !== BEZIER) y = ((table[n]! * x + table[n + 1]!) * x + table[n + 2]!) * x;
    else {
      // Like `solve`, which explains it, but with two steps and no bracket, because branches that cannot be predicted
      // cost
      // more than steps. What those do not solve (one in thirty) is put by for `solve` itself.
      const cube = 1 + 3 * (table[n]! - table[n + 1]!);
      const center = table[n + 2]!;
      const bend = table[n + 3]!;
      const slope = table[n + 4]!;
      const rest = x - table[n + 5]!;
      const eighth = (8 * x) | 0;
      const near = (n + GUESSES + eighth) | 0;
      const guess = table[near]! + (table[near + 1]! - table[near]!) * (8 * x - eighth) - center;
      let error = ((cube * guess + bend) * guess + slope) * guess - rest;
      let turn = 3 * cube * guess + bend;
      let rise = (turn + bend) * guess + slope;
      let u = guess - (error * rise) / (rise * rise - error * turn);
      error = ((cube * u + bend) * u + slope) * u - rest;
      turn = 3 * cube * u + bend;
      rise = (turn + bend) * u + slope;
      const steep = rise * rise;
      u -= (error * rise) / (steep - error * turn);
      const t = center + u;
      const off = Math.abs(error / rise);
      const change = off * off * off * (turn * turn + Math.abs(cube * rise));
      if (!(change < table[n + 6]! * steep && t >= 0 && t <= 1)) {
        rare[put] = c;
        put = (put + 1) | 0;
        continue;
      }
      const m = n + SOLVER_SIZE;
      y = x > 0 ? ((table[m]! * t + table[m + 1]!) * t + table[m + 2]!) * t : 0;
    }
    for (let k = 0; k < width; k++) {
      const value = values[a + k]!;
      out[target + k] = value + (values[a + width + k]! - value) * y;
    }
  }
  for (let i = 0; i < put; i++) sampleRare(curves, rare[i]!, at, hints, base, out);
}

/** Samples one curve of any kind, whose segment has been found. */
function sampleRare(
  curves: Curves,
  c: number,
  at: Float64Array,
  hints: Int32Array,
  base: Float64Array,
  out: Float64Array,
): void {
  const { heads, starts, codes, tables, from, values, table } = curves;
  const time = at[0]!;
  const s = hints[c]!;
  const head = c * HEAD_SIZE;
  const width = heads[head + HEAD_WIDTH]! | 0;
  const target = heads[head + HEAD_TARGET]! | 0;
  const mix = heads[head + HEAD_MIX]! | 0;
  const space = heads[head + HEAD_SPACE]! | 0;
  const code = codes[s]! & ~RARE;
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
    const kind = (code & CODE) as SegmentCode;
    if (kind !== CUBIC && kind !== HANDLES) {
      progress[0] = x;
      if (kind !== LINEAR) ease(kind, table, numbers, false, progress);
      const y = progress[0];
      // Exactly the value of a key: arithmetic on the two would round.
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
        if (mix === MIX_QUATS) normalizeQuat(out, target);
      }
    }
  }
  const gain = heads[head + HEAD_GAIN]! | 0;
  if (gain >= 0) {
    if (exact >= 0) for (let k = 0; k < width; k++) out[target + k] = values[exact + k]!;
    if (at.length > 1 && at[1] !== 0) accumulate(curves, gain, at, mix, width, out, target);
    if (space !== ABSOLUTE) offset(mix, space, width, base, out, target);
  } else if (space === ABSOLUTE) {
    if (exact >= 0) {
      if (mix >= MIX_COLORS) exact = (exact + 4) | 0;
      for (let k = 0; k < width; k++) out[target + k] = values[exact + k]!;
    } else if (mix >= MIX_COLORS) fromMixing(mix - MIX_COLORS, out, target);
  } else {
    if (exact >= 0) for (let k = 0; k < width; k++) out[target + k] = values[exact + k]!;
    offset(mix, space, width, base, out, target);
  }
}

/** Adds what the laps before have gained. */
function accumulate(
  { gains }: Curves,
  gain: number,
  at: Float64Array,
  mix: number,
  width: number,
  out: Float64Array,
  target: number,
): void {
  if (mix === MIX_QUATS) turnTimes(gains, gain, at[1]!, out, target);
  else for (let k = 0; k < width; k++) out[target + k] = out[target + k]! + at[1]! * gains[gain + k]!;
}

/** Adds an offset to its base. */
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
