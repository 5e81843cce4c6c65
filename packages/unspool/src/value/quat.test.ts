import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eulerOf, quatOf, type EulerOrder } from '../index.js';

const orders = ['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'] as const satisfies readonly EulerOrder[];
const order = fc.constantFrom(...orders);
const turn = fc.double({ min: -180, max: 180, noNaN: true });
const steep = fc.constantFrom(-90, 90);

/** How far two quaternions are from the same turn: q and −q are one. */
const apart = (a: readonly number[], b: readonly number[]) =>
  1 - Math.abs(a.reduce((sum, n, k) => sum + n * b[k]!, 0)) / (Math.hypot(...a) * Math.hypot(...b));

describe('turns of a quaternion', () => {
  it.each([
    [[0, 0, 0], 'xyz', [0, 0, 0, 1]],
    [[90, 0, 0], 'xyz', [Math.SQRT1_2, 0, 0, Math.SQRT1_2]],
    [[0, 0, 180], 'zyx', [0, 0, 1, 0]],
    // First about x; then about the y that this has turned to z.
    [[90, 90, 0], 'xyz', [0.5, 0.5, 0.5, 0.5]],
    [[90, 90, 0], 'yxz', [0.5, 0.5, -0.5, 0.5]],
  ] as const)('%j in the order %s is %j', (euler, order, quat) => {
    expect(quatOf(euler, order)).toEqual(quat.map((n) => expect.closeTo(n, 12) as number));
    expect(eulerOf(quatOf(euler, order), order).map((n) => (n === -180 ? 180 : n))).toEqual(
      euler.map((n) => expect.closeTo(n, 6) as number),
    );
  });

  it('make the same quaternion again, in every order, whatever its length', () => {
    const given = fc.tuple(turn, turn, turn, order, fc.double({ min: 0.1, max: 10, noNaN: true }));
    fc.assert(
      fc.property(given, ([x, y, z, order, length]) => {
        const quat = quatOf([x, y, z], order).map((n) => n * length);
        expect(apart(quatOf(eulerOf(quat, order), order), quat)).toBeLessThan(1e-12);
      }),
    );
  });

  it('have the last at 0 where the middle one is a right angle', () => {
    fc.assert(
      fc.property(fc.tuple(turn, steep, turn, order), ([first, middle, last, order]) => {
        const [i, j, k] = Array.from(order, (axis) => 'xyz'.indexOf(axis)) as [number, number, number];
        const euler = [0, 0, 0].with(i, first).with(j, middle).with(k, last);
        const quat = quatOf(euler, order);
        const turns = eulerOf(quat, order);
        expect(turns[j]).toBeCloseTo(middle, 3);
        expect(turns[k]).toBe(0);
        expect(apart(quatOf(turns, order), quat)).toBeLessThan(1e-9);
      }),
    );
  });
});
