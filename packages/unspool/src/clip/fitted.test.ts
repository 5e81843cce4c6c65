import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { randomReel } from '../../test/random-reel.js';
import { EASING_NAMES, parseReel, type Clip } from '../index.js';
import { evaluateFitted } from './fitted.js';
import { fittedOf, prepareClip } from './prepare.js';

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

  test('every kind and space on random reels', () => {
    fc.assert(
      fc.property(randomReel, (document) => {
        for (const clip of Object.values<Clip>(parseReel<unknown>(document).clips)) {
          const { tracks, duration, layout } = clip;
          const inside = times.map((time) => time * 0.9997 * duration);
          const rangeOf = (k: number, time: number): number => {
            const slot = layout.slots.find(({ offset, width }) => k >= offset && k < offset + width)!;
            if (slot.kind === 'color' || slot.kind === 'quat') return 1;
            const keys = tracks.find(({ role, property }) => `${role}.${property}` === slot.name)!.keys;
            const i = Math.max(
              0,
              keys.findLastIndex(({ at }) => at <= time),
            );
            const [a, b] = [
              keys[i]!.value[k - slot.offset]!,
              keys[Math.min(i + 1, keys.length - 1)]!.value[k - slot.offset]!,
            ];
            return Math.max(Math.abs(a - b), 1e-6);
          };
          expect(distance(clip, inside, rangeOf)).toBeLessThan(1e-5);
        }
      }),
      runs(60),
    );
  });
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
