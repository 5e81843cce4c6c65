import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { parseReel, Player } from '../../index.js';

const DEGREES = Math.PI / 180;
const number = fc.integer({ min: -40, max: 40 }).map((n) => n / 4);
const angle = fc.integer({ min: -36, max: 36 }).map((n) => n * 10 + 0.5);
const size = fc.constantFrom(0.5, 1, 2, -1.5);

type Matrix = readonly [a: number, b: number, c: number, d: number, x: number, y: number];

/** translate · rotate · scale, as a canvas writes it. */
function matrix([x, y]: readonly number[], rotation: number, [sx, sy]: readonly number[]): Matrix {
  const [cos, sin] = [Math.cos(rotation * DEGREES), Math.sin(rotation * DEGREES)];
  return [sx! * cos, sx! * sin, -sy! * sin, sy! * cos, x!, y!];
}

function product([a, b, c, d, x, y]: Matrix, [e, f, g, h, u, v]: Matrix): Matrix {
  return [a * e + c * f, b * e + d * f, a * g + c * h, b * g + d * h, a * u + c * v + x, b * u + d * v + y];
}

test('a placed cast is its own transform under that of its place, mirrored or not', () => {
  fc.assert(
    fc.property(
      fc.record({ position: fc.tuple(number, number), rotation: angle, scale: size, flip: fc.boolean() }),
      fc.record({ position: fc.tuple(number, number), rotation: angle, scale: fc.tuple(size, size) }),
      (place, own) => {
        const tracks = Object.fromEntries(
          Object.entries(own).map(([property, value]) => [`crab.${property}`, [{ at: 0, value }]]),
        );
        const reel = parseReel<unknown>({ unspool: 1, clips: { c: { duration: 1, tracks } } });
        const crab = {} as { position: { x: number; y: number }; rotation: number; scale: { x: number; y: number } };
        const player = new Player(reel, { cast: { crab } });
        player.place(place).play('c');
        player.tick(0);
        const found = matrix([crab.position.x, crab.position.y], crab.rotation, [crab.scale.x, crab.scale.y]);
        const mirror = place.flip ? -1 : 1;
        const outer = matrix(place.position, place.rotation, [place.scale * mirror, place.scale]);
        const expected = product(outer, matrix(own.position, own.rotation, own.scale));
        found.forEach((n, i) => expect(n).toBeCloseTo(expected[i]!, 9));
      },
    ),
    runs(200),
  );
});

test('depth is added, a quaternion is turned about z, and what has no position of its own has that of its object', () => {
  const reel = parseReel<unknown>({
    unspool: 1,
    roles: { crab: {}, claw: { parent: 'crab' }, lamp: {} },
    clips: {
      c: {
        duration: 1,
        tracks: {
          'crab.position': [{ at: 0, value: [1, 2, 3] }],
          'crab.facing': { kind: 'quat', keys: [{ at: 0, value: [0, 0, 0, 1] }] },
          'crab.rotation': [{ at: 0, value: { euler: [0, 0, 30] } }],
          'claw.position': [{ at: 0, value: [5, 6] }],
          'lamp.opacity': [{ at: 0, value: 0.5 }],
        },
      },
    },
  });
  const cast = { crab: {}, claw: {}, lamp: { position: { x: 4, y: 0 }, rotation: 15 } };
  const player = new Player(reel, { cast });
  player.play('c');
  player.place({ position: [10, 20, 30], rotation: 60 });
  player.tick(0);
  const { position, rotation } = cast.crab as { position: object; rotation: { z: number; w: number } };
  expect(position).toMatchObject({ z: 33 });
  expect(rotation.z).toBeCloseTo(Math.SQRT1_2, 12);
  expect(rotation.w).toBeCloseTo(Math.SQRT1_2, 12);
  expect(cast.claw).toEqual({ position: { x: 5, y: 6 } });
  expect(cast.lamp.position.x).toBeCloseTo(12, 12);
  expect(cast.lamp.position.y).toBeCloseTo(20 + 4 * Math.sin(60 * DEGREES), 12);
  expect(cast.lamp.rotation).toBe(75);
  expect(player.pose.get('crab.position')).toEqual([1, 2, 3]);
});
