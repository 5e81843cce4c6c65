import { SOLVER_SIZE, solve, writeSolver } from './cubic.js';

/**
 * Appends `cubic-bezier(x1, y1, x2, y2)` by CSS Easing Functions Level 2
 * (https://www.w3.org/TR/css-easing-2/#cubic-bezier-easing-functions): the curve from (0, 0) to (1, 1) with the two
 * control points, x1 and x2 in 0–1. Its numbers: a solver, y(t) in powers of t, the slopes at both ends.
 */
export function writeBezier(points: readonly [x1: number, y1: number, x2: number, y2: number], table: number[]): void {
  const [x1, y1, x2, y2] = points;
  const steepest = 3 * Math.max(Math.abs(y1), Math.abs(y2 - y1), Math.abs(1 - y2));
  writeSolver(x1, x2, steepest, table);
  table.push(1 + 3 * (y1 - y2), 3 * (y2 - 2 * y1), 3 * y1);
  table.push(endSlope(x1, y1, x2, y2), endSlope(1 - x2, 1 - y2, 1 - x1, 1 - y1));
}

/**
 * Evaluates a cubic Bézier easing. Outside 0–1 it continues along its end tangents.
 *
 * @param table what `writeBezier` appended, from `offset` on
 * @param cell  x, any finite number; receives y, which is unbounded when y1 or y2 are outside 0–1. Allocates nothing
 */
export function bezier(table: ArrayLike<number>, offset: number, cell: Float64Array): void {
  const x = cell[0]!;
  const y = offset + SOLVER_SIZE;
  if (x <= 0) cell[0] = x === 0 ? 0 : x * table[y + 3]!;
  else if (x >= 1) cell[0] = x === 1 ? 1 : 1 + (x - 1) * table[y + 4]!;
  else {
    solve(table, offset, cell);
    const t = cell[0]!;
    cell[0] = ((table[y]! * t + table[y + 1]!) * t + table[y + 2]!) * t;
  }
}

/** dy/dx at (0, 0), as CSS Easing defines it where control points coincide. Finite also next to a vertical tangent. */
function endSlope(x1: number, y1: number, x2: number, y2: number): number {
  if (x1 > 0) return finite(y1 / x1);
  if (y1 === 0 && x2 > 0) return finite(y2 / x2);
  return y1 === 0 && y2 === 0 ? 1 : 0;
}

/** Steeper than this is as good as vertical; times a reel's largest number, it is still a number. */
const STEEPEST = 1e200;
const finite = (slope: number) => Math.min(STEEPEST, Math.max(-STEEPEST, slope));
