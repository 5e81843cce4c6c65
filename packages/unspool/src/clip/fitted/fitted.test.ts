import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { randomReel } from '../../../test/random-reel.js';
import {
  easing,
  EASING_NAMES,
  formatEasing,
  parseReel,
  preparedOf,
  prepareClip,
  usePrepared,
  type Clip,
} from '../../index.js';
import { evaluateFitted, type Fitted } from './evaluate.js';
import { fitClip } from './fit.js';
import { fittedOf } from './prepare.js';

/** The greatest distance between the two evaluators, as a share of what `range` says for each channel. */
function distance(clip: Clip, times: readonly number[], range: (channel: number, time: number) => number): number {
  prepareClip(clip);
  const { size } = clip.layout;
  const out = new Float64Array(size * times.length);
  evaluateFitted(fittedOf(clip)!, Float64Array.from(times), new Float64Array(times.length), times.length, out, 0);
  const pose = clip.createPose();
  let worst = 0;
  /** What a channel counts for: of a color that all but is not there, its hue does not. */
  const alphas = clip.layout.slots.filter(({ kind }) => kind === 'color').map(({ offset }) => offset);
  const weight = (values: Float64Array, k: number) => {
    const color = alphas.find((offset) => k >= offset && k < offset + 3);
    return color === undefined ? 1 : values[color + 3]!;
  };
  times.forEach((time, i) => {
    clip.sampleInside(time, pose);
    const found = out.subarray(i * size, (i + 1) * size);
    for (let k = 0; k < size; k++) {
      const off = Math.abs(pose.values[k]! * weight(pose.values, k) - found[k]! * weight(found, k));
      if (off > 1e-12) worst = Math.max(worst, off / range(k, time));
    }
  });
  return worst;
}

/** Times all over a second, dense where a curve may be steep: at its ends, and around its middle. */
const times = [
  ...Array.from({ length: 2001 }, (_, i) => i / 2000),
  ...Array.from({ length: 50 }, (_, i) => 2 ** -(i + 1)),
  ...Array.from({ length: 50 }, (_, i) => 1 - 2 ** -(i + 1)),
  ...Array.from({ length: 44 }, (_, i) => 0.5 + 2 ** -(i + 2)),
  ...Array.from({ length: 44 }, (_, i) => 0.5 - 2 ** -(i + 2)),
];
const eased = (ease: string, more: object = {}, last: object = {}): Clip => {
  const keys = [
    { at: 0, value: -20, ease, ...more },
    { at: 1, value: 30, ...last },
  ];
  return parseReel<unknown>({ unspool: 1, clips: { c: { tracks: { 'a.glow': keys } } } }).clip('c');
};

/** How far an easing goes from 0 to 1, about. */
function overshoot(ease: string): number {
  const at = easing(ease);
  const values = Array.from({ length: 33 }, (_, i) => at(i / 32));
  return Math.max(...values) - Math.min(...values);
}

/** But for rounding: fitting ends where it is met exactly. */
const ENOUGH = 1e-5 * (1 + 1e-9);

describe('fitted pieces agree with the curves within 1e-5 of a segment’s range', () => {
  test.each([
    ...EASING_NAMES.filter((name) => name !== 'smooth' && name !== 'curve'),
    ...['cubic-bezier(1, 0, 0, 1)', 'cubic-bezier(0, 1, 1, 0)', 'cubic-bezier(1, 0, 1, 0)', 'cubic-bezier(0, 1, 0, 1)'],
    ...['cubic-bezier(0.5, -1.5, 0.5, 2.5)', 'cubic-bezier(1, -1.5, 0, 2.5)', 'cubic-bezier(0, 2.5, 1, -1.5)'],
    ...['cubic-bezier(0.999, 0, 0.001, 1)', 'steps(7, jump-both)', 'steps(3, jump-none)'],
    ...['linear(0.2, 0.8 40%, 0.1 40%, 1)', 'linear(0 20%, 1 60%)'],
    ...['spring(0)', 'spring(0.3)', 'spring(0.95)'],
  ])('%s', (ease) => {
    expect(distance(eased(ease), times, () => 50)).toBeLessThan(1e-5);
  });

  test('random Bezier easings, and curves with handles', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    const over = fc.double({ min: -1.5, max: 2.5, noNaN: true });
    fc.assert(
      fc.property(share, over, share, over, (x1, y1, x2, y2) => {
        const bezier = `cubic-bezier(${[x1, y1, x2, y2].map((n) => n.toFixed(6)).join(', ')})`;
        expect(distance(eased(bezier), times, () => 50)).toBeLessThan(ENOUGH);
        const curve = eased('curve', { out: [x1, 50 * y1] }, { in: [x2 - 1, 50 * (y2 - 1)] });
        expect(distance(curve, times, () => 50)).toBeLessThan(ENOUGH);
      }),
      runs(60),
    );
  });

  test.each(EASING_NAMES.filter((name) => name !== 'smooth' && name !== 'curve'))('%s: each key exactly', (ease) => {
    const keys = [0, 0.01, 0.1, 0.25, 0.3, 1].map((at, i) => ({ at, value: [-5, -3, 2, 7, 1, 0][i], ease }));
    // At its very start an easing may jump: the key is there for that one moment.
    const glow = parseReel<unknown>({ unspool: 1, clips: { c: { tracks: { 'a.glow': keys } } } }).clip('c');
    const all = keys.map(({ at }) => at);
    expect(distance(glow, all, () => 1)).toBeLessThan(1e-9);
  });

  test('every kind and space on random reels', () => {
    fc.assert(
      fc.property(randomReel, (document) => {
        for (const clip of Object.values<Clip>(parseReel<unknown>(document).clips)) {
          const { tracks, duration, layout } = clip;
          const inside = times.map((time) => time * 0.9997 * duration);
          const rangeOf = (k: number, time: number): number => {
            const slot = layout.slots.find(({ offset, width }) => k >= offset && k < offset + width)!;
            const { keys } = tracks.find(({ role, property }) => `${role}.${property}` === slot.name)!;
            const i = Math.max(
              0,
              keys.findLastIndex(({ at }) => at <= time),
            );
            const [key, next] = [keys[i]!, keys[Math.min(i + 1, keys.length - 1)]!];
            // By more than eight times the range an easing overshoots: then by an eighth of how far it goes.
            const factor = key.easing.kind === 'bezier' ? Math.max(1, overshoot(formatEasing(key.easing)) / 8) : 1;
            if (slot.kind === 'color' || slot.kind === 'quat') return factor;
            const [a, b] = [key.value[k - slot.offset]!, next.value[k - slot.offset]!];
            return Math.max(Math.abs(a - b) * factor, 1e-6);
          };
          expect(distance(clip, inside, rangeOf)).toBeLessThan(ENOUGH);
        }
      }),
      runs(60),
    );
  });
});

