import { solve, SOLVER_SIZE } from './cubic.js';
import { BEZIER, ease, FAMILY, HOLD, LINEAR, POWERS, SPRING, STEPS, STOPS, type EasingCode } from './evaluate.js';

/** Where a curve in powers turns, at most twice; NaN for a turn that it does not have. */
const turns = new Float64Array(2);
const cell = new Float64Array(1);
/** Two parameters of a Bezier curve. */
const inner = new Float64Array(2);

/** Widens a range between two progresses by what a compiled easing reaches in between. */
type Widen = (table: ArrayLike<number>, offset: number, between: Float64Array, out: Float64Array) => void;

const searched =
  (code: EasingCode): Widen =>
  (table, offset, between, out) => {
    for (const x of turnsOf(code, table, offset)) {
      if (!(x > between[0]! && x < between[1]!)) continue;
      cell[0] = x;
      look(code, table, offset, out);
    }
  };

/**
 * By code, where an easing can reach beyond its values at both ends: curves in powers where they turn; Bézier curves
 * too, in their own parameter; families and springs where a search has found that they turn; lines at their stops.
 * Steps only rise.
 */
const WIDEN: { readonly [C in EasingCode]: Widen | undefined } = {
  [HOLD]: undefined,
  [LINEAR]: undefined,
  [STEPS]: undefined,
  [POWERS]: (table, offset, between, out) => powersRange(table, offset, 1, between, out),
  [BEZIER]: (table, offset, between, out) => {
    if (!(between[1]! > 0 && between[0]! < 1)) return;
    solveBoth(table, offset, between, inner);
    powersRange(table, offset + SOLVER_SIZE, 1, inner, out);
  },
  [STOPS]: (table, offset, between, out) => {
    for (let i = 0; i < table[offset]!; i++) {
      const x = table[offset + 1 + 2 * i]!;
      if (x >= between[0]! && x <= between[1]!) widen(out, table, offset + 2 + 2 * i);
    }
  },
  [FAMILY]: searched(FAMILY),
  [SPRING]: searched(SPRING),
};

/**
 * The least and the greatest y of a compiled easing between two progresses.
 *
 * @param between both, in order: in a list, as everything here, because the engine may box a number that is passed on
 * @param out     receives both
 */
export function easingRange(
  code: EasingCode,
  table: ArrayLike<number>,
  offset: number,
  between: Float64Array,
  out: Float64Array,
): void {
  out[0] = Infinity;
  out[1] = -Infinity;
  for (let i = 0; i < 2; i++) {
    cell[0] = between[i]!;
    look(code, table, offset, out);
  }
  WIDEN[code]?.(table, offset, between, out);
}

/** Widens a range by what an easing is at the progress in `cell`. */
function look(code: EasingCode, table: ArrayLike<number>, offset: number, out: Float64Array): void {
  ease(code, table, offset, false, cell);
  widen(out, cell, 0);
}

/** The parameters of a Bezier curve at two progresses. */
export function solveBoth(
  table: ArrayLike<number>,
  solver: number,
  between: Float64Array,
  parameters: Float64Array,
): void {
  for (let i = 0; i < 2; i++) {
    const x = between[i]!;
    cell[0] = x <= 0 ? 0 : 1;
    if (x > 0 && x < 1) {
      cell[0] = x;
      solve(table, solver, cell);
    }
    parameters[i] = cell[0];
  }
}

/**
 * Widens a range by ((a x + b) x + c) x between two x.
 *
 * @param k, step the place of a in the table, and from there to b, and to c
 */
export function powersRange(
  table: ArrayLike<number>,
  k: number,
  step: number,
  between: Float64Array,
  out: Float64Array,
): void {
  const a = table[k]!;
  const b = table[k + step]!;
  const c = table[k + 2 * step]!;
  turnsOfPowers(table, k, step);
  for (let i = 0; i < 4; i++) {
    const x = i < 2 ? between[i]! : turns[i - 2]!;
    if (i >= 2 && !(x > between[0]! && x < between[1]!)) continue;
    cell[0] = ((a * x + b) * x + c) * x;
    widen(out, cell, 0);
  }
}

/** The roots of 3a x² + 2b x + c, as "Numerical Recipes" (5.6) has them: nothing is cancelled. */
function turnsOfPowers(table: ArrayLike<number>, k: number, step: number): void {
  const a = table[k]!;
  const b = table[k + step]!;
  const c = table[k + 2 * step]!;
  turns[0] = turns[1] = NaN;
  const root = b * b - 3 * a * c;
  if (root < 0) return;
  const q = -(b + (b < 0 ? -1 : 1) * Math.sqrt(root));
  if (a !== 0) turns[0] = q / (3 * a);
  if (q !== 0) turns[1] = c / q;
}

function widen(out: Float64Array, ys: ArrayLike<number>, k: number): void {
  const y = ys[k]!;
  if (y < out[0]!) out[0] = y;
  if (y > out[1]!) out[1] = y;
}

/** The turning points of each, by its code and numbers. */
const known = new Map<string, readonly number[]>();
/** Between two of these none of them turns twice: a spring swings at most ninety times. */
const SEARCH_STEPS = 2048;

function turnsOf(code: EasingCode, table: ArrayLike<number>, offset: number): readonly number[] {
  const key = code === FAMILY ? `${table[offset]}` : `${table[offset]} ${table[offset + 1]}`;
  let found = known.get(key);
  if (!found) {
    const at = (x: number) => {
      cell[0] = x;
      ease(code, table, offset, false, cell);
      return cell[0];
    };
    const ys = Array.from({ length: SEARCH_STEPS + 1 }, (_, i) => at(i / SEARCH_STEPS));
    found = ys.flatMap((y, i) => {
      const [before, after] = [ys[i - 1], ys[i + 1]];
      if (before === undefined || after === undefined || (y - before) * (after - y) > 0) return [];
      return [turnBetween(at, (i - 1) / SEARCH_STEPS, (i + 1) / SEARCH_STEPS, y >= before ? 1 : -1)];
    });
    known.set(key, found);
  }
  return found;
}

/** The highest (or lowest) point of an interval that has one, by ternary search. */
function turnBetween(at: (x: number) => number, low: number, high: number, sign: number): number {
  for (let i = 0; i < 80 && high - low > 1e-13; i++) {
    const third = (high - low) / 3;
    if (sign * at(low + third) < sign * at(high - third)) low += third;
    else high -= third;
  }
  return (low + high) / 2;
}
