/**
 * The sine of an angle in radians, to about one unit in the last place: the same bits in every engine, which ECMA-262,
 * 21.3.2 does not guarantee. So a server and a page compute the same.
 *
 * The angle is reduced to within a quarter turn, and its power series is summed until it no longer changes. NaN for
 * anything that is not finite.
 */
export function sine(angle: number): number {
  const near = within(angle);
  const turns = Math.round(near / Math.PI);
  const x = near - turns * Math.PI;
  return series(turns, x, x, 2);
}

/** The cosine, as `sine`. */
export function cosine(angle: number): number {
  const near = within(angle);
  const turns = Math.round(near / Math.PI);
  return series(turns, near - turns * Math.PI, 1, 1);
}

/** Angles of this many turns and more have no digits left for where in a turn they are: any place in it is as good. */
const MAX_ANGLE = 1e9;

function within(angle: number): number {
  return Math.abs(angle) <= MAX_ANGLE ? angle : angle % (2 * Math.PI);
}

/** For an angle within a quarter turn a dozen terms are enough: the bound is for what is not a number. */
const MAX_TERMS = 40;

function series(turns: number, x: number, first: number, k: number): number {
  let term = turns % 2 === 0 ? first : -first;
  let sum = 0;
  for (let i = 0; i < MAX_TERMS && sum !== (sum += term); i++, k += 2) term *= (-x * x) / (k * (k + 1));
  return sum;
}
