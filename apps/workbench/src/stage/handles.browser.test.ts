import { Rectangle } from 'pixi.js';
import fc from 'fast-check';
import { parseReel, type Reel, type ReelDocument } from 'unspool';
import { roundedOf, shapesAt } from 'unspool/hit';
import { describe, expect, it } from 'vitest';
import crabDocument from '../../../../examples/tidepool/reels/crab.reel.json' with { type: 'json' };
import { valuesAt, type Values } from '../model/pose.js';
import type { State } from '../model/store.js';
import { handlesOf, moveRole, shapesOf, type Handle } from './handles.js';
import { isInside, outlineOf, type Point } from './outline.js';
import { worldOf } from './puppet.js';

/** A claw on a crab on a rock: three roles, one on the other, with a shape of each kind on the claw. */
const doc = {
  unspool: 1,
  roles: {
    rock: {},
    crab: { parent: 'rock' },
    claw: {
      parent: 'crab',
      shapes: { box: { kind: 'box' }, ring: { kind: 'circle' }, arm: { kind: 'capsule' } },
    },
  },
  clips: {
    a: {
      tracks: {
        'claw.box': [{ at: 0, value: { center: [0, 0], size: [1, 1], angle: 0 } }],
        'claw.ring': [{ at: 0, value: { center: [0, 0], radius: 1 } }],
        'claw.arm': [{ at: 0, value: { from: [0, 0], to: [1, 0], radius: 1 } }],
      },
    },
  },
} as unknown as ReelDocument;
const reel = parseReel<unknown>(doc);

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const place = fc.tuple(number(-100, 100), number(-100, 100));
const scale = fc.tuple(number(0.4, 2), fc.oneof(number(0.4, 2), number(-2, -0.4)));

/** Where the three stand, how they are turned and scaled, and the claw's shapes. */
const poses: fc.Arbitrary<Values> = fc
  .tuple(...['rock', 'crab', 'claw'].map(() => fc.record({ position: place, rotation: number(-180, 180), scale })))
  .chain((roles) =>
    fc
      .record({
        box: fc.record({ center: place, size: fc.tuple(number(1, 60), number(1, 60)), angle: number(-90, 90) }),
        ring: fc.record({ center: place, radius: number(1, 40) }),
        arm: fc.record({ from: place, to: place, radius: number(1, 20) }),
        pivot: fc.tuple(number(-20, 20), number(-20, 20)),
      })
      .map(({ pivot, ...shapes }): Values => {
        const values: Record<string, unknown> = { 'claw.pivot': pivot };
        ['rock', 'crab', 'claw'].forEach((role, i) => {
          for (const [name, value] of Object.entries(roles[i]!)) values[`${role}.${name}`] = value;
        });
        for (const [name, value] of Object.entries(shapes)) values[`claw.${name}`] = value;
        return values as Values;
      }),
  );

const stateOf = (values: Values): State => ({ doc, reel, values, role: 'claw' }) as unknown as State;
const bounds = new Rectangle(-10, -8, 30, 20);
const handle = (values: Values, label: string): Handle =>
  handlesOf(stateOf(values), bounds, 2).find((one) => one.label === `claw${label}`)!;

/** How far two points lie apart, in units of the stage; values are rounded to a hundredth, and scaled up to eightfold. */
function expectNear([x, y]: Point, [u, v]: Point, within = 0.2): void {
  expect(Math.hypot(x - u, y - v)).toBeLessThan(within);
}

const settings = { numRuns: 200, seed: 20261126 };

