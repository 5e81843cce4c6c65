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
} from '../../easing/evaluate.js';
import { familyBreaks } from '../../easing/families.js';
import { addPiece, fitPieces, type Pieces } from './pieces.js';

/** The next larger double: where a value jumps at the very start, the rest begins there. */
const NEXT_TO_ZERO = Number.MIN_VALUE;

const cell = new Float64Array(1);

/**
 * A compiled easing as cubics on 0–1. Straight lines, steps and polynomials come out exact, everything else within the
 * tolerance of `fitPieces`.
 */
export function easingPieces(code: EasingCode, table: Float64Array, offset: number): Pieces {
  const at = (x: number): number => {
    cell[0] = x;
    ease(code, table, offset, false, cell);
    return cell[0];
  };
  const pieces: Pieces = [];
  if (code === HOLD) addPiece(pieces, 0, 0, 0, 0, 0, 1);
  else if (code === LINEAR) addPiece(pieces, 0, 0, 1, 0, 0, 1);
  else if (code === POWERS) addPiece(pieces, 0, 0, table[offset + 2]!, table[offset + 1]!, table[offset]!, 1);
  if (pieces.length > 0) return pieces;
  const breaks = breaksOf(code, table, offset);
  const isLinear = code === STEPS || code === STOPS;
  const range = isLinear ? 1 : rangeOf(1, at, 0, 1);
  for (let i = 1; i < breaks.length; i++) {
    const [from, to] = [breaks[i - 1]!, breaks[i]!];
    if (isLinear) addLine(from, to, at, pieces);
    else {
      // A family may jump at its ends by a thousandth: it is followed up to there, and the jump is made apart.
      const hair = code === FAMILY ? (to - from) * 1e-12 : 0;
      fitPieces((x) => at(Math.min(to - hair, Math.max(from + hair, x))), from, to, range, pieces);
    }
  }
  const first = at(0);
  if (isLinear || Math.abs(pieces[1]! - first) < 1e-7) return pieces;
  pieces[0] = NEXT_TO_ZERO;
  return [0, first, 0, 0, 0, range, ...pieces];
}

/**
 * What errors of a fit are measured by: how far it is from the one end to the other; where a function goes more than eight
 * times as far between, an eighth of that; where it comes back to where it began, how far it went.
 *
 * @param way how far it is from end to end
 * @param at  the function, on `from` … `to`: looked at in some places
 */
export function rangeOf(way: number, at: (x: number) => number, from: number, to: number): number {
  const seen = Array.from({ length: 33 }, (_, i) => at(from + ((to - from) * i) / 32));
  const [low, high] = [Math.min(...seen), Math.max(...seen)];
  if (way > 0) return Math.max(way, (high - low) / 8);
  return Math.max(high - low, 1e-9 * Math.max(1, Math.abs(low), Math.abs(high)));
}

/** A straight line between stops. When the first stop is after 0, or several share a place, `at` decides. */
function addLine(from: number, to: number, at: (x: number) => number, pieces: Pieces): void {
  const middle = (from + to) / 2;
  const y = at(from);
  addPiece(pieces, from, y, (at(middle) - y) / (middle - from), 0, 0, 1);
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
