import { expect, test } from 'vitest';
import { bytesEach } from '../../test/allocation.js';
import { Crowd, parseReel } from '../index.js';

const school = {
  unspool: 1,
  roles: { fish: {} },
  clips: {
    swim: {
      duration: 1,
      loop: 'loop',
      tracks: {
        'fish.position': [
          { at: 0, value: [0, 0], ease: 'ease-in-out' },
          { at: 1, value: [10, -10] },
        ],
        'fish.tint': [
          { at: 0, value: '#ff8800' },
          { at: 1, value: '#0088ff80' },
        ],
      },
      cues: [
        { at: 0.25, name: 'flick', data: { side: 'left' } },
        { at: 0.5, until: 0.75, name: 'glide' },
      ],
    },
  },
};

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
