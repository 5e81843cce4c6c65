import { expect, test, vi } from 'vitest';
import { bytesEach } from '../../test/allocation.js';
import { swingField } from '../../test/swinging.js';
import { LookAhead } from '../play/drive/look-ahead.js';

/** In a process of their own: what other tests call beforehand changes what the compiler makes of it. */

test('a frame in which nothing comes near allocates nothing worth mentioning', () => {
  const { world } = swingField(40);
  const run = (frames: number) => {
    for (let i = 0; i < frames; i++) world.tick(1 / 60);
  };
  run(1500); // the compiler's own work
  // For each of 280 shapes; what a moment of one of them takes is in it, and the list that `tick` returns.
  expect(bytesEach(() => run(100), 100 * 280, 16)).toBeLessThan(16);
});

test('a frame that sweeps allocates little', () => {
  const { world, bodies } = swingField(40);
  const near = bodies.filter((_, i) => i % 5 === 0);
  const places = near.map((_, k) => [0, 1].map((step) => [1000 * k + 13 + step, step] as const));
  let frame = 0;
  // Within reach of a swinging shape, and out of it again: swept in each frame, and met by few.
  const run = (frames: number) => {
    for (let i = 0; i < frames; i++, frame++) {
      near.forEach((body, k) => (body.position = places[k]![frame % 2]!));
      world.tick(1 / 60);
    }
  };
  const looks = vi.spyOn(LookAhead.prototype, 'sampleInto');
  run(100);
  expect(looks.mock.calls.length).toBeGreaterThan(100 * 10);
  looks.mockRestore();
  run(1400);
  // For each shape that hits, of which a few have a moment: with points in lists it was a half more.
  expect(bytesEach(() => run(100), 100 * 40, 70)).toBeLessThan(70);
});
