import { writeBezier } from './bezier.js';
import type { FreeEasing } from './easing.js';
import { BEZIER, FAMILY, HOLD, LINEAR, POWERS, SPRING, STEPS, STOPS } from './evaluate.js';
import { FAMILY_EASINGS, type FamilyEasing } from './families.js';
import { writeSpring } from './spring.js';
import { jumpsOf } from './steps.js';

/** The families that are polynomials of the third degree at most, in powers of x: they cost next to nothing. */
const POLYNOMIALS: Partial<Record<FamilyEasing, readonly [cube: number, square: number, x: number]>> = {
  'quad-in': [0, 1, 0],
  'quad-out': [0, -1, 2],
  'cubic-in': [1, 0, 0],
  'cubic-out': [1, -3, 3],
};

/** Appends an easing's numbers to `table` and returns its code. What they are, each evaluating function says. */
export function compileEasing(easing: FreeEasing, table: number[]): number {
  switch (easing.kind) {
    case 'linear':
      return LINEAR;
    case 'hold':
      return HOLD;
    case 'bezier':
      writeBezier(easing.points, table);
      return BEZIER;
    case 'steps': {
      const { first, jumps } = jumpsOf(easing.n, easing.jump);
      table.push(easing.n, first, jumps);
      return STEPS;
    }
    case 'stops':
      table.push(easing.stops.length / 2);
      for (let i = 0; i < easing.stops.length; i += 2) table.push(easing.stops[i]! / 100, easing.stops[i + 1]!);
      return STOPS;
    case 'spring':
      writeSpring(easing.overshoot, table);
      return SPRING;
    case 'family': {
      const powers = POLYNOMIALS[easing.name];
      if (powers) table.push(...powers);
      else table.push(FAMILY_EASINGS.indexOf(easing.name));
      return powers ? POWERS : FAMILY;
    }
  }
}
