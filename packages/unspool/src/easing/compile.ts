import { writeBezier } from './bezier.js';
import type { FreeEasing } from './easing.js';
import { BEZIER, FAMILY, HOLD, LINEAR, POWERS, SPRING, STEPS, STOPS, type EasingCode } from './evaluate.js';
import { FAMILY_EASINGS, familyPowers } from './families.js';
import { writeSpring } from './spring.js';
import { jumpsOf } from './steps.js';

/** Appends an easing's numbers to `table` and returns its code. What they are, each evaluating function says. */
export function compileEasing(easing: FreeEasing, table: number[]): EasingCode {
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
      const index = FAMILY_EASINGS.indexOf(easing.name);
      const powers = familyPowers(index);
      table.push(...(powers ?? [index]));
      return powers ? POWERS : FAMILY;
    }
  }
}
