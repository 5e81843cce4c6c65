import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseReel, Player, randomNumbers } from '../index.js';
import { enough, runs } from '../../test/runs.js';
import { HitWorld, type Hit, type HitBody, type HitShape } from './index.js';

/** A crab whose claw turns by 240° in three frames of 60, and hits while it does. */
const reel = parseReel({
  unspool: 1,
  roles: {
    crab: { rest: { position: [0, 0] }, shapes: { shell: { kind: 'circle', tag: 'hurt' } } },
    claw: { parent: 'crab', shapes: { pincer: { kind: 'box', tag: 'hits', data: { damage: 1 } } } },
  },
  clips: {
    sway: {
      duration: 1,
      loop: 'loop',
      tracks: {
        'crab.position': [
          { at: 0, value: [0, 0], ease: 'sine-in-out' },
          { at: 0.5, value: [0, 4], ease: 'sine-in-out' },
          { at: 1, value: [0, 0] },
        ],
        'crab.shell': [{ at: 0, value: { radius: 10 } }],
      },
    },
    snap: {
      duration: '30f',
      tracks: {
        'claw.rotation': [
          { at: '6f', value: -120, ease: 'quad-in' },
          { at: '9f', value: 120, ease: 'back-out' },
          { at: '30f', value: 0 },
        ],
        'claw.pincer': [
          { at: '6f', value: { center: [30, 0], size: [20, 2] } },
          { at: '9f', value: null },
        ],
      },
      cues: [{ at: '12f', name: 'shut' }],
    },
    // How long a hit stops the crab.
    stop: { duration: '3f' },
    spin: {
      duration: 1,
      loop: 'loop',
      tracks: {
        'claw.rotation': [
          { at: 0, value: 0 },
          { at: 1, value: 360 },
        ],
        'claw.pincer': [
          { at: 0, value: { center: [30, 0], size: [20, 2] }, data: { damage: 2 } },
          { at: 1, value: {} },
        ],
      },
    },
  },
});
const urchin = (x: number, y: number, radius = 1): HitBody => ({
  shapes: { body: { shape: { kind: 'circle', center: [0, 0], radius } satisfies HitShape, tag: 'hurt' } },
  position: [x, y],
});
const reported = (hits: readonly Hit[]) =>
  hits.map(({ by, to, time }) => [by.owner, by.shape, to.owner, Number(time.toFixed(6))]);

