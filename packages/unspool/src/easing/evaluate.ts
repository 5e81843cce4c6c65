import { bezier } from './bezier.js';
import { family } from './families.js';
import { spring } from './spring.js';
import { steps } from './steps.js';
import { linearStops } from './stops.js';

/** The codes of easings in a compiled clip. `compile.ts` writes the numbers that each reads. */
export const HOLD = 0;
export const LINEAR = 1;
export const POWERS = 2;
export const BEZIER = 3;
// 4 is not an easing: see clip/curves.ts.
export const STEPS = 5;
export const STOPS = 6;
export const FAMILY = 7;
export const SPRING = 8;

/** Tables by code are records of all of them, so that a new one does not compile until each has it. */
export type EasingCode =
  | typeof HOLD
  | typeof LINEAR
  | typeof POWERS
  | typeof BEZIER
  | typeof STEPS
  | typeof STOPS
  | typeof FAMILY
  | typeof SPRING;

/**
 * Evaluates a compiled easing. Allocates nothing, never throws.
 *
 * @param table  the numbers that `compileEasing` wrote
 * @param offset where this easing's numbers start
 * @param before CSS's "before flag"; false between keys
 * @param cell   progress through the segment, 0–1 between two keys, any finite number is defined; receives the result
 */
export function ease(
  code: EasingCode,
  table: ArrayLike<number>,
  offset: number,
  before: boolean,
  cell: Float64Array,
): void {
  switch (code) {
    case LINEAR:
      return;
    case HOLD:
      cell[0] = cell[0]! < 1 ? 0 : 1;
      return;
    case POWERS: {
      // Three coefficients of a cubic from 0 to 1; outside 0–1 the nearest end holds.
      const x = Math.min(1, Math.max(0, cell[0]!));
      cell[0] = ((table[offset]! * x + table[offset + 1]!) * x + table[offset + 2]!) * x;
      return;
    }
    case BEZIER:
      bezier(table, offset, cell);
      return;
    case STEPS:
      steps(table, offset, before, cell);
      return;
    case STOPS:
      linearStops(table, offset, cell);
      return;
    case SPRING:
      spring(table, offset, cell);
      return;
    case FAMILY:
      family(table[offset]! | 0, cell);
      return;
    default:
      code satisfies never;
  }
}
