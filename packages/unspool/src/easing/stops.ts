/**
 * `linear()` by CSS Easing Functions Level 2 (https://www.w3.org/TR/css-easing-2/#linear-easing-function-output).
 * Outside its stops the first and the last line go on.
 *
 * @param table  x, y, x, y … with x ascending or equal
 * @param offset where the first x stands
 * @param count  stops, ≥ 2
 * @returns y, unbounded. Allocates nothing.
 */
export function linearStops(table: ArrayLike<number>, offset: number, count: number, x: number): number {
  // The last stop at or before x starts the line; at a vertical jump that is the upper one, as CSS says.
  let low = 0;
  let high = count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (table[offset + 2 * middle]! <= x) low = middle + 1;
    else high = middle;
  }
  let i = low - 1;
  if (i < 0) i = 0;
  if (i === count - 1) i = count - 2;
  const x0 = table[offset + 2 * i]!;
  const y0 = table[offset + 2 * i + 1]!;
  const x1 = table[offset + 2 * i + 2]!;
  const y1 = table[offset + 2 * i + 3]!;
  if (x0 === x1) return y1;
  if (x === x1) return y1;
  return y0 + ((x - x0) / (x1 - x0)) * (y1 - y0);
}
