/** A cubic in time from one sample to another, its inner control points a third and two thirds along. */
export type Inner = readonly [p1: number, p2: number];

/** Where the looked-for points may lie to begin with, in ranges of the values that are fitted. */
const WIDE = 16;

/**
 * Finds a cubic through the first and last of some samples that passes all between them within a tolerance, or
 * `undefined` when there is none. Exact: each sample restricts the two inner values to a strip of the plane, and the point
 * of all strips is looked for that follows the slopes at both ends best. The strips are taken one after the other: while
 * the point lies in the next one, it stays; else the new point lies on the edge that it missed (Seidel, "Small-dimensional
 * linear programming and convex hulls made easy", 1991; the nearest point in place of a linear goal).
 *
 * @param times  ascending
 * @param values one for each time
 * @param i, j   the first and the last sample, i < j
 * @param slack  how much farther from each sample it may be
 */
export function fitCurve(
  times: Float64Array,
  values: Float64Array,
  i: number,
  j: number,
  tolerance: number,
  slack?: Float64Array,
): Inner | undefined {
  const [start, end] = [times[i]!, times[j]!];
  const [from, to] = [values[i]!, values[j]!];
  let [low, high] = [Math.min(from, to), Math.max(from, to)];
  for (let k = i + 1; k < j; k++) {
    low = Math.min(low, values[k]!);
    high = Math.max(high, values[k]!);
  }
  const reach = WIDE * (high - low + tolerance);
  const third = (end - start) / 3;
  const strips = new Strips(
    from + slopeAt(times, values, i) * third,
    to - slopeAt(times, values, j) * third,
    j - i + 1,
  );
  if (!strips.add(1, 0, low - reach, high + reach) || !strips.add(0, 1, low - reach, high + reach)) return undefined;
  const isPossible = everyBetween(i, j, (k) => {
    const u = (times[k]! - start) / (end - start);
    const w = 1 - u;
    const rest = values[k]! - w * w * w * from - u * u * u * to;
    const within = tolerance + (slack?.[k] ?? 0);
    return strips.add(3 * w * w * u, 3 * w * u * u, rest - within, rest + within);
  });
  return isPossible ? [strips.x, strips.y] : undefined;
}

/**
 * Whether something holds for all places between two: asked from the middle outward in ever smaller steps, so that what
 * cannot be passed is met early.
 */
export function everyBetween(i: number, j: number, isGood: (k: number) => boolean): boolean {
  let first = true;
  for (let step = 1 << Math.floor(Math.log2(Math.max(1, j - i - 1))); step >= 1; step >>= 1) {
    for (let k = i + step; k < j; k += first ? step : 2 * step) if (!isGood(k)) return false;
    first = false;
  }
  return true;
}

/** Numbers of a strip: the points of it have low ≤ a x + b y ≤ high. */
const STRIP = 4;
/** By how much of its size a sum may be off. */
const ROUNDING = 1e-13;

/** Strips of the plane, and the point of all of them that is nearest to a wished one. */
export class Strips {
  x: number;
  y: number;
  #count = 0;
  readonly #all: Float64Array;

  constructor(
    private readonly wishedX: number,
    private readonly wishedY: number,
    most: number,
  ) {
    [this.x, this.y] = [wishedX, wishedY];
    this.#all = new Float64Array(STRIP * most);
  }

  /** Whether any point is in all strips with this one. */
  add(a: number, b: number, low: number, high: number): boolean {
    const along = a * this.x + b * this.y;
    // A point that was moved onto an edge may lie a rounding beyond it.
    const slop = ROUNDING * (Math.abs(low) + Math.abs(high));
    const isIn = (along >= low - slop || this.#moveTo(a, b, low)) && (along <= high + slop || this.#moveTo(a, b, high));
    const all = this.#all;
    const at = STRIP * this.#count++;
    all[at] = a;
    all[at + 1] = b;
    all[at + 2] = low - slop;
    all[at + 3] = high + slop;
    return isIn;
  }

  /** Moves the point onto the line a x + b y = c, as near to the wished one as the strips so far let it. */
  #moveTo(a: number, b: number, c: number): boolean {
    const square = a * a + b * b;
    const off = (c - a * this.wishedX - b * this.wishedY) / square;
    const [footX, footY] = [this.wishedX + a * off, this.wishedY + b * off];
    let [least, most] = [-Infinity, Infinity];
    const all = this.#all;
    for (let at = 0; at < STRIP * this.#count; at += STRIP) {
      const [p, q] = [all[at]!, all[at + 1]!];
      const along = p * footX + q * footY;
      // How far it goes across this strip with each step along the line.
      const slope = q * a - p * b;
      const [toLow, toHigh] = [all[at + 2]! - along, all[at + 3]! - along];
      if (slope > 0) {
        least = Math.max(least, toLow / slope);
        most = Math.min(most, toHigh / slope);
      } else if (slope < 0) {
        least = Math.max(least, toHigh / slope);
        most = Math.min(most, toLow / slope);
      } else if (toLow > 0 || toHigh < 0) return false;
      if (least > most) return false;
    }
    const step = Math.min(most, Math.max(least, 0));
    this.x = footX - b * step;
    this.y = footY + a * step;
    return true;
  }
}

/** About how fast the values change at a sample: the slope of the parabola through it and its neighbours. */
function slopeAt(times: Float64Array, values: Float64Array, k: number): number {
  const slope = (a: number, b: number) => (values[b]! - values[a]!) / (times[b]! - times[a]!);
  const last = times.length - 1;
  if (last === 1) return slope(0, 1);
  const middle = Math.min(last - 1, Math.max(1, k));
  const [left, right] = [slope(middle - 1, middle), slope(middle, middle + 1)];
  const share = (times[middle]! - times[middle - 1]!) / (times[middle + 1]! - times[middle - 1]!);
  const bend = (right - left) / (times[middle + 1]! - times[middle - 1]!);
  const at = left + (right - left) * share;
  return at + 2 * bend * (times[k]! - times[middle]!);
}

/** Whether the straight line between two samples passes all between them within a tolerance. */
export function isLine(
  times: Float64Array,
  values: Float64Array,
  i: number,
  j: number,
  tolerance: number,
  slack?: Float64Array,
): boolean {
  const [start, from] = [times[i]!, values[i]!];
  const slope = (values[j]! - from) / (times[j]! - start);
  return everyBetween(
    i,
    j,
    (k) => Math.abs(from + slope * (times[k]! - start) - values[k]!) <= tolerance + (slack?.[k] ?? 0),
  );
}
