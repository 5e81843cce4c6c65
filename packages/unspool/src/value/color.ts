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
