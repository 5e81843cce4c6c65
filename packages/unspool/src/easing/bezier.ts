/**
 * `cubic-bezier(x1, y1, x2, y2)` by CSS Easing Functions Level 2
 * (https://www.w3.org/TR/css-easing-2/#cubic-bezier-easing-functions): the curve from (0, 0) to (1, 1) with the two
 * control points, x1 and x2 in 0–1; beyond 0–1 it goes on along its end tangents.
 *
 * The curve's x(t) is solved around its own point of inflection. There x(t) is flattest and a residual written in
 * powers of t would drown in rounding; in powers of the distance from it, even `cubic-bezier(1, 0, 0, 1)`, which is
 * vertical in its middle, keeps its full precision.
 *
 * @param table x1, y1, x2, y2 from `offset` on
 * @param cell  x, any finite number; receives y, unbounded when y1 or y2 lie outside 0–1. Allocates nothing: a number
 *              that is handed from function to function would be put in a box
 */
export function bezier(table: ArrayLike<number>, offset: number, cell: Float64Array): void {
  const x1 = table[offset]!;
  const y1 = table[offset + 1]!;
  const x2 = table[offset + 2]!;
  const y2 = table[offset + 3]!;
  const x = cell[0]!;
  if (x <= 0) {
    cell[0] = x === 0 ? 0 : x * startSlope(x1, y1, x2, y2);
    return;
  }
  if (x >= 1) {
    cell[0] = x === 1 ? 1 : 1 + (x - 1) * startSlope(1 - x2, 1 - y2, 1 - x1, 1 - y1);
    return;
  }
  const a = 1 + 3 * (x1 - x2);
  const b = 3 * (x2 - 2 * x1);
  const c = 3 * x1;
  let centre = a === 0 ? 0 : -b / (3 * a);
  if (!(centre > 0)) centre = 0;
  else if (centre > 1) centre = 1;
  // x(centre + u) - x = ((a u + bend) u + slope) u - rest
  const bend = 3 * a * centre + b;
  const slope = (3 * a * centre + 2 * b) * centre + c;
  const rest = x - ((a * centre + b) * centre + c) * centre;
  const steepest = 3 * Math.max(Math.abs(y1), Math.abs(y2 - y1), Math.abs(1 - y2));
  // Newton's steps, halving the bracket wherever one would leave it.
  let low = -centre;
  let high = 1 - centre;
  let u = x - centre;
  for (let i = 0; i < 64; i++) {
    const error = ((a * u + bend) * u + slope) * u - rest;
    if (error === 0) break;
    if (error > 0) high = u;
    else low = u;
    const rise = (3 * a * u + 2 * bend) * u + slope;
    let next = u - error / rise;
    if (!(next > low && next < high)) next = (low + high) / 2;
    const step = next - u;
    u = next;
    // The error left in y is at most the step times the steepest dy/dt; Newton squares it once more.
    if (Math.abs(step) * steepest < 1e-13) break;
  }
  const t = centre + u;
  cell[0] = ((1 + 3 * (y1 - y2)) * t + 3 * (y2 - 2 * y1)) * t * t + 3 * y1 * t;
}

/** dy/dx at (0, 0), as CSS Easing defines it where control points coincide. */
function startSlope(x1: number, y1: number, x2: number, y2: number): number {
  if (x1 > 0) return y1 / x1;
  if (y1 === 0 && x2 > 0) return y2 / x2;
  if (y1 === 0 && y2 === 0) return 1;
  return 0;
}
