import { describe, expect, test } from 'vitest';
import { compileReel, Crowd, formatReel, loadReel, parseReel, Player, type Clip, type Value } from '../index.js';

const roles = {
  crab: {},
  claw: {
    parent: 'crab',
    shapes: {
      pincer: { kind: 'box', tag: 'hits', data: { damage: 1 } },
      tip: { kind: 'circle' },
      arm: { kind: 'capsule', tag: 'hurt' },
    },
  },
  other: {},
};
const reelOf = (tracks: object, more: object = {}, clips: object = {}) =>
  parseReel({ unspool: 1, fps: 10, roles, clips: { snap: { duration: 2, tracks, ...more }, ...clips } });
const at = (clip: Clip, name: string, ...times: number[]): Value[] => times.map((time) => clip.sample(time).get(name));
const whole = (...keys: (readonly [at: number, value: unknown, more?: object])[]) => ({
  'claw.pincer': keys.map(([at, value, more]) => ({ at, value, ...more })),
});
const box = (x: number, angle = 0) => ({ center: [x, 0], size: [4, 2], angle });
const near = (n: number): unknown => expect.closeTo(n, 9);
const active = (clip: Clip) => clip.activations.map(({ shape, at, until, data }) => [shape, at, until, data]);

describe('a shape that is keyed whole', () => {
  test('keeps what earlier keys said, goes from key to key, and is off from a null to the next key', () => {
    const clip = reelOf(
      whole(
        [0.5, { center: [0, 0], size: [4, 2] }],
        [1, { center: [10, 0], angle: 90 }],
        [1.5, null],
        [1.8, { angle: 0 }],
      ),
    ).clip('snap');
    expect(at(clip, 'claw.pincer', 0, 0.5, 0.75, 1, 1.25, 1.5, 1.7, 1.8, 2)).toEqual([
      null,
      box(0),
      box(5, 45),
      box(10, 90),
      box(10, 90),
      null,
      null,
      box(10),
      box(10),
    ]);
  });

  test('is active from its first key to its last, inclusive; a single key applies to everything after it', () => {
    const between = reelOf(whole([0.5, box(0)], [1, box(2)])).clip('snap');
    expect(at(between, 'claw.pincer', 0.499, 1, 1.001)).toEqual([null, box(2), null]);
    const single = reelOf(whole([0.5, box(0)])).clip('snap');
    expect(at(single, 'claw.pincer', 0.499, 0.5, 2)).toEqual([null, box(0), box(0)]);
    const toTheEnd = reelOf(whole([0, box(0)], [2, box(2)])).clip('snap');
    expect(at(toTheEnd, 'claw.pincer', 0, 2)).toEqual([box(0), box(2)]);
  });

  test('takes easings, curves and handles as any track does', () => {
    const handles = Array.from({ length: 5 }, () => [0, 0]);
    const clip = reelOf(
      whole(
        [0, box(0), { ease: 'quad-in' }],
        [1, box(8), { ease: 'curve', out: handles }],
        [2, box(0), { in: handles }],
      ),
    ).clip('snap');
    expect(at(clip, 'claw.pincer', 0.5, 1.5)).toEqual([box(2), box(4)]);
  });
});

describe('a shape that is keyed by property', () => {
  test('has 0 for members without keys, and is active between all of its keys', () => {
    const clip = reelOf({
      'claw.arm.from.x': [{ at: 0.2, value: 1 }],
      'claw.arm.to': [
        { at: 0.5, value: [0, 0] },
        { at: 1.5, value: [10, 20] },
      ],
      'claw.arm.radius': [{ at: 1, value: 3, ease: 'hold' }],
    }).clip('snap');
    expect(at(clip, 'claw.arm', 0.1, 1, 1.5, 1.6)).toEqual([
      null,
      { from: [1, 0], to: [5, 10], radius: 3 },
      { from: [1, 0], to: [10, 20], radius: 3 },
      null,
    ]);
    expect(active(clip)).toEqual([['claw.arm', 0.2, expect.closeTo(1.5, 12), undefined]]);
  });

  test('is active when its `active` track says so, with data at its keys', () => {
    const clip = reelOf({
      'claw.tip.radius': [{ at: 1, value: 3 }],
      'claw.tip.active': [
        { at: 0.5, value: true, data: 'first' },
        { at: 1, value: false },
        { at: 1.5, value: true },
      ],
    }).clip('snap');
    expect(at(clip, 'claw.tip', 0.4, 0.9, 1, 2)).toEqual([
      { center: [0, 0], radius: 3 },
      { center: [0, 0], radius: 3 },
      null,
      { center: [0, 0], radius: 3 },
    ]);
    expect(active(clip).map(([, from, until, data]) => [from, until, data])).toEqual([
      [0, 1, 'first'],
      [1.5, 2, undefined],
    ]);
  });
});

