import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import {
  Crowd,
  defineClip,
  defineReel,
  loadReel,
  compileReel,
  parseReel,
  Player,
  quatOf,
  type Clip,
} from '../index.js';
import { multiplyQuat } from '../value/quat.js';

/**
 * Tracks that accumulate, against the definition: in lap n every value is that of the first lap and n times what one
 * lap gains. A month of laps is as exact as the first.
 */
const reel = parseReel(
  defineReel({
    fps: 60,
    roles: { wheel: { rest: { scale: [2, 2], position: [10, 20], tilt: 3 } } },
    clips: [
      defineClip('roll', { loop: 'loop' })
        .track(
          'wheel.rotation',
          [
            [0, 5, 'quad-in'],
            ['9f', 50, 'smooth'],
            ['24f', 95],
          ],
          { accumulate: true },
        )
        .track(
          'wheel.position',
          [
            [0, [3, 0], 'ease-in'],
            ['12f', [10, -4], 'back-out'],
            ['24f', [28.5, 1]],
          ],
          { accumulate: true },
        )
        .track(
          'wheel.scale',
          [
            [0, [1, 1], 'linear'],
            ['24f', [1.25, 0.5]],
          ],
          { accumulate: true, space: 'offset' },
        )
        .track(
          'wheel.tilt',
          [
            [0, 0, 'steps(3)'],
            ['24f', -7],
          ],
          { accumulate: true, space: 'offset' },
        )
        .track(
          'wheel.turn',
          [
            [0, quatOf([10, 20, 30]), 'ease-out'],
            ['10f', quatOf([30, 80, -30]), 'smooth'],
            ['24f', quatOf([0, 120, 15])],
          ],
          { accumulate: true, kind: 'quat' },
        )
        .track('wheel.opacity', [
          [0, 0],
          ['24f', 1],
        ]),
      defineClip('still').track('wheel.opacity', [[0, 1]]),
      defineClip('trip', { duration: '300f' })
        .part('roll', 0, { until: '84f' })
        .part('roll', '100f', { loop: { mode: 'loop', count: 3 }, rate: -0.5 }),
    ],
  }),
);
const roll = reel.clip('roll');
const D = 0.4;
const SHAPE = { 'wheel.rotation': 1, 'wheel.position': 2, 'wheel.scale': 2, 'wheel.tilt': 1, 'wheel.turn': 4 } as const;
type Property = keyof typeof SHAPE;
const PROPERTIES = Object.keys(SHAPE) as Property[];

const numbers = (value: unknown): number[] => (Array.isArray(value) ? (value as number[]) : [value as number]);
const of = (pose: { get(name: never): unknown }, name: string) => numbers(pose.get(name as never));
/** A quaternion and its negative are one turn: the one that lies on the side of another. */
const near = (value: readonly number[], other: readonly number[]) =>
  value.reduce((sum, n, k) => sum + n * other[k]!, 0) < 0 ? value.map((n) => -n) : value;

function product(a: readonly number[], b: readonly number[]): number[] {
  const out = new Float64Array(4);
  multiplyQuat(a, 0, b, 0, out, 0);
  return [...out];
}

/** A turn so many times, by squaring. */
function power(turn: readonly number[], times: number): number[] {
  if (times < 0) return power([-turn[0]!, -turn[1]!, -turn[2]!, turn[3]!], -times);
  if (times === 0) return [0, 0, 0, 1];
  const half = power(product(turn, turn), Math.floor(times / 2));
  return times % 2 === 1 ? product(half, turn) : half;
}

/** The twin: the value of the first lap, and what laps gain. `rest` is what offsets are on. */
function twin(property: Property, inside: number, lap: number): number[] {
  const pose = roll.createPose();
  const at = (time: number) => [...of(roll.sampleInside(time, pose), property)];
  const [first, last, value] = [at(0), at(D), at(inside)];
  if (property !== 'wheel.turn') return value.map((n, k) => n + lap * (last[k]! - first[k]!));
  const turn = product(last, [-first[0]!, -first[1]!, -first[2]!, first[3]!]);
  return product(power(turn, lap), value);
}

