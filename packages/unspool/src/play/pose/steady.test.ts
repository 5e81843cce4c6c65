import { expect, test } from 'vitest';
import { bytesEach } from '../../../test/allocation.js';
import { parseReel, Player } from '../../index.js';

/** Alone in its file: what other tests have done with the same code would decide how the engine compiles it. */
const line = (from: unknown, to: unknown, more: object = {}) => ({
  keys: [
    { at: 0, value: from },
    { at: 100, value: to },
  ],
  ...more,
});

test('a steady frame allocates nothing: players with a handler, and objects to write into', () => {
  const tracks = {
    'claw.position': [
      { at: 0, value: [0, 0], ease: 'ease' },
      { at: 100, value: [50, 70] },
    ],
    'claw.rotation': [
      { at: 0, value: 0, ease: 'cubic-bezier(0.5, -1.5, 0.5, 2.5)' },
      { at: 100, value: 350.5 },
    ],
    'crab.scale.x': [
      { at: 0, value: 0.5, ease: 'smooth' },
      { at: 100, value: 1.5 },
    ],
  };
  const still = parseReel<unknown>({ unspool: 1, clips: { c: { tracks, loop: 'loop' } } });
  const players = Array.from({ length: 50 }, (_, i) => {
    const cast = { claw: { position: { x: 0.5, y: 0.5 }, rotation: 0.5 }, crab: { scale: { x: 0.5, y: 0.5 } } };
    const player = new Player(still, { cast }).on('cue', () => {});
    player.play('c', { from: i / 10, rate: 0.5 + i / 100 });
    return player;
  });
  const run = (frames: number) => {
    for (let frame = 0; frame < frames; frame++) for (let i = 0; i < players.length; i++) players[i]!.tick(1 / 60);
  };
  run(400); // the compiler's own work
  expect(bytesEach(() => run(300), 300 * players.length, 2)).toBeLessThan(2); // one boxed number has 16
});

test('a steady frame of layers, a mask, an offset and a gauge allocates nothing', () => {
  const steady = (tracks: object) => ({ duration: 100, tracks, loop: 'loop' });
  const slow = parseReel<unknown>({
    unspool: 1,
    clips: {
      low: steady({
        'claw.glow': line(0.5, 10.5),
        'crab.rotation': line(350.5, 0.5),
        'claw.tint': line('#123', '#fed'),
      }),
      high: steady({ 'claw.glow': line(99.5, 100), 'claw.tint': line('#fff', '#f00', { mix: 'oklab' }) }),
      shake: steady({ 'crab.rotation': line(1.5, 3.5, { space: 'offset' }) }),
      bar: steady({ 'bar.scale.x': line(0.5, 1.5) }),
    },
  });
  const players = Array.from({ length: 30 }, (_, i) => {
    const cast = {
      claw: { glow: 0.5, tint: [0.5, 0.5, 0.5, 0.5] },
      crab: { rotation: 0.5 },
      bar: { scale: { x: 0.5, y: 0.5 } },
    };
    const player = new Player(slow, { cast }).on('cue', () => {});
    player.layer('top', { mask: ['claw', 'crab'], weight: 0.5 });
    player.play('low', { from: i / 10, rate: 0.5 + i / 100 });
    player.play('high', { layer: 'top', weight: 0.75, fade: 0.1 });
    player.play('shake', { layer: 'over' });
    player.gauge('bar', { clip: 'bar', value: 0.3 });
    return player;
  });
  const run = (frames: number) => {
    for (let frame = 0; frame < frames; frame++) for (let i = 0; i < players.length; i++) players[i]!.tick(1 / 60);
  };
  run(600); // the compiler's own work; fades are over
  expect(bytesEach(() => run(200), 200 * players.length, 2)).toBeLessThan(2); // one boxed number has 16
});
