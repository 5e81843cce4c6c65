import {
  BEZIER,
  ease,
  FAMILY,
  HOLD,
  LINEAR,
  POWERS,
  SPRING,
  STEPS,
  STOPS,
  type EasingCode,
} from '../easing/evaluate.js';
import { familyBreaks } from '../easing/families.js';
import { fitPieces, type Piece } from './cubic-pieces.js';

/** The next larger double: where a value jumps at the very start, the rest begins there. */
const NEXT_TO_ZERO = Number.MIN_VALUE;

const cell = new Float64Array(1);

/**
 * A compiled easing as cubics on 0–1. Straight lines, steps and polynomials come out exact, everything else within the
 * tolerance of `fitPieces`.
 */
export function easingPieces(code: EasingCode, table: Float64Array, offset: number): readonly Piece[] {
  const at = (x: number): number => {
    cell[0] = x;
    ease(code, table, offset, false, cell);
    return cell[0];
  };
  if (code === LINEAR) return [{ start: 0, coefficients: [0, 1, 0, 0] }];
  if (code === POWERS) return [{ start: 0, coefficients: [0, table[offset + 2]!, table[offset + 1]!, table[offset]!] }];
  const breaks = breaksOf(code, table, offset);
  if (code === STEPS || code === STOPS) return linePieces(breaks, at);
  const pieces = breaks.slice(1).flatMap((to, i) => {
    const from = breaks[i]!;
    // A family may jump at its ends by a thousandth: it is followed up to there, and the jump is made apart.
    const hair = code === FAMILY ? (to - from) * 1e-12 : 0;
    return fitPieces((x) => at(Math.min(to - hair, Math.max(from + hair, x))), from, to, 1);
  });
  const first = pieces[0]!;
  if (Math.abs(first.coefficients[0] - at(0)) < 1e-7) return pieces;
  return [{ start: 0, coefficients: [at(0), 0, 0, 0] }, { ...first, start: NEXT_TO_ZERO }, ...pieces.slice(1)];
}

/** Straight lines between stops. When the first stop is after 0, or several share a place, `at` decides. */
function linePieces(breaks: readonly number[], at: (x: number) => number): Piece[] {
  return breaks.slice(0, -1).map((from, i) => {
    const middle = (from + breaks[i + 1]!) / 2;
    const y = at(from);
    return { start: from, coefficients: [y, (at(middle) - y) / (middle - from), 0, 0] };
  });
}

/** By code: progress from 0 to 1 at which an easing jumps, has a kink, or has a wave that a fit must not skip. */
const BREAKS: { readonly [C in EasingCode]: (table: Float64Array, offset: number) => readonly number[] } = {
  [HOLD]: () => [0, 1],
  [LINEAR]: () => [0, 1],
  [POWERS]: () => [0, 1],
  [BEZIER]: () => [0, 1],
  [STEPS]: (table, offset) => evenly(table[offset]!),
  [STOPS]: (table, offset) => {
    const xs = Array.from({ length: table[offset]! }, (_, i) => table[offset + 1 + 2 * i]!);
    return [0, ...new Set(xs.filter((x) => x > 0 && x < 1)), 1];
  },
  [FAMILY]: (table, offset) => familyBreaks(table[offset]!),
  [SPRING]: (table, offset) => evenly(Math.ceil(table[offset + 1]! / Math.PI) + 1),
};
const evenly = (count: number) => Array.from({ length: count + 1 }, (_, i) => i / count);

/** Returns the breaks of a compiled easing, both ends included. */
export const breaksOf = (code: EasingCode, table: Float64Array, offset: number) => BREAKS[code](table, offset);
