import fc from 'fast-check';
import { expect, test } from 'vitest';
import { enough, runs } from '../../../test/runs.js';
import { Strips } from './fit-curve.js';

interface Strip {
  readonly a: number;
  readonly b: number;
  readonly low: number;
  readonly high: number;
}
type Point = readonly [x: number, y: number];

const number = fc.double({ min: -3, max: 3, noNaN: true });
/** Of curves both numbers are 0 or more; any other direction is a strip too. */
const strip = fc
  .tuple(fc.double({ min: -Math.PI, max: Math.PI, noNaN: true }), number, fc.double({ min: 0.01, max: 3, noNaN: true }))
  .map(([turn, middle, half]): Strip => {
    return { a: Math.cos(turn), b: Math.sin(turn), low: middle - half, high: middle + half };
  });

/** As `fitCurve` begins: without it, two strips that are all but parallel would meet beyond all numbers. */
const BOX: readonly Strip[] = [
  { a: 1, b: 0, low: -16, high: 16 },
  { a: 0, b: 1, low: -16, high: 16 },
];

/** How far a point is outside of the worst strip; below 0 inside of all. */
const outside = (strips: readonly Strip[], [x, y]: Point) =>
  Math.max(...strips.map(({ a, b, low, high }) => Math.max(low - a * x - b * y, a * x + b * y - high)));

/** The nearest point by trying all: it is the wished one, the foot of a line from it to an edge, or where two edges meet. */
function nearestOf(strips: readonly Strip[], [wishedX, wishedY]: Point): Point | undefined {
  const edges = strips.flatMap(({ a, b, low, high }) => [
    { a, b, c: low },
    { a, b, c: high },
  ]);
  const feet = edges.map(({ a, b, c }): Point => {
    const off = c - a * wishedX - b * wishedY;
    return [wishedX + a * off, wishedY + b * off];
  });
  const corners = edges.flatMap((one, i) =>
    edges.slice(0, i).flatMap((other): Point[] => {
      const turn = one.a * other.b - one.b * other.a;
      if (Math.abs(turn) < 1e-9) return [];
      return [[(one.c * other.b - one.b * other.c) / turn, (one.a * other.c - one.c * other.a) / turn]];
    }),
  );
  const inside = [[wishedX, wishedY] as const, ...feet, ...corners].filter((point) => outside(strips, point) < 1e-7);
  const far = ([x, y]: Point) => (x - wishedX) ** 2 + (y - wishedY) ** 2;
  return inside.sort((one, other) => far(one) - far(other))[0];
}

test('the point of all strips that is nearest to a wished one is found, if there is any', () => {
  const found = { some: 0, none: 0 };
  fc.assert(
    fc.property(fc.array(strip, { minLength: 1, maxLength: 9 }), fc.tuple(number, number), (list, wished) => {
      const all = [...BOX, ...list];
      const strips = new Strips(...wished, all.length);
      const isFound = all.every(({ a, b, low, high }) => strips.add(a, b, low, high));
      const nearest = nearestOf(all, wished);
      // Where the strips have but a point in common, rounding decides.
      const wider = nearestOf(
        all.map(({ low, high, ...one }) => ({ ...one, low: low - 1e-5, high: high + 1e-5 })),
        wished,
      );
      if ((nearest === undefined) !== (wider === undefined)) return;
      found[nearest ? 'some' : 'none']++;
      expect(isFound).toBe(nearest !== undefined);
      if (!nearest) return;
      expect(outside(all, [strips.x, strips.y])).toBeLessThan(1e-7);
      const far = Math.hypot(strips.x - wished[0], strips.y - wished[1]);
      expect(far).toBeCloseTo(Math.hypot(nearest[0] - wished[0], nearest[1] - wished[1]), 4);
    }),
    runs(500),
  );
  expect(Math.min(found.some, found.none)).toBeGreaterThan(enough(20));
});
