import { describe, expect, test } from 'vitest';
import { isFast, runs } from '../../../test/runs.js';
import { Crowd, parseReel, Player, type EventType, type PlayOptions } from '../../index.js';
import { HitWorld } from '../../hit/index.js';

/** What plays when, and what is reported of it: docs/reference/player.md, docs/reference/laws.md. */
const line = (from: number, to: number, end = 1) => [
  { at: 0, value: from },
  { at: end, value: to },
];
const reel = parseReel<unknown>({
  unspool: 1,
  clips: {
    walk: { loop: 'loop', tracks: { 'hero.x': line(0, 10) } },
    hop: { duration: 0.5, tracks: { 'hero.y': line(0, 1, 0.5) } },
    attack: { duration: 0.25, tracks: { 'hero.z': line(0, 1, 0.25) } },
    idle: { duration: 1, loop: 'loop', tracks: { 'hero.x': line(3, 3) } },
    still: { loop: 'loop', tracks: { 'hero.x': [{ at: 0, value: 5 }] } },
    swing: { loop: 'ping-pong', tracks: { 'hero.x': line(0, 10) } },
    fast: { duration: 2, rate: 2, tracks: { 'hero.x': line(0, 10, 2) } },
    cued: {
      duration: 1,
      cues: [
        { at: 0.2, until: 0.8, name: 'in' },
        { at: 0, name: 'start' },
      ],
    },
    both: {
      duration: 1,
      cues: [
        { at: 0, until: 1, name: 'all' },
        { at: 1, name: 'last' },
      ],
    },
  },
});
const TYPES: readonly EventType[] = ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'];
const heard = (player: Player) => {
  const all: string[] = [];
  for (const type of TYPES)
    player.on(type, (event) => {
      const { clip, name = clip, time } = event as { clip: string; name?: string; time: number };
      all.push(`${type} ${name} ${Number(time.toFixed(9))}`);
    });
  return all;
};

test('one interruption over another goes back to each in turn, from where it was', () => {
  const player = new Player(reel);
  player.play('walk');
  player.tick(0.3);
  player.play('hop', { back: true });
  player.tick(0.2);
  player.play('attack', { back: true });
  player.tick(0.1);
  expect(player.queue.map(({ clip }) => clip.name)).toEqual(['hop', 'walk']);
  player.tick(0.25);
  expect([player.playback!.clip.name, player.playback!.time]).toEqual(['hop', 0.3]);
  player.tick(0.3);
  expect(player.playback!.clip.name).toBe('walk');
  expect(player.playback!.time).toBeCloseTo(0.4, 9);
});

describe('a playback that is replaced', () => {
  test('has replacedBy; what its stop handler plays there is stopped before it begins', () => {
    const player = new Player(reel);
    const by: unknown[] = [];
    const made: string[] = [];
    player.on('stop', ({ replacedBy }) => {
      by.push(replacedBy?.clip.name);
      const idle = player.play('idle');
      made.push(`${idle.clip.name} ${String(idle.active)}`);
    });
    player.play('walk');
    player.tick(0.1);
    player.play('attack');
    player.tick(0.1);
    expect([player.playback!.clip.name, by, made]).toEqual(['attack', ['attack'], ['idle false']]);
    player.stop();
    expect(by).toEqual(['attack', undefined]);
    expect(player.playback!.clip.name).toBe('idle');
  });

  test('handlers that call each other without end are found', () => {
    const player = new Player(reel);
    player.play('cued');
    player.tick(0.3);
    player.on('cue', ({ playback }) => {
      playback.seek(0.5);
      playback.seek(0, { cues: true });
    });
    expect(() => player.playback!.seek(0, { cues: true })).toThrow('event handlers are nested');
    expect(() => player.tick(0.1)).not.toThrow();
  });
});

describe('gauges', () => {
  test('a bigger maximum keeps the value or the share, a motion and its trail with it', () => {
    const player = new Player(reel);
    const air = player.gauge('air', {
      clip: 'walk',
      max: 2900,
      value: 2900,
      speed: 100,
      trail: { clip: 'hop', delay: 1, speed: 50 },
    });
    air.value = 2351;
    player.tick(2);
    expect([air.shown, air.trail]).toEqual([2700, 2850]);
    air.resize({ max: 4560 });
    expect([air.value, air.shown, air.trail].map(Math.round)).toEqual([2351, 2700, 2850]);
    player.tick(2);
    expect([air.shown, air.trail].map(Math.round)).toEqual([2500, 2750]);
    air.resize({ max: 9120, keep: 'share' });
    expect([air.value, air.shown].map(Math.round)).toEqual([4702, 5000]);
  });

  test('a removed one releases what it showed', () => {
    const hero = { x: 0, y: 0 };
    const player = new Player(reel, { cast: { hero } });
    const gauge = player.gauge('g', { clip: 'walk', value: 0.5 });
    player.tick(0);
    gauge.remove();
    player.tick(0);
    hero.x = 77;
    player.tick(1);
    expect(hero.x).toBe(77);
    expect(() => player.gauge('g')).toThrow('unknown gauge');
  });
});

