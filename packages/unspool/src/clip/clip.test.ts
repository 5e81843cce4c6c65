import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { randomReel } from '../../test/random-reel.js';
import {
  checkReel,
  defineClip,
  defineReel,
  easing,
  formatReel,
  parseReel,
  sheetCells,
  sheetOrigin,
  sheetRect,
  type Clip,
} from '../index.js';

/** A clip with one track, given as in a file. */
function clipOf(name: string, keys: unknown, clip: object = {}, reel: object = {}): Clip {
  return parseReel<unknown>({ unspool: 1, clips: { c: { tracks: { [name]: keys }, ...clip } }, ...reel }).clip('c');
}
const values = (clip: Clip, name: string, times: readonly number[]) => times.map((time) => clip.sample(time).get(name));

describe('sampling', () => {
  test('holds the first value before, the last after, and at a key is exactly its value', () => {
    const clip = clipOf('a.opacity', [
      { at: 0.1, value: 0.1, ease: 'back-in-out' },
      { at: 0.3, value: 0.7, ease: 'hold' },
      { at: 0.6, value: 0.2 },
    ]);
    expect(values(clip, 'a.opacity', [0, 0.1, 0.3, 0.45, 0.6, 9])).toEqual([0.1, 0.1, 0.7, 0.7, 0.2, 0.2]);
    expect(clip.sample(0.6 - 1e-12).get('a.opacity')).toBe(0.7);
  });

  test('laws, on random reels: exact at keys, pure, no matter what was sampled before', () => {
    fc.assert(
      fc.property(
        randomReel,
        fc.array(fc.double({ min: -2, max: 5, noNaN: true }), { maxLength: 12 }),
        (document, times) => {
          for (const clip of Object.values<Clip>(parseReel<unknown>(document).clips)) {
            const used = clip.createPose();
            for (const time of times) {
              expect(clip.sample(time, used).values).toEqual(clip.sample(time).values);
              expect(used.values.every(Number.isFinite)).toBe(true);
            }
            for (const { role, property, keys } of clip.tracks) {
              for (const { at, value, easing: way } of keys) {
                // An easing that jumps at its own start has the say there.
                if (at > clip.duration || way.kind === 'steps' || (at === clip.duration && clip.repeat.mode !== 'once'))
                  continue;
                const { offset, width } = clip.layout.slot(`${role}.${property}`);
                expect([...clip.sample(at).values.subarray(offset, offset + width)]).toEqual(value);
              }
            }
          }
        },
      ),
    );
  });

  test('agrees with a slow, plain evaluator on random reels', () => {
    fc.assert(
      fc.property(randomReel, fc.double({ min: 0, max: 0.3, noNaN: true }), (document, time) => {
        for (const clip of Object.values<Clip>(parseReel<unknown>(document).clips)) {
          for (const [name, list] of Object.entries(document.clips[clip.name]!.tracks ?? {})) {
            const keys = list as unknown as readonly { value: unknown; ease?: string }[];
            if (typeof keys[0]!.value !== 'number' || name.endsWith('frame')) continue;
            const { keys: timed } = clip.tracks.find((track) => track.name === name)!;
            const next = timed.findIndex(({ at }) => at > time);
            const [a, b] = next < 0 ? [timed.length - 1, timed.length - 1] : [Math.max(0, next - 1), next];
            const [from, to] = [keys[a]!.value as number, keys[b]!.value as number];
            const ease = keys[a]!.ease ?? 'linear';
            if (ease === 'smooth' || ease === 'curve') continue; // curves.test.ts
            const x = a === b || next === 0 ? 0 : (time - timed[a]!.at) / (timed[b]!.at - timed[a]!.at);
            const y = next <= 0 || ease === 'hold' ? 0 : easing(ease)(x);
            expect(clip.sampleInside(time, clip.createPose()).get(name)).toBeCloseTo(from + (to - from) * y, 7);
          }
        }
      }),
    );
  });

  test('follows the loop mode beyond the clip', () => {
    const keys = [
      { at: 0, value: 0 },
      { at: 1, value: 10 },
    ];
    const times = [-0.25, 0.25, 1, 1.25, 2, 2.5, 3];
    const at = (loop: unknown) => values(clipOf('a.x-ray', keys, { loop }), 'a.x-ray', times);
    expect(at('once')).toEqual([0, 2.5, 10, 10, 10, 10, 10]);
    expect(at('loop')).toEqual([7.5, 2.5, 0, 2.5, 0, 5, 0]);
    expect(at('ping-pong')).toEqual([2.5, 2.5, 10, 7.5, 0, 5, 10]);
    expect(at({ mode: 'loop', count: 2.5 })).toEqual([0, 2.5, 0, 2.5, 0, 5, 5]);
    expect(at({ mode: 'ping-pong', count: 2 })).toEqual([0, 2.5, 10, 7.5, 0, 0, 0]);
  });

  test.each([0, 5e-324, 1e-300, 1e-12])('a clip of %d s has a pose, and is compiled at once', (duration) => {
    const clip = clipOf('a.glow', [{ at: 0, value: 7 }, { at: '10f', value: 1 }], { duration }); // prettier-ignore
    expect(clip.sample(0).get('a.glow')).toBe(7);
    for (const time of [duration, 1, -1]) expect(clip.sample(time).get('a.glow')).toBeCloseTo(7, 6);
  });

  test('times mean what they say, to the bit', () => {
    const clip = clipOf('a.glow', [
      { at: '0.1f', value: 1 },
      { at: '9f', value: 2 },
      { at: '150.5ms', value: 3 },
    ]);
    expect(clip.tracks[0]!.keys.map(({ at }) => at)).toEqual([1 / 600, 9 / 60, 0.1505]);
    expect(clipOf('a.glow', [{ at: '10f', value: 1 }], {}, { fps: 24 }).duration).toBe(10 / 24);
  });
});

