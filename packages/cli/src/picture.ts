import { CallError } from './failure.js';
import { STDIN, writeNewFile } from './files.js';

/** The requested size of a picture; at least high enough for its content. */
export function pictureSize(size: string, least: number): { readonly width: number; readonly height: number } {
  const [, width = 0, height = 0] = (/^(\d{1,5})x(\d{1,5})$/i.exec(size) ?? []).map(Number);
  if (width < 400 || height < 200 || width > 8000 || height > 8000) {
    throw new CallError(`invalid size ${size}`, 'use a size such as 1280x800, from 400x200 to 8000x8000');
  }
  return { width, height: Math.max(height, least) };
}

/** Refuses a file whose name says nothing of the kind of picture. */
export function expectPicture(out: string): void {
  if (out === STDIN || /\.(svg|png)$/i.test(out)) return;
  throw new CallError(`${out} does not end in .svg or .png`, 'use one of the two; it selects the format');
}

/** Writes a picture: SVG, or PNG by its ending, which `expectPicture` has seen; to standard output SVG. */
export async function writePicture(out: string, svg: string, message: string): Promise<void> {
  if (out === STDIN) {
    process.stdout.write(`${svg}\n`);
    return;
  }
  // The renderer is large: it is loaded only for a PNG.
  const content = /\.png$/i.test(out) ? (await import('./draw/png.js')).renderPng(svg) : `${svg}\n`;
  writeNewFile(out, content, { overwrite: true });
  process.stderr.write(`${out}: ${message}\n`);
}
