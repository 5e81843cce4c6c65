import { checkOptions } from '../../errors/check-options.js';
import type { Clip } from '../../clip/clip.js';
import type { ReelNames } from '../../clip/names.js';
import type { LoopDocument } from '../../reel/document/document.js';
import { resolveLoop } from '../../reel/resolve/loop.js';
import { arrives } from '../../reel/resolve/moment.js';
import { LOOP_MODES, type Repeat } from '../../time/iteration.js';
import { parseTime, type Time } from '../../time/units.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show, showSeconds } from '../../errors/show.js';
import { hasMoment, momentInside, momentWithin, rateOf, secondsLong, weightOf, windowOf } from './clip-times.js';
import { randomNumbers } from './random.js';

/** The members of an `AbortSignal` that are used. */
export interface StopSignal {
  /** As in the DOM. */
  readonly aborted: boolean;
  /** As in the DOM. */
  addEventListener(type: 'abort', listener: () => void, options: { readonly once: boolean }): void;
  /** As in the DOM. */
  removeEventListener(type: 'abort', listener: () => void): void;
}

/** Random variation between playbacks of the same clip. The same seed gives the same variation. */
export interface Vary {
  /** Any finite number. Default: taken from the player's `seed`, different for each playback. */
  readonly seed?: number;
  /** How much the rate varies, as a fraction from 0 to 1: 0.1 gives 0.9 to 1.1 times the rate. Default: 0. */
  readonly rate?: number;
  /** The largest offset of the start, as a fraction of the clip from 0 to 1: 1 starts anywhere. Default: 0. */
  readonly offset?: number;
  /** The longest delay before the start. Default: 0. */
  readonly start?: Time;
}

/**
 * Options of `player.play` and of `layer.play`. Times are seconds or strings with a unit (`'9f'`, `'150ms'`).
 *
 * @example
 * player.play('snap', { fade: 0.1, from: 'open', rate: 1.5 });
 */
export interface PlayOptions<N extends ReelNames = ReelNames> {
  /** Where the playhead starts: a time inside the clip, a cue, or a span (its start). Default: the start, or the end when played backwards. */
  readonly from?: Time | N['cue'] | N['span'];
  /** Where the playback pauses: a time inside the clip, a cue, or a span (its end). Cues at that time fire. `resume()` continues. Default: play to the end. */
  readonly until?: Time | N['cue'] | N['span'];
  /** Plays only this span of the clip; `loop` repeats it. Default: the whole clip. */
  readonly span?: N['span'];
  /** Playback rate, multiplied by the clip's own: 1 is as authored, −1 backwards; within ±1e6. Default: 1. */
  readonly rate?: number;
  /** Overrides the loop mode of the clip: `'once'`, `'loop'`, `'ping-pong'` or `{ mode, count }`. */
  readonly loop?: LoopDocument;
  /** Length of the crossfade from what played before. Default: 0. */
  readonly fade?: Time;
  /** Length of the fade-out of the last pose, when the playback ends by itself and nothing follows. Default: 0. */
  readonly fadeOut?: Time;
  /** Name of the layer to play on, see `player.layer`. Default: the lowest layer. */
  readonly layer?: string;
  /** Weight over the layers below, 0 to 1. Default: 1. */
  readonly weight?: number;
  /** What stays at the end: the last pose (`'hold'`) or the rest pose (`'rest'`). Default: what the clip says. */
  readonly after?: 'hold' | 'rest';
  /** Random variation of rate, offset and start. Default: none. */
  readonly vary?: Vary;
  /** Holds each pose for this long: `'2f'` is "on twos". Cues still fire at their own times. Default: a new pose in every frame. */
  readonly every?: Time;
  /** An `AbortSignal` that stops the playback. */
  readonly signal?: StopSignal;
  /** `'playing'`: when that clip or chain plays already, it continues, and nothing else happens. For a call in every frame. Default: it begins anew. */
  readonly unless?: 'playing';
  /** Whether the interrupted playback continues from where it was when this one ends. Default: false. */
  readonly back?: boolean;
}

/** Options of `player.enqueue`: those of `play`, and when to start. */
export interface EnqueueOptions<N extends ReelNames = ReelNames> extends Omit<PlayOptions<N>, 'unless'> {
  /** Starts when the previous playback ends (`'end'`), or at the end of its current iteration (`'loop'`); both directions of a ping-pong are one. Default: `'end'`. */
  readonly wait?: 'end' | 'loop';
}