describe('a role that is taken hold of', () => {
  it('follows the pointer, whatever its parent', () => {
    fc.assert(
      fc.property(poses, place, place, (values, start, end) => {
        const local = worldOf(doc, 'claw', values).applyInverse({ x: start[0], y: start[1] });
        const after = { ...values, ...moveRole(doc, 'claw', values, start, end) };
        const now = worldOf(doc, 'claw', after).apply(local);
        expectNear([now.x, now.y], end);
      }),
      settings,
    );
  });

  it('rotates past half a turn, as many turns as the pointer', () => {
    fc.assert(
      fc.property(poses, number(-1000, 1000), (values, degrees) => {
        const turn = handle(values, ': rotation');
        const origin = handle(values, ': position').at;
        const [dx, dy] = [turn.at[0] - origin[0], turn.at[1] - origin[1]];
        let after: Readonly<Record<string, unknown>> = values;
        for (let step = 1; step <= 20; step++) {
          const angle = ((degrees * step) / 20) * (Math.PI / 180);
          const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
          after = turn.drag([origin[0] + dx * cos - dy * sin, origin[1] + dx * sin + dy * cos], turn.at, true);
        }
        const by = (after['claw.rotation'] as number) - (values['claw.rotation'] as number);
        expect(Math.abs(by)).toBeCloseTo(Math.abs(degrees), 0);
      }),
    );
  });

  it('rotates as far as the pointer around it, also mirrored', () => {
    fc.assert(
      fc.property(poses, number(-170, 170), (values, degrees) => {
        const turn = handle(values, ': rotation');
        const origin = handle(values, ': position').at;
        const angle = (degrees * Math.PI) / 180;
        const [dx, dy] = [turn.at[0] - origin[0], turn.at[1] - origin[1]];
        const to: Point = [
          origin[0] + dx * Math.cos(angle) - dy * Math.sin(angle),
          origin[1] + dx * Math.sin(angle) + dy * Math.cos(angle),
        ];
        const after = { ...values, ...turn.drag(to, turn.at, true) };
        const by = ((after['claw.rotation'] as number) - (values['claw.rotation'] as number)) * (Math.PI / 180);
        const { a, b, c, d } = worldOf(doc, 'crab', values);
        const sense = a * d - b * c < 0 ? -1 : 1;
        expect(by * sense).toBeCloseTo(angle, 2);
      }),
      settings,
    );
  });

  it('stays in place while its pivot follows the pointer', () => {
    fc.assert(
      fc.property(poses, place, place, (values, by, spot) => {
        const pivot = handle(values, ': pivot');
        const to: Point = [pivot.at[0] + by[0], pivot.at[1] + by[1]];
        const after = { ...values, ...pivot.drag(to, pivot.at, false) };
        const [was, is] = [values, after].map((pose) => worldOf(doc, 'claw', pose).apply({ x: spot[0], y: spot[1] }));
        expectNear([is!.x, is!.y], [was!.x, was!.y]);
        const [x, y] = handle(values, ': position').at;
        expectNear(handle(after, ': position').at, [x + by[0], y + by[1]]);
      }),
      settings,
    );
  });

  it('is scaled by its corner, which follows the pointer', () => {
    fc.assert(
      fc.property(poses, number(0.5, 2), number(0.5, 2), (values, fx, fy) => {
        const size = handle(values, ': scale');
        const [px, py] = values['claw.pivot'] as [number, number];
        const corner = { x: px + (bounds.right - px) * fx, y: py + (bounds.bottom - py) * fy };
        const { x, y } = worldOf(doc, 'claw', values).apply(corner);
        const after = { ...values, ...size.drag([x, y], size.at, true) };
        const now = worldOf(doc, 'claw', after).apply({ x: bounds.right, y: bounds.bottom });
        // A factor is rounded to a hundredth of the scale: of a corner 50 units away, under two scales.
        expectNear([now.x, now.y], [x, y], 2.5);
        const [sx, sy] = values['claw.scale'] as [number, number];
        const [, ratio] = Object.values(size.drag([x, y], size.at, false))[0] as [number, number];
        expect(Math.sign(ratio)).toBe(Math.sign(sy));
        expect(Math.sign(sx)).toBe(1);
      }),
      settings,
    );
  });
});

describe('the points of shapes', () => {
  it.each(['.box: center', '.ring: center', '.arm: start', '.arm: end'])('%s follows the pointer', (label) => {
    fc.assert(
      fc.property(poses, place, (values, end) => {
        const point = handle(values, label);
        const after = { ...values, ...point.drag(end, point.at, false) };
        expectNear(handle(after, label).at, end);
      }),
      settings,
    );
  });

  it('of sizes and radii keep the middle, and are never less than nothing', () => {
    fc.assert(
      fc.property(poses, place, (values, end) => {
        for (const [label, middle] of [
          ['.box: size', '.box: center'],
          ['.ring: radius', '.ring: center'],
        ] as const) {
          const point = handle(values, label);
          const change = point.drag(end, point.at, false);
          const after = { ...values, ...change };
          expectNear(handle(after, middle).at, handle(values, middle).at, 1e-9);
          const [value] = Object.values(change) as unknown as [{ size?: number[]; radius?: number }];
          expect(Math.min(...(value.size ?? [value.radius!]))).toBeGreaterThanOrEqual(0);
        }
      }),
      settings,
    );
  });

  it('a box rotates toward the pointer', () => {
    const values = {
      ...valuesAt(reel, reel.clip('a'), 0),
      'claw.box': { center: [0, 0], size: [20, 10], angle: 0 },
    } as Values;
    const point = handle(values, '.box: rotation');
    expect(point.at).toEqual([18, 0]);
    expect(point.drag([0, 18], point.at, false)).toEqual({ 'claw.box': { center: [0, 0], size: [20, 10], angle: 90 } });
  });
});

describe('shapes as they are drawn', () => {
  const crab = parseReel(crabDocument) as unknown as Reel;

  it('lie where the library’s hits have them, at every moment of the snap', () => {
    const clip = crab.clip('snap');
    let seen = 0;
    for (let frame = 0; frame <= 30; frame += 0.5) {
      const time = frame / 60;
      const values = valuesAt(crab, clip, time);
      const drawn = shapesOf({ doc: crab.document, reel: crab, values } as unknown as State);
      const known = shapesAt(clip, time);
      expect(drawn.map(({ name }) => name)).toEqual(known.map(({ name }) => name));
      known.forEach(({ shape }, i) => {
        seen++;
        const corners = roundedOf(shape).corners;
        for (const point of drawn[i]!.points)
          expect(Math.min(...corners.map(([x, y]) => Math.hypot(x - point[0], y - point[1])))).toBeLessThan(1e-6);
      });
    }
    expect(seen).toBeGreaterThan(5);
  });

  it('have their points on their edge, and their middle inside', () => {
    fc.assert(
      fc.property(place, number(1, 50), place, (center, radius, to) => {
        const unit = worldOf(doc, 'rock', {});
        const ring = outlineOf('circle', { center, radius }, unit);
        for (const [x, y] of ring) expect(Math.hypot(x - center[0], y - center[1])).toBeCloseTo(radius, 6);
        expect(isInside(center, ring)).toBe(true);
        expect(isInside([center[0] + radius * 1.01, center[1]], ring)).toBe(false);
        const arm = outlineOf('capsule', { from: center, to, radius }, unit);
        expect(isInside([(center[0] + to[0]) / 2, (center[1] + to[1]) / 2], arm)).toBe(true);
      }),
      settings,
    );
  });
});
