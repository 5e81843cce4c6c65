/**
 * The sine of an angle in radians, to about a last bit: the same bits in every engine, which the language does not
 * promise of its own (ECMA-262, 21.3.2). What a server and a page work out is so the same to the last digit.
 *
 * The angle is brought within a quarter turn, and there its power series is added up until nothing changes.
 */
export function sine(angle: number): number {
  const turns = Math.round(angle / Math.PI);
  const x = angle - turns * Math.PI;
  let term = turns % 2 === 0 ? x : -x;
  let sum = 0;
  for (let k = 2; sum !== (sum += term); k += 2) term *= (-x * x) / (k * (k + 1));
  return sum;
}

/** The cosine, as `sine`. */
export function cosine(angle: number): number {
  return sine(angle + Math.PI / 2);
}
