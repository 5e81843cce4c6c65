import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import geometry from '../../fixtures/geometry.json' with { type: 'json' };
import { runs } from '../../test/runs.js';
import { read, shape, type Written } from '../../test/shapes.js';
import { distance, roundedOf, sweep, TOLERANCE, type HitShape, type Moving, type Vec } from './index.js';

const DEGREES = 180 / Math.PI;

interface Motion {
  readonly vx: number;
  readonly vy: number;
  /** Radians a second. */
  readonly angularVelocity: number;
  readonly offsetX: number;
  readonly offsetY: number;
}

interface Swept {
  readonly id: number;
  readonly category: string;
  readonly box: { x: number; y: number; rotation: number; halfWidth: number; halfHeight: number };
  readonly motion: Motion;
  readonly target: Written;
  readonly hit: boolean;
  readonly firstContact: number | null;
  readonly intervals: readonly (readonly [number, number])[];
}
const cases = geometry.swept as unknown as readonly Swept[];

/** A box that goes straight and turns about a point beside it, as the reference moves it. */
function moving({ box, motion }: Pick<Swept, 'box' | 'motion'>): Moving & { shape(time: number): HitShape } {
  const { vx, vy, angularVelocity, offsetX, offsetY } = motion;
  const shape = (time: number): HitShape => {
    const theta = box.rotation + angularVelocity * time;
    const [cos, sin] = [Math.cos(theta), Math.sin(theta)];
    const center: Vec = [
      box.x + vx * time + cos * offsetX - sin * offsetY,
      box.y + vy * time + sin * offsetX + cos * offsetY,
    ];
    return { kind: 'box', center, size: [2 * box.halfWidth, 2 * box.halfHeight], angle: theta * DEGREES };
  };
  const reach = Math.hypot(offsetX, offsetY) + Math.hypot(box.halfWidth, box.halfHeight);
  const fastest = Math.hypot(vx, vy) + Math.abs(angularVelocity) * reach;
  return { shape, at: (time) => roundedOf(shape(time)), farthest: (from, until) => fastest * (until - from) };
}

describe('a sweep', () => {
  test('finds the contacts of the reference: none missed, none invented, the first to a millionth', () => {
    expect(cases.filter(({ category }) => category === 'fast').length).toBeGreaterThan(10);
    for (const one of cases) {
      const found = sweep(moving(one), read(one.target), 0, 1);
      const message = `${one.category} ${one.id}`;
      expect(found !== null, message).toBe(one.hit);
      if (!found) continue;
      expect(Math.abs(found.time - one.firstContact!), message).toBeLessThan(1e-6);
      expect(Math.abs(found.until - one.intervals[0]![1]), message).toBeLessThan(1e-5);
      // And the other way round.
      expect(sweep(read(one.target), moving(one), 0, 1)!.time).toBeCloseTo(found.time, 9);
    }
  });

  test('against dense steps: what they find it finds, no later; what it finds is a contact', () => {
    const number = fc.double({ min: -6, max: 6, noNaN: true });
    fc.assert(
      fc.property(
        shape,
        fc.record({ vx: number, vy: number, angularVelocity: number, offsetX: number, offsetY: number }),
        fc.double({ min: 0.1, max: 2, noNaN: true }),
        (target, motion, half) => {
          const one = moving({ box: { x: -4, y: 1, rotation: 0.3, halfWidth: half, halfHeight: half / 3 }, motion });
          const found = sweep(one, target, 0, 1);
          let dense: number | undefined;
          for (let i = 0; i <= 400 && dense === undefined; i++) {
            if (distance(one.shape(i / 400), target).distance < -TOLERANCE) dense = i / 400;
          }
          if (dense !== undefined) {
            expect(found).not.toBeNull();
            expect(found!.time).toBeLessThanOrEqual(dense);
          }
          if (!found) return;
          expect(distance(one.shape(found.time), target).distance).toBeLessThan(TOLERANCE);
          if (found.time === 0) return;
          expect(distance(one.shape(found.time), target).distance).toBeGreaterThan(-1e-6);
          // Before it, nothing touches.
          for (let i = 0; i < 50; i++) {
            expect(distance(one.shape((found.time * i) / 50), target).distance).toBeGreaterThan(-TOLERANCE);
          }
        },
      ),
      runs(300),
    );
  });

  test('what touches already touches at once; times out of order are refused', () => {
    const circle: HitShape = { kind: 'circle', center: [0, 0], radius: 1 };
    expect(sweep(circle, { ...circle, center: [1, 0] }, 2, 3)).toMatchObject({ time: 2, until: 3 });
    expect(sweep(circle, { ...circle, center: [3, 0] }, 2, 3)).toBeNull();
    expect(() => sweep(circle, circle, 3, 2)).toThrow('is not a valid range');
  });
});
