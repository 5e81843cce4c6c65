import { ease, FAMILY, LINEAR, POWERS, SPRING, STEPS, STOPS } from '../easing/evaluate.js';
import { fitPieces, type Piece } from './cubic-pieces.js';

/** Families by their place in the order of their names, three forms each: see easing/families.ts. */
const BOUNCE = 9;
/** Where the arcs of `bounce-out` meet. */
const BOUNCES = [1 / 2.75, 2 / 2.75, 2.5 / 2.75];

/** The next larger double: where a value jumps at the very start, the rest begins there. */
const NEXT_TO_ZERO = Number.MIN_VALUE;

const cell = new Float64Array(1);

/**
 * A compiled easing as cubics on 0–1. Straight lines, steps and polynomials come out exact, everything else within the
 * tolerance of `fitPieces`.
 */
export function easingPieces(code: number, table: Float64Array, offset: number): readonly Piece[] {
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

/** Progress from 0 to 1 at which an easing jumps, has a kink, or has a wave that a fit must not skip. */
export function breaksOf(code: number, table: Float64Array, offset: number): readonly number[] {
  if (code === STEPS) {
    const count = table[offset]!;
    return Array.from({ length: count + 1 }, (_, i) => i / count);
  }
  if (code === STOPS) {
    const xs = Array.from({ length: table[offset]! }, (_, i) => table[offset + 1 + 2 * i]!);
    return [0, ...new Set(xs.filter((x) => x > 0 && x < 1)), 1];
  }
  if (code === SPRING) {
    const waves = Math.ceil(table[offset + 1]! / Math.PI) + 1;
    return Array.from({ length: waves + 1 }, (_, i) => i / waves);
  }
  if (code !== FAMILY) return [0, 1];
  const form = table[offset]! % 3; // 0 in, 1 out, 2 in-out
  const out = [0, ...(Math.floor(table[offset]! / 3) === BOUNCE ? BOUNCES : []), 1];
  const into = out.map((x) => 1 - x).reverse();
  if (form < 2) return form === 0 ? into : out;
  return [...into.map((x) => x / 2), ...out.slice(1).map((x) => (1 + x) / 2)];
}
