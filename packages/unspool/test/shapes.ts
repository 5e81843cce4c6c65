import fc from 'fast-check';
import type { HitShape, Vec } from '../src/hit/index.js';

/** Shapes as the reference writes them. */
export type Written =
  | { type: 'box'; x: number; y: number; halfWidth: number; halfHeight: number; rotation: number }
  | { type: 'circle'; x: number; y: number; r: number }
  | { type: 'capsule'; x1: number; y1: number; x2: number; y2: number; r: number };

export function read(one: Written): HitShape {
  if (one.type === 'circle') return { kind: 'circle', center: [one.x, one.y], radius: one.r };
  if (one.type === 'capsule') return { kind: 'capsule', from: [one.x1, one.y1], to: [one.x2, one.y2], radius: one.r };
  const size: Vec = [2 * one.halfWidth, 2 * one.halfHeight];
  return { kind: 'box', center: [one.x, one.y], size, angle: (one.rotation * 180) / Math.PI };
}

/** In eighths, so that edges touch and lie in line as often as not. */
const number = fc.integer({ min: -80, max: 80 }).map((n) => n / 8);
const length = fc.integer({ min: 0, max: 40 }).map((n) => n / 8);
const vec = fc.tuple(number, number);
export const shape: fc.Arbitrary<HitShape> = fc.oneof(
  fc.record({ kind: fc.constant('circle' as const), center: vec, radius: length }),
  fc.record({ kind: fc.constant('capsule' as const), from: vec, to: vec, radius: length }),
  fc.record({
    kind: fc.constant('box' as const),
    center: vec,
    size: fc.tuple(length, length),
    angle: fc.oneof(fc.constantFrom(0, 45, 90, -180), fc.double({ min: -360, max: 360, noNaN: true })),
  }),
  sectorOf(180),
);

/** A sector with at most a width; half of them with corners where others have theirs. */
export function sectorOf(width: number): fc.Arbitrary<HitShape & { readonly kind: 'sector' }> {
  const angle = fc.oneof(
    fc.integer({ min: -8, max: 8 }).map((n) => n * 45),
    fc.double({ min: -400, max: 400, noNaN: true }),
  );
  const share = fc.oneof(fc.constantFrom(0, 0.25, 0.5, 1), fc.double({ min: 0, max: 1, noNaN: true }));
  return fc
    .record({ center: vec, radius: length, angle, share, isBack: fc.boolean() })
    .map(({ center, radius, angle, share, isBack }) => {
      const [from, to] = [angle, angle + share * width];
      return { kind: 'sector', center, radius, from: isBack ? to : from, to: isBack ? from : to };
    });
}
