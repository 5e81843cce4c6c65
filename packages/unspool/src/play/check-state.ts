import type { Clip } from '../clip/clip.js';
import { LOOP_MODES } from '../time/iteration.js';
import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import { show } from '../wording/show.js';
import type { PlayerCore } from './core.js';
import { MOST_RATE, windowOf } from './inside.js';
import { Playhead, Presence, numbersOf } from './playhead.js';
import { settingsOf } from './settings.js';
import { STATE_VERSION } from './state.js';

/** Checks a part of a state; throws with the place where it is not what `save` writes. */
type Check = (value: unknown, at: string) => void;

function refuse(at: string, value: unknown, expected: string): never {
  const said = `the state is damaged: expected ${expected} at ${at}, found ${show(value)}`;
  throw new UnspoolError('play/state', said, 'give what save returned, unchanged');
}

const that =
  (expected: string, is: (value: unknown) => boolean): Check =>
  (value, at) => {
    if (!is(value)) refuse(at, value, expected);
  };

/** No number of a state is larger: times, values and counts of a player stay far below. */
const MOST = 1e200;
const isNumber = (value: unknown): value is number => typeof value === 'number' && Math.abs(value) <= MOST;
const isSaved = (value: unknown) => isNumber(value) || value === '-0';
const number = that('a finite number', isNumber);
const saved = that('a finite number', isSaved);
const savedAny = that('a number', (n) => isSaved(n) || ['NaN', 'Infinity', '-Infinity'].includes(n as string));
const whole = that('a whole number', Number.isSafeInteger);
const within = (least: number, most: number) =>
  that(`a number from ${least} to ${most}`, (n) => isNumber(n) && n >= least && n <= most);
const text = that('a string', (value) => typeof value === 'string');
const flag = that('true or false', (value) => typeof value === 'boolean');
const oneOf = (...names: readonly string[]) => that(`one of ${names.join(', ')}`, (n) => names.includes(n as string));
const nullOr =
  (check: Check): Check =>
  (value, at) => {
    if (value !== null) check(value, at);
  };
const optional =
  (check: Check): Check =>
  (value, at) => {
    if (value !== undefined) check(value, at);
  };
const list =
  (check: Check, length?: number): Check =>
  (value, at) => {
    if (!Array.isArray(value) || (length !== undefined && value.length !== length))
      refuse(at, value, length === undefined ? 'a list' : `a list of ${length}`);
    // Not by forEach, which goes over holes.
    for (let i = 0; i < value.length; i++) check((value as readonly unknown[])[i], `${at}/${i}`);
  };
const tuple =
  (...checks: readonly Check[]): Check =>
  (value, at) => {
    list(() => {}, checks.length)(value, at);
    checks.forEach((check, i) => check((value as readonly unknown[])[i], `${at}/${i}`));
  };
const members =
  (checks: Readonly<Record<string, Check>>): Check =>
  (value, at) => {
    if (typeof value !== 'object' || value === null || Array.isArray(value)) refuse(at, value, 'an object');
    for (const [name, check] of Object.entries(checks))
      check(Object.hasOwn(value, name) ? (value as Record<string, unknown>)[name] : undefined, `${at}/${name}`);
  };
const fields = (object: object, own: Readonly<Record<string, Check>>) =>
  members({ ...Object.fromEntries(Object.keys(numbersOf(object)).map((name) => [name, saved])), ...own });

const seconds = within(0, MOST);
const rate = within(-MOST_RATE, MOST_RATE);
const share = within(0, 1);
const settings = members({
  from: optional(number),
  until: optional(number),
  span: optional(text),
  low: seconds,
  high: seconds,
  rate,
  repeat: members({
    mode: oneOf(...LOOP_MODES),
    count: that('a number ≥ 0', (n) => (isNumber(n) && n >= 0) || n === 'Infinity'),
  }),
  fade: seconds,
  fadeOut: seconds,
  weight: share,
  after: oneOf('hold', 'rest'),
  delay: seconds,
  every: seconds,
  back: flag,
  wait: oneOf('end', 'loop'),
});
const head = fields(new Playhead(60), {
  start: seconds,
  shown: seconds,
  reached: seconds,
  used: that('a number ≥ 0', (n) => isNumber(n) && n >= 0),
  stop: savedAny,
  needed: savedAny,
  due: savedAny,
  own: rate,
  iteration: whole,
  until: savedAny,
  weight: share,
});
const presence = fields(new Presence(), { stoppedAt: savedAny, goneAt: savedAny });

/**
 * Checks that a state is one of a player's reel, and holds together. Throws a `play/state` error that names the place,
 * before anything has changed.
 */
