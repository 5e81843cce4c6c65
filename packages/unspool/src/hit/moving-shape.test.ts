import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseReel } from '../index.js';
import { distanceOf } from './distance.js';
import { placement, shapedReel } from '../../test/random-shapes.js';
import { enough, runs } from '../../test/runs.js';
import { edgeOf, reachAlong, type Rounded } from '../shape/rounded.js';
import type { HitShape } from '../shape/shapes.js';
import { shape } from '../../test/shapes.js';
import {
  boundsOf,
  distance,
  roundedOf,
  shapeOf,
  shapesAt,
  sweep,
  TOLERANCE,
  type MovingShape,
  type Placement,
} from './index.js';

describe('a shape of a clip in the world', () => {
  const reel = parseReel({
    unspool: 1,
    roles: {
      crab: { rest: { position: [100, 50] } },
      claw: {
        parent: 'crab',
        rest: { position: [10, 0], pivot: [2, 0] },
        shapes: { pincer: { kind: 'box', tag: 'hits' }, tip: { kind: 'circle' }, arm: { kind: 'capsule' } },
      },
    },
    clips: {
      snap: {
        duration: 2,
        tracks: {
          'crab.rotation': [
            { at: 0, value: 0 },
            { at: 1, value: 90 },
          ],
          'claw.pincer': [
            { at: 0, value: { center: [4, 0], size: [6, 2] } },
            { at: 1, value: null },
          ],
          'claw.tip': [
            { at: 0, value: { center: [4, 0], radius: 1 } },
            { at: 2, value: {} },
          ],
          'claw.arm': [
            { at: 0, value: { to: [4, 0], radius: 1 } },
            { at: 2, value: {} },
          ],
        },
      },
    },
  });
  const clip = reel.clip('snap');
  const closely = (n: number): unknown => expect.closeTo(n, 9);
  const near = (x: number, y: number): unknown => [closely(x), closely(y)];

  test('goes with its roles: position, rotation, pivot and rest', () => {
    const pincer = shapeOf(clip, 'claw.pincer');
    expect(pincer.shape(0)).toEqual({ kind: 'box', center: near(112, 50), size: near(6, 2), angle: 0 });
    expect(pincer.shape(0.5)).toMatchObject({ center: near(100 + 12 * Math.SQRT1_2, 50 + 12 * Math.SQRT1_2) });
    expect(pincer.shape(1.5)).toBeNull();
    expect(shapeOf(clip, 'claw.tip').shape(1)).toEqual({ kind: 'circle', center: near(100, 62), radius: closely(1) });
  });

  test('and with its placement: mirrored, scaled, unevenly', () => {
    const flipped = shapeOf(clip, 'claw.tip', { position: [5, 5], scale: 2, flip: true });
    expect(flipped.shape(0)).toEqual({ kind: 'circle', center: near(5 - 224, 105), radius: closely(2) });
    // Turned about the crab by 45° under a scale of the claw of its own.
    const uneven = parseReel({
      unspool: 1,
      roles: { crab: { rest: { scale: [2, 1] } }, claw: { parent: 'crab', shapes: { pincer: { kind: 'box' } } } },
      clips: {
        snap: {
          tracks: {
            'claw.rotation': [{ at: 0, value: 45 }],
            'claw.pincer': [{ at: 0, value: { size: [2, 2] } }],
          },
        },
      },
    });
    const sheared = shapeOf(uneven.clip('snap'), 'claw.pincer').shape(0);
    expect(sheared).toEqual({
      kind: 'polygon',
      corners: [near(0, Math.SQRT2), near(-2 * Math.SQRT2, 0), near(0, -Math.SQRT2), near(2 * Math.SQRT2, 0)],
    });
    expect(distance(sheared!, { kind: 'circle', center: [4, 0], radius: 1 }).distance).toBeCloseTo(
      3 - 2 * Math.SQRT2,
      9,
    );
  });

  test('the bounds of a rotated box contain it rotated about its own center', () => {
    expect(boundsOf({ kind: 'box', center: [10, 20], size: [4, 2], angle: 90 })).toEqual({
      low: near(9, 18),
      high: near(11, 22),
    });
    const far = Math.SQRT1_2 * 3;
    const turned = boundsOf({ kind: 'box', center: [10, 20], size: [4, 2], angle: 45 });
    expect(turned).toEqual({ low: near(10 - far, 20 - far), high: near(10 + far, 20 + far) });
    const arm = boundsOf({ kind: 'capsule', from: [0, 0], to: [4, -2], radius: 1 });
    expect(arm).toEqual({ low: near(-1, -3), high: near(5, 1) });
  });

  test('those that are active at a time, by name', () => {
    expect(shapesAt(clip, 0).map(({ name, tag }) => [name, tag])).toEqual([
      ['claw.pincer', 'hits'],
      ['claw.tip', undefined],
      ['claw.arm', undefined],
    ]);
    expect(shapesAt(clip, '90f').map(({ name }) => name)).toEqual(['claw.tip', 'claw.arm']);
    expect(() => shapeOf(clip, 'claw.pinser')).toThrow('Did you mean "claw.pincer"?');
  });
});

