import { Option, type Command } from 'commander';
import type { Clip } from 'unspool';
import { clipOf } from '../clip-of.js';
import { drawCurveRow } from '../draw/curves.js';
import { drawKeyRow } from '../draw/keys.js';
import { drawShapes } from '../draw/shapes.js';
import { drawSheet, neededHeight, type DrawOptions } from '../draw/sheet.js';
import type { ThemeName } from '../draw/theme.js';
import { CallError } from '../failure.js';
import { readReelFile, STDIN, writeNewFile } from '../files.js';

interface Options {
  readonly out: string;
  readonly view: View;
  readonly size: string;
  readonly theme: ThemeName;
}

/** Views with a row for each track. */
const ROWS = {
  curves: { least: 54, most: 190, draw: drawCurveRow },
  keys: { least: 40, most: 140, draw: drawKeyRow },
} as const;
const VIEWS = ['curves', 'keys', 'shapes'] as const;
type View = (typeof VIEWS)[number];

export function addDraw(program: Command): void {
  program
    .command('draw')
    .description('Draws a clip as a picture: SVG, or PNG.')
    .argument('<file>', 'a reel; - reads standard input')
    .argument('<clip>', 'the clip')
    .requiredOption('-o, --out <file>', 'the picture, .svg or .png; - writes SVG to standard output')
    .addOption(new Option('--view <view>', 'what is drawn').choices(VIEWS).default('curves'))
    .option('--size <size>', 'width x height in px; a picture grows when its tracks need more', '1280x800')
    .addOption(new Option('--theme <theme>', 'colours').choices(['light', 'dark']).default('light'))
    .addHelpText('after', '\nExample:\n  unspool draw crab.reel.json snap -o snap.png --view curves --theme dark')
    .action(async (file: string, name: string, options: Options) => {
      const { out } = options;
      if (out !== STDIN && !/\.(svg|png)$/i.test(out)) {
        throw new CallError(
          `${out} ends neither in .svg nor in .png`,
          'the ending says which kind of picture it becomes',
        );
      }
      const clip = clipOf(readReelFile(file).reel, name);
      const size = sizeOf(clip, options);
      const svg = draw(clip, options.view, { ...size, theme: options.theme });
      if (out === STDIN) process.stdout.write(`${svg}\n`);
      else {
        // The renderer is large: only who wants a PNG waits for it.
        const content = /\.png$/i.test(out) ? (await import('../draw/png.js')).renderPng(svg) : `${svg}\n`;
        writeNewFile(out, content, { overwrite: true });
        process.stderr.write(`${out}: ${options.view} of ${name}, ${size.width} × ${size.height}\n`);
      }
    });
}

function draw(clip: Clip, view: View, options: DrawOptions): string {
  if (view === 'shapes') return drawShapes(clip, options);
  const { most, draw: drawRow } = ROWS[view];
  return drawSheet(clip, options, view, most, drawRow);
}

function sizeOf(clip: Clip, { size, view }: Options): Omit<DrawOptions, 'theme'> {
  const [, width = 0, height = 0] = (/^(\d{1,5})x(\d{1,5})$/i.exec(size) ?? []).map(Number);
  if (width < 400 || height < 200 || width > 8000 || height > 8000) {
    throw new CallError(
      `--size ${size} is no size that can be drawn`,
      'write it like 1280x800, from 400x200 to 8000x8000',
    );
  }
  const least = view === 'shapes' ? 300 : neededHeight(clip.tracks.length, ROWS[view].least);
  return { width, height: Math.max(height, least) };
}
