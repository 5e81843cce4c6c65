import fc from 'fast-check';
import { EASING_NAMES, type ReelDocument } from '../src/index.js';

/** Random reels that are valid: what laws are tried on. */
const name = fc
  .stringMatching(/^[a-z][a-z0-9_-]{0,8}$/)
  .filter((text) => text !== 'constructor' && text !== 'prototype');
const number = fc.oneof(
  fc.integer({ min: -500, max: 500 }),
  fc.double({ min: -500, max: 500, noNaN: true }).map(noMinusZero),
);
const share = fc.double({ min: 0, max: 1, noNaN: true }).map(noMinusZero);

/** JavaScript has a −0, JSON text has none that survives. */
function noMinusZero(n: number): number {
  return n + 0;
}

const ease = fc.oneof(
  fc.constantFrom(...EASING_NAMES),
  fc.tuple(share, number, share, number).map((points) => `cubic-bezier(${points.join(', ')})`),
  fc.integer({ min: 1, max: 9 }).map((n) => `steps(${n}, jump-both)`),
);

/** Times in order, no two the same, in the unit in which they were drawn. */
const times = (most: number) =>
  fc.uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: most }).chain((frames) => {
    const sorted = frames.sort((a, b) => a - b);
    return fc.constantFrom('f', 'ms', 's').map((unit) => sorted.map((n) => time(n, unit)));
  });

function time(frame: number, unit: string): number | `${number}f` | `${number}ms` {
  if (unit === 's') return frame / 64;
  return unit === 'ms' ? `${frame * 16}ms` : `${frame}f`;
}

const KINDS = {
  rotation: number,
  opacity: share,
  position: fc.tuple(number, number),
  tint: fc.oneof(fc.constantFrom('#fff', '#e07a5f', '#81b29a80'), fc.tuple(share, share, share, share)),
  visible: fc.boolean(),
  frame: fc.integer({ min: 0, max: 40 }),
  mood: fc.constantFrom('calm', 'cross', 'a "quoted" one'),
  glow: number,
} satisfies Record<string, fc.Arbitrary<unknown>>;

const track = fc
  .constantFrom(...(Object.keys(KINDS) as (keyof typeof KINDS)[]))
  .chain((property) =>
    times(6).chain((at) =>
      fc.tuple(...at.map((moment) => keyOf(moment, KINDS[property]))).map((keys) => [property, keys] as const),
    ),
  );

function keyOf(at: unknown, value: fc.Arbitrary<unknown>) {
  return fc.record({ at: fc.constant(at), value, ease }, { requiredKeys: ['at', 'value'] });
}

const cue = fc
  .record(
    {
      name,
      at: fc.integer({ min: 0, max: 64 }),
      long: fc.integer({ min: 1, max: 40 }),
      data: fc
        .jsonValue({ maxDepth: 2 })
        .filter((value) => !JSON.stringify(value).includes('__proto__'))
        .map((value) => JSON.parse(JSON.stringify(value)) as unknown),
    },
    { requiredKeys: ['name', 'at'] },
  )
  .map(({ name, at, long, data }) => ({
    at: `${at}f`,
    ...(long !== undefined && { until: `${at + long}f` }),
    name,
    ...(data !== undefined && { data }),
  }));

const loop = fc.oneof(
  fc.constantFrom('once', 'loop', 'ping-pong'),
  fc.record({ mode: fc.constantFrom('loop', 'ping-pong'), count: fc.constantFrom(1, 2, 2.5, 3, 4.25) }),
);

const clip = (roles: readonly string[]) =>
  fc.record(
    {
      duration: fc.constantFrom('60f', '64f', '1.1s', '0.3s'),
      loop,
      about: fc.string(),
      tracks: fc
        .array(fc.tuple(fc.constantFrom(...roles), track), { maxLength: 5 })
        .map((list) => Object.fromEntries(list.map(([role, [property, keys]]) => [`${role}.${property}`, keys]))),
      cues: fc.array(cue, { maxLength: 6 }),
    },
    { requiredKeys: ['duration', 'tracks'] },
  );

export const randomReel = fc.uniqueArray(name, { minLength: 1, maxLength: 3 }).chain((roles) =>
  fc.record(
    {
      unspool: fc.constant(1 as const),
      fps: fc.constantFrom(24, 30, 60),
      name: fc.string(),
      roles: fc.constant(Object.fromEntries(roles.map((role) => [role, { rest: { rotation: 5 } }]))),
      clips: fc.dictionary(name, clip(roles), { minKeys: 1, maxKeys: 3 }),
    },
    { requiredKeys: ['unspool', 'roles', 'clips'] },
  ),
) as unknown as fc.Arbitrary<ReelDocument>;

/** The same with a span in each clip, a chain of all of them, a facing, and a routine: names too long to be drawn for others. */
export const randomScene: fc.Arbitrary<ReelDocument> = randomReel.map((document) => {
  const names = Object.keys(document.clips);
  const [first, last] = [names[0]!, names.at(-1)!];
  const spans = { 'the-middle-of-it': ['2f', '0.25s'] as const };
  const links = names.map((clip, i) => ({
    clip,
    ...(i % 2 === 1 && { span: 'the-middle-of-it', fade: '3f' as const }),
    loop: { mode: 'loop' as const, count: i + 1 },
  }));
  return {
    ...document,
    clips: Object.fromEntries(Object.entries(document.clips).map(([name, clip]) => [name, { ...clip, spans }])),
    chains: { 'all-of-them': links },
    facings: { 'where-to': { right: first, left: { mirror: 'right' }, down: last, 'up-left': last } },
    routines: {
      'what-to-do': {
        inputs: {
          speed: { kind: 'number', value: 1 },
          way: { kind: 'vec2' },
          wet: { kind: 'flag', value: true },
          jump: { kind: 'signal', keep: '8f' },
        },
        rules: [
          { name: 'hurt', on: 'jump', if: { wet: false }, play: last, layer: 'over', fade: '2f', fadeOut: 0.1 },
          { name: 'again', on: 'jump', during: { rule: 'hop', span: 'the-middle-of-it' }, play: first },
          { name: 'hop', on: 'jump', play: last, free: 'the-middle-of-it', until: '0.25s' },
          {
            name: 'walk',
            if: { speed: { above: 6, until: 3 }, wet: { equals: true, for: '9f' } },
            face: 'where-to',
            toward: 'way',
            rate: { input: 'speed', at: 60 },
          },
          { name: 'all', if: { way: { below: 2 } }, play: 'all-of-them', rate: -0.5 },
          { name: 'idle', play: [{ clip: first, share: 5 }, last], loop: 'ping-pong' },
        ],
      },
    },
  };
});
