import { Option, type Command } from 'commander';
import pc from 'picocolors';
import type { Reel } from 'unspool';
import { compareReels, type Difference } from 'unspool/edit';
import { clipOf } from '../clip-of.js';
import { drawComparison } from '../draw/comparison.js';
import { neededHeight } from '../draw/sheet.js';
import type { ThemeName } from '../draw/theme.js';
import { CallError, EXIT, useColor } from '../failure.js';
import { readReelFile, STDIN } from '../files.js';
import { expectPicture, pictureSize, writePicture } from '../picture.js';

interface Options {
  readonly format: string;
  readonly out?: string;
  readonly size: string;
  readonly theme: ThemeName;
}

export function addCompare(program: Command): void {
  program
    .command('compare')
    .description('Lists what changed between two reels, and draws it.')
    .argument('<before>', 'a reel; - reads standard input')
    .argument('<after>', 'the other reel')
    .argument('[clip]', 'a clip of both reels')
    .option('--format <format>', 'text, json', 'text')
    .option('-o, --out <file>', 'draw both versions of the clip to this .svg or .png')
    .option('--size <size>', 'width x height in px; grows with the number of tracks', '1280x800')
    .addOption(new Option('--theme <theme>', 'colors').choices(['light', 'dark']).default('light'))
    .addHelpText(
      'after',
      '\nThe exit code is 0 whether the reels differ or not.\n' +
        '\nExamples:\n  unspool compare crab.reel.json crab-new.reel.json\n' +
        '  git show HEAD:crab.reel.json | unspool compare - crab.reel.json snap -o snap.png',
    )
    .action(async (a: string, b: string, name: string | undefined, options: Options) => {
      process.exitCode = await compare([a, b], name, options);
    });
}

async function compare([a, b]: readonly [string, string], name: string | undefined, options: Options): Promise<number> {
  const { format, out } = options;
  if (format !== 'text' && format !== 'json')
    throw new CallError(`unknown format ${JSON.stringify(format)}`, 'use text or json');
  if (a === STDIN && b === STDIN)
    throw new CallError('both reels are read from standard input', 'name a file for one of them');
  if (out !== undefined && name === undefined)
    throw new CallError('a picture needs a clip', 'name a clip after the reels');
  if (out !== undefined) expectPicture(out);
  const [before, after] = [readReelFile(a).reel, readReelFile(b).reel];
  if (name !== undefined && !Object.hasOwn(before.document.clips, name)) clipOf(after, name);
  const found = compareReels(before.document, after.document, name);
  if (out !== undefined) await picture([before, after], name!, found, { ...options, out });
  if (format === 'json') process.stdout.write(`${JSON.stringify(found, null, 2)}\n`);
  else if (found.length > 0 && out !== STDIN) process.stdout.write(`${textOf(found)}\n`);
  if (found.length === 0) process.stderr.write('no differences\n');
  return EXIT.fine;
}

/** By clip: what changed of it, and then of its tracks. */
function textOf(found: readonly Difference[]): string {
  const colors = pc.createColors(useColor(process.stdout));
  const rows: string[] = [];
  let last: string | undefined;
  for (const { clip, track, summary } of found) {
    if (clip !== last && clip !== undefined) rows.push(...(rows.length > 0 ? [''] : []), colors.bold(clip));
    last = clip;
    const indent = clip === undefined ? '' : '  ';
    rows.push(indent + (track === undefined ? summary : `${colors.cyan(track)}: ${summary}`));
  }
  return rows.join('\n');
}

async function picture(
  [a, b]: readonly [Reel, Reel],
  name: string,
  found: readonly Difference[],
  { out, size, theme }: Options & { out: string },
): Promise<void> {
  const [before, after] = [clipOf(a, name), clipOf(b, name)];
  const all = [...new Set([...after.tracks, ...before.tracks].map((track) => track.name))];
  const changed = all.filter((track) => found.some((one) => one.track === track));
  const names = changed.length > 0 ? changed : all;
  const { width, height } = pictureSize(size, neededHeight(names.length, 64));
  const svg = drawComparison({ before, after, names }, { width, height, theme });
  await writePicture(out, svg, `${name} before and after, ${width} × ${height}`);
}
