import { bezier } from './bezier.js';
import { family, FAMILY_EASINGS, type FamilyEasing } from './families.js';
import { jumpsOf, steps, type JumpTerm } from './steps.js';
import { linearStops } from './stops.js';

/** The CSS keywords that stand for a curve. `step-start` and `step-end` are read as `steps()`, as CSS computes them. */
export const BEZIER_KEYWORDS = {
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
} as const;
export type BezierKeyword = keyof typeof BEZIER_KEYWORDS;

type Four = readonly [x1: number, y1: number, x2: number, y2: number];

/** How a segment gets from its key to the next, read and checked. */
export type Easing =
  | { readonly kind: 'linear' }
  | { readonly kind: 'hold' }
  | { readonly kind: 'bezier'; readonly points: Four; readonly keyword?: BezierKeyword }
  | { readonly kind: 'steps'; readonly n: number; readonly jump: JumpTerm }
  /** `stops`: percent, output, percent, output …; percents ascending or equal. */
  | { readonly kind: 'stops'; readonly stops: readonly number[] }
  | { readonly kind: 'family'; readonly name: FamilyEasing };

/** Every easing that is a plain word. */
export const EASING_NAMES: readonly string[] = [
  'linear',
  'hold',
  ...Object.keys(BEZIER_KEYWORDS),
  'step-start',
  'step-end',
  ...FAMILY_EASINGS,
];

/**
 * The canonical text of an easing: for CSS easings what the Web Animations API gives back, with numbers in full.
 * `parseEasing` reads it back to the same easing.
 */
export function formatEasing(easing: Easing): string {
  switch (easing.kind) {
    case 'linear':
    case 'hold':
      return easing.kind;
    case 'family':
      return easing.name;
    case 'bezier':
      return easing.keyword ?? `cubic-bezier(${easing.points.join(', ')})`;
    case 'steps':
      return easing.jump === 'jump-end' || easing.jump === 'end'
        ? `steps(${easing.n})`
        : `steps(${easing.n}, ${easing.jump})`;
    case 'stops': {
      const pairs: string[] = [];
      for (let i = 0; i < easing.stops.length; i += 2) pairs.push(`${easing.stops[i + 1]} ${easing.stops[i]}%`);
      return `linear(${pairs.join(', ')})`;
    }
  }
}

/** The kinds of easing as a compiled clip tells them apart. */
export const HOLD = 0;
export const LINEAR = 1;
const BEZIER = 2;
const STEPS = 3;
const STOPS = 4;
const FAMILY = 5;

/**
 * Appends an easing's numbers to `table` and returns its code. Layout by code: Bezier x1 y1 x2 y2;
 * Steps n, first, jumps; Stops count, then x y per stop (x 0–1); Family its index; Linear and Hold nothing.
 */
export function compileEasing(easing: Easing, table: number[]): number {
  switch (easing.kind) {
    case 'linear':
      return LINEAR;
    case 'hold':
      return HOLD;
    case 'bezier':
      table.push(...easing.points);
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
    case 'family':
      table.push(FAMILY_EASINGS.indexOf(easing.name));
      return FAMILY;
  }
}

/**
 * Evaluates a compiled easing. Allocates nothing, never throws.
 *
 * @param table  the numbers `compileEasing` wrote
 * @param offset where this easing's numbers start
 * @param before CSS's "before flag"; false between keys
 * @param cell   progress through the segment, 0–1 between two keys, any finite number is defined; receives the result
 */
export function ease(
  code: number,
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
    case BEZIER:
      bezier(table, offset, cell);
      return;
    case STEPS:
      steps(table, offset, before, cell);
      return;
    case STOPS:
      linearStops(table, offset, cell);
      return;
    default:
      family(table[offset]! | 0, cell);
  }
}
