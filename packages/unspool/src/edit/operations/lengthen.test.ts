import { expect, test } from 'vitest';
import { edit, type Operation } from '../index.js';
import type { ReelDocument } from '../../index.js';

const reel: ReelDocument = {
  unspool: 1,
  roles: { arm: {} },
  clips: {
    snap: {
      duration: 1,
      tracks: {
        'arm.rotation': [
          { at: 0, value: 3 },
          { at: 1, value: 5 },
        ],
        'arm.frame': [{ at: 0, frames: [0, 3], each: '2f' }],
        // Nobody changes it: that it goes on after the end has no say.
        'arm.glow': [{ at: 9, value: 1 }],
      },
    },
  },
};
const of = (track: string) => ({ clip: 'snap', track });

/** Every operation that may put a key after the end, and where the clip ends then. */
const cases: readonly (readonly [operation: Operation, end: number])[] = [
  [{ do: 'insert-key', ...of('arm.rotation'), at: 1.5, value: 7 }, 1.5],
  [{ do: 'insert-key', ...of('arm.rotation'), at: 1.5 }, 1.5],
  [{ do: 'insert-key', ...of('arm.frame'), at: 1.25 }, 1.25],
  [{ do: 'insert-key', ...of('arm.rotation'), at: 1.5, ease: 'linear' }, 1.5],
  [{ do: 'put-key', ...of('arm.rotation'), at: 1.5, value: 7 }, 1.5],
  [{ do: 'put-key', ...of('arm.opacity'), at: 1.25, value: 1 }, 1.25],
  [{ do: 'paste', clip: 'snap', at: 1, tracks: { 'arm.rotation': [{ at: 0.25, value: 1 }] } }, 1.25],
  [{ do: 'paste', clip: 'snap', at: 1, tracks: { 'arm.frame': [{ at: 0, frames: [0, 5], each: 0.25 }] } }, 2.5],
  [{ do: 'move-keys', clip: 'snap', tracks: ['arm.rotation'], by: 0.5 }, 1.5],
  [{ do: 'move-keys', clip: 'snap', tracks: ['arm.rotation'], at: [1], by: 0.5, ripple: 'track' }, 1.5],
  [{ do: 'scale-times', clip: 'snap', tracks: ['arm.rotation'], factor: 2 }, 2],
  [{ do: 'stagger', clip: 'snap', tracks: ['arm.frame', 'arm.rotation'], by: 0.5 }, 1.5],
];

test.each(cases)('%j makes the clip longer only where that is asked', (operation, end) => {
  const durationOf = (one: Operation) => {
    const made = edit(reel, one);
    if (!made.ok) throw new Error(made.said);
    return made.doc.clips['snap']!.duration;
  };
  expect(durationOf(operation)).toBe(1);
  expect(durationOf({ ...operation, lengthen: true } as Operation)).toBe(end);
});

test('a clip that lasts as long as its keys stays without a duration', () => {
  const { duration: _, ...clip } = reel.clips['snap']!;
  const open = { ...reel, clips: { snap: clip } };
  for (const [operation] of cases) {
    const made = edit(open, { ...operation, lengthen: true } as Operation);
    expect(made.ok && made.doc.clips['snap']).not.toHaveProperty('duration');
  }
});