describe('following', () => {
  test('survives an idle moment of its source; ends with a playback, while, signal, or disposal', () => {
    const owner = new Player(reel, { cast: { hero: { position: { x: 1, y: 2 } } } });
    const make = (...more: unknown[]) => {
      const overlay = new Player(reel);
      overlay.play('idle');
      overlay.follow(...(more as Parameters<Player['follow']>));
      overlay.tick(0);
      return overlay;
    };
    const hop = owner.play('hop');
    owner.tick(0.1);
    let goesOn = true;
    const leaving = new AbortController();
    const [always, named, request, emitted] = [
      make(owner),
      make(hop),
      make({ position: { x: 0, y: 0 } }, [0, 0], { while: () => goesOn }),
      make({ position: { x: 0, y: 0 } }, [0, 0], { signal: leaving.signal }),
    ] as const;
    const plays = () =>
      [always, named, request, emitted].map((overlay) => {
        overlay.tick(0.1);
        return overlay.isPlaying;
      });
    expect(plays()).toEqual([true, true, true, true]);
    owner.tick(1); // the hop is over: nothing plays there
    expect(plays()).toEqual([true, false, true, true]);
    goesOn = false;
    expect(plays()).toEqual([true, false, false, true]);
    leaving.abort();
    expect(plays()).toEqual([true, false, false, false]);
    owner.dispose();
    expect(plays()).toEqual([false, false, false, false]);
  });
});

describe('time', () => {
  test.each<PlayOptions>([{ vary: { offset: 1 } }, { vary: { offset: 1 }, rate: -1, loop: 'once' }])(
    'an offset that varies, of a clip of one pose: %j',
    (options) => {
      const player = new Player(reel);
      player.play('still', options);
      player.tick(0.1);
      expect(player.pose.get('hero.x')).toBe(5);
    },
  );

  test('backwards it starts that much earlier, and does not end at once', () => {
    const player = new Player(reel);
    const playback = player.play('hop', { vary: { offset: 0.5, seed: 4 }, rate: -1 });
    expect(playback.time).toBeGreaterThan(0.2);
    player.tick(0.1);
    expect(playback.active).toBe(true);
  });

  test('an endless ping-pong that runs back continues with the next after a whole round', () => {
    const player = new Player(reel);
    player.play('swing', { rate: -1 });
    player.enqueue('hop', { wait: 'loop' });
    player.tick(1.5);
    expect(player.playback!.clip.name).toBe('swing');
    player.tick(0.6);
    expect(player.playback!.clip.name).toBe('hop');
  });

  test('one that is paused as it begins reports its beginning first', () => {
    const player = new Player(reel);
    const all = heard(player);
    player.play('cued').pause();
    player.play('attack', { layer: 'top' });
    player.tick(0.5);
    expect(all).toEqual(['cue start 0', 'end attack 0.25']);
    expect(player.playback!.time).toBe(0);
  });

  test.skipIf(isFast)('days of half seconds, at night thirty, report the time that they are', () => {
    const player = new Player(reel);
    const late: number[] = [];
    let last = 0;
    player.on('loop', (event) => {
      last = event.time;
      late.push(event.time + event.late - player.time - event.late);
    });
    player.play('walk', { rate: 0.7 });
    const frames = Math.min(30, runs(3).numRuns) * 24 * 3600 * 2;
    for (let i = 0; i < frames; i++) player.tick(0.5);
    expect(Math.abs(last * 0.7 - Math.round(last * 0.7))).toBeLessThan(1e-9 * last);
    expect(Math.max(...late.slice(-50).map(Math.abs))).toBe(0);
  });

  test('time and lateness come to the player’s time after the frame', () => {
    const player = new Player(reel);
    const seen: { time: number; late: number }[] = [];
    player.on('loop', ({ time, late }) => seen.push({ time, late }));
    player.play('walk', { rate: 1.3 });
    for (let i = 1; i <= 400; i++) {
      player.tick(i / 97);
      for (const { time, late } of seen.splice(0))
        expect(Math.abs(time + late - player.time)).toBeLessThan(1e-12 * (1 + time));
    }
  });

  test('a rate is relative to the clip’s own, however it is given', () => {
    const player = new Player(reel);
    const playback = player.play('fast');
    expect(playback.rate).toBe(1);
    player.tick(0.5);
    expect(playback.time).toBe(1);
    playback.rate = 1;
    player.tick(0.25);
    expect(playback.time).toBe(1.5);
    playback.rate = 0.5;
    player.tick(0.25);
    expect(playback.time).toBe(1.75);
  });
});

