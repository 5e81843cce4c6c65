/** Reads `#rgb`, `#rrggbb` or `#rrggbbaa`, or `[r, g, b, a]` with 0–1 each, into four numbers 0–1. */
export function readColor(value: unknown): number[] | undefined {
  if (Array.isArray(value)) {
    const fits = value.length === 4 && value.every((n) => typeof n === 'number' && n >= 0 && n <= 1);
    return fits ? (value as number[]).slice() : undefined;
  }
  if (typeof value !== 'string') return undefined;
  const match = /^#(?:([0-9a-f]{3})|([0-9a-f]{6})([0-9a-f]{2})?)$/i.exec(value);
  if (!match) return undefined;
  const [, short, long, alpha = 'ff'] = match;
  const digits = short ? [...short].map((digit) => digit + digit).join('') : long!;
  return [digits.slice(0, 2), digits.slice(2, 4), digits.slice(4, 6), alpha].map((pair) => parseInt(pair, 16) / 255);
}

/**
 * Mixes two colours as CSS does for sRGB: premultiplied with their alpha, then divided by the mixed alpha
 * (https://www.w3.org/TR/css-color-4/#interpolation-alpha). The result is kept within 0–1, also when the share is not.
 * Allocates nothing.
 *
 * @param cell   how far from `a` to `b`: 0–1, or beyond
 * @param values four numbers from `a` and four from `b`: r g b alpha, 0–1, not premultiplied
 * @param out    receives r g b alpha from `offset` on
 */
export function mixColor(
  values: Float64Array,
  a: number,
  b: number,
  cell: Float64Array,
  out: Float64Array,
  offset: number,
): void {
  const u = cell[0]!;
  const from = (1 - u) * values[a + 3]!;
  const to = u * values[b + 3]!;
  const alpha = from + to;
  for (let k = 0; k < 3; k++) {
    const mixed = alpha > 0 ? (values[a + k]! * from + values[b + k]! * to) / alpha : 0;
    out[offset + k] = mixed < 0 ? 0 : mixed > 1 ? 1 : mixed;
  }
  out[offset + 3] = alpha < 0 ? 0 : alpha > 1 ? 1 : alpha;
}