const armOf = (reel: object, place?: Placement) => shapeOf(parseReel(reel).clip('move'), 'arm.hit', place);

test('no point moves further than its bound, in any direction, in any interval', () => {
  const time = fc.double({ min: 0, max: 2, noNaN: true });
  fc.assert(
    fc.property(shapedReel, placement, time, time, time, (reel, place, from, long, turn) => {
      const moving = armOf(reel, place);
      const until = Math.min(2, from + (long / 2) ** 4);
      const most = moving.farthest(from, until, [0, 0]);
      const [nx, ny] = [Math.cos(turn), Math.sin(turn)];
      const along = moving.farthest(from, until, [nx, ny]);
      expect(along).toBeLessThanOrEqual(most * (1 + 1e-9) + 1e-9);
      const start = moving.at(from);
      for (let i = 0; i <= 40; i++) {
        const at = moving.at(i === 40 ? until : from + ((until - from) * i) / 40);
        // A polygon is the hull of its corners, which may be others later: as a whole it stays within its bounds.
        const text = JSON.stringify(reel);
        if (text.includes('"sector"')) {
          // So is a sector, which may become a circle.
          const ways = edgeOf(at).map((point) => distanceOf({ corners: [point], radius: 0 }, start).distance);
          expect(Math.max(...ways)).toBeLessThanOrEqual(most * (1 + 1e-9) + 1e-8);
          expect(reachOf(at, nx, ny) - reachOf(start, nx, ny)).toBeLessThanOrEqual(along * (1 + 1e-9) + 1e-8);
          continue;
        }
        const isHull = text.includes('"polygon');
        const ways = isHull
          ? at.corners.map((center) => distance({ kind: 'circle', center, radius: 0 }, hullShape(start)).distance)
          : at.corners.map(([x, y], k) => Math.hypot(x - start.corners[k]![0], y - start.corners[k]![1]));
        const reach = ({ corners }: Rounded) => Math.max(...corners.map(([x, y]) => x * nx + y * ny));
        const forward = isHull
          ? [reach(at) - reach(start)]
          : at.corners.map(([x, y], k) => (x - start.corners[k]![0]) * nx + (y - start.corners[k]![1]) * ny);
        expect(Math.max(...forward) + at.radius - start.radius).toBeLessThanOrEqual(along * (1 + 1e-9) + 1e-8);
        expect(Math.max(...ways) + Math.abs(at.radius - start.radius)).toBeLessThanOrEqual(most * (1 + 1e-9) + 1e-8);
      }
    }),
    runs(150),
  );
});

/** How far a shape reaches along a direction. */
const reachOf = (shape: Rounded, x: number, y: number): number =>
  shape.radius + Math.max(reachAlong(shape, x, y), shape.more ? reachAlong(shape.more, x, y) : -Infinity);

