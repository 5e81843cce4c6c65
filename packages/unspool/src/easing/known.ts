import type { EasingCode } from './evaluate.js';

/** The numbers of an easing that `easing` has made a function of. */
export interface KnownEasing {
  readonly code: EasingCode;
  readonly table: readonly number[];
}

const known = new WeakMap<(x: number) => number, KnownEasing>();

/** Remembers what a function computes, for those who want more than its values: see `easingRange`. */
export function remember<F extends (x: number) => number>(ease: F, numbers: KnownEasing): F {
  known.set(ease, numbers);
  return ease;
}

/** Of a function of the game's own, nothing. */
export const knownEasing = (ease: (x: number) => number): KnownEasing | undefined => known.get(ease);
