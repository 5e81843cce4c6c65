import fc from 'fast-check';
import { expect, test } from 'vitest';
import { distance, shapeOfValue } from '../hit/index.js';
import { parseReel, type ShapeKind } from '../index.js';
import type { bindRole } from './cast.js';
import { revealsOf } from './cast.js';
import { EVERYTHING, piecesAlone, regionOf, type Region } from './region.js';

/** Whether a point is shown comes from the distances of hits here, and from counting how often pieces cover it. */
const number = fc.integer({ min: -40, max: 40 });
const point = fc.tuple(number, number);
const length = fc.integer({ min: 0, max: 50 });
const angle = fc.integer({ min: -400, max: 400 });
const SHAPES: Readonly<Partial<Record<ShapeKind, fc.Arbitrary<object>>>> = {
  box: fc.record({ center: point, size: fc.tuple(length, length), angle }),
  circle: fc.record({ center: point, radius: length }),
  capsule: fc.record({ from: point, to: point, radius: length }),
  sector: fc.record({ center: point, radius: length, from: angle, to: angle }),
  polygon4: fc.record({ corner1: point, corner2: point, corner3: point, corner4: point }),
};
const shown = fc.oneof(
  ...Object.entries(SHAPES).map(([kind, value]) =>
    fc.record({
      kind: fc.constant(kind as ShapeKind),
      tag: fc.constantFrom('reveal', 'hide'),
      value: fc.option(value),
    }),
  ),
);

type Shown = { readonly kind: ShapeKind; readonly tag: string; readonly value: object | null };

/** The reveals of a role, with their numbers. */
function made(list: readonly Shown[]) {
  const shapes = Object.fromEntries(list.map(({ kind, tag }, i) => [`s${i}`, { kind, tag }]));
  const tracks = Object.fromEntries(list.map(({ value }, i) => [`door.s${i}`, [{ at: 0, value }, { at: 1, value }]])); // prettier-ignore
  const document = { unspool: 1, roles: { door: { shapes } }, clips: { c: { duration: 1, tracks } } };
  const { layout, facts, clips } = parseReel<unknown>(document) as never as {
    layout: { slots: Parameters<typeof bindRole>[1] };
    facts: { shapes: Parameters<typeof revealsOf>[3] };
    clips: { c: { sample(time: number): { values: Float64Array } } };
  };
  return { values: clips.c.sample(0.5).values, slots: revealsOf('door', layout.slots, layout.slots, facts.shapes) };
}

/** Whether a line to the left crosses the edge an odd number of times. */
const isIn = (piece: readonly (readonly [number, number])[], x: number, y: number) =>
  piece.filter(([ax, ay], i) => {
    const [bx, by] = piece[(i + 1) % piece.length]!;
    return ay > y !== by > y && x > ax + ((y - ay) / (by - ay)) * (bx - ax);
  }).length %
    2 ===
  1;
const isShown = ({ shown: pieces = [EVERYTHING], hidden }: Region, x: number, y: number) =>
  pieces.some((piece) => isIn(piece, x, y)) && !hidden.some((piece) => isIn(piece, x, y));

test('what is shown is inside of any reveal and of no hide; pieces alone show the same', () => {
  fc.assert(
    fc.property(
      fc.array(shown, { minLength: 1, maxLength: 4 }),
      fc.array(point, { minLength: 8, maxLength: 8 }),
      (list, points) => {
        // prettier-ignore
        const { values, slots } = made(list);
        const region = regionOf(values, slots);
        const active = list.filter(({ value }) => value !== null);
        expect(region === undefined).toBe(active.length === 0);
        if (!region) return;
        const alone = { shown: piecesAlone(region), hidden: [] };
        for (const [px, py] of points) {
          // Off the lines on which all of it lies.
          const [x, y] = [px + 0.3137, py + 0.2719];
          const far = active.map(
            ({ kind, value }) =>
              distance({ kind: 'circle', center: [x, y], radius: 0 }, shapeOfValue(kind, value as never)).distance,
          );
          // Arcs are short lines: nearer to an edge than these may be wrong.
          if (far.some((one) => Math.abs(one) < 0.3)) continue;
          const inside = (tag: string) => active.flatMap((one, i) => (one.tag === tag ? [far[i]! < 0] : []));
          const reveals = inside('reveal');
          const want = (reveals.length === 0 || reveals.includes(true)) && !inside('hide').includes(true);
          expect(isShown(region, x, y), 'as a region').toBe(want);
          expect(isShown(alone, x, y), 'as pieces alone').toBe(want);
        }
      },
    ),
    { numRuns: Number(process.env.UNSPOOL_CASES ?? 400) },
  );
});