function hullShape({ corners }: Rounded): HitShape {
  if (corners.length > 2) return { kind: 'polygon', corners };
  return { kind: 'capsule', from: corners[0]!, to: corners[1] ?? corners[0]!, radius: 0 };
}

test('a polygon is the convex hull of its corners', () => {
  const keys = (...corners: readonly (readonly [number, number])[]) => ({
    at: 0,
    value: Object.fromEntries(corners.map((corner, i) => [`corner${i + 1}`, corner])),
  });
  const shapeWith = (...corners: readonly (readonly [number, number])[]) =>
    shapeOf(
      parseReel({
        unspool: 1,
        roles: { a: { shapes: { s: { kind: `polygon${corners.length}`, tag: 'hits' } } } },
        clips: { c: { duration: 1, tracks: { 'a.s': [keys(...corners)], 'a.scale': [{ at: 0, value: [2, 1] }] } } },
      }).clip('c'),
      'a.s',
    ).shape(0);
  const dented = shapeWith([0, 0], [4, 0], [4, 4], [3, 1], [0, 4]);
  expect(dented).toEqual({ kind: 'polygon', corners: [[0, 0], [8, 0], [8, 4], [0, 4]] }); // prettier-ignore
  expect(distance(dented!, { kind: 'circle', center: [10, 2], radius: 1 }).distance).toBe(1);
  const line = { kind: 'capsule', from: [0, 0], to: [4, 2], radius: 0 };
  expect(shapeWith([0, 0], [1, 1], [2, 2])).toEqual(line);
  expect(shapeWith([1, 1], [1, 1], [1, 1])).toEqual({ kind: 'capsule', from: [2, 1], to: [2, 1], radius: 0 });
});

/** A sweep without end is no sweep: this many looks are more than any of these needs. */
function counted(one: MovingShape): MovingShape {
  let looks = 0;
  return {
    ...one,
    at: (time) => {
      if (++looks > 50_000) throw new Error(`at ${time} it still looks`);
      return one.at(time);
    },
  };
}

/** The first time of dense steps at which two shapes overlap, and whether they come near without. */
function dense(a: MovingShape, b: MovingShape, steps: number): number | undefined {
  // Beside the times of keys: there two jumps may lie a last bit of time apart, and what is between them is no pose.
  for (let i = 0; i < steps; i++) {
    const time = (2 * (i + Math.SQRT1_2)) / steps;
    const [one, two] = [a.shape(time), b.shape(time)];
    if (one && two && distance(one, two).distance < -2 * TOLERANCE) return time;
  }
  return undefined;
}

describe('a sweep of animated shapes', () => {
  test('misses none that dense steps find, and invents none', () => {
    let [hits, jumped] = [0, 0];
    fc.assert(
      fc.property(shapedReel, shapedReel, placement, (first, second, place) => {
        const a = armOf(first);
        const b = armOf(second, place);
        const found = sweep(counted(a), b, 0, 2);
        const seen = dense(a, b, 400);
        if (seen !== undefined) {
          hits++;
          expect(found).not.toBeNull();
          expect(found!.time).toBeLessThanOrEqual(seen);
        }
        if (!found) return;
        // Not one of the poses of 30 fps overlaps.
        if (dense(a, b, 60) === undefined) jumped++;
        expect(distanceOf(a.at(found.time), b.at(found.time)).distance).toBeLessThan(TOLERANCE);
      }),
      // A smaller case is not worth the minutes of looking for it.
      { ...runs(150), endOnFailure: true },
    );
    expect(hits).toBeGreaterThan(enough(20));
    expect(jumped).toBeGreaterThan(enough(0));
  });

  test('against a fixed shape it finds the same in both orders', () => {
    fc.assert(
      fc.property(shapedReel, shape, (reel, target) => {
        const moving = armOf(reel);
        const [found, turned] = [sweep(moving, target, 0, 2), sweep(target, moving, 0, 2)];
        expect(turned === null).toBe(found === null);
        if (found) expect(turned!.time).toBeCloseTo(found.time, 6);
        expect(() => roundedOf(target)).not.toThrow();
      }),
      runs(100),
    );
  });
});