describe('the order at one time: interval starts, cues, interval ends', () => {
  test('at the end of a clip, of players and crowds', () => {
    const player = new Player(reel);
    const all = heard(player);
    player.play('both');
    player.tick(1);
    expect(all).toEqual(['cue-start all 0', 'cue last 1', 'cue-end all 1', 'end both 1']);
    const crowd = new Crowd(reel);
    crowd.add('both');
    crowd.tick(1);
    expect([...crowd.cues].map(({ type, name }) => `${type} ${name}`)).toEqual([
      'cue-start all',
      'cue last',
      'cue-end all',
    ]);
  });

  test('a turn inside an interval that a seek has entered starts nothing', () => {
    const player = new Player(reel);
    const playback = player.play('cued');
    player.tick(0);
    const all = heard(player);
    playback.seek(0.5);
    player.tick(0.05);
    playback.reverse();
    player.tick(0.6);
    expect(all).toEqual(['cue start 0.6', 'end cued 0.6']);
  });
});

test('hits are saved with the players that they belong to: none is hit again after a restore or a rollback', () => {
  const swing = parseReel<unknown>({
    unspool: 1,
    roles: { arm: { shapes: { tip: { kind: 'circle', tag: 'hits' } } } },
    clips: {
      swing: {
        tracks: {
          'arm.position.x': line(0, 40),
          'arm.tip': [
            { at: 0, value: { radius: 1 } },
            { at: 1, value: {} },
          ],
        },
      },
    },
  });
  const scene = () => {
    const player = new Player(swing);
    const world = new HitWorld().add('arm', player);
    for (const x of [10, 20, 30])
      world.add(`urchin ${x}`, {
        shapes: { body: { shape: { kind: 'circle', center: [0, 0], radius: 1 }, tag: 'hurt' } },
        position: [x, 0],
      });
    return { player, world };
  };
  const names = (hits: readonly { to: { owner: string } }[]) => hits.map(({ to }) => to.owner);
  const { player, world } = scene();
  player.play('swing');
  expect(names(world.tick(0.3))).toEqual(['urchin 10']);
  const [state, mine] = [JSON.stringify(player.save()), JSON.stringify(world.save())];
  expect(names(world.tick(0.3))).toEqual(['urchin 20']);
  // Back to the first, within one world: the first is not hit again, the second is.
  player.restore(JSON.parse(state) as never);
  world.restore(JSON.parse(mine) as never);
  expect(world.time).toBe(0.3);
  expect(names(world.tick(0.3))).toEqual(['urchin 20']);
  // In another process, whichever is there first.
  const other = scene();
  other.player.restore(JSON.parse(state) as never);
  expect(names(other.world.tick(0.7))).toEqual(['urchin 20', 'urchin 30']);
  const late = new Player(swing);
  late.restore(JSON.parse(state) as never);
  const after = new HitWorld().add('arm', late).add('urchin 10', {
    shapes: { body: { shape: { kind: 'circle', center: [0, 0], radius: 1 }, tag: 'hurt' } },
    position: [12, 0],
  });
  expect(names(after.tick(0.7))).toEqual([]);
  expect(() => after.restore({ time: NaN, places: [], bodies: [] })).toThrow('is not a saved state');
});

test('a rollback moves nothing through what lies between', () => {
  const swing = parseReel<unknown>({
    unspool: 1,
    roles: { arm: { shapes: { tip: { kind: 'circle', tag: 'hits' } } } },
    clips: {
      on: {
        loop: 'loop',
        duration: 10,
        tracks: {
          'arm.tip': [
            { at: 0, value: { radius: 1 } },
            { at: 10, value: {} },
          ],
        },
      },
    },
  });
  const player = new Player(swing);
  const body = (x: number) => ({
    shapes: { body: { shape: { kind: 'circle' as const, center: [0, 0] as const, radius: 1 }, tag: 'hurt' } },
    position: [x, 0] as [number, number],
  });
  const ball = body(100);
  const world = new HitWorld().add('arm', player).add('wall', body(50)).add('ball', ball);
  player.play('on');
  world.tick(0.1);
  const [state, mine] = [player.save(), world.save()];
  player.place({ position: [40, 0] });
  ball.position = [200, 0];
  world.tick(0.1);
  player.place({ position: [90, 0] });
  expect(world.tick(0.1).map(({ to }) => to.owner)).toEqual(['wall']);
  player.restore(state);
  world.restore(mine);
  ball.position = [100, 0];
  expect(world.tick(0.1)).toEqual([]);
  player.place({ position: [97.5, 0] });
  ball.position = [99, 0];
  expect(world.tick(0.1).map(({ to }) => to.owner)).toEqual(['wall', 'ball']);
});