describe('a hit world', () => {
  test('finds what a swing passes between two frames: owner, shape, time, place and data', () => {
    const world = new HitWorld();
    const crab = new Player(reel).place({ position: [100, 100] });
    world.add('crab', crab).add('urchin', urchin(130, 100));
    crab.play('snap');
    // One frame for all of it.
    const hits = world.tick(0.5);
    expect(hits).toHaveLength(1);
    const [hit] = hits;
    expect(hit).toMatchObject({
      by: { owner: 'crab', shape: 'claw.pincer', tag: 'hits' },
      to: { owner: 'urchin', shape: 'body', tag: 'hurt' },
      data: { damage: 1 },
    });
    // The edge of the claw, 1 above its middle, meets the urchin below: atan of the two from where the claw turns.
    const angle = -120 + 240 * ((hit!.time - 0.1) / 0.05) ** 2;
    expect(angle).toBeCloseTo((-Math.asin(2 / 30) * 180) / Math.PI, 4);
    expect(hit!.late).toBeCloseTo(0.5 - hit!.time, 12);
    expect(hit!.depth).toBeLessThan(1e-6);
    expect(world.tick(1)).toEqual([]);
  });

  test('one activation hits each target once; the next pass, and another activation, again', () => {
    const world = new HitWorld();
    const crab = new Player(reel);
    world.add('crab', crab).add('first', urchin(30, 0)).add('second', urchin(0, 30));
    crab.play('spin');
    const hits = Array.from({ length: 130 }, () => world.tick(1 / 60)).flat();
    const passes = hits.map(({ to, time, data }): unknown => [to.owner, Math.floor(time + 1e-9), data]);
    expect(passes).toEqual([
      ['first', 0, { damage: 2 }],
      ['second', 0, { damage: 2 }],
      ['first', 1, { damage: 2 }],
      ['second', 1, { damage: 2 }],
      ['first', 2, { damage: 2 }],
    ]);
  });

  test('moved bodies and casts move there evenly; a newly mirrored cast does not', () => {
    const world = new HitWorld({ pairs: [['hurt', 'hurt']] });
    const crab = new Player(reel);
    const body = urchin(-500, 0);
    world.add('crab', crab).add('urchin', body);
    crab.play('sway', { rate: 0 });
    world.tick(0);
    body.position = [500, 0];
    // Both may hit: each is told of the other.
    expect(reported(world.tick(1))).toEqual([
      ['crab', 'crab.shell', 'urchin', 0.489],
      ['urchin', 'body', 'crab', 0.489],
    ]);
  });

  test('what a hit brings about has the rest of the frame: a stop by rate', () => {
    const crab = new Player(reel);
    const hits: Hit[] = [];
    const world = new HitWorld({
      onHit: (hit) => {
        hits.push(hit);
        crab.playback!.rate = 0;
      },
    });
    world.add('crab', crab).add('first', urchin(30, 0)).add('second', urchin(0, 30));
    crab.play('snap');
    world.tick(0.5);
    expect(hits.map(({ to }) => to.owner)).toEqual(['first']);
    expect(crab.playback!.time).toBeCloseTo(hits[0]!.time, 9);
  });

  test('a handler that throws stops nothing; a first placement is not a movement', () => {
    const [crab, other] = [new Player(reel), new Player(reel)];
    const hits: Hit[] = [];
    const world = new HitWorld({
      onHit: (hit) => {
        hits.push(hit);
        throw new Error('ouch');
      },
    });
    world.add('crab', crab).add('other', other).add('far', urchin(400, 0)).add('near', urchin(530, 0));
    // Not through the far urchin, on its way from where it was made.
    crab.place({ position: [500, 0] });
    crab.play('snap');
    other.play('sway');
    expect(() => world.tick(0.3)).toThrow('ouch');
    expect(hits.map(({ to }) => to.owner)).toEqual(['near']);
    expect([crab.time, other.time].map((time) => Number(time.toFixed(9)))).toEqual([0.3, 0.3]);
  });

  test('a shape that a fade brings in hits when its clip becomes the heavier, at any frame rate', () => {
    const still = { duration: 0.4, tracks: { 'claw.glow': [{ at: 0, value: 0 }] } };
    const shape = { duration: 1, tracks: { 'claw.pincer': [{ at: 0, value: { radius: 4 } }] } };
    const faded = (fade: number) =>
      parseReel({
        unspool: 1,
        roles: { claw: { shapes: { pincer: { kind: 'circle', tag: 'hits' } } } },
        clips: { still, shape },
        chains: { both: ['still', { clip: 'shape', fade }] },
      });
    const hitTimes = (fade: number, weight: number, frames: Iterable<number>) => {
      const crab = new Player(faded(fade));
      crab.layer('top', { weight });
      crab.play('both', { layer: 'top' });
      const world = new HitWorld().add('crab', crab).add('urchin', urchin(0, 0));
      return [...frames].flatMap((dt) => world.tick(dt)).map(({ time }) => time);
    };
    expect(hitTimes(0.2, 0.8, [0.3, 0.15, 0.5])[0]).toBeCloseTo(0.525, 10);
    expect(hitTimes(0.2, 1, [1])[0]).toBeCloseTo(0.5, 10);
    expect(hitTimes(0.2, 0.4, [1])).toEqual([]);
    const share = fc.integer({ min: 0, max: 40 }).map((n) => n / 100);
    const frame = fc.integer({ min: 1, max: 300 }).map((n) => n / 1000);
    fc.assert(
      fc.property(share, share, fc.array(frame, { minLength: 8, maxLength: 40 }), (fade, less, frames) => {
        const whole = frames.reduce((sum, dt) => sum + dt, 0);
        const fine = Array.from({ length: Math.ceil(whole * 100) }, () => 0.01);
        const [times, reference] = [hitTimes(fade, 1 - less, frames), hitTimes(fade, 1 - less, fine)];
        if (whole < 1) return;
        expect(times).toEqual(reference.map((time) => expect.closeTo(time, 9) as number));
      }),
      runs(60),
    );
  });

  test('a shape that is the heavier for some milliseconds of a long frame hits, as in short ones', () => {
    const at = (x: number) => ({
      duration: 9,
      tracks: { 'claw.pincer': [{ at: 0, value: { center: [x, 0], radius: 1 } }] },
    });
    const both = parseReel({
      unspool: 1,
      roles: { claw: { shapes: { pincer: { kind: 'circle', tag: 'hits' } } } },
      clips: { far: at(-100), near: at(0) },
    });
    const hits = (fadeOut: number, frames: number[]) => {
      const crab = new Player(both);
      const world = new HitWorld().add('crab', crab).add('urchin', urchin(0, 0));
      crab.play('far');
      world.tick(0.1);
      crab.play('near', { fade: 0.01, layer: 'top' }).stop({ fade: fadeOut });
      return frames.flatMap((dt) => world.tick(dt)).map(({ time }) => time - 0.1);
    };
    // It fades in by 100 t, and out at once by 1 − t / fadeOut: it is the heavier from when their product is a half.
    for (const fadeOut of [0.0201, 0.021, 0.03, 0.04, 0.1, 1]) {
      const [a, b] = [100 / fadeOut, 100];
      const root = (b - Math.sqrt(b * b - 2 * a)) / (2 * a);
      const expected = [expect.closeTo(root, 9) as number];
      expect(hits(fadeOut, [4]), `out in ${fadeOut} s`).toEqual(expected);
      expect(hits(fadeOut, Array<number>(90).fill(1 / 30)), `out in ${fadeOut} s`).toEqual(expected);
    }
    expect([hits(0.0199, [4]), hits(0.015, [4])]).toEqual([[], []]);
  });

  test('a shape that a fade takes away hits nothing where the other clip has left its numbers', () => {
    const tracks = (x: number) => ({
      'claw.position': [{ at: 0, value: [x, 0] }],
      'claw.pincer': [{ at: 0, value: { center: [50, 0], radius: 1 } }],
    });
    const fading = parseReel<unknown>({
      unspool: 1,
      roles: { claw: { shapes: { pincer: { kind: 'circle', tag: 'hits' } } } },
      clips: {
        on: { duration: 9, tracks: tracks(0) },
        off: {
          duration: 9,
          tracks: {
            'claw.pincer': [
              { at: 0, value: { radius: 1 } },
              { at: 0.01, value: null },
            ],
          },
        },
      },
    });
    // Half of the fade is over within a frame, or just at its end.
    for (const dt of [0.1, 0.05, 0.03, 1 / 60, 0.2]) {
      const crab = new Player(fading);
      const world = new HitWorld().add('crab', crab).add('urchin', urchin(0, 0));
      crab.play('on');
      world.tick(0.1);
      crab.play('off', { fade: 0.2 });
      expect(Array.from({ length: 12 }, () => world.tick(dt)).flat(), `frames of ${dt} s`).toEqual([]);
    }
  });

  test('players hit each other, by the shapes that they show; one that hides them is not hit', () => {
    const [first, second] = [new Player(reel), new Player(reel).place({ position: [30, 30], scale: 0.5 })];
    const world = new HitWorld();
    world.add('first', first).add('second', second);
    first.play('snap');
    second.play('sway');
    const hits = world.tick(0.5);
    expect(reported(hits).map(([by, , to]) => [by, to])).toEqual([['first', 'second']]);
    expect(hits[0]!.to.shape).toBe('crab.shell');
    second.stop({ after: 'rest' });
    first.play('snap');
    expect(world.tick(0.5)).toEqual([]);
  });

  test('the turn of a ping-pong keeps an activation; the way back starts the next', () => {
    const world = new HitWorld();
    const crab = new Player(reel);
    world.add('crab', crab).add('urchin', urchin(30, 0));
    // There and back twice: the claw passes the urchin at the start and end of each way.
    crab.play('spin', { loop: { mode: 'ping-pong', count: 4 } });
    const times = Array.from({ length: 250 }, () => world.tick(1 / 60)).flat();
    expect(times.map(({ time }) => Number(time.toFixed(2)))).toEqual([0]);
  });

  test('a gauge moves a shape as any playhead does', () => {
    const world = new HitWorld();
    const crab = new Player(reel);
    const arm = crab.gauge('arm', { clip: 'spin', speed: 1 });
    world.add('crab', crab).add('urchin', urchin(0, 30)).add('other', urchin(-30, 0));
    arm.value = 0.4;
    const hits = Array.from({ length: 60 }, () => world.tick(1 / 60)).flat();
    expect(reported(hits).map(([, shape, to]) => [shape, to])).toEqual([['claw.pincer', 'urchin']]);
    // A quarter of the way round, less what the claw and the urchin are wide.
    expect(hits[0]!.time).toBeCloseTo(0.25 - Math.asin(2 / 30) / (2 * Math.PI), 3);
  });

  test('`may` excludes hits; invalid calls are refused', () => {
    const crab = new Player(reel);
    const world = new HitWorld({ may: (_, to) => to.owner !== 'friend', onHit: () => world.tick(0.1) });
    world.add('crab', crab).add('friend', urchin(30, 0));
    crab.play('snap');
    expect(world.tick(0.5)).toEqual([]);
    expect(() => world.add('crab', crab)).toThrow('"crab" already exists');
    expect(() => world.tick(-1)).toThrow('finite number');
    crab.play('snap');
    world.add('foe', urchin(30, 0));
    expect(() => world.tick(0.5)).toThrow('inside a hit handler');
    world.remove('foe');
    expect(world.tick(0.5)).toEqual([]);
  });
});

