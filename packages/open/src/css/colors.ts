import { converter, parse, type Color } from 'culori';

/** How the colors of a track are mixed. */
export type MixedColor = 'srgb' | 'linear' | 'oklab';

const short = (n: number) => String(Number(n.toPrecision(9)) + 0);
const toOklab = converter('oklab');
const toRgb = converter('rgb');

/**
 * A color (r g b alpha, 0–1) in the form that CSS mixes as the reel does: `rgb()` in sRGB, `oklab()` in Oklab. Browsers
 * round the first to 255ths when they show it.
 */
export function toMixed(mix: MixedColor, [r = 0, g = 0, b = 0, alpha = 1]: readonly number[]): string {
  if (mix === 'oklab') {
    const { l, a, b: yellow } = toOklab({ mode: 'rgb', r, g, b });
    return `oklab(${short(l)} ${short(a)} ${short(yellow)}${alpha === 1 ? '' : ` / ${short(alpha)}`})`;
  }
  const bytes = [r, g, b].map((n) => short(n * 255));
  return `rgb(${bytes.join(' ')}${alpha === 1 ? '' : ` / ${short(alpha)}`})`;
}

/** Any CSS color as r g b alpha, 0–1; `undefined` when it is none. */
export function readColor(text: string): readonly number[] | undefined {
  let color: Color | undefined;
  try {
    color = parse(text);
  } catch {
    return undefined;
  }
  if (!color) return undefined;
  const { r, g, b, alpha = 1 } = toRgb(color);
  const numbers = [r, g, b, alpha].map((n) => Math.min(1, Math.max(0, Number((n ?? 0).toPrecision(12)))));
  return numbers.every((n) => Number.isFinite(n)) ? numbers : undefined;
}

/** How a browser mixes colors that are written so. */
export const mixOf = (text: string): MixedColor => (/^\s*(oklab|oklch|lab|lch|color)\(/i.test(text) ? 'oklab' : 'srgb');
