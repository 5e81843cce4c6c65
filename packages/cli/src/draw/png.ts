import { Resvg } from '@resvg/resvg-js';
import { font as fontFile } from '../package-files.js';

/** Renders an SVG as PNG, with the fonts that come along: the same picture on every machine. */
export function renderPng(svg: string): Uint8Array {
  const fontFiles = ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf'].map(fontFile);
  const font = { fontFiles, loadSystemFonts: false, defaultFontFamily: 'DejaVu Sans' };
  return new Resvg(svg, { font }).render().asPng();
}
