import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { easing, parseReel, Player } from '../../index.js';

const bar = (role: string) => ({
  duration: 2,
  spans: { second: [1, 2] },
  tracks: { [`${role}.scale.x`]: [{ at: 0, value: 0 }, { at: 2, value: 2 }] }, // prettier-ignore
  cues: [{ at: 1, name: 'half' }],
});
const walk = (to: number, duration = 1) => ({
  duration,
  loop: 'loop',
  tracks: { 'crab.step': [{ at: 0, value: 0 }, { at: duration, value: to }] }, // prettier-ignore
  cues: [{ at: duration / 2, name: 'foot' }],
});
const reel = parseReel<unknown>({
  unspool: 1,
  roles: { crab: {}, claw: { parent: 'crab' }, air: {}, lost: {} },
  clips: {
    air: bar('air'),
    lost: bar('lost'),
    right: walk(10),
    down: walk(20, 2),
    up: walk(30),
    idle: { ...walk(1), loop: 'once' },
    turn: { duration: 1, tracks: { 'crab.rotation': [{ at: 0, value: 30 }], 'crab.position': [{ at: 0, value: [4, 2] }], 'claw.rotation': [{ at: 0, value: 5 }] } }, // prettier-ignore
    spin: { duration: 1, loop: 'loop', tracks: { 'claw.rotation': [{ at: 0, value: 0 }, { at: 1, value: 360 }] } }, // prettier-ignore
  },
  facings: {
    walk: { right: 'right', left: { mirror: 'right' }, down: 'down', up: 'up' },
    idle: { right: 'idle', left: { mirror: 'right' } },
    aim: [{ toward: [3, 4], clip: 'right' }, { toward: [-2, 0], clip: 'up' }], // prettier-ignore
  },
});
const shown = (player: Player, name = 'air.scale') => (player.pose.get(name) as number[])[0];

describe('a gauge', () => {
  const make = (options: object = {}) => {
    const player = new Player(reel);
    const gauge = player.gauge('air', { clip: 'air', max: 100, value: 80, ...options });
    return { player, gauge };
  };

  test('moves to its value at a speed, and arrives at the same time at any frame rate', () => {
    for (const frames of [[1], [0.1, 0.5, 0.4], Array.from({ length: 64 }, () => 1 / 64)]) {
      const { player, gauge } = make({ speed: 60 });
      const emitted: unknown[] = [];
      player.on('arrive', ({ name, value, time }) => emitted.push([name, value, time]));
      player.tick(0.5);
      expect([shown(player), gauge.shown, gauge.value]).toEqual([1.6, 80, 80]);
      gauge.value = 50;
      for (const dt of frames) player.tick(dt);
      expect(shown(player)).toBe(1);
      expect(emitted).toEqual([['air', 50, 1]]);
      expect([gauge.value, gauge.shown]).toEqual([50, 50]);
    }
  });

  test('takes a duration with an easing; a new value on the way continues from what is shown', () => {
    const { player, gauge } = make({ time: '1s', ease: easing('quad-in'), span: 'second' });
    gauge.value = 0;
    player.tick(0.5);
    expect(gauge.shown).toBeCloseTo(60, 12);
    expect(shown(player)).toBeCloseTo(1.6, 12);
    gauge.value = 100;
    player.tick(0);
    expect(gauge.shown).toBeCloseTo(60, 12);
    player.tick(1);
    expect(gauge.shown).toBe(100);
    gauge.jump(10);
    player.tick(0);
    expect([gauge.shown, shown(player)]).toEqual([10, 1.1]);
  });

  test('keeps its value or its share when its range changes', () => {
    const { player, gauge } = make();
    gauge.resize({ max: 150, keep: 'share' });
    player.tick(0);
    expect([gauge.value, shown(player)]).toEqual([120, 1.6]);
    gauge.value = 1e9;
    expect(gauge.value).toBe(150);
    expect(() => gauge.resize({ max: 0 })).toThrow('max greater than min');
    expect(() => (gauge.value = NaN)).toThrow('the value NaN');
    expect(gauge.max).toBe(150);
    gauge.jump(90);
    gauge.resize({ max: 300 });
    player.tick(0);
    expect([gauge.value, gauge.shown, shown(player)]).toEqual([90, 90, 0.6]);
  });

  test('its trail waits, then comes after; it is never behind', () => {
    const { player, gauge } = make({ speed: 100, trail: { clip: 'lost', delay: 0.5, speed: 50 } });
    gauge.value = 40;
    player.tick(0.4);
    expect([gauge.shown, gauge.trail]).toEqual([40, 80]);
    player.tick(0.3);
    expect(gauge.trail).toBeCloseTo(70, 9);
    expect(shown(player, 'lost.scale')).toBeCloseTo(1.4, 9);
    gauge.value = 90; // the bar overtakes
    player.tick(0.5);
    expect([gauge.shown, gauge.trail]).toEqual([90, 90]);
    player.tick(3);
    expect(gauge.trail).toBe(90);
  });

  test('exists once per name, and fires no cue of its clip', () => {
    const { player, gauge } = make({ speed: 100 });
    player.on('cue', () => expect.unreachable());
    gauge.value = 0;
    player.tick(2);
    expect(player.gauge('air')).toBe(gauge);
    expect(() => player.gauge('iar')).toThrow('Did you mean "air"?');
    expect(() => player.gauge('air', { clip: 'air' })).toThrow('already');
  });
});

