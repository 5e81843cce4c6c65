/**
 * The names of the families: one curve each, given as its `in` form on 0–1, f(0) = 0 and f(1) = 1.
 * `out` is it turned about the middle, 1 − f(1 − x); `in-out` is `in` on the first half and `out` on the second.
 * docs/reference/easings.md lists the formulas.
 */
export const FAMILY_NAMES = [
  ...(['sine', 'quad', 'cubic', 'quart', 'quint', 'expo', 'circ', 'back', 'elastic', 'bounce'] as const),
];
/** The families of named easings. */
export type FamilyName = (typeof FAMILY_NAMES)[number];
/** A named easing: a family with the end at which it changes most slowly. */
export type FamilyEasing = `${FamilyName}-${'in' | 'out' | 'in-out'}`;

/** All thirty names in the order of the vocabulary. A compiled clip refers to one by its place here; `family.ts` evaluates them. */
export const FAMILY_EASINGS = FAMILY_NAMES.flatMap((name) => [
  `${name}-in`,
  `${name}-out`,
  `${name}-in-out`,
]) as readonly FamilyEasing[];
