import type { Command } from 'commander';
import { existsSync } from 'node:fs';
import { basename } from 'node:path';
import { runScript, ScriptError, type Script } from 'unspool/test';
import { Player, randomNumbers, suggest, type LoopMode, type Playback, type Reel } from 'unspool';
import { CallError } from '../failure.js';
import { readReelFile, readTextFile } from '../files.js';
import { lengthOption, numberArgument, timeOption } from '../options.js';

interface Options {
  readonly for?: string;
  readonly step: string;
  readonly jitter?: number;
  readonly rate: number;
  readonly loop?: string;
  readonly script?: string;
}

const MODES: readonly LoopMode[] = ['once', 'loop', 'ping-pong'];

/** More frames than this are a slip of the pen. */
const MAX_FRAMES = 10_000_000;

export function addTrace(program: Command): void {
  program
    .command('trace')
    .description('Plays a clip or chain without a screen and prints its events, one JSON object per line.')
    .argument('<file>', 'a reel; - reads standard input')
    .argument('[clip]', 'the clip or chain; with --script another reel')
    .argument('[reels...]', 'with --script: more reels')
    .option(
      '--for <time>',
      'how long to play (default: to the end; three iterations of an endless clip; as the script says)',
    )
    .option('--step <time>', 'the length of a frame', '1f')
    .option('--jitter <seed>', 'random frame lengths of up to two steps, from this seed', numberArgument)
    .option('--rate <rate>', 'playback rate: 1 is as authored, negative is backwards', numberArgument, 1)
    .option('--loop <mode>', 'override the loop mode: once, loop or ping-pong')
    .option('--script <file>', 'play commands at given times from a JSON file')
    .addHelpText(
      'after',
      '\n"time" is seconds since the start and does not depend on the frame lengths.\n\nExamples:\n  unspool trace crab.reel.json snap\n  unspool trace crab.reel.json scuttle-up --for 4s --jitter 1\n  unspool trace crab.reel.json --script fight.json',
    )
    .action((file: string, name: string | undefined, more: readonly string[], options: Options) => {
      const tell = (line: object) => process.stdout.write(`${JSON.stringify(line)}\n`);
      if (options.script !== undefined) {
        // Each reel is a player of the script; the first is the one that is meant where a step names none.
        if (name !== undefined && !isFile(name))
          throw new CallError('both a clip and a script are given', 'use one of them');
        playScript([file, ...(name === undefined ? [] : [name]), ...more], options, tell);
        return;
      }
      if (more.length > 0)
        throw new CallError(`unexpected ${JSON.stringify(more[0])}`, 'name one clip; several reels need --script');
      const { reel } = readReelFile(file);
      if (name === undefined) throw new CallError('missing clip', suggest('', playable(reel)));
      playOne(reel, name, options, tell);
    });
}

/** Whether a second argument is a reel, and not the name of a clip. */
const isFile = (name: string) => name.endsWith('.json') && existsSync(name);

function playable(reel: Reel): string[] {
  return [...Object.keys(reel.clips), ...Object.keys(reel.document.chains ?? {})];
}

function playOne(reel: Reel, name: string, options: Options, tell: (line: object) => void): void {
  const { loop, rate } = options;
  if (loop !== undefined && !(MODES as readonly string[]).includes(loop)) {
    throw new CallError(`unknown loop mode ${JSON.stringify(loop)}`, suggest(loop, MODES));
  }
  if (!playable(reel).includes(name))
    throw new CallError(`unknown clip or chain ${JSON.stringify(name)}`, suggest(name, playable(reel)));
  const how = { rate, ...(loop !== undefined && { loop: loop as LoopMode }) };
  // Played once without time: how long it takes.
  const first = new Player(reel).play(name, how);
  const links = first.chain?.links ?? [first];
  const step = lengthOption(first.clip, options.step, '--step');
  if (options.for === undefined && links.some((link) => link.rate * link.clip.rate === 0))
    throw new CallError('a rate of 0 never ends', 'set a length, such as --for 1s');
  // Of an endless link three passes are enough to see.
  const natural = links.reduce((sum, link) => sum + lengthOf(link), 0);
  const length = options.for === undefined ? natural : timeOption(first.clip, options.for, '--for');
  if (length < 0) throw new CallError(`--for ${options.for} is negative`, 'use a time of 0 or more');
  if (length / step > MAX_FRAMES)
    throw new CallError(`the trace would exceed the limit of ${MAX_FRAMES} frames`, 'use a longer --step');
  const frames = (seconds: number) => framesOf(seconds, step, options.jitter);
  runScript(newPlayer(reel), { for: length, steps: [{ at: 0, play: name, ...how }] }, { tell, frames });
}

function lengthOf({ repeat, clip, rate: own, range: [from, until] }: Playback): number {
  const rate = own * clip.rate;
  const passes = repeat.count === Infinity ? 3 : repeat.count;
  return rate === 0 ? 0 : ((until - from) * passes) / Math.abs(rate);
}

/** A player that warns on the standard error. */
function newPlayer(reel: Reel, name = reel.name): Player {
  return new Player(reel, { name, onWarning: ({ message }) => process.stderr.write(`${message}\n`) });
}

function playScript(files: readonly string[], options: Options, tell: (line: object) => void): void {
  const source = options.script!;
  const players: Record<string, Player> = {};
  for (const file of files) {
    const { reel } = readReelFile(file);
    const name = basename(file).replace(/(\.reel)?\.json$/, '');
    if (Object.hasOwn(players, name)) throw new CallError(`two reels have the name ${name}`, 'rename one of the files');
    players[name] = newPlayer(reel, name);
  }
  const fps = Object.values(players)[0]!.reel.document.fps ?? 60;
  const step = lengthOption({ fps }, options.step, '--step');
  const whole = options.for === undefined ? undefined : timeOption({ fps }, options.for, '--for');
  const text = readTextFile(source);
  try {
    const script = JSON.parse(text) as Script;
    const frames = (seconds: number) => framesOf(seconds, step, options.jitter);
    runScript(players, script, { tell, frames, ...(whole !== undefined && { for: whole }) });
  } catch (error) {
    if (error instanceof ScriptError) throw new CallError(`${source}${error.place}: ${error.reason}`, error.hint);
    if (!(error instanceof SyntaxError)) throw error;
    const message = `${source}: is not valid JSON: ${error.message}`;
    throw new CallError(message, 'write { "for": "2s", "steps": [] }');
  }
}

function* framesOf(length: number, step: number, seed: number | undefined): Generator<number> {
  const random = seed === undefined ? undefined : randomNumbers(seed);
  let left = length;
  while (left > 0) {
    const frame = Math.min(left, random ? 2 * step * Math.max(1e-9, random()) : step);
    left -= frame;
    yield frame;
  }
}
