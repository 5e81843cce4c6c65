import type { Time } from 'unspool';
import type { Operation } from 'unspool/edit';
import { CallError } from '../failure.js';
import { readTextFile } from '../files.js';
import { numberOption, typedTime } from '../options.js';

/** The meaning of an option that edits: the operation that it stands for. */
export type Doing = (value: string, about: About) => Operation | Operation[];

/** The clip, and which of its keys the options that choose have named. */
export interface About {
  readonly clip: string;
  readonly chosen: Readonly<Record<string, unknown>>;
  readonly tolerance: number | undefined;
  /** The time that stays where times are scaled. */
  readonly still: string | undefined;
  /** `left:right`: words in role names that change places in a mirror. */
  readonly swap: string | undefined;
}

const numbers = (text: string, option: string): number | number[] => {
  const list = text.split(',').map((one) => numberOption(one, option));
  return list.length === 1 ? list[0]! : list;
};
const two = (text: string, by: string, option: string): [string, string] => {
  const [a, b, more] = text.split(by);
  if (!a || !b || more !== undefined)
    throw new CallError(`invalid value ${JSON.stringify(text)} of ${option}`, `write A${by}B`);
  return [a, b];
};

/** Every option that edits: its name, its description, and its operation. */
export const DOING: readonly (readonly [flags: string, help: string, doing: Doing])[] = [
  [
    '--move <time>',
    'move keys by a time (2f, -50ms); with --ripple, later keys too',
    (by, { clip, chosen }) => ({ do: 'move-keys', clip, ...chosen, by: typedTime(by) }),
  ],
  [
    '--stretch <factor>',
    'scale times: 2 is slower, 0.5 faster; about the first key, or --about',
    (factor, { clip, chosen, still }) => ({
      do: 'scale-times',
      clip,
      ...chosen,
      factor: numberOption(factor, '--stretch'),
      ...(still !== undefined && { about: typedTime(still) }),
    }),
  ],
  [
    '--duration <time>',
    'set the duration and scale everything in the clip to it',
    (duration, { clip }) => ({ do: 'fit', clip, duration: typedTime(duration) }),
  ],
  [
    '--snap [grid]',
    'snap keys to frames, or to another grid',
    (grid, { clip, chosen }) => ({ do: 'snap', clip, ...withoutRipple(chosen), grid: typedTime(grid || '1f') }),
  ],
  [
    '--trim <from..until>',
    'keep only this range of the clip',
    (span, { clip, tolerance }) => {
      const [from, until] = two(span, '..', '--trim');
      return {
        do: 'trim',
        clip,
        from: typedTime(from),
        until: typedTime(until),
        ...(tolerance !== undefined && { tolerance }),
      };
    },
  ],
  [
    '--insert-time <from..until>',
    'insert empty time; what is at its start or later comes later',
    (span, { clip, chosen }) => {
      const [from, until] = two(span, '..', '--insert-time').map(typedTime) as [Time, Time];
      const by = lengthBetween(from, until);
      return { do: 'insert-time', clip, at: from, by, ...tracksOf(chosen) };
    },
  ],
  [
    '--remove-time <from..until>',
    'remove a range of time and all in it; what is later comes earlier',
    (span, { clip, chosen }) => {
      const [from, until] = two(span, '..', '--remove-time').map(typedTime) as [Time, Time];
      return { do: 'remove-time', clip, from, until, ...tracksOf(chosen) };
    },
  ],
  [
    '--extend <time>',
    'extend the clip to this duration',
    (until, { clip }) => ({ do: 'extend', clip, until: typedTime(until) }),
  ],
  ['--reverse', 'reverse the clip', (_, { clip }) => ({ do: 'reverse', clip })],
  [
    '--mirror [axis]',
    'mirror the clip along x (default) or y; left and right roles swap',
    (axis, { clip, swap }) => ({
      do: 'mirror',
      clip,
      axis: (axis || 'x') as 'x',
      ...(swap !== undefined && { swap: [two(swap, ':', '--swap')] }),
    }),
  ],
  [
    '--stagger <time>',
    'offset the tracks of --tracks in time, each by this much',
    (by, { clip, chosen }) => ({
      do: 'stagger',
      clip,
      tracks: (chosen['tracks'] as string[] | undefined) ?? ['*'],
      by: typedTime(by),
    }),
  ],
  [
    '--insert <time>',
    'insert keys into the tracks of --tracks without changing the curves',
    (at, { clip, chosen, tolerance }) =>
      ((chosen['tracks'] as string[] | undefined) ?? []).map((track): Operation => ({
        do: 'insert-key',
        clip,
        track,
        at: typedTime(at),
        ...(tolerance !== undefined && { tolerance }),
      })),
  ],
  [
    '--ease <easing>',
    'set the easing of keys: hold, smooth, quad-out, …',
    (ease, { clip, chosen }) => ({ do: 'set-keys', clip, ...withoutRipple(chosen), ease }),
  ],
  [
    '--value <json>',
    'set the value of keys',
    (value, { clip, chosen }) => ({ do: 'set-keys', clip, ...withoutRipple(chosen), value: json(value, '--value') }),
  ],
  [
    '--add <numbers>',
    'add to values: 5, or 1,0 per channel',
    (by, { clip, chosen }) => ({ do: 'add-values', clip, ...withoutRipple(chosen), by: numbers(by, '--add') }),
  ],
  [
    '--scale <numbers>',
    'multiply values',
    (factor, { clip, chosen }) => ({
      do: 'scale-values',
      clip,
      ...withoutRipple(chosen),
      factor: numbers(factor, '--scale'),
    }),
  ],
  [
    '--remove-keys',
    'delete the selected keys',
    (_, { clip, chosen }) => ({ do: 'remove-keys', clip, ...withoutRipple(chosen) }),
  ],
  [
    '--simplify <tolerance>',
    'remove keys that are not needed within a tolerance, in the units of the values',
    (tolerance, { clip, chosen }) => ({
      do: 'simplify-keys',
      clip,
      ...withoutRipple(chosen),
      tolerance: numberOption(tolerance, '--simplify'),
    }),
  ],
  [
    '--split <track>',
    'split a track into one track per channel',
    (track, { clip }) => ({ do: 'split-channels', clip, track }),
  ],
  [
    '--join <track>',
    'join the channel tracks of a property',
    (track, { clip }) => ({ do: 'join-channels', clip, track }),
  ],
  [
    '--match-ends [speed]',
    'give the last keys of a loop the values of the first; with "speed", match the speed too',
    (speed, { clip, chosen }) => ({
      do: 'match-ends',
      clip,
      ...(chosen['tracks'] ? { tracks: chosen['tracks'] as string[] } : {}),
      speed: speed === 'speed',
    }),
  ],
  ['--copy <name>', 'duplicate the clip under this name', (to, { clip }) => ({ do: 'copy-clip', clip, to })],
  ['--rename <name>', 'rename the clip everywhere', (to, { clip }) => ({ do: 'rename', what: 'clip', name: clip, to })],
  ['--apply <file>', 'apply one operation or a list from a JSON file; - reads standard input', operationsIn],
];

