import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseReel, Player, randomNumbers } from '../index.js';
import { LookAhead } from '../play/drive/look-ahead.js';

import { makePlayer, program, run } from '../../test/programs.js';
import { randomScene } from '../../test/random-reel.js';
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

describe('what handlers see and change', () => {
  const tracks = {
    'crab.position': [
      { at: 0, value: [0, 0] as const },
      { at: 1, value: [100, 0] as const },
    ],
    'crab.shell': [{ at: 0, value: { radius: 1 } }],
  };
  const moving = parseReel({
    unspool: 1,
    roles: { crab: { shapes: { shell: { kind: 'circle', tag: 'both' } } } },
    clips: {
      walk: {
        duration: 1,
        tracks,
        cues: [{ at: 0.35, name: 'step' }],
      },
      glide: { duration: 1, tracks },
    },
  });
  const walker = (y: number, clip: 'walk' | 'glide' = 'glide') => {
    const crab = { position: { x: 0, y: 0 } };
    const player = new Player(moving, { cast: { crab } }).place({ position: [0, y] });
    player.play(clip);
    return { crab, player };
  };

  test('at a hit and at a cue, the objects of all players are where they are then', () => {
    const all = [walker(0), walker(50, 'walk'), walker(90)];
    const seen: (readonly [what: string, time: number, ...xs: number[]])[] = [];
    const see = (what: string) =>
      seen.push([what, world.time, ...all.map(({ crab }) => Number(crab.position.x.toFixed(6)))]);
    const world = new HitWorld({ pairs: [['both', 'wall']], onHit: ({ by }) => see(by.owner) });
    all.forEach(({ player }, i) => world.add(`crab ${i}`, player));
    all[1]!.player.on('cue', ({ name }) => see(name));
    const shape = { kind: 'box', center: [0, 0], size: [2, 2], angle: 0 } as const;
    world.add('wall', { shapes: { it: { shape, tag: 'wall' } }, position: [52, 0] });
    world.tick(0.2);
    world.tick(0.6);
    // The edges meet when the crab is 1 + 1 before the middle of the wall.
    expect(seen.map(([what, , ...xs]) => [what, ...xs])).toEqual([
      // Its own is written when all that happens then has been told.
      ['step', 35, 20, 35],
      ['crab 0', 50, 50, 50],
    ]);
    expect(seen.map(([, time]) => Number(time.toFixed(9)))).toEqual([0.2, 0.5]);
    expect(all.map(({ crab }) => Number(crab.position.x.toFixed(6)))).toEqual([80, 80, 80]);
  });

  test('who is added in the middle of a frame may be hit in it; who is removed, not', () => {
    const { player } = walker(0);
    const wall = (x: number): HitBody => ({
      shapes: { it: { shape: { kind: 'circle', center: [0, 0], radius: 1 }, tag: 'wall' } },
      position: [x, 0],
    });
    const met: string[] = [];
    const world = new HitWorld({
      pairs: [['both', 'wall']],
      onHit: ({ to, time }) => {
        met.push(`${to.owner} ${time.toFixed(2)}`);
        if (to.owner !== 'first') return;
        world.remove('second').add('third', wall(72)).add('behind', wall(5));
      },
    });
    world.add('crab', player).add('first', wall(32)).add('second', wall(52)).add('last', wall(92));
    world.tick(1);
    expect(met).toEqual(['first 0.30', 'third 0.70', 'last 0.90']);
  });

  test('`may` is asked again after a handler, both ways', () => {
    const met: string[] = [];
    let allowed = ['first', 'second'];
    const { player } = walker(0);
    const world = new HitWorld({
      pairs: [['both', 'wall']],
      may: (_, to) => allowed.includes(to.owner),
      onHit: ({ to }) => {
        met.push(to.owner);
        allowed = ['third'];
      },
    });
    world.add('crab', player);
    ['first', 'second', 'third'].forEach((name, i) => {
      const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
      world.add(name, { shapes: { it: { shape, tag: 'wall' } }, position: [20 + 20 * i, 0] });
    });
    world.tick(1);
    expect(met).toEqual(['first', 'third']);
  });

  test.each(['an object', 'a player'])('a cast that follows %s is swept in the frame in which that moves', (what) => {
    const still = parseReel({
      unspool: 1,
      roles: { aura: { shapes: { glow: { kind: 'circle', tag: 'both' } } } },
      clips: { shine: { duration: 9, tracks: { 'aura.glow': [{ at: 0, value: { radius: 1 } }] } } },
    });
    const hero = { position: { x: 0, y: 0 } };
    const leader = new Player(still, { name: 'leader' });
    const aura = new Player(still).follow(what === 'a player' ? leader : hero, [0, 5]);
    aura.play('shine');
    const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
    const world = new HitWorld({ pairs: [['both', 'wall']] }).add('aura', aura).add('leader', leader);
    world.add('wall', { shapes: { it: { shape, tag: 'wall' } }, position: [50, 5] });
    const hits = Array.from({ length: 8 }, (_, i) => {
      hero.position.x = 10 * i;
      leader.place({ position: [10 * i, 0] });
      return world.tick(0.1);
    }).flat();
    // It is at 10 i at the end of frame i, and touches when it is 2 before the wall.
    expect(hits.map(({ by, time }) => [by.owner, Number(time.toFixed(9))])).toEqual([['aura', 0.58]]);
    expect(aura.parts.stage.placed!.position[0]).toBe(70);
  });

  test('a body has an activation each time that it is given another one, and none while that is null', () => {
    const { player } = walker(0);
    player.playback!.pause();
    const wave: HitBody = {
      shapes: { it: { shape: { kind: 'circle', center: [0, 0], radius: 5 }, tag: 'hits' } },
      position: [0, 0],
      activation: null,
    };
    const world = new HitWorld({ pairs: [['hits', 'both']] }).add('crab', player).add('wave', wave);
    const told = (activation: HitBody['activation']) => {
      wave.activation = activation!;
      return world.tick(0.1).length;
    };
    expect([null, 1, 1, 2, null, 2, 2].map(told)).toEqual([0, 1, 0, 1, 0, 1, 0]);
    expect(world.shapes).toHaveLength(2);
    // A saved world knows which activation has hit whom.
    const state = JSON.parse(JSON.stringify(world.save())) as ReturnType<typeof world.save>;
    expect(told('x')).toBe(1);
    world.restore(state);
    expect([2, 2, 'x'].map(told)).toEqual([0, 0, 1]);
    wave.activation = null;
    expect(world.shapes).toHaveLength(1);
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

const NANOSECOND = 1.5e-9;

test('looking ahead gives what a player will show until its next moment, and bounds that hold until then', () => {
  fc.assert(
    fc.property(randomScene, program, fc.double({ min: 0, max: 1, noNaN: true }), (document, steps, share) => {
      const scene = parseReel(document);
      const player = makePlayer(scene, []);
      const { layout } = scene;
      const probe = new LookAhead(
        player.parts,
        layout,
        Int32Array.from({ length: layout.size }, (_, k) => k),
      );
      const lists = Array.from({ length: 5 }, () => new Float64Array(layout.size));
      const [values, low, high, least, most] = lists as [
        Float64Array,
        Float64Array,
        Float64Array,
        Float64Array,
        Float64Array,
      ];
      let now = 0;
      for (const { at, command } of steps) {
        player.tick(Math.max(0, at - now) / 64);
        run(player, scene, command);
        now = Math.max(now, at);
        player.tick(0);
        const horizons = player.layers.map(({ playback }) =>
          playback ? (playback.aim(), -playback.head.due) : Infinity,
        );
        const ahead = Math.min(0.2, ...horizons.map((horizon) => Math.max(0, horizon))) * share * 0.999;
        probe.update();
        // A playhead within a nanosecond of a frame is shown on it: there a jump, or what is all but vertical, may have
        // come already. So what is shown lies between what the probe says of a moment before and a moment after.
        probe.boundsInto(0, ahead + NANOSECOND, low, high);
        probe.boundsInto(Math.max(0, ahead - NANOSECOND), ahead + NANOSECOND, least, most);
        probe.sampleInto(ahead, values);
        player.tick(ahead);
        now += ahead * 64;
        for (const { kind, name, offset, width } of layout.slots) {
          if (kind === 'color' || kind === 'text' || kind === 'quat') continue;
          for (let k = offset; k < offset + width; k++) {
            const shown = player.pose.values[k]!;
            // What is written is kept in bounds; a probe says what was meant.
            if (name.endsWith('.opacity') || name.endsWith('.frame')) continue;
            for (const value of [shown, values[k]!]) {
              expect(least[k], name).toBeLessThanOrEqual(value + 1e-6);
              expect(most[k], name).toBeGreaterThanOrEqual(value - 1e-6);
            }
            expect(low[k], name).toBeLessThanOrEqual(shown + 1e-6);
            expect(high[k], name).toBeGreaterThanOrEqual(shown - 1e-6);
          }
        }
      }
    }),
    { ...runs(150), endOnFailure: true },
  );
});
