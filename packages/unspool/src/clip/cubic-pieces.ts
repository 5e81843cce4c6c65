/**
 * One cubic piece of a curve: from `start` on, the value is c0 + c1 u + c2 u² + c3 u³ with u counted from `start`.
 */
export interface Piece {
  readonly start: number;
  readonly coefficients: readonly [c0: number, c1: number, c2: number, c3: number];
}

/** The tolerance of a piece at the checked points; the two evaluators must agree within 1e-5. */
const TOLERANCE = 8e-6;
/** Pieces get no shorter than this share of the whole: vertical tangents have a middle that no cubic follows. */
const NARROWEST = 2 ** -62;
/** And no function is worth more pieces than this: noise, that is none at all, would be cut up forever. */
const MAX_PIECES = 1024;
/** Rounding error of a value: no fit can be better, whatever the range. */
const ROUNDING = 1e-13;
/** Halvings of the doubt about how far a piece can go. */
const REFINEMENTS = 5;

/** Where a fit is compared with the original: between its own four points at 0, 1/4, 3/4 and 1. */
const PROBES = [1 / 16, 1 / 8, 3 / 8, 1 / 2, 5 / 8, 7 / 8, 15 / 16];

/**
 * Fits cubics to a function: through its values at both ends and at two points between, each going as far as no probe
 * is off by more than the tolerance times `range`.
 *
 * @param at     the function, on `from` … `to`, both ends included; it may be steep, and should not jump
 * @param range  what an error is measured by; above 0
 */
export function fitPieces(at: (x: number) => number, from: number, to: number, range: number): Piece[] {
  const pieces: Piece[] = [];
  const whole = to - from;
  let a = from;
  let ya = at(from);
  let width = whole;
  /** The piece from `a` on, if it is good, or as short as can be. */
  const tryTo = (b: number): Piece | undefined => {
    const length = b - a;
    const piece = through(a, length, ya, at(a + length / 4), at(a + (3 * length) / 4), at(b));
    const middle = a + length / 2;
    const narrow = length <= whole * NARROWEST || pieces.length >= MAX_PIECES || middle <= a || middle >= b;
    const enough = TOLERANCE * range + ROUNDING * Math.max(Math.abs(ya), Math.abs(at(b)));
    const good = PROBES.every((u) => Math.abs(valueAt(piece, u * length) - at(a + u * length)) <= enough);
    return good || narrow ? piece : undefined;
  };
  while (a < to) {
    const farthest = pieces.length >= MAX_PIECES ? Infinity : width * 4; // what was enough last time, and some more
    let good = a + farthest >= to ? to : a + farthest;
    let bad = Infinity;
    let piece = tryTo(good);
    while (!piece) {
      bad = good;
      good = a + (good - a) / 2;
      piece = tryTo(good);
    }
    for (let i = 0; i < REFINEMENTS && bad < Infinity; i++) {
      const middle = (good + bad) / 2;
      const longer = tryTo(middle);
      if (longer) [good, piece] = [middle, longer];
      else bad = middle;
    }
    pieces.push(piece);
    width = good - a;
    a = good;
    ya = at(good);
  }
  return pieces;
}

/** The cubic through the values at 0, 1/4, 3/4 and 1 of an interval: interpolation that is exact at both ends. */
function through(start: number, width: number, y0: number, y1: number, y3: number, y4: number): Piece {
  // With v = u / width: y = y0 + v (d + v (e + v f)), solved for the three other points.
  const [p, q, r] = [4 * (y1 - y0), (4 / 3) * (y3 - y0), y4 - y0]; // (y − y0) / v at 1/4, 3/4, 1
  const f = (16 * r - 24 * q + 8 * p) / 3;
  const e = 2 * (q - p) - f;
  const d = r - e - f;
  return { start, coefficients: [y0, d / width, e / width ** 2, f / width ** 3] };
}

export function valueAt({ coefficients: [c0, c1, c2, c3] }: Piece, u: number): number {
  return ((c3 * u + c2) * u + c1) * u + c0;
}

/**
 * Converts a piece of a function of x to one of time: x starts at `origin` and has `length`; y starts at `from` and
 * changes by `way`.
 */
export function stretchPiece(
  { start, coefficients: [c0, c1, c2, c3] }: Piece,
  origin: number,
  length: number,
  from: number,
  way: number,
): Piece {
  return {
    start: origin + start * length,
    coefficients: [from + way * c0, (way * c1) / length, (way * c2) / length ** 2, (way * c3) / length ** 3],
  };
}

/** A piece from a later start on, with u counted from there. */
export function shiftPiece({ start, coefficients: [c0, c1, c2, c3] }: Piece, to: number): Piece {
  const u = to - start;
  return {
    start: to,
    coefficients: [((c3 * u + c2) * u + c1) * u + c0, (3 * c3 * u + 2 * c2) * u + c1, 3 * c3 * u + c2, c3],
  };
}
