import { expect, test } from 'vitest';
import { bytesEach } from '../../test/allocation.js';
import { school } from '../../test/school.js';
import { Crowd, parseReel } from '../index.js';

test('a steady crowd allocates next to nothing', () => {
  const crowd = new Crowd(parseReel(school));
  crowd.prepare(['swim']);
  for (let i = 0; i < 500; i++) crowd.add('swim', { phase: i / 500, rate: 0.5 + i / 500 });
  const run = (frames: number) => {
    for (let i = 0; i < frames; i++) crowd.tick(1 / 60);
  };
  run(600); // the compiler's own work, and room for the cues
  // Four in sixty pass something, and are looked at singly.
  expect(bytesEach(() => run(200), 200 * 500, 10)).toBeLessThan(10);
});
