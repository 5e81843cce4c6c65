import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { parseReel, Player, type LoopMode } from '../index.js';
import { HitWorld } from './index.js';

/**
 * Hits in random scenes, with frames from a millisecond to three seconds, against a slow twin that is written from
 * docs/reference/hits.md and docs/reference/laws.md alone: it knows where a shape is by two lines of arithmetic, goes forward by no more than
 * the shape could have come nearer, and counts activations by itself.
 */
interface Scene {
  readonly mode: LoopMode;
  readonly duration: number;
  readonly rate: number;
  readonly way: readonly [x: number, y: number];
  readonly turn: number;
  /** Where the circle lies in its role, and how large it is. */
  readonly arm: readonly [x: number, y: number];
  readonly radius: number;
  readonly body: readonly [x: number, y: number];
  readonly size: number;
}

const END = 4;
const TOUCH = 5e-8;

/** The time inside the clip after so many seconds of it, and which activation that belongs to. */
function fold({ mode, duration }: Scene, seconds: number): readonly [time: number, activation: number] {
  if (mode === 'once') return [Math.min(seconds, duration), 0];
  const pass = Math.floor(seconds / duration);
  const into = seconds - pass * duration;
  if (mode === 'loop') return [into, pass];
  return [pass % 2 === 0 ? into : duration - into, 0];
}

function gap(scene: Scene, time: number): number {
  const share = time / scene.duration;
  const angle = (scene.turn * share * Math.PI) / 180;
  const [ax, ay] = scene.arm;
  const x = scene.way[0] * share + ax * Math.cos(angle) - ay * Math.sin(angle);
  const y = scene.way[1] * share + ax * Math.sin(angle) + ay * Math.cos(angle);
  return Math.hypot(x - scene.body[0], y - scene.body[1]) - scene.radius - scene.size;
}

/** When each activation touches first; and whether anything grazes, which may be told or not. */
function expected(scene: Scene): { readonly times: number[]; readonly grazes: boolean } {
  const { duration, rate, way, turn, arm, mode } = scene;
  const speed = (Math.hypot(...way) + ((Math.abs(turn) * Math.PI) / 180) * Math.hypot(...arm)) / duration;
  const seconds = END * rate;
  const passes = mode === 'once' ? [[0, Math.min(duration, seconds)]] : Array.from({ length: Math.ceil(seconds / duration) }, (_, i) => [i * duration, Math.min((i + 1) * duration, seconds)]); // prettier-ignore
  const times: number[] = [];
  let least = Infinity;
  let done = -1;
  for (const [from, until] of passes as [number, number][]) {
    const [, activation] = fold(scene, (from + until) / 2);
    if (activation === done) continue;
    // Inside one pass the time goes straight.
    const inside = (at: number) => {
      const into = at - from;
      const isBack = mode === 'ping-pong' && Math.round(from / duration) % 2 === 1;
      return isBack ? duration - into : into;
    };
    for (let at = from; ;) {
      const apart = gap(scene, Math.min(duration, Math.max(0, inside(at))));
      least = Math.min(least, apart > TOUCH ? apart : Infinity);
      if (apart <= TOUCH) {
        times.push(at / rate);
        done = activation;
        break;
      }
      if (at >= until) break;
      at = Math.min(until, at + Math.max(apart / (speed + 1e-9), 1e-9));
    }
  }
  // What comes nearer than this without a touch is a matter of rounding.
  return { times, grazes: least < 1e-5 && grazing(scene, times) };
}

/** Whether the shape comes near without going in: then the two may differ. */
function grazing(scene: Scene, times: readonly number[]): boolean {
  const deep = (at: number) => gap(scene, fold(scene, at * scene.rate)[0]);
  return !times.every((at) => [1e-4, 1e-3].some((later) => deep(at + later) < -1e-6)) || times.length === 0;
}

const number = (low: number, high: number) => fc.integer({ min: low * 100, max: high * 100 }).map((n) => n / 100);
const scene: fc.Arbitrary<Scene> = fc.record({
  mode: fc.constantFrom<LoopMode>('once', 'loop', 'ping-pong'),
  duration: fc.constantFrom(0.15, 0.3, 0.1, 0.7, 1.3),
  rate: fc.constantFrom(1, 0.5, 2),
  way: fc.tuple(number(-20, 20), number(-20, 20)),
  turn: number(-360, 360),
  arm: fc.tuple(number(-5, 5), number(-5, 5)),
  radius: number(0.1, 2),
  body: fc.tuple(number(-15, 15), number(-15, 15)),
  size: number(0.1, 2),
});
const frames = fc.array(fc.oneof(fc.double({ min: 0.001, max: 0.1, noNaN: true }), fc.double({ min: 0.1, max: 3, noNaN: true })), { minLength: 1, maxLength: 12 }); // prettier-ignore

function found({ mode, duration, rate, way, turn, arm, radius, body, size }: Scene, cuts: readonly number[]): number[] {
  const line = (from: unknown, to: unknown) => [
    { at: 0, value: from },
    { at: duration, value: to },
  ];
  const reel = parseReel<unknown>({
    unspool: 1,
    roles: { arm: { shapes: { tip: { kind: 'circle', tag: 'hits' } } } },
    clips: {
      c: {
        ...{ duration, loop: mode },
        tracks: {
          'arm.position': line([0, 0], way),
          'arm.rotation': line(0, turn),
          'arm.tip': line({ center: arm, radius }, {}),
        },
      },
    },
  });
  const player = new Player(reel);
  const world = new HitWorld().add('arm', player).add('body', {
    shapes: { it: { shape: { kind: 'circle', center: [0, 0], radius: size }, tag: 'hurt' } },
    position: body,
  });
  player.play('c', { rate });
  const times: number[] = [];
  for (let now = 0, i = 0; now < END; i++) {
    const dt = Math.min(cuts[i % cuts.length]!, END - now);
    for (const { time, depth } of world.tick(dt)) {
      times.push(time);
      // Deep only where it overlapped when it became active.
      const [into] = fold({ mode, duration } as Scene, time * rate);
      if (depth > 1e-5) expect(Math.min(into, duration - into)).toBeLessThan(1e-6);
    }
    now += dt;
  }
  return times;
}

test('random scenes, whatever the frames', () => {
  fc.assert(
    fc.property(scene, frames, (one, cuts) => {
      const { times, grazes } = expected(one);
      if (grazes) return;
      const hits = found(one, cuts);
      // Just at the end it is a matter of rounding whether there is one more.
      const inside = (list: readonly number[]) => list.filter((at) => at < END - 1e-5);
      expect(inside(hits).length).toBe(inside(times).length);
      inside(hits).forEach((at, i) => expect(at).toBeCloseTo(times[i]!, 4));
    }),
    runs(300),
  );
});

test('a long frame over many turns of a short ping-pong ends, and finds what short frames find', () => {
  const one: Scene = {
    ...{ mode: 'ping-pong', duration: 0.15, rate: 1, way: [20, 0], turn: 90, arm: [0, 0] },
    ...{ radius: 0.5, body: [0, 5], size: 0.4 },
  };
  expect(found(one, [1.9])).toEqual([]);
  expect(found({ ...one, arm: [4, 0] }, [1.9])).toHaveLength(found({ ...one, arm: [4, 0] }, [0.01]).length);
});
