import { FAMILY_EASINGS, type FamilyEasing } from './families.js';
import type { JumpTerm } from './steps.js';

/**
 * The CSS keywords that stand for a curve. `step-start` and `step-end` are parsed as `steps()`, as CSS computes them.
 */
export const BEZIER_KEYWORDS = {
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
} as const;
/** A CSS keyword that stands for a cubic Bézier curve. */
export type BezierKeyword = keyof typeof BEZIER_KEYWORDS;

/** A parsed easing: the interpolation of a segment from its key to the next. */
export type Easing =
  | { readonly kind: 'linear' }
  | { readonly kind: 'hold' }
  | {
      readonly kind: 'bezier';
      readonly points: readonly [x1: number, y1: number, x2: number, y2: number];
      readonly keyword?: BezierKeyword;
    }
  | { readonly kind: 'steps'; readonly n: number; readonly jump: JumpTerm }
  /** `stops`: percent, output, percent, output, …; percents are ascending or equal. */
  | { readonly kind: 'stops'; readonly stops: readonly number[] }
  | { readonly kind: 'family'; readonly name: FamilyEasing }
  | { readonly kind: 'spring'; readonly overshoot: number }
  /** These two are not functions of progress: they depend on the neighboring keys and their handles. */
  | { readonly kind: 'smooth' }
  | { readonly kind: 'curve' };

/** An easing that is a function of progress. */
export type FreeEasing = Exclude<Easing, { readonly kind: 'smooth' } | { readonly kind: 'curve' }>;

/** Every easing that is a plain word. */
export const EASING_NAMES: readonly string[] = [
  ...['linear', 'hold', 'smooth', 'curve'],
  ...Object.keys(BEZIER_KEYWORDS),
  'step-start',
  'step-end',
  ...FAMILY_EASINGS,
];

/**
 * Returns the canonical text of an easing. For CSS easings it is what the Web Animations API returns, with all digits.
 * `parseEasing` reads it back to the same easing.
 */
export function formatEasing(easing: Easing): string {
  switch (easing.kind) {
    case 'linear':
    case 'hold':
    case 'smooth':
    case 'curve':
      return easing.kind;
    case 'spring':
      return `spring(${easing.overshoot})`;
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