describe('activations', () => {
  test('continue from key to key; one with data starts another', () => {
    const clip = reelOf(whole([0, box(0)], [0.5, box(1)], [1, box(2), { data: { damage: 3 } }], [1.5, null])).clip(
      'snap',
    );
    expect(active(clip)).toEqual([
      ['claw.pincer', 0, 1, undefined],
      ['claw.pincer', 1, 1.5, { damage: 3 }],
    ]);
  });

  const inner = {
    jab: { duration: 1, tracks: whole([0.2, box(0), { data: 'a' }], [0.6, box(4), { data: 'b' }], [1, box(8)]) },
  };
  test.each([
    [
      'as they are',
      {},
      [
        [0.7, 1.1, 'a'],
        [1.1, 1.5, 'b'],
      ],
    ],
    [
      'faster',
      { rate: 2 },
      [
        [0.6, 0.8, 'a'],
        [0.8, 1, 'b'],
      ],
    ],
    [
      'backwards',
      { rate: -1 },
      [
        [0.5, 0.9, 'b'],
        [0.9, 1.3, 'a'],
      ],
    ],
    ['cut', { until: 1 }, [[0.7, 1, 'a']]],
    [
      'by another role',
      { roles: { claw: 'other' } },
      [
        [0.7, 1.1, 'a'],
        [1.1, 1.5, 'b'],
      ],
    ],
  ] as const)('of a part, %s', (_, part, expected) => {
    const reel = parseReel({
      unspool: 1,
      roles,
      clips: { ...inner, scene: { duration: 2, parts: [{ clip: 'jab', at: 0.5, ...part }] } },
    });
    const scene = reel.clip('scene');
    const name = 'roles' in part ? 'other.pincer' : 'claw.pincer';
    expect(active(scene)).toEqual(
      expected.map(([from, until, data]) => [name, near(from as number), near(until as number), data]),
    );
    // It tags and hits as the inner one.
    expect(reel.facts.shapes[name]).toEqual({ tag: 'hits', data: { damage: 1 } });
    // Outside of its part it is off, whatever it ends on.
    expect(at(scene, name, 0.1, 1.6, 2)).toEqual([null, null, null]);
    expect(scene.sample(0.95).get(name)).not.toBeNull();
  });
});

test('shapes are written to no object, packed with the rest, and have their place in a crowd', () => {
  const reel = reelOf({ ...whole([0, box(0)], [2, box(8)]), 'claw.rotation': [{ at: 0, value: 5 }] });
  const claw = { rotation: 0 };
  const player = new Player(reel, { cast: { claw } });
  player.play('snap');
  player.tick(1);
  expect(claw).toEqual({ rotation: 5 });
  expect(player.pose.get('claw.pincer')).toEqual(box(4));
  const packed: unknown = JSON.parse(JSON.stringify(compileReel(reel)));
  const loaded = loadReel<{ clips: { snap: object } }>(packed as never);
  expect(loaded.clip('snap').sample(0.5).get('claw.pincer')).toEqual(box(2));
  expect([loaded.clip('snap').activations, loaded.facts.shapes]).toEqual([
    reel.clip('snap').activations,
    reel.facts.shapes,
  ]);
  const crowd = new Crowd(reel);
  const id = crowd.add('snap', { phase: 0.25 });
  crowd.tick(0);
  const index = crowd.offsetOf(id, 'claw.pincer');
  expect([0, 2, 5].map((k) => crowd.values[index + k * crowd.stride])).toEqual([expect.closeTo(2, 5), 4, 1]);
});

test('of two playbacks a shape is that of the heavier, whole', () => {
  const clip = (x: number) => ({ duration: 1, tracks: whole([0, box(x)]) });
  const reel = parseReel({ unspool: 1, roles, clips: { low: clip(0), high: clip(8), off: { duration: 1 } } });
  const player = new Player(reel);
  player.play('low');
  player.play('high', { fade: 1 });
  player.tick(0.4);
  expect(player.pose.get('claw.pincer')).toEqual(box(0));
  player.tick(0.2);
  expect(player.pose.get('claw.pincer')).toEqual(box(8));
});

test('a number keyed alone in one playback meets the whole property of another', () => {
  const clips = {
    whole: { duration: 1, tracks: { 'crab.position': [{ at: 0, value: [10, 20] }] } },
    alone: { duration: 1, tracks: { 'crab.position.y': [{ at: 0, value: 40 }] } },
  };
  const player = new Player(parseReel({ unspool: 1, roles, clips }));
  player.play('whole');
  player.play('alone', { fade: 1 });
  player.tick(0.5);
  expect(player.pose.get('crab.position')).toEqual([5, 30]);
});

test('the canonical writer keeps a key of a shape on one line', () => {
  const text = formatReel(reelOf(whole([0, { angle: 3, center: [1, 2] }, { data: [1] }], [1, null])).document);
  expect(text).toContain('{ "at": 0, "value": { "angle": 3, "center": [1, 2] }, "data": [1] },');
  expect(formatReel(JSON.parse(text) as never)).toBe(text);
});
