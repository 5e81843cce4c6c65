import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { compileReel, easing, loadReel, parseReel, Player, type Clip } from '../index.js';

const double = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const clipOf = (name: string, track: unknown, clip: object = {}, reel: object = {}): Clip =>
  parseReel<unknown>({ unspool: 1, clips: { c: { tracks: { [name]: track }, ...clip } }, ...reel }).clip('c');

/** Keys with random values, at random times from 0 to about 8 s. */
const keyList = fc
  .array(fc.tuple(double(0.01, 1), double(-100, 100)), { minLength: 2, maxLength: 8 })
  .map((list) => list.map(([gap, value], i) => ({ gap: i === 0 ? 0 : gap, value })))
  .map((list) => {
    let at = 0;
    return list.map(({ gap, value }) => ({ at: (at += gap), value }));
  });

describe('smooth', () => {
  test('goes through its keys, never beyond them, and without a kink', () => {
    fc.assert(
      fc.property(keyList, double(0, 1), (keys, share) => {
        const clip = clipOf(
          'a.glow',
          keys.map((key) => ({ ...key, ease: 'smooth' })),
        );
        const at = (time: number) => clip.sampleInside(time, clip.createPose()).get('a.glow') as number;
        for (const [i, { at: from, value }] of keys.entries()) {
          expect(at(from) + 0).toBe(value + 0); // -0 and 0 are one value here
          const next = keys[i + 1];
          if (!next) continue;
          const length = next.at - from;
          const [low, high] = [Math.min(value, next.value), Math.max(value, next.value)];
          const middle = at(from + share * length);
          expect(middle).toBeGreaterThanOrEqual(low - 1e-9);
          expect(middle).toBeLessThanOrEqual(high + 1e-9);
          if (i === 0) continue;
          const h = 1e-6 * Math.min(length, from - keys[i - 1]!.at);
          const [left, right] = [(at(from) - at(from - h)) / h, (at(from + h) - at(from)) / h];
          const steepest = Math.max(
            ...keys.slice(1).map((key, k) => Math.abs(key.value - keys[k]!.value) / (key.at - keys[k]!.at)),
          );
          expect(Math.abs(left - right)).toBeLessThan(1e-3 * (1 + steepest));
        }
      }),
    );
  });

  test('a loop that matches continues through its wrap; played once, it does not', () => {
    const keys = [0, 3, 1, 0].map((value, i) => ({ at: i, value, ease: 'smooth' }));
    const slopes = (loop: string) => {
      const clip = clipOf('a.glow', keys, { loop });
      const at = (time: number) => clip.sampleInside(time, clip.createPose()).get('a.glow') as number;
      return [(at(1e-6) - at(0)) * 1e6, (at(3) - at(3 - 1e-6)) * 1e6];
    };
    const [out, into] = slopes('loop') as [number, number];
    expect(out).toBeCloseTo(0, 4); // it turns at the wrap: down before, up after
    expect(into).toBeCloseTo(0, 4);
    expect(slopes('once')[0]).toBeGreaterThan(3);
  });

  test('next to a held segment it starts again; between two keys it is a line', () => {
    const held = clipOf('a.glow', [
      { at: 0, value: 50, ease: 'hold' },
      { at: 1, value: 0, ease: 'smooth' },
      { at: 2, value: 4 },
    ]);
    expect([0.9, 1, 1.25, 1.5].map((time) => held.sample(time).get('a.glow'))).toEqual([50, 0, 1, 2]);
  });
});

describe('curve', () => {
  test('is the Bezier curve of its handles, in time and value, for every channel', () => {
    const share = double(0, 1);
    const pair = fc.tuple(share, double(-50, 50));
    fc.assert(
      fc.property(double(0.1, 3), fc.tuple(pair, pair), fc.tuple(pair, pair), share, (length, out, into, t) => {
        const value = [1, -7] as const;
        const next = [8, -7.5] as const;
        const clip = clipOf('a.position', [
          { at: 0, value, ease: 'curve', out: out.map(([x, v]) => [x * length, v]) },
          { at: length, value: next, in: into.map(([x, v]) => [-x * length, v]) },
        ]);
        for (const k of [0, 1] as const) {
          const [[x1, v1], [x2, v2]] = [out[k], into[k]];
          const bernstein = (a: number, b: number, c: number, d: number) =>
            a * (1 - t) ** 3 + 3 * b * t * (1 - t) ** 2 + 3 * c * t * t * (1 - t) + d * t ** 3;
          const time = length * bernstein(0, x1, 1 - x2, 1);
          const found = (clip.sample(time).get('a.position') as number[])[k]!;
          // Where time all but stands still, as little as the rounding of the time moves the value.
          const near = [-1, 1].map(
            (side) => clip.sample(Math.max(0, time * (1 + side * 4e-16))).get('a.position') as number[],
          );
          const slack = 1e-8 + Math.abs(near[1]![k]! - near[0]![k]!);
          expect(Math.abs(found - bernstein(value[k], value[k] + v1, next[k] + v2, next[k]))).toBeLessThan(slack);
        }
      }),
    );
  });

  test('handles that would fold time are shortened; without handles it is a line', () => {
    const folded = (out: unknown, into: unknown) =>
      clipOf('a.glow', [
        { at: 0, value: 0, ease: 'curve', out },
        { at: 1, value: 10, in: into },
      ]);
    expect(folded([2, 8], [0.5, 0]).sample(0.3).get('a.glow')).toBe(folded([1, 4], [0, 0]).sample(0.3).get('a.glow'));
    expect(
      clipOf('a.glow', [
        { at: 0, value: 0, ease: 'curve' },
        { at: 1, value: 10 },
      ])
        .sample(0.25)
        .get('a.glow'),
    ).toBeCloseTo(2.5, 12);
  });
});

