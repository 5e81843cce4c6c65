import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { Resvg } from '@resvg/resvg-js';

/** Renders an SVG as PNG, with the fonts that come along: the same picture on every machine. */
export function renderPng(svg: string): Uint8Array {
  const fonts = join(dirname(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/package.json')), 'ttf');
  const fontFiles = ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf'].map((file) => join(fonts, file));
  const font = { fontFiles, loadSystemFonts: false, defaultFontFamily: 'DejaVu Sans' };
  return new Resvg(svg, { font }).render().asPng();
}
