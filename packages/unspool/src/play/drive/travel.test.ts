import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { defineClip, defineReel, parseReel, Player, travelOf } from '../../index.js';

const walk = (name: string, way: number, frames: number) =>
  defineClip(name, { loop: 'loop' })
    .track(
      'feet.position',
      [
        [0, [2, 0], 'ease-in-out'],
        [`${frames}f`, [2 + way, way / 4]],
      ],
      { accumulate: true },
    )
    .track('crab.opacity', [[0, 1]]);
const reel = parseReel(
  defineReel({
    fps: 60,
    clips: [
      walk('walk', 24, 24),
      walk('run', 60, 18),
      defineClip('hop').track(
        'feet.position',
        [
          [0, [0, 0], 'quad-out'],
          ['10f', [14, 0]],
        ],
        { space: 'offset' },
      ),
      defineClip('still').track('crab.opacity', [[0, 1]]),
      defineClip('blush').track('crab.tint', [[0, '#ffffff']]),
    ],
  }),
);

/** All the way that a script goes, in frames of any length. */
function wayOf(script: (player: Player, frame: number) => void, frames: number, fps: number): number[] {
  const player = new Player(reel) as unknown as Player;
  const travel = travelOf(player, 'feet.position');
  const sum = [0, 0];
  for (let i = 0; i < (frames * fps) / 60; i++) {
    script(player, (i * 60) / fps);
    player.tick(1 / fps);
    travel.take().forEach((n, k) => (sum[k] = sum[k]! + n));
  }
  return sum;
}

describe('travelOf', () => {
  test('is the way of the laps, whole and in part, and nothing when something begins', () => {
    const player = new Player(reel);
    const travel = travelOf(player, 'feet.position');
    player.play('walk');
    player.tick(10 * 0.4);
    expect([...travel.take()].map((n) => Math.round(n * 1e9) / 1e9)).toEqual([240, 60]);
    player.tick(0.2);
    expect(travel.take()[0]).toBeCloseTo(12, 9);
    expect(travel.take()[0]).toBe(0);
    player.play('run');
    player.tick(0);
    expect(travel.take()[0]).toBe(0);
    player.playback!.reverse();
    player.tick(0.3);
    expect(travel.take()[0]).toBeCloseTo(-60, 9);
    const saved = player.save();
    player.tick(0.15);
    travel.take();
    player.restore(saved);
    player.tick(0.15);
    expect(travel.take()[0]).toBe(0); // a restored one begins to count
    player.tick(0.15);
    expect(travel.take()[0]).toBeLessThan(-10);
    player.play('still');
    player.tick(1);
    expect([...travel.take()]).toEqual([0, 0]);
  });

  test('the same in frames of any length, also when clips follow each other within a frame', () => {
    const clips = fc.constantFrom('walk', 'run', 'hop', 'still');
    const scripts = fc.array(fc.tuple(fc.nat(20), clips), { minLength: 1, maxLength: 8 });
    const property = fc.property(scripts, (script) => {
      const play = (player: Player, frame: number) => {
        for (const [at, clip] of script) {
          if (at * 12 !== frame) continue;
          player.play(clip);
          player.enqueue('hop', { wait: 'loop' });
        }
      };
      const sixty = wayOf(play, 300, 60);
      for (const fps of [5, 15, 300]) {
        const other = wayOf(play, 300, fps);
        other.forEach((n, k) => expect(n, `${fps} fps`).toBeCloseTo(sixty[k]!, 6));
      }
    });
    fc.assert(property, runs(40));
  });

  test('between clips that fade each counts by its share; a layer over it hides it, an offset adds', () => {
    const player = new Player(reel);
    player.layer('top').weight = 0.5;
    const travel = travelOf(player, 'feet.position');
    player.play('walk');
    player.tick(4);
    travel.take();
    player.play('still', { layer: 'top' });
    player.tick(4);
    expect(travel.take()[0]).toBeCloseTo(240, 6); // `still` does not animate it
    player.play('run', { layer: 'top' });
    player.tick(0.6 * 4);
    expect(travel.take()[0]).toBeCloseTo(0.5 * 24 * 6 + 0.5 * 60 * 8, 6);
    player.play('hop', { layer: 'top' });
    player.tick(2);
    expect(travel.take()[0]).toBeCloseTo(24 * 5 + 0.5 * 14, 6);
  });

  test('refuses what has no way, with a hint', () => {
    const player = new Player(reel);
    expect(() => travelOf(player, 'feet.positoin')).toThrow(
      'no clip animates "feet.positoin". Did you mean "feet.position"?',
    );
    expect(() => travelOf(player, 'crab.tint')).toThrow('crab.tint is of kind color, which has no way');
    expect(() => travelOf(player)).not.toThrow();
  });
});