test.each([0, 0.1, 0.3, 0.7, 0.95])('spring(%d) overshoots by its parameter, and settles', (overshoot) => {
  const spring = easing(`spring(${overshoot})`);
  const values = Array.from({ length: 10_001 }, (_, i) => spring(i / 10_000));
  expect([values[0], values.at(-1), spring(-1), spring(2)]).toEqual([0, 1, 0, 1]);
  expect(Math.max(...values) - 1).toBeGreaterThan(overshoot - 2e-3);
  expect(Math.max(...values) - 1).toBeLessThan(overshoot + 2e-3);
  expect(Math.max(...values.slice(9_900).map((y) => Math.abs(y - 1)))).toBeLessThan(2.5e-3);
  expect(Math.abs(values[1]!) / 1e-4).toBeLessThan(
    1.1 * 1e-4 * (9.3 ** 2 + (overshoot > 0 ? (7 * Math.PI) / -Math.log(overshoot) : 0) ** 2),
  ); // from rest
});

describe('offset', () => {
  const hop = [
    { at: 0, value: [0, 0], ease: 'quad-out' },
    { at: 0.5, value: [10, -20], ease: 'quad-in' },
    { at: 1, value: [20, 0] },
  ];
  const document = {
    unspool: 1,
    roles: { crab: { rest: { position: [100, 50], scale: [2, 2], rotation: 30 } } },
    clips: {
      hop: {
        after: 'rest',
        tracks: {
          'crab.position': { space: 'offset', keys: hop },
          'crab.scale': { space: 'offset', keys: [{ at: 0, value: 0.5 }] },
          'crab.rotation': { space: 'offset', keys: [{ at: 0, value: 15 }] },
          'crab.aim': { space: 'offset', kind: 'quat', keys: [{ at: 0, value: { euler: [0, 0, 90] } }] },
        },
      },
    },
  };
  const reel = parseReel<unknown>(document);

  test('is counted from the rest values: added, and multiplied for scale', () => {
    expect(reel.clip('hop').sample(0.5).toObject()).toEqual({
      'crab.position': [110, 30],
      'crab.scale': [1, 1],
      'crab.rotation': 45,
      'crab.aim': [0, 0, Math.SQRT1_2, Math.SQRT1_2].map((n) => expect.closeTo(n, 12) as number),
    });
  });

  test('plays wherever its object is, again from there, and leaves it where it was', () => {
    const crab = { position: { x: 7, y: 8 }, scale: { x: 1, y: 1 } };
    const player = new Player(reel, { cast: { crab } });
    const seen = () => [crab.position.x, crab.position.y, crab.scale.x];
    player.tick(0);
    Object.assign(crab.position, { x: 300, y: 8 }); // the game moves it
    crab.scale = { x: 1, y: 1 };
    player.play('hop');
    player.tick(0.5);
    expect(seen()).toEqual([310, -12, 0.5]);
    player.play('hop'); // again, from where it is
    player.tick(0.5);
    expect(seen()).toEqual([320, -32, 0.25]);
    player.tick(0.5);
    expect(seen()).toEqual([310, -12, 0.5]);
    crab.position.y = 0;
    player.tick(1);
    expect(crab.position.y).toBe(0); // over: the game's own again
  });
});