function expectLap(pose: { get(name: never): unknown }, inside: number, lap: number, place: string): void {
  for (const property of PROPERTIES) {
    const [ours, theirs] = [of(pose, property), twin(property, inside, lap)];
    const wanted = property === 'wheel.turn' ? near(theirs, ours) : theirs;
    ours.forEach((n, k) => {
      const most = 1e-9 * Math.max(1, Math.abs(lap) * (property === 'wheel.turn' ? 1e-4 : 1), Math.abs(wanted[k]!));
      expect(Math.abs(n - wanted[k]!), `${place}: ${property} at ${inside} in lap ${lap}`).toBeLessThan(most);
    });
  }
}

/** Seven laps a second for a month. */
const MONTH = 30 * 86_400;
const laps = fc.oneof(fc.integer({ min: -5, max: 5 }), fc.integer({ min: -MONTH / D, max: MONTH / D }));
const share = fc.double({ min: 0.001, max: 0.999, noNaN: true });

describe('a track that accumulates', () => {
  test('goes on from lap to lap without a jump, forwards and backwards, for a month', () => {
    const property = fc.property(laps, share, (lap, x) => {
      expectLap(roll.sample((lap + x) * D), (lap + x) * D - lap * D, lap, 'sampled');
      const before = roll.sample(lap * D - 1e-7);
      const after = roll.sample(lap * D + 1e-7);
      for (const name of ['wheel.rotation', 'wheel.position'])
        of(before, name).forEach((n, k) => expect(Math.abs(of(after, name)[k]! - n)).toBeLessThan(1e-3));
    });
    fc.assert(property, runs(200));
  });

  test.each([1, 33, 130, 179])('a turn of %s° is off by less than 1e-8 radians after a month of laps', (degrees) => {
    const keys = [
      { at: 0, value: quatOf([0, 0, 0]) },
      { at: D, value: quatOf([0, 0, degrees]) },
    ];
    const tracks = { 'w.turn': { kind: 'quat', accumulate: true, keys } };
    const clip = parseReel<unknown>({ unspool: 1, clips: { a: { loop: 'loop', tracks } } }).clip('a');
    for (const lap of [MONTH / D, MONTH / D - 1, -MONTH / D]) {
      const [, , z = 0, w = 0] = numbers(clip.sampleLap(0, lap, clip.createPose()).get('w.turn'));
      const half = (((degrees * lap) % 720) * Math.PI) / 360;
      expect(Math.abs(2 * Math.sin(Math.atan2(z, w) - half))).toBeLessThan(1e-8);
    }
  });

  test('is the same in players, however frames are cut, which way they go, and when they are saved', () => {
    const property = fc.property(
      fc.integer({ min: 0, max: 400 }),
      fc.constantFrom(1, -1, 0.5, -2),
      fc.constantFrom(1 / 60, 1 / 15, 0.37),
      fc.boolean(),
      (frames, rate, frame, isSaved) => {
        let player = new Player(reel);
        player.play('roll', { rate, loop: 'loop' });
        for (let i = 0; i < frames; i++) {
          if (isSaved && i === frames >> 1) {
            const saved = JSON.parse(JSON.stringify(player.save())) as never;
            player = new Player(reel);
            player.restore(saved);
          }
          player.tick(frame);
        }
        const { time, iteration } = player.playback!;
        expect(iteration * D + time).toBeCloseTo(frames * frame * rate + (rate < 0 ? D : 0), 6);
        expectLap(player.pose, time, iteration, 'player');
      },
    );
    fc.assert(property, runs(60));
  });

  test('a count of 2.5 stops in the middle of the third lap; backwards it comes back to the start', () => {
    const player = new Player(reel);
    const playback = player.play('roll', { loop: { mode: 'loop', count: 2.5 } });
    player.tick(5);
    expect(playback.active).toBe(false);
    expectLap(player.pose, D / 2, 2, 'counted');
    const back = new Player(reel);
    back.play('roll', { loop: { mode: 'loop', count: 2.5 }, rate: -1 });
    back.tick(0.1);
    expectLap(back.pose, D / 2 - 0.1, 2, 'backwards');
    back.tick(5);
    expectLap(back.pose, 0, 0, 'back at the start');
  });

  test('reversed, it undoes its way; there and back of a ping-pong cancel out', () => {
    const player = new Player(reel);
    player.play('roll');
    player.tick(5 * D + 0.1);
    player.playback!.reverse();
    player.tick(2 * D);
    expectLap(player.pose, 0.1, 3, 'reversed');
    const turning = new Player(reel);
    turning.play('roll', { loop: 'ping-pong' });
    turning.tick(7 * D + 0.1);
    expectLap(turning.pose, D - 0.1, 0, 'ping-pong');
  });

  test('under a playback that fades in, it goes on', () => {
    const [one, two] = [new Player(reel), new Player(reel)];
    for (const player of [one, two]) {
      player.play('roll');
      player.tick(1001 * D + 0.3);
    }
    one.play('still', { fade: 1 });
    one.tick(0.25);
    two.tick(0.25);
    const [left, whole] = [of(one.pose, 'wheel.position'), of(two.pose, 'wheel.position')];
    // A quarter of the way to the rest value.
    expect(left[0]).toBeCloseTo(whole[0]! * 0.75 + 10 * 0.25, 6);
  });

  test('a stretch of the clip that loops starts anew', () => {
    const player = new Player(
      parseReel({
        ...reel.document,
        clips: { roll: { ...reel.document.clips['roll']!, spans: { half: [0, '12f'] } } },
      }),
    );
    player.play('roll', { span: 'half', loop: 'loop' });
    player.tick(3 * (D / 2) + 0.05);
    expectLap(player.pose, 0.05, 0, 'stretch');
  });

  test('in a part it adds up over the laps of the part', () => {
    const trip = reel.clip('trip');
    const at = (frame: number) => trip.sample(frame / 60);
    for (const frame of [0, 10.5, 24.5, 50, 71.3, 83.9])
      expectLap(at(frame), (frame % 24) / 60, Math.floor(frame / 24), 'part');
    expectLap(at(90), 12 / 60, 3, 'after its end');
    // At half the rate and backwards: from the end of the third lap.
    for (const passed of [0.5, 20, 47.5, 48.5, 100, 143.5])
      expectLap(at(100 + passed), ((144 - passed) / 2 / 60) % D, Math.floor((144 - passed) / 48), 'backwards');
    expectLap(at(260), 0, 0, 'after both');
  });

  test.each([false, true])('crowds and compiled reels agree, fitted: %s', (isFitted) => {
    const crowd = new Crowd(reel);
    if (isFitted) crowd.prepare(['roll']);
    const clip: Clip = loadReel(compileReel(reel)).clip('roll');
    const rates = [1, -1, 0.3, 2];
    const ids = rates.map((rate) => crowd.add('roll', { rate }));
    const back = crowd.add('roll', { loop: 'ping-pong' });
    const poseOf = (id: number, property: Property) => {
      const offset = crowd.offsetOf(id, property);
      return [...crowd.values.subarray(offset, offset + SHAPE[property])];
    };
    let time = 0;
    for (const step of [0.31, 1.7, 100, 86_400]) {
      crowd.tick(step);
      time += step;
      rates.forEach((rate, i) => {
        const pose = clip.sample(time * rate + (rate < 0 ? D : 0));
        for (const property of PROPERTIES) {
          const ours = poseOf(ids[i]!, property);
          const theirs = near(of(pose, property), ours);
          ours.forEach((n, k) => expect(Math.abs(n - theirs[k]!)).toBeLessThan(1e-4 + 1e-12 * Math.abs(n)));
        }
      });
      expect(Math.abs(poseOf(back, 'wheel.position')[0]!)).toBeLessThan(60);
    }
  });
});

describe('what cannot accumulate', () => {
  test.each([
    ['tint', '#ff0000', 'color'],
    ['visible', true, 'flag'],
    ['frame', 2, 'integer'],
  ])('%s is refused', (property, value, kind) => {
    const tracks = { [`wheel.${property}`]: { accumulate: true, keys: [{ at: 0, value }] } };
    expect(() => parseReel({ unspool: 1, clips: { a: { tracks } } })).toThrow(
      `wheel.${property} is of kind ${kind}, which cannot accumulate`,
    );
  });
});