describe('a grid', () => {
  /** A clip of so many channels and seconds, with what it has at each frame, and keys between frames too. */
  const busy = (duration: number) =>
    parseReel<unknown>({
      unspool: 1,
      clips: {
        c: {
          duration,
          tracks: {
            'a.glow': [0, 0.1, 0.15, 0.1583, 0.25].map((at, i) => ({ at, value: i % 2, ease: 'hold' })),
            'a.mist': [0, 0.1, 0.111, 0.2].map((at, i) => ({ at, value: 7 * i, ease: 'cubic-bezier(0.9, 0, 0.1, 1)' })),
            'a.haze': [
              { at: 0, value: 3, ease: 'steps(7)' },
              { at: 0.3, value: 5 },
            ],
          },
        },
      },
    }).clip('c');
  const fittedIn = (clip: Clip, fps: number): Fitted => {
    const { values, base } = clip.createPose();
    const fitting = fitClip(clip.curves, clip.duration, fps, values, base);
    for (;;) {
      const { done, value } = fitting.next();
      if (done) return value;
    }
  };
  /** Just before a time, at it, and just behind it. */
  const around = (time: number, end: number) =>
    [time * (1 - Number.EPSILON / 2), time, time * (1 + Number.EPSILON)].filter((at) => at <= end);

  test('jumps where the curve jumps, to the bit, and agrees with the pieces', () => {
    fc.assert(
      fc.property(fc.constantFrom(0.25, 0.3, 0.305, 1, 1.7), fc.constantFrom(24, 29.97, 60, 1000), (duration, fps) => {
        const clip = busy(duration);
        const [grid, pieces] = [fittedIn(clip, fps), fittedIn(clip, 0)];
        expect([grid.grid === undefined, pieces.grid]).toEqual([false, undefined]);
        const starts = [...clip.curves.starts].filter((start) => start < duration);
        const steps = Array.from({ length: 8 }, (_, i) => (0.3 * i) / 7);
        const frames = Array.from({ length: Math.ceil(duration * fps) }, (_, i) => i / fps);
        const at = [...starts, ...steps, ...frames, duration].flatMap((time) => around(time, duration));
        const poses = [grid, pieces].map((fitted) => {
          const out = new Float64Array(3 * at.length);
          evaluateFitted(fitted, Float64Array.from(at), new Float64Array(at.length), at.length, out, 0);
          return out;
        });
        const pose = clip.createPose();
        at.forEach((time, i) => {
          clip.sampleInside(time, pose);
          for (let k = 0; k < 3; k++) {
            const where = `${time}, channel ${k}`;
            for (const found of poses) expect(Math.abs(found[3 * i + k]! - pose.values[k]!), where).toBeLessThan(1e-4);
          }
        });
      }),
      runs(20),
    );
  });

  test('is left out where it would be large, and is no larger than a quarter of a megabyte and its parts', () => {
    expect(fittedIn(busy(1), 60).grid!.cubics.length).toBeLessThan(8 * 4 * 61 * 3);
    expect(fittedIn(busy(100), 60).grid).toBeUndefined();
    for (const fps of [60, 300, 900]) {
      const { grid } = fittedIn(busy(3), fps);
      expect(grid!.cubics.length).toBeLessThanOrEqual(4 * 2 * 8192);
    }
  });
});

test('a worker prepares: what it sends is used, and nothing else is', () => {
  const [here, there] = [eased('ease'), eased('ease')];
  const sent = structuredClone(preparedOf(there));
  usePrepared(here, sent);
  expect(fittedOf(here)).toEqual(fittedOf(there));
  expect(prepareClip(here)).toBe(true);
  expect(() => usePrepared(eased('ease-in'), sent)).toThrow(
    'another clip than "c" was prepared, or another version of it',
  );
  for (const wrong of [null, undefined, 3, {}, { ...sent, prepared: 0 }, { prepared: 1, source: sent.source }])
    expect(() => usePrepared(eased('ease'), wrong as never)).toThrow('is not a prepared clip');
});

test('preparing in slices comes to the same', () => {
  const [whole, sliced] = [eased('cubic-bezier(1, 0, 0, 1)'), eased('cubic-bezier(1, 0, 0, 1)')];
  prepareClip(whole);
  let calls = 1;
  while (!prepareClip(sliced, () => true)) calls++;
  expect(calls).toBeGreaterThan(1);
  expect(fittedOf(sliced)).toEqual(fittedOf(whole));
  expect(prepareClip(sliced)).toBe(true);
});
