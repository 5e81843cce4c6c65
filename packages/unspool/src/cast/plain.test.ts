import { expect, test } from 'vitest';
import { parseReel, Player } from '../index.js';

const reel = parseReel<unknown>({
  unspool: 1,
  roles: { crab: { rest: { scale: [1, 1] } } },
  clips: {
    pose: {
      duration: 1,
      after: 'rest',
      tracks: {
        'crab.position': [{ at: 0, value: [1, 2, 3] }],
        'crab.rotation': [{ at: 0, value: 400 }],
        'crab.scale': [{ at: 0, value: 2 }],
        'crab.opacity': [{ at: 0, value: -3 }],
        'crab.tint': [{ at: 0, value: '#ff000080' }],
        'crab.visible': [{ at: 0, value: false }],
        'crab.frame': [{ at: 0, value: -2 }],
        'crab.weights.bulge': [{ at: 0, value: 0.4 }],
        'crab.mood': [{ at: 0, value: 'cross' }],
        'crab.aim': [{ at: 0, value: [7, 8] }],
        'crab.toString.deep': [{ at: 0, value: 1 }],
      },
    },
  },
});

test('plain objects get the properties of the reel, in its units and in bounds; nothing inherited is written into', () => {
  const crab: Record<string, unknown> = { position: { x: 5, y: 6 }, aim: { x: 0, y: 0 }, mood: 'calm', rotation: 12 };
  const player = new Player(reel, { cast: { crab } });
  player.play('pose');
  player.tick(0.5);
  expect(crab).toEqual({
    position: { x: 1, y: 2, z: 3 },
    rotation: 400,
    scale: { x: 2, y: 2 },
    opacity: 0,
    tint: [1, 0, 0, 128 / 255],
    visible: false,
    frame: 0,
    weights: { bulge: 0.4 },
    mood: 'cross',
    aim: { x: 7, y: 8 },
    toString: { deep: 1 },
  });
  expect(Reflect.get(Object.prototype, 'toString')).not.toHaveProperty('deep');
  player.tick(1);
  // At rest: what the reel says, else what the object showed, else the usual.
  expect(crab).toMatchObject({
    rotation: 12,
    scale: { x: 1, y: 1 },
    opacity: 1,
    tint: [1, 1, 1, 1],
    visible: true,
    aim: { x: 0, y: 0 },
  });
});