const tracksOf = (chosen: About['chosen']) =>
  chosen['tracks'] === undefined ? {} : { tracks: chosen['tracks'] as string[] };

/** The time from one to another, which have one unit: what a frame is, only the reel knows. */
function lengthBetween(from: Time, until: Time): Time {
  const unit = (time: Time) => (typeof time === 'number' ? '' : time.replace(/^[-+.\de]+/i, ''));
  const number = (time: Time) => (typeof time === 'number' ? time : parseFloat(time));
  const of = from === 0 ? unit(until) : unit(from);
  if (of !== unit(until) && until !== 0)
    throw new CallError(`${from}..${until} has two units`, 'write both times in one, such as 12f..18f');
  const by = Number((number(until) - number(from)).toFixed(9));
  return of === '' ? by : (`${by}${of}` as Time);
}

function withoutRipple({ ripple, ...chosen }: About['chosen']): About['chosen'] {
  return chosen;
}

function json(text: string, what: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new CallError(
      `${what} is not JSON: ${(error as Error).message}`,
      'write it as in a reel: 1, [1, 2] or "#e07a5f"',
    );
  }
}

/** The operations of a JSON file. Whether they apply is the business of `edit`. */
function operationsIn(file: string): Operation[] {
  const value = json(readTextFile(file), file);
  const list: unknown[] = Array.isArray(value) ? value : [value];
  if (list.length === 0)
    throw new CallError(`${file} has no operations`, 'write [{ "do": "reverse", "clip": "snap" }]');
  list.forEach((one, i) => {
    if (typeof one === 'object' && one !== null && typeof (one as { do?: unknown }).do === 'string') return;
    const place = Array.isArray(value) ? `${file}/${i}` : file;
    throw new CallError(
      `${place}: ${JSON.stringify(one)} is not an operation`,
      'write { "do": "reverse", "clip": "snap" }',
    );
  });
  return list as Operation[];
}