test('whatever the numbers, what lies between keys is finite, and each key has its own', () => {
  const far = fc.oneof(double(-1e100, 1e100), double(-1e-300, 1e-300), double(-1, 1), fc.constantFrom(1e100, -1e100));
  const end = fc.oneof(fc.constantFrom(0, 1), double(0, 1));
  const ease = fc.oneof(
    fc.constantFrom('hold', 'linear', 'quad-in', 'back-out', 'smooth', 'curve', 'spring(0.4)'),
    fc
      .tuple(end, double(-2, 2), end, double(-2, 2))
      .map((points) => `cubic-bezier(${points.map((n) => n.toFixed(9)).join()})`),
  );
  const key = fc.record({ gap: double(1e-6, 1), value: far, ease, out: far, in: far, third: fc.boolean() });
  fc.assert(
    fc.property(fc.array(key, { minLength: 2, maxLength: 5 }), double(0, 1), (list, share) => {
      let at = 0;
      const keys = list.map(({ gap, value, ease: own, third, ...handles }, i) => {
        at += i === 0 ? 0 : gap;
        const [before, next] = [gap, list[i + 1]?.gap ?? gap].map((length) => (third ? length / 3 : length / 5));
        return {
          ...{ at, value, ease: own },
          ...(own === 'curve' && { out: [next, handles.out] }),
          ...(list[i - 1]?.ease === 'curve' && { in: [-before!, handles.in] }),
        };
      });
      const clip = clipOf('a.glow', keys);
      const pose = clip.createPose();
      for (const [i, { at: from, value }] of keys.entries()) {
        expect(clip.sampleInside(from, pose).values[0]! + 0).toBe(value + 0); // -0 and 0 are one value here
        const until = keys[i + 1]?.at ?? from;
        expect(clip.sampleInside(from + (until - from) * share, pose).get('a.glow')).toSatisfy(Number.isFinite);
      }
    }),
    runs(500),
  );
  // There and back: all but nowhere, by a long way.
  const bow = [{ at: 0, value: 0, ease: 'curve', out: [1 / 3, 5] }, { at: 1, value: 1e-320, in: [-1 / 3, 5] }]; // prettier-ignore
  expect(clipOf('a.glow', bow).sample(0.5).get('a.glow')).toBeCloseTo(3.75);
  const beyond = () => clipOf('a.glow', [{ at: 0, value: -1.1e100 }]);
  expect(beyond).toThrow('invalid number -1.1e+100. Use a number, within ±1e+100');
});

test('what only holds is what it is, whatever comes after it in the clip', () => {
  const tracks = { 'a.position': [{ at: 0, value: [1, 2, 3] }], 'b.glow': [{ at: 0, value: 4 }] };
  const reel = parseReel<unknown>({ unspool: 1, clips: { c: { tracks, duration: 1 } } });
  for (const one of [reel, loadReel<unknown>(JSON.parse(JSON.stringify(compileReel(reel))))])
    for (const time of [0, 0.5, 1]) expect([...one.clip('c').sample(time).values]).toEqual([1, 2, 3, 4]);
});

test('finds its segment among any keys, wherever the playhead was before', () => {
  const gap = fc.oneof(double(1e-9, 1e-6), double(1e-3, 1)); // crowded in places, sparse in others
  fc.assert(
    fc.property(
      fc.array(gap, { minLength: 1, maxLength: 300 }),
      fc.array(double(0, 1), { maxLength: 40 }),
      (gaps, shares) => {
        let time = 0;
        const keys = gaps.map((length, i) => ({ at: (time += length), value: i, ease: 'hold' }));
        const clip = clipOf('a.glow', keys);
        const pose = clip.createPose();
        for (const share of shares) {
          const at = share * clip.duration;
          const last = keys.findLastIndex((key) => key.at <= at);
          expect(clip.sampleInside(at, pose).get('a.glow')).toBe(Math.max(0, last));
        }
        for (const { at, value } of keys) expect(clip.sampleInside(at, pose).get('a.glow')).toBe(value);
      },
    ),
  );
});

test.each([
  [{ mode: 'loop', count: 2 }, 1, 'up up'],
  [{ mode: 'ping-pong', count: 3 }, 1, 'up down up'],
  [{ mode: 'ping-pong', count: 2.5 }, 1, 'up down half'],
  [{ mode: 'loop', count: 2 }, -1, 'down down'],
  [{ mode: 'ping-pong', count: 2 }, -2, 'up down'],
  ['once', 0.5, 'up'],
] as const)('a part that repeats as %j at rate %d goes %s', (loop, rate, passes) => {
  const reel = parseReel<unknown>({
    unspool: 1,
    clips: {
      inner: {
        tracks: {
          'a.glow': [
            { at: 0, value: 0 },
            { at: 1, value: 100 },
          ],
        },
      },
      outer: { parts: [{ clip: 'inner', at: 0.5, rate, loop }] },
    },
  });
  const clip = reel.clip('outer');
  const glow = (time: number) => clip.sample(time).get('a.glow') as number;
  const length = 1 / Math.abs(rate);
  let start = 0.5;
  for (const pass of passes.split(' ')) {
    const early = start + length * 0.1;
    const expected = { up: [10, 90], down: [90, 10], half: [10, 50] }[pass]!;
    expect(glow(early)).toBeCloseTo(expected[0]!, 9);
    if (pass !== 'half') expect(glow(start + length * 0.9)).toBeCloseTo(expected[1]!, 9);
    else expect(glow(start + length)).toBeCloseTo(50, 9); // and stands still there
    start += pass === 'half' ? length / 2 : length;
  }
  expect(clip.duration).toBeCloseTo(start, 12);
});