export function checkState(state: unknown, { reel, gauges }: PlayerCore): void {
  const about = (state ?? {}) as { readonly saved?: unknown; readonly reel?: unknown };
  if (typeof state !== 'object' || about.saved !== STATE_VERSION)
    throw new UnspoolError('play/state', `${show(state)} was not written by save`, 'give what save returned');
  if (about.reel !== reel.name) {
    const said = `the state is of the reel ${show(about.reel)}, and this is ${reel.said}`;
    throw new UnspoolError('play/state', said, 'restore it into a player of that reel');
  }
  const { layout, facts } = reel;
  const size = `the reel has other properties than when it was saved`;
  const pose: Check = (value, at) => {
    list(saved)(value, at);
    if ((value as readonly unknown[]).length === layout.size) return;
    const said = `the state has ${(value as readonly unknown[]).length} numbers at ${at}, and a pose ${layout.size}: ${size}`;
    throw new UnspoolError('play/state', said, 'restore it into a player of that reel');
  };
  const names = list(that('a property of the reel', (n) => typeof n === 'string' && layout.find(n) !== undefined));
  const has = (what: string, all: object) =>
    that(`a ${what} of the reel`, (n) => typeof n === 'string' && Object.hasOwn(all, n));
  const knownClip: Check = (value, at) => {
    text(value, at);
    if (Object.hasOwn(reel.clips, value as string)) return;
    const said = `the state plays a clip at ${at}, and ${reel.said} has no clip ${show(value)}`;
    throw new UnspoolError('play/state', said, suggest(value as string, Object.keys(reel.clips)));
  };
  const chainCount = Array.isArray((state as { chains?: unknown }).chains)
    ? (state as { chains: readonly unknown[] }).chains.length
    : 0;
  const playback =
    (...phases: readonly string[]): Check =>
    (value, at) => {
      members({
        clip: knownClip,
        settings,
        state: oneOf(...phases),
        after: oneOf('hold', 'rest'),
        paused: flag,
        quiet: flag,
        returns: flag,
        slots: nullOr(names),
        head,
        presence: nullOr(presence),
        open: list(tuple(whole, flag)),
        before: list(saved),
        chain: that(
          'the place of a chain',
          (n) => Number.isSafeInteger(n) && (n as number) >= -1 && (n as number) < chainCount,
        ),
      })(value, at);
      checkPlayback(value as Saved, reel.clip((value as Saved).clip), layout.size, at);
    };
  const shown = playback('beginning', 'running', 'ended', 'stopped');
  const fallback: Check = (value, at) => {
    members({ name: text, options: members({}) })(value, at);
    const { name, options } = value as { readonly name: string; readonly options: object };
    const clips = Object.hasOwn(facts.chains, name) ? facts.chains[name]!.map(({ clip }) => clip) : [name];
    for (const clip of clips) {
      knownClip(clip, `${at}/name`);
      settingsOf(reel.clip(clip), options, 'fallback', () => 1);
    }
  };
  const layer: Check = (value, at) => {
    members({
      name: text,
      mask: nullOr(list(text)),
      weight: share,
      voices: list(shown),
      queue: list(playback('waiting')),
      current: whole,
      gone: nullOr(shown),
      isFallback: flag,
      fallback: nullOr(fallback),
    })(value, at);
    const { current, voices } = value as { readonly current: number; readonly voices: readonly unknown[] };
    if (current < -1 || current >= voices.length) refuse(`${at}/current`, current, 'the place of a voice');
  };
  members({
    clock: list(saved, 2),
    seed: number,
    ground: nullOr(pose),
    covered: names,
    due: names,
    isStarted: flag,
    objects: list((value, at) => {
      list(() => {}, 2)(value, at);
      const [name, numbers] = value as readonly [unknown, unknown];
      names([name], at);
      list(saved, layout.slot(name as string).width)(numbers, at);
    }),
    chains: list(has('chain', facts.chains)),
    layers: list(layer),
    gauges: list((value, at) => {
      tuple(text, list(number))(value, at);
      const [name, numbers] = value as readonly [string, readonly number[]];
      const gauge = gauges.find((one) => one.name === name);
      if (!gauge)
        throw new UnspoolError(
          'play/state',
          `the state has a gauge ${show(name)}, and the player has none`,
          'make it first',
        );
      if (!gauge.accepts(numbers)) refuse(at, numbers, 'the numbers of the gauge');
    }),
    direction: nullOr(tuple(number, number)),
    faces: list(tuple(text, has('facing', facts.facings), text, flag)),
    hits: list(tuple(text, whole, whole, whole, whole, saved, list(text))),
    place: nullOr(tuple(list(saved, 3), saved, list(saved, 2), flag, flag, flag, list(saved))),
  })(state, '');
  const layers = (state as { layers: readonly { readonly name: string }[] }).layers.map(({ name }) => name);
  if (layers[0] !== 'base' || new Set(layers).size < layers.length)
    refuse('/layers', layers, 'layers of different names, first base');
}

/** A playback as it was saved, its members checked one by one. */
interface Saved {
  readonly clip: string;
  readonly settings: { readonly span?: string; readonly repeat: { readonly count: number | string } };
  readonly head: { readonly iteration: number };
  readonly open: readonly (readonly [cue: number, told: boolean])[];
  readonly before: readonly unknown[];
}

function checkPlayback(
  { settings: { span, repeat }, head: { iteration }, open, before }: Saved,
  clip: Clip,
  size: number,
  at: string,
): void {
  windowOf(clip, span);
  const count = Number(repeat.count);
  if (count !== Infinity && (iteration < 0 || iteration > Math.max(0, Math.ceil(count) - 1)))
    refuse(`${at}/head/iteration`, iteration, 'an iteration of its clip');
  for (const [cue] of open) if (!clip.cues[cue]) refuse(`${at}/open`, cue, 'the place of a cue');
  if (before.length > 0 && before.length !== size) refuse(`${at}/before`, before, `a list of ${size} numbers`);
}
