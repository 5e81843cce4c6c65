import { ease, HOLD, LINEAR } from '../easing/easing.js';
import { mixColor } from '../value/color.js';

/** What lies between two keys of a curve. */
export const MIX_NUMBERS = 0;
export const MIX_COLORS = 1;

/**
 * The tracks of a clip as numbers: what the hot path reads, and all that it reads. `compile.ts` fills it.
 * A curve is one track: `width` numbers that share their key times and easings. Keys of all curves stand one after
 * the other.
 */
export interface Curves {
  /** Number of curves. */
  readonly count: number;
  /** Per curve: its first key, one past its last, how many numbers it writes, and where in the pose. */
  readonly first: Int32Array;
  readonly end: Int32Array;
  readonly width: Int32Array;
  readonly target: Int32Array;
  /** Per curve: where the numbers of its first key stand in `values`; the next key's follow after `width`. */
  readonly start: Int32Array;
  /** Per curve: MIX_NUMBERS or MIX_COLORS. */
  readonly mix: Uint8Array;
  /** Per key: seconds, strictly ascending within a curve. */
  readonly times: Float64Array;
  /** Per key: the code of the easing to the next key, and where its numbers stand in `table`. */
  readonly codes: Uint8Array;
  readonly easings: Int32Array;
  readonly values: Float64Array;
  readonly table: Float64Array;
}

/** Where easings find how far a segment is, and leave their result. Sampling is never interrupted by itself. */
const progress = new Float64Array(1);

/**
 * Samples every curve at `time` into `out`. Allocates nothing, never throws.
 * Before a curve's first key and after its last the nearest key's value holds; at exactly a key's time the value is
 * exactly that key's, unless its easing jumps at its own start.
 *
 * @param at    seconds inside the clip, finite: one number in a list, as a bare one would be boxed on its way here
 * @param hints one number per curve: the key found last time, which a playhead that moves on finds again at once.
 *              Any content is safe; it changes the speed and never the result
 * @param out   receives each curve's numbers at its target; numbers that no curve writes stay as they are
 */
export function sampleCurves(curves: Curves, at: Float64Array, hints: Int32Array, out: Float64Array): void {
  const time = at[0]!;
  const { times, values, codes, table } = curves;
  for (let c = 0; c < curves.count; c++) {
    const first = curves.first[c]! | 0;
    const last = (curves.end[c]! - 1) | 0;
    const width = curves.width[c]! | 0;
    const target = curves.target[c]! | 0;

    let key = hints[c]! | 0;
    const near = key >= first && key <= last && times[key]! <= time;
    if (!near || (key < last && times[key + 1]! <= time)) {
      if (near && key + 1 < last && times[key + 2]! > time) key++;
      else {
        // The last key at or before the time, or the first when there is none. Searched here and not in a function
        // of its own: handing over `time` would put it in a box.
        key = first;
        let above = (last + 1) | 0;
        while (above - key > 1) {
          const middle = (key + above) >> 1;
          if (times[middle]! <= time) key = middle;
          else above = middle;
        }
      }
      hints[c] = key;
    }

    const a = (curves.start[c]! + (key - first) * width) | 0;
    const code = codes[key]! | 0;
    const from = times[key]!;
    if (key === last || time < from || code === HOLD) {
      for (let k = 0; k < width; k++) out[target + k] = values[a + k]!;
      continue;
    }
    const x = (time - from) / (times[key + 1]! - from);
    progress[0] = x;
    if (code !== LINEAR) ease(code, table, curves.easings[key]!, false, progress);
    const y = progress[0];
    const b = (a + width) | 0;
    if (y === 0 || y === 1) {
      // Exactly a key's value: arithmetic on the two would round.
      const exact = y === 0 ? a : b;
      for (let k = 0; k < width; k++) out[target + k] = values[exact + k]!;
    } else if (curves.mix[c] === MIX_NUMBERS) {
      for (let k = 0; k < width; k++) {
        const value = values[a + k]!;
        out[target + k] = value + (values[b + k]! - value) * y;
      }
    } else {
      mixColor(values, a, b, progress, out, target);
    }
  }
}
