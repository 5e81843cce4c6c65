/**
 * The curve behind `cubic-bezier()` and behind keys with handles: a cubic Bézier whose x never decreases from 0 to 1.
 * `writeSolver` prepares it, `solve` finds the parameter t for a given x(t).
 *
 * x(t) is written in powers of the distance from a place where it is flat: an end, or its point of inflection.
 * Anywhere else rounding errors would dominate the residual there. A curve that is flat in several places is written
 * from the nearest; so even `cubic-bezier(1, 0, 0, 1)`, which is vertical in its middle, keeps full precision.
 */

/** Numbers that `writeSolver` appends. */
export const SOLVER_SIZE = 16;
/** The index of the first guesses among them: t at x = 0, 1/8, 2/8 … 1. */
export const GUESSES = 7;

/** What may be left of an error in y, as a share of the way from 0 to 1. */
const PRECISION = 1e-13;

/** Where x goes slower than this with t it is flat. */
const FLAT = 0.1;

/**
 * Appends a solver for x(t) with control points 0, x1, x2, 1; x1 and x2 in 0–1: those, the place from which it is
 * written, with its bend, slope and x, the precision (negative for one that is flat in several places), guesses.
 *
 * @param steepest the greatest |dy/dt| of the curve that is evaluated at t, where y goes from 0 to 1
 */
export function writeSolver(x1: number, x2: number, steepest: number, table: number[]): void {
  const a = 1 + 3 * (x1 - x2);
  const b = 3 * (x2 - 2 * x1);
  const c = 3 * x1;
  const inflection = a === 0 ? 0 : Math.min(1, Math.max(0, -b / (3 * a)));
  const isFlatInside = (3 * a * inflection + 2 * b) * inflection + c < FLAT && inflection > 0 && inflection < 1;
  const isFlatAtEnd = 3 * (1 - x2) < FLAT;
  const center = isFlatInside ? inflection : isFlatAtEnd ? 1 : 0;
  const isOften = Number(isFlatInside) + Number(isFlatAtEnd) + Number(c < FLAT) > 1;
  // x(center + u) = ((a u + bend) u + slope) u + at
  const bend = 3 * a * center + b;
  const slope = (3 * a * center + 2 * b) * center + c;
  const at = ((a * center + b) * center + c) * center;
  table.push(x1, x2, center, bend, slope, at, ((isOften ? -1 : 1) * PRECISION) / Math.max(steepest, 1e-9));
  for (let eighth = 0; eighth < 8; eighth++) table.push(guess(a, b, c, eighth / 8));
  table.push(1);
}

/** About the t at which x(t) is x, by halving. */
function guess(a: number, b: number, c: number, x: number): number {
  if (x === 0) return 0;
  let t = 0.5;
  for (let step = 0.25; step > 1e-4; step /= 2) t += ((a * t + b) * t + c) * t < x ? step : -step;
  return t;
}

/**
 * Solves x(t) = x with Halley's method, which uses the second derivative (https://dlmf.nist.gov/3.8#v). It halves the
 * bracket whenever a step would leave it, and stops on the error in y. Two steps nearly always suffice, where Newton's
 * method took three.
 *
 * @param table a solver from `offset` on
 * @param cell  x in 0–1; receives t in 0–1. Allocates nothing: the engine would box a number that is passed from
 * function to function
 */
export function solve(table: ArrayLike<number>, offset: number, cell: Float64Array): void {
  const x = cell[0]!;
  const x1 = table[offset]!;
  const x2 = table[offset + 1]!;
  const at = table[offset + 5]!;
  const enough = Math.abs(table[offset + 6]!);
  const a = 1 + 3 * (x1 - x2);
  let center = table[offset + 2]!;
  let bend = table[offset + 3]!;
  let slope = table[offset + 4]!;
  let rest = x - at;
  if (table[offset + 6]! < 0) {
    if (2 * x > 1 + at) {
      center = 1;
      bend = 3 * (1 + x1 - 2 * x2);
      slope = 3 * (1 - x2);
      rest = x - 1;
    } else if (2 * x <= at) {
      center = 0;
      bend = 3 * (x2 - 2 * x1);
      slope = 3 * x1;
      rest = x;
    }
  }
  let low = -center;
  let high = 1 - center;
  const eighth = Math.min(7, (8 * x) | 0);
  const near = offset + GUESSES + eighth;
  let u = table[near]! + (table[near + 1]! - table[near]!) * (8 * x - eighth) - center;
  for (let i = 0; i < 64; i++) {
    const error = ((a * u + bend) * u + slope) * u - rest;
    if (error === 0) break;
    if (error > 0) high = u;
    else low = u;
    const turn = 3 * a * u + bend;
    const rise = (turn + bend) * u + slope;
    const steep = rise * rise;
    const next = u - (error * rise) / (steep - error * turn);
    if (next > low && next < high) {
      u = next;
      // What the next step would still change: the cube of how far this was off, by how much the slope turns.
      const off = Math.abs(error / rise);
      if (off * off * off * (turn * turn + Math.abs(a * rise)) < enough * steep) break;
    } else u = (low + high) / 2;
    if (high - low < enough) break;
  }
  cell[0] = center + u;
}
