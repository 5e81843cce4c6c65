import type { Clip } from '../clip/clip.js';
import type { ReelNames } from '../clip/names.js';
import type { LoopDocument } from '../reel/document.js';
import { resolveLoop } from '../reel/loop.js';
import { LOOP_MODES, type Repeat } from '../time/iteration.js';
import type { Time } from '../time/units.js';
import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import { show } from '../wording/show.js';
import { momentWithin, rateOf, secondsInside, weightOf, windowOf } from './inside.js';
import { randomNumbers } from './random.js';

/** As much of an AbortSignal as is used. */
export interface StopSignal {
  readonly aborted: boolean;
  addEventListener(type: 'abort', listener: () => void, options: { readonly once: boolean }): void;
  removeEventListener(type: 'abort', listener: () => void): void;
}

/** What varies from one playback to the next. The same seed gives the same again. */
export interface Vary {
  /** Any number. Left out: the player's own, another for each playback. */
  readonly seed?: number;
  /** The rate becomes up to so much of itself faster or slower: 0.1 is a tenth. */
  readonly rate?: number;
  /** It begins up to so much of the clip later: 1 is anywhere in it. */
  readonly offset?: number;
  /** It waits up to so long before it begins. */
  readonly start?: Time;
}

export interface PlayOptions<N extends ReelNames = ReelNames> {
  /** Where the playhead begins: a time inside the clip, a cue, or a span (its start). Left out: at the start, or at the end when played backwards. */
  readonly from?: Time | N['cue'] | N['span'];
  /** Where it lands, paused, its cues fired: a time inside the clip, a cue, or a span (its end). `resume` goes on from there. */
  readonly until?: Time | N['cue'] | N['span'];
  /** All that is played: a span of the clip. `loop` repeats it. */
  readonly span?: N['span'];
  /** Multiplies the clip's own rate: 1 as authored, −1 backwards. */
  readonly rate?: number;
  /** Replaces the clip's own loop mode. */
  readonly loop?: LoopDocument;
  /** How long it takes to be shown in full; what played before is shown less and less meanwhile. */
  readonly fade?: Time;
  /** The layer that it plays on: see `player.layer`. Left out: the lowest. */
  readonly layer?: string;
  /** How much of it is shown over what is below, 0–1. */
  readonly weight?: number;
  /** What it leaves behind when it is over. Left out: as the clip says. */
  readonly after?: 'hold' | 'rest';
  readonly vary?: Vary;
  /** A new pose only every so often: `'2f'` is on twos. Cues are told at their times all the same. */
  readonly every?: Time;
  /** Stops it when it is aborted. */
  readonly signal?: StopSignal;
  /** When it is over, what it interrupts goes on from where it was. */
  readonly back?: boolean;
}

export interface EnqueueOptions<N extends ReelNames = ReelNames> extends PlayOptions<N> {
  /** Begins when the one before has ended; or at the end of its pass, there and back being one. */
  readonly wait?: 'end' | 'loop';
}

/** Options as they are kept: seconds, and everything said. */
export interface Settings {
  readonly from: number | undefined;
  readonly until: number | undefined;
  /** What is played of the clip, in seconds. */
  readonly low: number;
  readonly high: number;
  readonly rate: number;
  readonly repeat: Repeat;
  readonly fade: number;
  readonly weight: number;
  readonly after: 'hold' | 'rest';
  readonly delay: number;
  /** 0: a pose for every frame. */
  readonly every: number;
  readonly back: boolean;
  readonly wait: 'end' | 'loop';
  readonly signal: StopSignal | undefined;
}

const OPTIONS = 'from until span rate loop fade layer weight after vary every signal back'.split(' ');

/**
 * Reads options. Throws for an unknown one, and for values that are none.
 *
 * @param call how it was said: `play` or `enqueue`
 * @param seed for what varies, where the options have none
 */
export function settingsOf(clip: Clip, options: EnqueueOptions, call: string, seed: () => number): Settings {
  const known = call === 'enqueue' ? [...OPTIONS, 'wait'] : OPTIONS;
  for (const option of Object.keys(options)) {
    if (known.includes(option)) continue;
    throw new UnspoolError('play/unknown-option', `${call} has no option ${show(option)}`, suggest(option, known));
  }
  const { loop, span, vary, weight = 1, after = clip.after, wait = 'end' } = options;
  const mode = typeof loop === 'string' ? loop : loop?.mode;
  if (mode !== undefined) oneOf(mode, LOOP_MODES, 'loop', 'loop mode');
  oneOf(after, ['hold', 'rest'], 'after', 'after');
  oneOf(wait, ['end', 'loop'], 'wait', 'wait');
  const [low, high] = windowOf(clip, span);
  const random = vary && randomNumbers(vary.seed ?? seed());
  const spread = (share = 0) => (random ? random() * share : 0);
  const rate = rateOf(options.rate ?? 1) * clip.rate * (1 + 2 * spread(vary?.rate) - (vary?.rate ?? 0));
  const within = (moment: string | number | undefined, what: string, edge: 0 | 1) => {
    if (moment === undefined) return undefined;
    return momentWithin(clip, moment, what, edge, { low, high });
  };
  const length = (time: Time | undefined, what: string) =>
    time === undefined ? 0 : secondsInside(clip, time, what, Infinity);
  let from = within(options.from, 'from', 0);
  const shift = spread(vary?.offset);
  if (shift > 0) from = low + (((from ?? low) - low + shift * (high - low)) % (high - low));
  return {
    from,
    until: within(options.until, 'until', 1),
    low,
    high,
    rate,
    repeat: loop === undefined ? clip.repeat : resolveLoop(loop),
    fade: length(options.fade, 'fade'),
    weight: weightOf(weight),
    after,
    delay: spread(length(vary?.start, 'vary.start')),
    every: length(options.every, 'every'),
    back: options.back ?? false,
    wait,
    signal: options.signal,
  };
}

function oneOf(value: string, known: readonly string[], code: string, what: string): void {
  if (known.includes(value)) return;
  throw new UnspoolError(`play/${code}`, `no ${what} is called ${show(value)}`, suggest(String(value), known));
}
