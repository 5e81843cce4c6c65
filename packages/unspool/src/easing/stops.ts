/**
 * `linear()` by CSS Easing Functions Level 2 (https://www.w3.org/TR/css-easing-2/#linear-easing-function-output).
 * Outside its stops the first and last line continue.
 *
 * @param table  from `offset` on the number of stops, ≥ 2, then x, y, x, y … with x ascending or equal
 * @param cell   x; receives y, unbounded. Allocates nothing
 */
export function linearStops(table: ArrayLike<number>, offset: number, cell: Float64Array): void {
  const x = cell[0]!;
  const count = table[offset]! | 0;
  const first = offset + 1;
  // The last stop at or before x starts the line; at a vertical jump that is the upper one, as CSS says.
  let low = 0;
  let high = count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (table[first + 2 * middle]! <= x) low = middle + 1;
    else high = middle;
  }
  let i = low - 1;
  if (i < 0) i = 0;
  if (i === count - 1) i = count - 2;
  const x0 = table[first + 2 * i]!;
  const y0 = table[first + 2 * i + 1]!;
  const x1 = table[first + 2 * i + 2]!;
  const y1 = table[first + 2 * i + 3]!;
  // At a vertical line, and at exactly a stop, the stop's own value.
  cell[0] = x0 === x1 || x === x1 ? y1 : y0 + ((x - x0) / (x1 - x0)) * (y1 - y0);
}
