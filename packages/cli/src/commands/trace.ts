import type { Command } from 'commander';
import { Player, suggest, type Clip, type LoopMode } from 'unspool';
import { clipOf } from '../clip-of.js';
import { CallError } from '../failure.js';
import { readReelFile } from '../files.js';
import { lengthOption, numberArgument, timeOption } from '../options.js';
import { randomNumbers } from '../random.js';

interface Options {
  readonly for?: string;
  readonly step: string;
  readonly jitter?: number;
  readonly rate: number;
  readonly loop?: string;
}

const EVENTS = ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'] as const;
const MODES: readonly LoopMode[] = ['once', 'loop', 'ping-pong'];

/** More frames than this are a slip of the pen. */
const MOST_FRAMES = 10_000_000;

export function addTrace(program: Command): void {
  program
    .command('trace')
    .description('Plays a clip without a screen and prints every moment of it, one JSON object a line.')
    .argument('<file>', 'a reel; - reads standard input')
    .argument('<clip>', 'the clip')
    .option('--for <time>', 'how long (default: to its end; an endless clip three passes)')
    .option('--step <time>', 'the length of a frame', '1f')
    .option('--jitter <seed>', 'frames of random length, up to two steps, by this seed', numberArgument)
    .option('--rate <rate>', 'speed: 1 as authored, negative backwards', numberArgument, 1)
    .option('--loop <mode>', 'once, loop or ping-pong, whatever the clip says')
    .addHelpText(
      'after',
      '\n"time" is seconds since the start; it does not depend on how long the frames are.\n\nExample:\n  unspool trace crab.reel.json snap\n  unspool trace crab.reel.json sway --for 4s --jitter 1',
    )
    .action((file: string, name: string, options: Options) => {
      const { reel } = readReelFile(file);
      const clip = clipOf(reel, name);
      const { loop } = options;
      if (loop !== undefined && !(MODES as readonly string[]).includes(loop)) {
        throw new CallError(`no loop mode is called ${JSON.stringify(loop)}`, suggest(loop, MODES));
      }
      const player = new Player(reel);
      for (const type of EVENTS) {
        player.on(type, (event) => {
          const told = {
            time: event.time,
            event: type,
            clip: event.clip,
            ...('name' in event && { name: event.name }),
          };
          process.stdout.write(`${JSON.stringify({ ...told, iteration: event.iteration })}\n`);
        });
      }
      const playback = player.play(name, { rate: options.rate, ...(loop !== undefined && { loop: loop as LoopMode }) });
      const { count } = playback.repeat;
      for (const dt of framesOf(clip, options, count === Infinity ? 3 : count, playback.rate)) {
        player.tick(dt);
        if (!playback.active) break;
      }
    });
}

function* framesOf(clip: Clip, options: Options, passes: number, rate: number): Generator<number> {
  const step = lengthOption(clip, options.step, '--step');
  if (options.for === undefined && rate === 0)
    throw new CallError('at rate 0 it never ends', 'say how long, as --for 1s');
  const natural = rate === 0 ? 0 : (clip.duration * passes) / Math.abs(rate);
  const length = options.for === undefined ? natural : timeOption(clip, options.for, '--for');
  if (length < 0) throw new CallError(`--for ${options.for} lies before the start`, 'give a time of 0 or more');
  if (length / step > MOST_FRAMES)
    throw new CallError(`that would be more than ${MOST_FRAMES} frames`, 'give a longer --step');
  const random = options.jitter === undefined ? undefined : randomNumbers(options.jitter);
  yield 0; // what happens at the very start
  let left = length;
  while (left > 0) {
    const frame = Math.min(left, random ? 2 * step * random() : step);
    left -= frame;
    yield frame;
  }
}
