import { solve, SOLVER_SIZE } from './cubic.js';
import { BEZIER, ease, FAMILY, HOLD, LINEAR, POWERS, SPRING, STEPS, STOPS, type EasingCode } from './evaluate.js';

/** Where a curve in powers turns, at most twice; NaN for a turn that it does not have. */
const turns = new Float64Array(2);
const cell = new Float64Array(1);

/** Widens a range between two progresses x0 and x1 by what a compiled easing reaches in between. */
type Widen = (table: ArrayLike<number>, offset: number, x0: number, x1: number, look: Look, out: Float64Array) => void;
type Look = (x: number) => void;

const searched =
  (code: EasingCode): Widen =>
  (table, offset, x0, x1, look) => {
    for (const x of turnsOf(code, table, offset)) if (x > x0 && x < x1) look(x);
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
  [POWERS]: (table, offset, x0, x1, _, out) =>
    powersRange(table[offset]!, table[offset + 1]!, table[offset + 2]!, x0, x1, 0, out),
  [BEZIER]: (table, offset, x0, x1, _, out) => {
    if (!(x1 > 0 && x0 < 1)) return;
    const m = offset + SOLVER_SIZE;
    const [t0, t1] = [solved(table, offset, x0), solved(table, offset, x1)];
    powersRange(table[m]!, table[m + 1]!, table[m + 2]!, t0, t1, 0, out);
  },
  [STOPS]: (table, offset, x0, x1, _, out) => {
    for (let i = 0; i < table[offset]!; i++) {
      const x = table[offset + 1 + 2 * i]!;
      if (x >= x0 && x <= x1) widen(out, table[offset + 2 + 2 * i]!);
    }
  },
  [FAMILY]: searched(FAMILY),
  [SPRING]: searched(SPRING),
};

/**
 * The least and the greatest y of a compiled easing between two progresses.
 *
 * @param x0, x1 in order
 * @param out receives both
 */
export function easingRange(
  code: EasingCode,
  table: ArrayLike<number>,
  offset: number,
  x0: number,
  x1: number,
  out: Float64Array,
): void {
  out[0] = Infinity;
  out[1] = -Infinity;
  const look = (x: number) => {
    cell[0] = x;
    ease(code, table, offset, false, cell);
    widen(out, cell[0]);
  };
  look(x0);
  look(x1);
  WIDEN[code]?.(table, offset, x0, x1, look, out);
}

/** The parameter of a Bezier curve at a progress. */
export function solved(table: ArrayLike<number>, solver: number, x: number): number {
  if (x <= 0 || x >= 1) return x <= 0 ? 0 : 1;
  cell[0] = x;
  solve(table, solver, cell);
  return cell[0];
}

/** Widens a range by ((a x + b) x + c) x + d between two x. */
export function powersRange(
  a: number,
  b: number,
  c: number,
  x0: number,
  x1: number,
  d: number,
  out: Float64Array,
): void {
  const look = (x: number) => widen(out, ((a * x + b) * x + c) * x + d);
  look(x0);
  look(x1);
  turnsOfPowers(a, b, c);
  for (let i = 0; i < 2; i++) if (turns[i]! > x0 && turns[i]! < x1) look(turns[i]!);
}

/** The roots of 3a x² + 2b x + c, as "Numerical Recipes" (5.6) has them: nothing is cancelled. */
function turnsOfPowers(a: number, b: number, c: number): void {
  turns.fill(NaN);
  const root = b * b - 3 * a * c;
  if (root < 0) return;
  const q = -(b + (b < 0 ? -1 : 1) * Math.sqrt(root));
  if (a !== 0) turns[0] = q / (3 * a);
  if (q !== 0) turns[1] = c / q;
}

function widen(out: Float64Array, y: number): void {
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
