import { dirname } from 'node:path';
import { Option, type Command } from 'commander';
import { suggest, type Clip, type Reel, type RoutineDocument } from 'unspool';
import { clipOf } from '../clip-of.js';
import { drawCurveRow } from '../draw/curves.js';
import { drawKeyRow } from '../draw/keys.js';
import { drawPoses, pngOf } from '../draw/poses.js';
import { drawRoutine, routineHeight } from '../draw/routine.js';
import { drawShapes } from '../draw/shapes.js';
import { drawSheet, neededHeight, type DrawOptions } from '../draw/sheet.js';
import type { ThemeName } from '../draw/theme.js';
import { CallError } from '../failure.js';
import { readReelFile } from '../files.js';
import { pictureIn } from '../serve/folders.js';
import { collected } from '../options.js';
import { expectPicture, pictureSize, writePicture } from '../picture.js';

interface Options {
  readonly out: string;
  readonly view: View;
  readonly size: string;
  readonly theme: ThemeName;
  readonly pictures?: readonly string[];
}

/** Views with a row for each track. */
const ROWS = {
  curves: { least: 54, most: 190, draw: drawCurveRow },
  keys: { least: 40, most: 140, draw: drawKeyRow },
} as const;
const VIEWS = ['curves', 'keys', 'poses', 'shapes', 'routine'] as const;
type View = (typeof VIEWS)[number];

export function addDraw(program: Command): void {
  program
    .command('draw')
    .description('Draws a clip or a routine as SVG or PNG.')
    .argument('<file>', 'a reel; - reads standard input')
    .argument('<clip>', 'the clip; with --view routine, the routine')
    .requiredOption('-o, --out <file>', 'the picture (.svg or .png); - writes SVG to standard output')
    .addOption(new Option('--view <view>', 'what to draw').choices(VIEWS).default('curves'))
    .option('--size <size>', 'width x height in px; grows with the number of tracks', '1280x800')
    .addOption(new Option('--theme <theme>', 'colors').choices(['light', 'dark']).default('light'))
    .option(
      '--pictures <folder>',
      'for --view poses: a folder with PNG pictures (repeatable; default: that of the reel)',
      collected,
    )
    .addHelpText(
      'after',
      '\nExamples:\n  unspool draw crab.reel.json snap -o snap.png --view curves --theme dark\n  unspool draw crab.reel.json snap -o - --view keys > snap.svg\n  unspool draw crab.reel.json snap -o poses.png --view poses --pictures public\n  unspool draw crab.reel.json crab -o rules.png --view routine',
    )
    .action(async (file: string, name: string, options: Options) => {
      const { out, view, theme, size } = options;
      expectPicture(out);
      const { reel } = readReelFile(file);
      if (view === 'routine') {
        const routine = routineOf(reel, name);
        const { width, height } = pictureSize(size, routineHeight(routine));
        await writePicture(out, drawRoutine(name, routine, { width, height, theme }), `${name}, ${width} × ${height}`);
        return;
      }
      const clip = clipOf(reel, name);
      if (view === 'poses') {
        const folders = options.pictures ?? [dirname(file)];
        const { width, height } = pictureSize(size, 300);
        const picture = (image: string) => pngOf(pictureIn(folders, image));
        const svg = drawPoses(reel, clip, { width, height, theme }, picture);
        await writePicture(out, svg, `poses of ${name}, ${width} × ${height}`);
        return;
      }
      const least = view === 'shapes' ? 300 : neededHeight(clip.tracks.length, ROWS[view].least);
      const { width, height } = pictureSize(size, least);
      await writePicture(out, draw(clip, view, { width, height, theme }), `${view} of ${name}, ${width} × ${height}`);
    });
}

/** The routine that the call names. */
function routineOf({ document: { routines = {} } }: Reel, name: string): RoutineDocument {
  if (Object.hasOwn(routines, name)) return routines[name]!;
  throw new CallError(`unknown routine ${JSON.stringify(name)}`, suggest(name, Object.keys(routines)));
}

function draw(clip: Clip, view: Exclude<View, 'routine' | 'poses'>, options: DrawOptions): string {
  if (view === 'shapes') return drawShapes(clip, options);
  const { most, draw: drawRow } = ROWS[view];
  return drawSheet(clip, options, view, most, drawRow);
}
