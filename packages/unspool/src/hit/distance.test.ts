import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import geometry from '../../fixtures/geometry.json' with { type: 'json' };
import { runs } from '../../test/runs.js';
import { read, sectorOf, shape, type Written } from '../../test/shapes.js';
import { distance, type HitShape, type Vec } from './index.js';

const pairs = geometry.pairs as unknown as readonly {
  id: number;
  a: Written;
  b: Written;
  overlap: boolean;
  signedDistance: number;
}[];

function moved(one: HitShape, [x, y]: Vec): HitShape {
  const move = ([a, b]: Vec): Vec => [a + x, b + y];
  if (one.kind === 'capsule') return { ...one, from: move(one.from), to: move(one.to) };
  return one.kind === 'polygon' ? { ...one, corners: one.corners.map(move) } : { ...one, center: move(one.center) };
}

describe('the distance of two shapes', () => {
  test('is that of the reference, for all 200 pairs that it has, and overlap exactly', () => {
    expect(pairs.length).toBeGreaterThanOrEqual(200);
    for (const { id, a, b, overlap, signedDistance } of pairs) {
      for (const [one, two] of [
        [a, b],
        [b, a],
      ] as const) {
        // prettier-ignore
        const found = distance(read(one), read(two));
        expect(Math.abs(found.distance - signedDistance), `pair ${id}`).toBeLessThan(1e-9);
        expect(found.distance < 0, `pair ${id}`).toBe(overlap);
      }
    }
  });

  test('moving the second along the normal changes it by that much, and separates them at 0', () => {
    fc.assert(
      fc.property(shape, shape, fc.double({ min: 0.01, max: 3, noNaN: true }), (a, b, way) => {
        const found = distance(a, b);
        const [x, y] = found.normal;
        expect(Math.hypot(x, y)).toBeCloseTo(1, 9);
        const along = (far: number) => distance(a, moved(b, [x * far, y * far])).distance;
        expect(along(way)).toBeCloseTo(found.distance + way, 7);
        expect(along(-found.distance)).toBeCloseTo(0, 7);
        // No other way parts them sooner.
        for (let i = 0; i < 16; i++) {
          const turn = (i * Math.PI) / 8;
          const other = distance(a, moved(b, [Math.cos(turn) * way, Math.sin(turn) * way])).distance;
          expect(other).toBeLessThan(found.distance + way + 1e-7);
        }
      }),
      runs(300),
    );
  });

  test('a half circle whose angles are rounded is one', () => {
    const half: HitShape = {
      kind: 'sector',
      center: [0, 0],
      radius: 2,
      from: 399.9999999985777,
      to: 579.9999999985778,
    };
    const line: HitShape = { kind: 'box', center: [0, 0], size: [2, 0], angle: 90 };
    const { distance: found, normal } = distance(half, line);
    const away = distance(half, moved(line, [-normal[0] * found, -normal[1] * found]));
    expect(away.distance).toBeCloseTo(0, 9);
  });

  test('of what touches but for rounding has the normal that parts them', () => {
    const line = { kind: 'box', center: [6, 0], size: [0, 5], angle: 90 } as const;
    const found = distance(line, { kind: 'box', center: [10, 0], size: [0.125, 3], angle: 90 });
    expect(found.distance).toBeCloseTo(0, 12);
    expect(found.normal[0]).toBeCloseTo(1, 12);
  });

  test('of capsules and flat boxes on one slanting line is the way between their ends', () => {
    const along = fc.integer({ min: -80, max: 80 }).map((n) => n / 8);
    const angle = fc.constantFrom(0.25, 0.75, -0.25, 1 / 3).map((n) => n * Math.PI);
    const radius = fc.constantFrom(0, 0.5, 2);
    fc.assert(
      fc.property(fc.tuple(along, along, along, along), angle, radius, fc.boolean(), (ends, turn, r, isBox) => {
        const [a, b, c, d] = [...ends].sort((m, n) => m - n) as [number, number, number, number];
        const at = (n: number): Vec => [3 + n * Math.cos(turn), -7 + n * Math.sin(turn)];
        const one: HitShape = { kind: 'capsule', from: at(a), to: at(b), radius: r };
        const box = { kind: 'box', center: at((c + d) / 2), size: [d - c, 0], angle: (turn * 180) / Math.PI } as const;
        const two: HitShape = isBox ? box : { kind: 'capsule', from: at(c), to: at(d), radius: r };
        expect(distance(one, two).distance).toBeCloseTo(c - b - (isBox ? r : 2 * r), 9);
      }),
      runs(1000),
    );
  });

  test('of a sector is that of its thin slices, but for what their edges leave of the arc', () => {
    const SLICES = 90;
    fc.assert(
      fc.property(sectorOf(400), shape, ({ center, radius, from, to }, other) => {
        const sector = { kind: 'sector', center, radius, from, to } as const;
        const width = Math.min(360, Math.abs(to - from)) / SLICES;
        const low = Math.min(from, to);
        const at = (angle: number): Vec => [
          center[0] + radius * Math.cos((angle * Math.PI) / 180),
          center[1] + radius * Math.sin((angle * Math.PI) / 180),
        ];
        const slices = Array.from({ length: SLICES }, (_, i): HitShape => {
          const [a, b] = [at(low + i * width), at(low + (i + 1) * width)];
          const isThin =
            Math.abs((a[0] - center[0]) * (b[1] - center[1]) - (a[1] - center[1]) * (b[0] - center[0])) < 1e-9;
          return isThin
            ? { kind: 'capsule', from: center, to: a, radius: 0 }
            : { kind: 'polygon', corners: [center, a, b] };
        });
        const nearest = Math.min(...slices.map((slice) => distance(slice, other).distance));
        const turn = (width * Math.PI) / 180;
        // Slices that are all but lines are taken as their first edge.
        const left = radius * Math.max(1 - Math.cos(turn / 2), turn < 1e-6 ? turn : 0) + 1e-9;
        const found = distance(sector, other).distance;
        if (nearest > left) {
          expect(found).toBeLessThanOrEqual(nearest + 1e-9);
          expect(found).toBeGreaterThanOrEqual(nearest - left - 1e-9);
        } else if (nearest < -1e-9) expect(found).toBeLessThan(1e-9);
        expect(distance(other, sector).distance).toBeCloseTo(found, 9);
      }),
      runs(200),
    );
  });

  test('it is symmetric, and the point is between the edges', () => {
    fc.assert(
      fc.property(shape, shape, (a, b) => {
        const [one, two] = [distance(a, b), distance(b, a)];
        expect(two.distance).toBeCloseTo(one.distance, 9);
        const point: HitShape = { kind: 'circle', center: one.point, radius: 0 };
        const [toA, toB] = [distance(a, point).distance, distance(b, point).distance];
        if (one.distance > 1e-6) {
          expect(toA).toBeCloseTo(one.distance / 2, 7);
          expect(toB).toBeCloseTo(one.distance / 2, 7);
        } else if (one.distance < -1e-6) expect(Math.max(toA, toB)).toBeLessThan(1e-6 - one.distance);
      }),
      runs(300),
    );
  });

  test('a shape that is small and far away is one, however its corners are rounded', () => {
    const small = fc.integer({ min: 1, max: 1000 }).map((n) => n * 1e-11);
    const far = fc.integer({ min: -1000, max: 1000 });
    fc.assert(
      fc.property(small, small, fc.integer({ min: 0, max: 359 }), far, far, (w, h, angle, x, y) => {
        const [cos, sin] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
        const corners = [[w, h], [-w, h], [-w, -h], [w, -h]].map(([u, v]): Vec => [x + u! * cos - v! * sin, y + u! * sin + v! * cos]); // prettier-ignore
        const circle = { kind: 'circle', center: [x + 10, y], radius: 1 } as const;
        expect(distance({ kind: 'polygon', corners }, circle).distance).toBeCloseTo(9, 6);
      }),
      runs(500),
    );
    const dented: HitShape = { kind: 'polygon', corners: [[100, 0], [104, 0], [101, 1], [100, 4]] }; // prettier-ignore
    expect(() => distance(dented, dented)).toThrow('not a convex polygon');
  });

  test('an invalid shape is refused', () => {
    const circle: HitShape = { kind: 'circle', center: [0, 0], radius: 1 };
    expect(() => distance(circle, { ...circle, radius: -1 })).toThrow('lengths of 0 or more');
    expect(() => distance(circle, { ...circle, center: [NaN, 0] })).toThrow('is not a');
    expect(() => distance({ kind: 'box', center: [0, 0], size: [1, -1], angle: 0 }, circle)).toThrow('is not a');
  });
});