describe('a facing', () => {
  test('plays the clip of the nearest side, keeps its phase and does not flicker on a diagonal', () => {
    const player = new Player(reel);
    const feet: number[] = [];
    player.on('cue', ({ time }) => feet.push(Number(time.toFixed(9))));
    const at = (x: number, y: number) => player.face('walk', [x, y]).clip.name;
    expect(at(5, 0)).toBe('right');
    player.tick(1.25);
    for (const y of [0.9, 1.1, 1.05, 0.95]) expect(at(1, y)).toBe('right');
    expect(at(1, 2)).toBe('down');
    expect([player.playback!.time, player.playback!.iteration]).toEqual([0.5, 1]); // a quarter of its step
    for (const y of [0.9, 1.1]) expect(at(1, y)).toBe('down');
    player.tick(0.5);
    expect(at(0, -1)).toBe('up'); // on the very moment of a foot: told once
    player.tick(0.1);
    expect(feet).toEqual([0.5, 1.75]);
    expect(at(0, 0)).toBe('up');
  });

  test('mirrors, and stops facing where it ran', () => {
    const crab: { scale?: { x: number }; step?: number } = {};
    const player = new Player(reel, { cast: { crab } });
    player.face('walk', [1, 0]);
    player.tick(0.1);
    expect(crab.scale).toBeUndefined();
    player.face('walk', [-1, 0.1], { rate: 2 });
    player.tick(0.1);
    expect([crab.scale!.x, crab.step]).toEqual([-1, 3]);
    expect(player.face('walk', [-1, 0]).rate).toBe(2);
    player.face('idle', [0, 0]);
    player.tick(0.1);
    expect([player.playback!.clip.name, crab.scale!.x]).toEqual(['idle', -1]);
    player.face('idle', [1, 0]);
    player.tick(0.1);
    expect(crab.scale!.x).toBe(1);
  });

  test('continues into a side with a count, and plays it to its end', () => {
    const modes = fc.constantFrom('loop' as const, 'ping-pong' as const);
    fc.assert(
      fc.property(
        modes,
        modes,
        fc.constantFrom(0.5, 1, 1.5, 2, 3),
        fc.constantFrom(1, -1, 0.5),
        fc.double({ min: 0, max: 9, noNaN: true }),
        (mode, counted, count, rate, before) => {
          const player = new Player(reel);
          player.face('walk', [1, 0], { loop: mode, rate });
          player.tick(before);
          const step = player.face('walk', [0, 1], { loop: { mode: counted, count }, rate });
          for (let time = 0; time < (2 * Math.ceil(count)) / Math.abs(rate) + 0.1; time += 0.1) {
            const { time: last } = step;
            player.tick(0.1);
            // There and back it never jumps.
            if (counted === 'ping-pong') expect(Math.abs(step.time - last)).toBeLessThan(0.1 * Math.abs(rate) + 1e-9);
            expect(step.time).toBeGreaterThanOrEqual(0);
            expect(step.time).toBeLessThanOrEqual(2);
            expect(player.pose.get('crab.step')).toBeCloseTo(step.time * 10, 9);
          }
          expect(step.active).toBe(false);
        },
      ),
      runs(200),
    );
  });

  test('has sides of any direction; an invalid name or direction is reported', () => {
    const player = new Player(reel);
    expect(player.face('aim', [0, 1]).clip.name).toBe('right');
    expect(player.face('aim', [-1, -1], { margin: 0 }).clip.name).toBe('up');
    expect(() => player.face('wlak', [1, 0])).toThrow('no facing "wlak". Did you mean "walk"?');
    expect(() => player.face('walk', [NaN, 0])).toThrow('is not a direction');
  });
});

describe('placing', () => {
  test('moves, turns, scales and mirrors what has no parent, after its own', () => {
    const [crab, claw] = [{}, {}];
    const player = new Player(reel, { cast: { crab, claw } });
    player.play('turn');
    player.place({ position: [100, 50], rotation: 90, scale: 2 });
    player.tick(0);
    expect(crab).toEqual({ position: { x: 96, y: 58 }, rotation: 120, scale: { x: 2, y: 2 } });
    expect(claw).toEqual({ rotation: 5 });
    player.place({ rotation: 0, flip: true });
    player.tick(0);
    expect(crab).toEqual({ position: { x: 92, y: 54 }, rotation: -30, scale: { x: -2, y: 2 } });
    expect(player.pose.get('crab.rotation')).toBe(30); // the pose stays the reel's
    expect(() => player.place({ position: [NaN, 0] })).toThrow('is not a valid position');
    expect(() => player.place({ postion: [0, 0] } as never)).toThrow('is not a valid postion');
  });

  test('what follows stays above, and ends with what it follows', () => {
    const [crab, sparkle] = [{} as { position: object }, { position: { x: 0, y: 0 } }];
    const owner = new Player(reel, { cast: { crab } });
    const overlay = new Player(reel, { cast: { crab: sparkle } });
    const stops: number[] = [];
    overlay.on('stop', ({ time }) => stops.push(time));
    const playback = owner.play('right', { loop: 'once' });
    overlay.play('spin');
    overlay.follow(playback, [0, -8]);
    for (let i = 1; i <= 3; i++) {
      owner.place({ position: [i * 10, 5] });
      owner.tick(0.25);
      overlay.tick(0.25);
      expect(sparkle.position).toEqual({ x: i * 10, y: -3 });
    }
    owner.tick(0.25);
    expect(playback.active).toBe(false);
    overlay.tick(0.25);
    expect([stops, overlay.isPlaying]).toEqual([[1], false]);
    overlay.play('spin');
    overlay.follow({ position: { x: 7, y: 8 } }, [1, 1]);
    overlay.tick(0.1);
    expect(sparkle.position).toEqual({ x: 8, y: 9 });
    expect(() => overlay.follow({} as never)).toThrow('no position');
  });
});
