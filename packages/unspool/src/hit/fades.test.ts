import { expect, test, vi } from 'vitest';
import { parseReel, Player } from '../index.js';
import { LookAhead } from '../play/drive/look-ahead.js';
import { HitWorld } from './index.js';

const clip = (name: string, value: unknown) => ({
  ...{ duration: 50, loop: 'loop' },
  tracks: { [name]: [{ at: 0, value }] },
});
const reel = parseReel<unknown>({
  unspool: 1,
  roles: { arm: { shapes: { tip: { kind: 'circle', tag: 'hits' }, body: { kind: 'circle', tag: 'hurt' } } } },
  clips: {
    far: clip('arm.tip', { center: [12, 0], radius: 2 }),
    near: clip('arm.tip', { center: [1, 0], radius: 2 }),
    none: clip('arm.rotation', 0),
    stand: clip('arm.body', { center: [0, 0], radius: 1 }),
    sit: clip('arm.body', { center: [0, 0], radius: 1 }),
  },
});

/**
 * A tip that fades from one clip to another, of a player whose body does the same a frame before: then the first is
 * looked at anew shortly after the start of the frame at whose end the two clips of the tip have equal shares.
 */
function fadeOver([from, to]: readonly [string, string], fade: number, frames: number, wait: number) {
  const dt = fade / 2 / frames;
  const [one, other] = [new Player(reel), new Player(reel)];
  const world = new HitWorld().add('one', one).add('other', other);
  // Handlers are called at moments: all players are brought there.
  other.on('cue', () => undefined);
  other.play('stand');
  one.play(from);
  const hits: number[] = [];
  const tick = (count: number) => {
    for (let i = 0; i < count; i++) hits.push(...world.tick(dt).map(({ time }) => time));
  };
  tick(wait);
  other.play('sit', { fade });
  tick(1);
  one.play(to, { fade });
  const half = world.time + fade / 2;
  tick(3 * frames);
  return { hits, half };
}

const fades = [0.05, 0.1, 0.2, 0.3, 1 / 3, 0.7];
const frameCounts = [2, 3, 5, 7, 11];

test('where half of a fade falls on the end of a frame, a shape changes there, and is nowhere else meanwhile', () => {
  const cases = [
    { clips: ['far', 'none'], hitsAt: () => [] },
    { clips: ['far', 'near'], hitsAt: (half: number) => [half] },
    { clips: ['near', 'far'], hitsAt: () => [0] },
    { clips: ['near', 'none'], hitsAt: () => [0] },
  ] as const;
  for (const { clips, hitsAt } of cases) {
    for (const fade of fades) {
      for (const frames of frameCounts) {
        for (let wait = 0; wait < 8; wait++) {
          const { hits, half } = fadeOver(clips, fade, frames, wait);
          const expected: readonly number[] = hitsAt(half);
          const place = `${clips.join()} fade ${fade}, ${frames} frames, after ${wait}`;
          expect(hits.length, place).toBe(expected.length);
          hits.forEach((time, i) => expect(time, place).toBeCloseTo(expected[i]!, 8));
        }
      }
    }
  }
});

test('a change that is near costs no steps without end', () => {
  const looks = vi.spyOn(LookAhead.prototype, 'sampleInto');
  const most = fades.map((fade) => {
    looks.mockClear();
    fadeOver(['far', 'near'], fade, 3, 0);
    return looks.mock.calls.length / 10;
  });
  looks.mockRestore();
  // A frame has a sweep or two of two shapes.
  expect(Math.max(...most)).toBeLessThan(12);
});
