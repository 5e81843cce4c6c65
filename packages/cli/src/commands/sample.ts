import type { Command } from 'commander';
import { toCsv } from '@unspool/open';
import type { Clip, Reel, Slot, Value } from 'unspool';
import { clipOf } from '../clip-of.js';
import { CallError } from '../failure.js';
import { readReelFile } from '../files.js';
import { lengthOption, timeOption, trackFilter } from '../options.js';
import { table } from '../print/table.js';
import { formatValue, frames, round } from '../print/values.js';

interface Options {
  readonly at?: string;
  readonly every?: string;
  readonly from?: string;
  readonly until?: string;
  readonly tracks?: string;
  readonly format: string;
}

interface Sample {
  readonly time: number;
  readonly values: Readonly<Record<string, Value>>;
}

/** More samples than this are a slip of the pen, not a wish. */
const MAX_SAMPLES = 1_000_000;

export function addSample(program: Command): void {
  program
    .command('sample')
    .description('Prints the values of a clip over time.')
    .argument('<file>', 'a reel; - reads standard input')
    .argument('<clip>', 'the clip')
    .option('--at <times>', 'sample at these times: 0,9f,150ms')
    .option('--every <time>', 'sample at this interval (default: every frame)')
    .option('--from <time>', 'with --every: the first time', '0')
    .option('--until <time>', 'with --every: the last time (default: the end of one iteration)')
    .option('--tracks <pattern>', 'only these properties: claw.*,crab.rotation')
    .option('--format <format>', 'table, csv, json, ndjson', 'table')
    .addHelpText(
      'after',
      '\nTimes beyond the clip follow its loop mode. CSV has one column per channel.\n\nExamples:\n  unspool sample crab.reel.json snap --every 3f --tracks "claw.*"\n  unspool sample crab.reel.json snap --at 0,9f,150ms --format csv',
    )
    .action((file: string, name: string, options: Options) => {
      const { reel } = readReelFile(file);
      const clip = clipOf(reel, name);
      const wanted = trackFilter(options.tracks);
      const slots = clip.layout.slots.filter((slot) => wanted(slot.name));
      if (slots.length === 0 && clip.layout.slots.length > 0) {
        const names = clip.layout.slots.map((slot) => slot.name).join(', ');
        throw new CallError(`${name} has no track ${options.tracks}`, `use one of: ${names}`);
      }
      const render = RENDER[options.format];
      if (!render)
        throw new CallError(
          `unknown format ${JSON.stringify(options.format)}`,
          `use one of: ${Object.keys(RENDER).join(', ')}`,
        );
      process.stdout.write(render(timesOf(clip, options), slots, clip, reel));
    });
}

function timesOf(clip: Clip, { at, every, from = '0', until }: Options): number[] {
  if (at !== undefined) return at.split(',').map((text) => timeOption(clip, text.trim(), '--at'));
  const step = every === undefined ? 1 / clip.fps : lengthOption(clip, every, '--every');
  const start = timeOption(clip, from, '--from');
  const end = until === undefined ? clip.duration : timeOption(clip, until, '--until');
  const count = Math.floor((end - start) / step + 1e-9) + 1;
  if (count > MAX_SAMPLES)
    throw new CallError(`${count} samples exceed the limit of ${MAX_SAMPLES}`, 'use a longer --every');
  // Whole frames come out as exactly these frames, not as a sum of steps.
  const perSecond = Math.round(1 / step);
  const exact = perSecond > 0 && Math.abs(1 / perSecond - step) < 1e-12;
  return Array.from({ length: Math.max(0, count) }, (_, i) => start + (exact ? i / perSecond : i * step));
}

function samplesOf(times: readonly number[], slots: readonly Slot[], clip: Clip): Sample[] {
  const pose = clip.createPose();
  return times.map((time): Sample => {
    clip.sample(time, pose);
    return { time, values: Object.fromEntries(slots.map((slot) => [slot.name, pose.get(slot.name)])) };
  });
}

type Render = (times: readonly number[], slots: readonly Slot[], clip: Clip, reel: Reel) => string;

const RENDER: Readonly<Record<string, Render>> = {
  table: (times, slots, clip) => {
    const rows = samplesOf(times, slots, clip).map(({ time, values }) => [
      frames(time, clip.fps),
      round(time),
      ...slots.map((slot) => formatValue(slot.kind, values[slot.name]!)),
    ]);
    return `${table(['frame', 'seconds', ...slots.map((slot) => slot.name)], rows, () => true)}\n`;
  },
  csv: (times, slots, clip, reel) =>
    toCsv(reel, { clip: clip.name, times, properties: slots.map(({ name }) => name) }).result,
  json: (times, slots, clip) =>
    `[\n${samplesOf(times, slots, clip)
      .map((sample) => `  ${JSON.stringify(sample)}`)
      .join(',\n')}\n]\n`,
  ndjson: (times, slots, clip) =>
    samplesOf(times, slots, clip)
      .map((sample) => `${JSON.stringify(sample)}\n`)
      .join(''),
};