/** Play options with defaults filled in and times in seconds. */
export interface Settings {
  readonly from: number | undefined;
  readonly until: number | undefined;
  /** What is played of the clip: the name of a span, and its times in seconds. */
  readonly span: string | undefined;
  readonly low: number;
  readonly high: number;
  /** Relative to the clip's own. */
  readonly rate: number;
  readonly repeat: Repeat;
  readonly fade: number;
  readonly fadeOut: number;
  readonly weight: number;
  readonly after: 'hold' | 'rest';
  readonly delay: number;
  /** 0: a pose for every frame. */
  readonly every: number;
  readonly back: boolean;
  readonly wait: 'end' | 'loop';
  /** What the clip says and the call does not, and moments that it names: they are others in a changed reel. */
  readonly ofClip: {
    readonly loop: boolean;
    readonly after: boolean;
    readonly from: string | null;
    readonly until: string | null;
  };
  readonly signal: StopSignal | undefined;
}

const OPTIONS = 'from until span rate loop fade fadeOut layer weight after vary every signal back'.split(' ');
/** Options that only one call takes. */
const OWN_OPTIONS: Readonly<Record<string, readonly string[]>> = { play: ['unless'], enqueue: ['wait'] };

const VARY = ['seed', 'rate', 'offset', 'start'];

/**
 * Reads options. Throws for unknown options and invalid values.
 *
 * @param call the call: `play` or `enqueue`
 * @param seed for what varies, where the options have none
 */
export function settingsOf(clip: Clip, options: EnqueueOptions, call: string, seed: () => number): Settings {
  checkOptions(options, [...OPTIONS, ...(OWN_OPTIONS[call] ?? [])], call);
  const { loop, span, vary, weight = 1, after = clip.after, wait = 'end' } = options;
  oneOf(after, ['hold', 'rest'], 'after', 'after');
  oneOf(wait, ['end', 'loop'], 'wait', 'wait');
  const repeat = loop === undefined ? clip.repeat : repeatGiven(loop);
  const [low, high] = windowOf(clip, span);
  if (vary !== undefined) checkOptions(vary, VARY, 'vary');
  const random = vary && randomNumbers(finite(vary.seed ?? seed(), 'vary.seed'));
  const spread = (share: number | undefined, what: string) => (random ? random() * shareOf(share, what) : 0);
  const change = 2 * spread(vary?.rate, 'vary.rate') - (vary?.rate ?? 0);
  const rate = rateOf(rateOf(options.rate ?? 1) * (1 + change));
  const within = (moment: string | number | undefined, what: string, edge: 0 | 1) => {
    if (moment === undefined) return undefined;
    return momentWithin(clip, moment, what, edge, { low, high });
  };
  const length = (time: Time | undefined, what: string) => (time === undefined ? 0 : secondsLong(clip.fps, time, what));
  const given = within(options.from, 'from', 0);
  const shift = spread(vary?.offset, 'vary.offset');
  const speed = rate * clip.rate;
  const from = shift > 0 && high > low ? shifted(given, shift * (high - low), low, high, speed) : given;
  const until = within(options.until, 'until', 1);
  if (given !== undefined && until !== undefined) checkLanding(clip, given, until, repeat, speed);
  const start = length(vary?.start, 'vary.start');
  return {
    from,
    until,
    span,
    low,
    high,
    rate,
    repeat,
    fade: length(options.fade, 'fade'),
    fadeOut: length(options.fadeOut, 'fadeOut'),
    weight: weightOf(weight),
    after,
    delay: random ? random() * start : 0,
    every: length(options.every, 'every'),
    back: flagOf(options.back, 'back'),
    wait,
    ofClip: {
      loop: loop === undefined,
      after: options.after === undefined,
      from: shift > 0 ? null : nameOf(clip, options.from),
      until: nameOf(clip, options.until),
    },
    signal: options.signal,
  };
}

/** Saved settings, for the clip as it is now: what it says itself, and the moments that were named. */
export function settingsIn(
  clip: Clip,
  {
    repeat,
    span,
    ...saved
  }: Omit<Settings, 'signal' | 'repeat'> & { readonly repeat: { mode: Repeat['mode']; count: number | string } },
  signal: StopSignal | undefined,
): Settings {
  const [low, high] = windowOf(clip, span);
  const { ofClip } = saved;
  const moment = (name: string | null, seconds: number | undefined, edge: 0 | 1) => {
    if (name === null || !hasMoment(clip, name)) return seconds && Math.min(high, Math.max(low, seconds));
    return Math.min(high, Math.max(low, momentInside(clip, name, name, edge)));
  };
  return {
    ...saved,
    ...{ span, low, high, signal },
    from: moment(ofClip.from, saved.from, 0),
    until: moment(ofClip.until, saved.until, 1),
    repeat: ofClip.loop ? clip.repeat : { mode: repeat.mode, count: Number(repeat.count) },
    after: ofClip.after ? clip.after : saved.after,
  };
}

