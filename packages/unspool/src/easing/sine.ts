/**
 * The sine of an angle in radians, to about a last bit: the same bits in every engine, which the language does not
 * promise of its own (ECMA-262, 21.3.2). What a server and a page work out is so the same to the last digit.
 *
 * The angle is brought within a quarter turn, and there its power series is added up until nothing changes.
 */
export function sine(angle: number): number {
  const turns = Math.round(angle / Math.PI);
  const x = angle - turns * Math.PI;
  return series(turns, x, x, 2);
}

/** The cosine, as `sine`. */
export function cosine(angle: number): number {
  const turns = Math.round(angle / Math.PI);
  return series(turns, angle - turns * Math.PI, 1, 1);
}

function series(turns: number, x: number, first: number, k: number): number {
  let term = turns % 2 === 0 ? first : -first;
  let sum = 0;
  for (; sum !== (sum += term); k += 2) term *= (-x * x) / (k * (k + 1));
  return sum;
}
