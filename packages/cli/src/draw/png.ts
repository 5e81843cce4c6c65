import { fileURLToPath } from 'node:url';
import { Resvg } from '@resvg/resvg-js';

/** Renders an SVG as PNG, with the fonts that come along: the same picture on every machine. */
export function renderPng(svg: string): Uint8Array {
  const fontFiles = ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf'].map((file) =>
    fileURLToPath(new URL(`../../fonts/${file}`, import.meta.url)),
  );
  const font = { fontFiles, loadSystemFonts: false, defaultFontFamily: 'DejaVu Sans' };
  return new Resvg(svg, { font }).render().asPng();
}
