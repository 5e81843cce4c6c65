/** A cubic in time from one sample to another, its inner control points a third and two thirds along. */
export type Inner = readonly [p1: number, p2: number];

/** Where the looked-for points may lie to begin with, in ranges of the values that are fitted. */
const WIDE = 16;

/**
 * Finds a cubic through the first and last of some samples that passes all between them within a tolerance, or
 * `undefined` when there is none. Exact: each sample restricts the two inner values to a strip of the plane, and the
 * intersection is a convex polygon, clipped by one strip after the other (Sutherland and Hodgman, "Reentrant polygon
 * clipping", 1974).
 *
 * @param times  ascending
 * @param values one for each time
 * @param i, j   the first and the last sample, i < j
 * @param slack  how much farther from each sample it may be
 * @returns the point of the polygon that follows the slopes at both ends best
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
  const wished: Inner = [
    from + slopeAt(times, values, i) * ((end - start) / 3),
    to - slopeAt(times, values, j) * ((end - start) / 3),
  ];
  const isWithin = (n: number) => n >= low - reach && n <= high + reach;
  // What is wished for is good enough most of the time: then no polygon is needed.
  let isGood = isWithin(wished[0]) && isWithin(wished[1]);
  for (let k = i + 1; k < j && isGood; k++) {
    const u = (times[k]! - start) / (end - start);
    const w = 1 - u;
    const value = w * w * w * from + 3 * w * w * u * wished[0] + 3 * w * u * u * wished[1] + u * u * u * to;
    isGood = Math.abs(value - values[k]!) <= tolerance + (slack?.[k] ?? 0);
  }
  if (isGood) return wished;
  let polygon: readonly number[] = [low - reach, low - reach, high + reach, low - reach, high + reach, high + reach, low - reach, high + reach]; // prettier-ignore
  const cut = (k: number) => {
    const u = (times[k]! - start) / (end - start);
    const w = 1 - u;
    const rest = values[k]! - w * w * w * from - u * u * u * to;
    const within = tolerance + (slack?.[k] ?? 0);
    polygon = insideStrip(polygon, 3 * w * w * u, 3 * w * u * u, rest - within, rest + within);
    return polygon.length > 0;
  };
  // From the middle outward in ever smaller steps: what cannot be passed is met early.
  for (let step = 1 << Math.floor(Math.log2(Math.max(1, j - i - 1))), first = true; step >= 1; step >>= 1) {
    for (let k = i + step; k < j; k += first ? step : 2 * step) if (!cut(k)) return undefined;
    first = false;
  }
  return nearest(polygon, wished);
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

/** What of a polygon (x, y, x, y …) lies where low ≤ a x + b y ≤ high. Most strips take nothing off: then it is the same list. */
function insideStrip(polygon: readonly number[], a: number, b: number, low: number, high: number): readonly number[] {
  let least = Infinity;
  let most = -Infinity;
  for (let p = 0; p < polygon.length; p += 2) {
    const along = a * polygon[p]! + b * polygon[p + 1]!;
    if (along < least) least = along;
    if (along > most) most = along;
  }
  const below = most > high ? clip(polygon, a, b, high) : polygon;
  return least < low ? clip(below, -a, -b, -low) : below;
}

/** What of a polygon lies where a x + b y ≤ c. */
function clip(polygon: readonly number[], a: number, b: number, c: number): number[] {
  const kept: number[] = [];
  const n = polygon.length;
  for (let p = 0; p < n; p += 2) {
    const [x0, y0] = [polygon[p]!, polygon[p + 1]!];
    const [x1, y1] = [polygon[(p + 2) % n]!, polygon[(p + 3) % n]!];
    const [d0, d1] = [a * x0 + b * y0 - c, a * x1 + b * y1 - c];
    if (d0 <= 0) kept.push(x0, y0);
    if (d0 < 0 !== d1 < 0 && d0 !== d1) {
      const t = d0 / (d0 - d1);
      kept.push(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t);
    }
  }
  return kept;
}

/** The point of a convex polygon that is nearest to another. */
function nearest(polygon: readonly number[], [x, y]: Inner): Inner {
  let isInside = true;
  let best: Inner = [polygon[0]!, polygon[1]!];
  let least = Infinity;
  const n = polygon.length;
  for (let p = 0; p < n; p += 2) {
    const [x0, y0] = [polygon[p]!, polygon[p + 1]!];
    const [dx, dy] = [polygon[(p + 2) % n]! - x0, polygon[(p + 3) % n]! - y0];
    if (dx * (y - y0) - dy * (x - x0) < 0) isInside = false;
    const t = Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy || 1)));
    const [px, py] = [x0 + dx * t, y0 + dy * t];
    const far = (px - x) ** 2 + (py - y) ** 2;
    if (far < least) [least, best] = [far, [px, py]];
  }
  return isInside ? [x, y] : best;
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
  for (let k = i + 1; k < j; k++) {
    if (Math.abs(from + slope * (times[k]! - start) - values[k]!) > tolerance + (slack?.[k] ?? 0)) return false;
  }
  return true;
}
