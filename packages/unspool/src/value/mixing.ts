/**
 * A color space for mixing. Colors are premultiplied by their alpha, as in CSS Color 4
 * (https://www.w3.org/TR/css-color-4/#interpolation-alpha).
 */
// So mixing is the same arithmetic on four numbers everywhere: easings, curves and offsets need not know of colors.
export type Mix = 'srgb' | 'linear' | 'oklab';

export const MIXES: readonly Mix[] = ['srgb', 'linear', 'oklab'];

/** The four numbers that a color (r g b alpha, 0–1) is mixed as. */
export function toMixing(mix: Mix, color: readonly number[]): number[] {
  const mixed = Float64Array.from(color);
  intoMixing(MIXES.indexOf(mix), mixed, 0);
  return [...mixed];
}

/**
 * Turns r g b alpha into the four numbers that a color is mixed as, in place. Allocates nothing.
 *
 * @param mix its place in MIXES
 */
export function intoMixing(mix: number, out: Float64Array, offset: number): void {
  const alpha = out[offset + 3]!;
  if (mix > 0) {
    for (let k = offset; k < offset + 3; k++) {
      const n = out[k]!;
      // sRGB to linear light (IEC 61966-2-1).
      out[k] = n <= 0.04045 ? n / 12.92 : ((n + 0.055) / 1.055) ** 2.4;
    }
  }
  if (mix === 2) toOklab(out, offset);
  for (let k = offset; k < offset + 3; k++) out[k] = out[k]! * alpha;
}

/**
 * Turns four mixed numbers back into r g b alpha, in place. The result is kept within 0–1. Allocates nothing.
 *
 * @param mix its place in MIXES
 */
export function fromMixing(mix: number, out: Float64Array, offset: number): void {
  keepWithin(out, offset + 3);
  const alpha = out[offset + 3]!;
  for (let k = offset; k < offset + 3; k++) out[k] = alpha > 0 ? out[k]! / alpha : 0;
  if (mix === 2) fromOklab(out, offset);
  for (let k = offset; k < offset + 3; k++) {
    const n = out[k]!;
    // Linear light to sRGB.
    if (mix > 0) out[k] = n <= 0.0031308 ? 12.92 * n : 1.055 * n ** (1 / 2.4) - 0.055;
    keepWithin(out, k);
  }
}

function keepWithin(out: Float64Array, k: number): void {
  const n = out[k]!;
  if (n < 0) out[k] = 0;
  else if (n > 1) out[k] = 1;
}

/** Oklab to linear sRGB, by its author's matrices (https://bottosson.github.io/posts/oklab/). */
function fromOklab(out: Float64Array, offset: number): void {
  const l = out[offset]!;
  const a = out[offset + 1]!;
  const b = out[offset + 2]!;
  const long = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const middle = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const short = (l - 0.0894841775 * a - 1.291485548 * b) ** 3;
  out[offset] = 4.0767416621 * long - 3.3077115913 * middle + 0.2309699292 * short;
  out[offset + 1] = -1.2684380046 * long + 2.6097574011 * middle - 0.3413193965 * short;
  out[offset + 2] = -0.0041960863 * long - 0.7034186147 * middle + 1.707614701 * short;
}

/** Linear sRGB to Oklab by the same. */
function toOklab(out: Float64Array, offset: number): void {
  const r = out[offset]!;
  const g = out[offset + 1]!;
  const b = out[offset + 2]!;
  const long = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const middle = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const short = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  out[offset] = 0.2104542553 * long + 0.793617785 * middle - 0.0040720468 * short;
  out[offset + 1] = 1.9779984951 * long - 2.428592205 * middle + 0.4505937099 * short;
  out[offset + 2] = 0.0259040371 * long + 0.7827717662 * middle - 0.808675766 * short;
}