/** A match: three crabs that snap, stop for a moment when they hit, and drift; urchins by the dozen that go their ways. */
function match(frames: () => number): unknown[] {
  const random = randomNumbers(7);
  const crabs = Array.from({ length: 3 }, (_, i) => new Player(reel, { name: `crab ${i}` }));
  const world = new HitWorld({
    onHit: ({ by }) => {
      const crab = crabs[Number(by.owner.at(-1))]!;
      crab.playback!.rate = 0.1;
      crab.play('stop', { layer: 'stop' });
    },
  });
  for (const crab of crabs) {
    crab.on('end', ({ clip }) => {
      if (clip === 'stop') crab.playback!.rate = 1;
    });
  }
  const urchins = Array.from({ length: 120 }, () => {
    const [x, y, vx, vy] = Array.from({ length: 4 }, () => (random() - 0.5) * 160) as [number, number, number, number];
    return { x, y, vx, vy, body: urchin(x, y, 1 + random() * 3) };
  });
  crabs.forEach((crab, i) => world.add(crab.name, crab.place({ position: [i * 60 - 60, 0], flip: i === 1 })));
  urchins.forEach(({ body }, i) => world.add(`urchin ${i}`, body));
  const hits: unknown[] = [];
  const commands = Array.from({ length: 12 }, (_, i) => ({ at: 0.11 + i * 0.17, crab: i % 3 }));
  let [now, next] = [0, 0];
  const go = (to: number) => {
    for (let i = 0; i < 3; i++) crabs[i]!.place({ position: [i * 60 - 60, 20 * to] });
    for (const { x, y, vx, vy, body } of urchins) body.position = [x + vx * to, y + vy * to];
    for (const hit of world.tick(to - now)) hits.push(hit);
    now = to;
  };
  while (now < 2.2) {
    const end = Math.min(2.2, now + frames());
    const stop = Math.min(end, commands[next]?.at ?? Infinity);
    go(stop);
    if (stop === commands[next]?.at) crabs[commands[next++]!.crab]!.play('snap');
  }
  return reported(hits as Hit[]);
}

test('the same hits at 15, 30, 60, 144 and jittered frames a second', () => {
  const sixty = match(() => 1 / 60);
  expect(sixty.length).toBeGreaterThan(enough(15));
  for (const fps of [15, 30, 144]) expect(match(() => 1 / fps)).toEqual(sixty);
  for (const seed of [1, 2]) {
    const random = randomNumbers(seed);
    expect(match(() => random() * 0.08)).toEqual(sixty);
  }
});