describe('kinds', () => {
  test('frames become one held key each, on whole frames, forwards and backwards', () => {
    const clip = clipOf('a.frame', [{ at: '3f', frames: [9, 7], each: '3f' }]);
    expect(values(clip, 'a.frame', [0, 5 / 60, 6 / 60, 9 / 60, 11 / 60])).toEqual([9, 9, 8, 7, 7]);
    expect([clip.duration, clip.tracks[0]!.keys[2]!.at]).toEqual([12 / 60, 9 / 60]);
  });

  test('angles rotate as written, or the shorter way when the track says so', () => {
    const keys = [
      { at: 0, value: 350 },
      { at: 1, value: 10 },
      { at: 2, value: 200 },
    ];
    expect(values(clipOf('a.rotation', keys), 'a.rotation', [0.5, 1])).toEqual([180, 10]);
    const shorter = clipOf('a.rotation', { turn: 'shortest', keys });
    expect(values(shorter, 'a.rotation', [0.5, 1, 1.5])).toEqual([360, 10, -75]); // 350 → 370; 10 → −160
  });

  test('colors are mixed premultiplied, and never leave 0–1', () => {
    const clip = clipOf('a.tint', [
      { at: 0, value: '#ff0000' },
      { at: 1, value: '#0000ff00' },
    ]);
    expect(clip.sample(0.5).get('a.tint')).toEqual([1, 0, 0, 0.5]);
    const over = clipOf('a.tint', [
      { at: 0, value: [0, 0, 0, 1], ease: 'cubic-bezier(0, 3, 1, 3)' },
      { at: 1, value: [1, 0.5, 1, 1] },
    ]);
    expect(over.sample(0.5).get('a.tint')).toEqual([1, 1, 1, 1]);
  });

  test('one number is a scale for all; a channel leaves the others at rest; flags, texts and integers hold', () => {
    const reel = { roles: { a: { rest: { position: [3, 4, 5] } } } };
    expect(
      clipOf('a.scale', [{ at: 0, value: 2 }])
        .sample(0)
        .get('a.scale'),
    ).toEqual([2, 2]);
    expect(
      clipOf('a.position.y', [{ at: 0, value: 9 }], {}, reel)
        .sample(0)
        .get('a.position'),
    ).toEqual([3, 9, 5]);
    const held = (value: unknown[]) => [
      { at: 0, value: value[0] },
      { at: 1, value: value[1], ease: 'ease' },
      { at: 2, value: value[0] },
    ];
    for (const pair of [
      [true, false],
      ['calm', 'cross'],
    ]) {
      expect(values(clipOf('a.mood', held(pair)), 'a.mood', [0.99, 1, 1.99])).toEqual([pair[0], pair[1], pair[1]]);
    }
    const whole = clipOf('a.count', { kind: 'integer', keys: held([1, 5]) });
    expect(values(whole, 'a.count', [0.99, 1.5])).toEqual([1, 5]);
  });

  test('the cells of a sheet, with margin and spacing', () => {
    const sheet = { image: 's.png', columns: 3, rows: 2, cell: [10, 20], margin: 2, spacing: 1 } as const;
    expect([0, 4, 99, -1].map((frame) => sheetRect(sheet, frame))).toEqual([
      ...[
        [2, 2, 10, 20],
        [13, 23, 10, 20],
        [24, 23, 10, 20],
        [2, 2, 10, 20],
      ],
    ]);
    expect(sheetCells(sheet)).toBe(6);
    expect(sheetOrigin(sheet, 0)).toBeUndefined();
  });

  test('the free cells of a packed picture, each with its origin', () => {
    const cells = [
      { x: 0, y: 0, width: 8, height: 12, origin: [4, 12] },
      { x: 9, y: 3, width: 20, height: 5 },
    ] as const;
    const walk = defineClip('walk', { duration: '4f', loop: 'loop' }).track('crab.frame', [
      [0, 0],
      ['2f', 1],
    ]);
    const roles = { crab: { sheet: 'pool' } };
    const document = defineReel({ roles, sheets: { pool: { image: 'pool.png', cells } }, clips: [walk] });
    const text = formatReel(document);
    // A line for each cell.
    expect(text).toContain('      "image": "pool.png",\n      "cells": [\n        { "x": 0, "y": 0, ');
    const reel = parseReel(text);
    const sheet = reel.sheetOf('crab')!;
    expect(sheetCells(sheet)).toBe(2);
    expect([0, 1, 7, -1, NaN].map((frame) => sheetRect(sheet, frame)[2])).toEqual([8, 20, 20, 8, 8]);
    expect([sheetOrigin(sheet, 0), sheetOrigin(sheet, 1)]).toEqual([[4, 12], undefined]);
    const outside = formatReel({ ...document, clips: { walk: { tracks: { 'crab.frame': [{ at: 0, value: 2 }] } } } });
    expect(checkReel(outside).map(({ code }) => code)).toEqual(['reel/frame-outside']);
  });
});

test('unknown names are reported with similar ones', () => {
  const reel = parseReel<unknown>({
    unspool: 1,
    name: 'r',
    clips: { snap: { tracks: { 'claw.rotation': [{ at: 0, value: 0 }] } } },
  });
  expect(() => reel.clip('snpa')).toThrow('the reel "r" has no clip "snpa". Did you mean "snap"?');
  const clip = reel.clip('snap');
  expect(() => clip.sample(0).get('claw.rotaton')).toThrow('Did you mean "claw.rotation"?');
  expect(() => clip.sample(NaN)).toThrow('the time NaN is not finite');
  expect(() => clip.sample(0, reel.clips['snap']!.createPose())).not.toThrow();
});
