import { expect, test } from 'vitest';
import { defineClip, defineReel, parseReel, Player } from '../index.js';
import { HitWorld } from './index.js';

/** A wheel that rolls on from lap to lap: 12 px each, with a rod on it that turns with it. */
const reel = parseReel(
  defineReel({
    fps: 60,
    roles: {
      wheel: { rest: { position: [0, 0], rotation: 0 }, shapes: { rod: { kind: 'capsule', tag: 'hits' } } },
    },
    clips: [
      defineClip('roll', { loop: 'loop' })
        .track(
          'wheel.position',
          [
            [0, [0, 0], 'ease-in-out'],
            ['24f', [12, 0]],
          ],
          { accumulate: true },
        )
        .track(
          'wheel.rotation',
          [
            [0, 0],
            ['24f', 130],
          ],
          { accumulate: true },
        )
        .track('wheel.rod', [
          [0, { from: [0, 0], to: [5, 0], radius: 0.5 }],
          ['24f', {}],
        ]),
    ],
  }),
);
const DURATION = 0.4;
const LAPS = 1000;
/** A pole that the rod comes to in its thousandth lap, and not before. */
const POLE = { x: 12 * LAPS + 16, y: 0 };

const numbers = (value: unknown) => [value].flat() as number[];

/** By looking closely: when the rod first comes within reach of the pole. */
function firstContact(): number {
  const clip = reel.clip('roll');
  const pose = clip.createPose();
  const distance = (time: number) => {
    clip.sample(time, pose);
    const [x = 0, y = 0] = numbers(pose.get('wheel.position'));
    const angle = (numbers(pose.get('wheel.rotation'))[0]! * Math.PI) / 180;
    const [ax, ay] = [Math.cos(angle), Math.sin(angle)];
    const along = Math.min(5, Math.max(0, (POLE.x - x) * ax + (POLE.y - y) * ay));
    return Math.hypot(POLE.x - x - along * ax, POLE.y - y - along * ay) - 1.5;
  };
  const STEP = 1e-5;
  let time = (LAPS - 3) * DURATION;
  while (distance(time) > 0) time += STEP;
  let [low, high] = [time - STEP, time];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (distance(middle) > 0) low = middle;
    else high = middle;
  }
  return high;
}

test.each([15, 60, 144])('a sweep follows what accumulates, at %s frames a second', (fps) => {
  const wheel = new Player(reel);
  const hits: number[] = [];
  const world = new HitWorld({ onHit: ({ time }) => hits.push(time) }).add('wheel', wheel);
  const shape = { kind: 'circle', center: [0, 0], radius: 1 } as const;
  world.add('pole', { shapes: { pole: { shape, tag: 'hurt' } }, position: [POLE.x, POLE.y] });
  wheel.play('roll');
  const before = Math.floor((LAPS - 3) * DURATION * fps);
  world.tick(before / fps);
  while (hits.length === 0 && world.time < (LAPS + 3) * DURATION) world.tick(1 / fps);
  expect(hits[0]).toBeCloseTo(firstContact(), 6);
});