/** The name of a moment; null for a time. */
function nameOf({ fps }: Clip, moment: Time | (string & {}) | undefined): string | null {
  return typeof moment === 'string' && parseTime(moment, fps) === undefined ? moment : null;
}

/** Starts later by so many seconds of the clip, in the direction of play; wraps at the end. */
function shifted(from: number | undefined, seconds: number, low: number, high: number, speed: number): number {
  const length = high - low;
  if (speed >= 0) return low + (((from ?? low) - low + seconds) % length);
  return high - ((high - (from ?? high) + seconds) % length);
}

/** A clip that plays once in one direction never comes to what lies behind it. */
function checkLanding(clip: Clip, from: number, until: number, repeat: Repeat, speed: number): void {
  if (arrives(from, until, repeat, speed)) return;
  throw new RangeError(
    `${show(clip.name)} never arrives: until, at ${showSeconds(until)}, is behind from, at ${showSeconds(from)}, in the direction of play. Swap them, or use rate: ${speed > 0 ? -1 : 1}.`,
  );
}

/** A loop mode as a call gives it; checked. */
export function repeatGiven(loop: LoopDocument): Repeat {
  const hint = 'use "once", "loop", "ping-pong" or { mode: "loop", count: 3 }';
  const message = loop as unknown;
  if (typeof message === 'object' && message !== null && !Array.isArray(message)) {
    const { mode, count, ...others } = message as { mode?: unknown; count?: unknown };
    const unknown = Object.keys(others)[0];
    if (unknown !== undefined)
      throw new UnspoolError(
        'play/loop',
        `unknown member ${show(unknown)} of loop`,
        suggest(unknown, ['mode', 'count']),
      );
    const isCount = count === undefined || (typeof count === 'number' && count >= 0);
    if (!isCount) throw new UnspoolError('play/loop', `the count ${show(count)} of loop is not 0 or more`, hint);
    if (typeof mode !== 'string') throw new UnspoolError('play/loop', `${show(message)} has no loop mode`, hint);
    oneOf(mode, LOOP_MODES, 'loop', 'loop mode');
  } else if (typeof message === 'string') oneOf(message, LOOP_MODES, 'loop', 'loop mode');
  else throw new UnspoolError('play/loop', `${show(message)} is not a loop mode`, hint);
  return resolveLoop(loop);
}

/** Whether options say that what plays already is to continue. */
export function unlessPlaying(options: PlayOptions): boolean {
  const unless = options?.unless;
  if (unless !== undefined) oneOf(unless, ['playing'], 'unless', 'value of unless');
  return unless === 'playing';
}

function shareOf(share: number | undefined, what: string): number {
  if (share === undefined || (share >= 0 && share <= 1)) return share ?? 0;
  throw new UnspoolError('play/vary', `${what} ${show(share)} is not from 0 to 1`, 'use a number from 0 to 1');
}

function finite(n: number, what: string): number {
  if (Number.isFinite(n)) return n;
  throw new UnspoolError('play/vary', `${what} ${show(n)} is not a finite number`, 'use a number');
}

function flagOf(flag: boolean | undefined, what: string): boolean {
  if (flag === undefined || typeof flag === 'boolean') return flag ?? false;
  throw new UnspoolError('play/options', `${what} ${show(flag)} is not true or false`, 'use true or false');
}

/** Options of `stop`. */
export interface StopOptions {
  /** What stays: the last pose (`'hold'`) or the rest pose (`'rest'`). Default: what the playback was to leave. */
  readonly after?: 'hold' | 'rest';
  /** Length of the fade to it. Default: 0. */
  readonly fade?: Time;
}

/** Checks the options of `stop`. Returns the seconds of the fade. */
export function checkStop(fps: number, options: StopOptions): number {
  checkOptions(options, ['after', 'fade'], 'stop');
  const { after = 'hold', fade = 0 } = options;
  oneOf(after, ['hold', 'rest'], 'after', 'after');
  return secondsLong(fps, fade, 'fade');
}

function oneOf(value: string, known: readonly string[], code: string, what: string): void {
  if (known.includes(value)) return;
  throw new UnspoolError(`play/${code}`, `unknown ${what} ${show(value)}`, suggest(String(value), known));
}
