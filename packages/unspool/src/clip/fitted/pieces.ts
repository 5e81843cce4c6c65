/**
 * Cubic pieces of a curve, in order, `PIECE` numbers each: where a piece starts; c0 c1 c2 c3, for the value
 * c0 + c1 u + c2 u² + c3 u³ with u counted from there; and the range that errors are measured by. The last goes on
 * forever. In one list of numbers, because a clip has a thousand of them and is fitted before anything runs warm.
 */
export type Pieces = number[];

export const PIECE = 6;
/** Where the range is. */
export const RANGE = 5;

/** The tolerance of a piece at the checked points; with that of a grid, the two evaluators must agree within 1e-5. */
const TOLERANCE = 2e-6;
/** Pieces get no shorter than this share of the whole: vertical tangents have a middle that no cubic follows. */
const NARROWEST = 2 ** -62;
/** And no function is worth more pieces than this: noise, that is none at all, would be cut up forever. */
const MAX_PIECES = 1024;
/** Rounding error of a value: no fit can be better, whatever the range. */
export const ROUNDING = 1e-13;

/** Where a fit is compared with the original: between its own four points at 0, 1/4, 3/4 and 1. */
const PROBES = [1 / 16, 15 / 16, 1 / 8, 7 / 8, 1 / 2, 3 / 8, 5 / 8];
/** The error of a cubic grows with the fourth power of its length. So many times as long one may be tried. */
const LONGEST = 4;
/** What is off by more tolerances than this says nothing about a length that would be good. */
const TOO_FAR = 16;
/** A piece is tried again when it could be this much longer. */
const WORTH_ANOTHER = 1.3;
/** How near to the tolerance the next is aimed. */
const AIM = 0.93;

export function addPiece(
  pieces: Pieces,
  start: number,
  c0: number,
  c1: number,
  c2: number,
  c3: number,
  range: number,
): void {
  pieces.push(start, c0, c1, c2, c3, range);
}

/** Returns the value of the piece that begins at an index of the list, by the distance from its start. */
export function pieceAt(pieces: Pieces, n: number, u: number): number {
  return ((pieces[n + 4]! * u + pieces[n + 3]!) * u + pieces[n + 2]!) * u + pieces[n + 1]!;
}

/** The slope, bend and twist of the cubic that `through` has found last. */
export const found = new Float64Array(3);

/**
 * Finds the cubic through the values at 0, 1/4, 3/4 and 1 of an interval: exact at both ends. Its powers are those of
 * the share of the interval.
 */
export function through(y0: number, y1: number, y3: number, y4: number): void {
  // y = y0 + v (d + v (e + v f)), solved for the three other points.
  const p = 4 * (y1 - y0); // (y − y0) / v at 1/4, 3/4, 1
  const q = (4 / 3) * (y3 - y0);
  const r = y4 - y0;
  const f = (16 * r - 24 * q + 8 * p) / 3;
  const e = 2 * (q - p) - f;
  found[0] = r - e - f;
  found[1] = e;
  found[2] = f;
}

/**
 * Fits cubics to a function: through its values at both ends and at two points between, each as long as no probe is
 * off by more than the tolerance times `range`, or nearly so.
 *
 * @param at     the function, on `from` … `to`, both ends included; it may be steep, and should not jump
 * @param range  what an error is measured by; above 0
 * @param pieces receives them
 */
export function fitPieces(
  at: (x: number) => number,
  from: number,
  to: number,
  range: number,
  pieces: Pieces = [],
): Pieces {
  const shortest = (to - from) * NARROWEST;
  let length = to - from;
  let start = from;
  let first = at(from);
  for (let count = 0; start < to; count++) {
    /** A length that was good enough, while a longer one is tried. */
    let good = 0;
    for (let tries = 0; ; tries++) {
      const isLast = count >= MAX_PIECES || start + length >= to;
      const end = isLast ? to : Math.max(start + length, nextDouble(start));
      length = end - start;
      const last = at(end);
      through(first, at(start + length / 4), at(start + (3 * length) / 4), last);
      const d = found[0]!;
      const e = found[1]!;
      const f = found[2]!;
      const enough = TOLERANCE * range + ROUNDING * Math.max(Math.abs(first), Math.abs(last));
      let worst = 0;
      for (let i = 0; i < PROBES.length && worst <= TOO_FAR; i++) {
        const v = PROBES[i]!;
        const off = Math.abs(((f * v + e) * v + d) * v + first - at(start + length * v)) / enough;
        if (!(off <= worst)) worst = off; // NaN too
      }
      const middle = start + length / 2;
      const isNarrow = length <= shortest || count >= MAX_PIECES || middle <= start || middle >= end;
      const could = worst > 0 ? Math.min(LONGEST, AIM * worst ** -0.25) : LONGEST;
      if (worst <= 1 || isNarrow) {
        if (could > WORTH_ANOTHER && good === 0 && !isLast && !isNarrow) {
          good = length;
          length *= could;
          continue;
        }
        addPiece(pieces, start, first, d / length, e / length ** 2, f / length ** 3, range);
        start = end;
        first = last;
        length *= Math.max(1, could);
        break;
      }
      if (good > 0) length = good;
      // A smooth function is met at the second try. Others are halved, so that this ends.
      else length *= tries === 0 && worst <= TOO_FAR ? could : 1 / 2;
    }
  }
  return pieces;
}

const double = new Float64Array(1);
const bits = new BigInt64Array(double.buffer);

/** The next larger double of one ≥ 0: as whole numbers their bits are in the same order. */
export function nextDouble(value: number): number {
  double[0] = value;
  bits[0]!++;
  return double[0];
}
