import { cosine, sine } from './sine.js';

/**
 * The families of named easings, each by its `in` form on 0–1, f(0) = 0 and f(1) = 1. `out` is the same rotated about
 * the middle, 1 − f(1 − x); `in-out` is `in` on the first half and `out` on the second. docs/reference/easings.md lists
 * the formulas.
 *
 * This table is all that the library knows of a family: a new one is a new row. Compiled clips refer to rows by their
 * index, so new ones go to the end.
 */
interface Family {
  /**
   * Evaluates the `in` form in place. In a cell, because the engine would box a returned number.
   *
   * @param cell x, inside 0–1; receives y
   * @param half whether it is one half of `in-out`
   */
  readonly at: (cell: Float64Array, half: boolean) => void;
  /** Coefficients of the `in` form when it is a polynomial a x³ + b x² + c x, which is cheap to evaluate. */
  readonly powers?: readonly [a: number, b: number, c: number];
  /** Whether it consists of polynomials of at most the third degree, so that it can be cut exactly. */
  readonly isCubic?: true;
  /** Where the formula of the `out` form changes, between 0 and 1. */
  readonly breaks?: readonly number[];
}

/**
 * The `s` of `back`, x² ((s + 1) x − s). Its minimum, −4 s³ / 27 (s + 1)², is a tenth below 0; the root is rounded to five
 * decimals. In `in-out`, each half spans half of the range, so s grows by 1.525 to undershoot by a tenth of all of it.
 */
const BACK = 1.70158;
const BACK_IN_OUT = BACK * 1.525;
/** Period of the sine in `elastic`, as a fraction of the segment: three waves before the end, two in `in-out`. */
const ELASTIC = 0.3;
const ELASTIC_IN_OUT = 0.45;

const FAMILIES = {
  sine: {
    at: (cell) => {
      cell[0] = 1 - cosine((cell[0]! * Math.PI) / 2);
    },
  },
  quad: {
    at: (cell) => {
      cell[0] = cell[0]! * cell[0]!;
    },
    powers: [0, 1, 0],
    isCubic: true,
  },
  cubic: {
    at: (cell) => {
      cell[0] = cell[0]! * cell[0]! * cell[0]!;
    },
    powers: [1, 0, 0],
    isCubic: true,
  },
  quart: {
    at: (cell) => {
      const x = cell[0]!;
      cell[0] = x * x * x * x;
    },
  },
  quint: {
    at: (cell) => {
      const x = cell[0]!;
      cell[0] = x * x * x * x * x;
    },
  },
  expo: {
    at: (cell) => {
      cell[0] = cell[0]! <= 0 ? 0 : 2 ** (10 * (cell[0]! - 1));
    },
  },
  circ: {
    at: (cell) => {
      cell[0] = 1 - Math.sqrt(1 - cell[0]! * cell[0]!);
    },
  },
  back: {
    at: (cell, half) => {
      const overshoot = half ? BACK_IN_OUT : BACK;
      const x = cell[0]!;
      cell[0] = x * x * ((overshoot + 1) * x - overshoot);
    },
    isCubic: true,
  },
  elastic: {
    at: (cell, half) => {
      // A sine under an exponential; its last quarter wave ends on 1.
      const period = half ? ELASTIC_IN_OUT : ELASTIC;
      const x = cell[0]!;
      cell[0] = x >= 1 ? 1 : -(2 ** (10 * (x - 1))) * sine(((x - 1 - period / 4) * 2 * Math.PI) / period);
    },
  },
  bounce: {
    at: (cell) => {
      // Four parabolas: a ball that bounces back to 1/4, 1/16 and 1/64 of its height, run backwards. A fall from 1 takes
      // 1, the bounces 1, 1/2 and 1/4 in the same unit, together 2.75; so the parabolas are 2.75² = 7.5625 steep.
      const fall = 1 - cell[0]!;
      const height = fall < 1 / 2.75 ? 0 : fall < 2 / 2.75 ? 0.75 : fall < 2.5 / 2.75 ? 0.9375 : 0.984375;
      const low = height === 0 ? 0 : height === 0.75 ? 1.5 / 2.75 : height === 0.9375 ? 2.25 / 2.75 : 2.625 / 2.75;
      cell[0] = 1 - (7.5625 * (fall - low) * (fall - low) + height);
    },
    isCubic: true,
    breaks: [1 / 2.75, 2 / 2.75, 2.5 / 2.75],
  },
  sext: {
    at: (cell) => {
      const square = cell[0]! * cell[0]!;
      cell[0] = square * square * square;
    },
  },
} as const satisfies Record<string, Family>;

/** The families of named easings. */
export type FamilyName = keyof typeof FAMILIES;
/** A named easing: a family with the end at which it changes most slowly. */
export type FamilyEasing = `${FamilyName}-${'in' | 'out' | 'in-out'}`;

export const FAMILY_NAMES = /* @__PURE__ */ Object.keys(FAMILIES) as FamilyName[];
const CURVES: readonly Family[] = /* @__PURE__ */ Object.values(FAMILIES);

/** All named easings, three forms of each family in turn. A compiled clip refers to one by its index. */
export const FAMILY_EASINGS = /* @__PURE__ */ FAMILY_NAMES.flatMap((name): FamilyEasing[] => [
  `${name}-in`,
  `${name}-out`,
  `${name}-in-out`,
]);

/**
 * Evaluates number `index` of `FAMILY_EASINGS`. Outside 0–1 the nearest end holds, and the ends are exactly 0 and 1.
 *
 * @param cell x; receives y. Allocates nothing
 */
export function family(index: number, cell: Float64Array): void {
  const given = cell[0]!;
  if (given <= 0 || given >= 1) {
    cell[0] = given <= 0 ? 0 : 1;
    return;
  }
  const form = index % 3; // 0 in, 1 out, 2 in-out
  const half = form === 2;
  const turned = form === 1 || (half && given >= 0.5);
  cell[0] = half ? (turned ? 2 - 2 * given : 2 * given) : turned ? 1 - given : given;
  CURVES[(index / 3) | 0]!.at(cell, half);
  if (turned) cell[0] = half ? 2 - cell[0] : 1 - cell[0];
  if (half) cell[0] = cell[0] / 2;
}

/** The coefficients of a x³ + b x² + c x for number `index` of `FAMILY_EASINGS`, where one polynomial is all of it. */
export function familyPowers(index: number): Family['powers'] {
  const { powers } = CURVES[(index / 3) | 0]!;
  if (!powers || index % 3 !== 1) return index % 3 === 0 ? powers : undefined;
  const [a, b, c] = powers;
  // 1 − f(1 − x), as a + b + c = 1.
  return [a, 0 - (3 * a + b), 3 * a + 2 * b + c];
}

/** Progress from 0 to 1 at which the formula of number `index` of `FAMILY_EASINGS` changes, both ends included. */
export function familyBreaks(index: number): readonly number[] {
  const out = [0, ...(CURVES[(index / 3) | 0]!.breaks ?? []), 1];
  const into = out.map((x) => 1 - x).reverse();
  const form = index % 3;
  if (form < 2) return form === 0 ? into : out;
  return [...into.map((x) => x / 2), ...out.slice(1).map((x) => (1 + x) / 2)];
}

/** Whether number `index` of `FAMILY_EASINGS` consists of polynomials of at most the third degree. */
export const isFamilyCubic = (index: number): boolean => CURVES[(index / 3) | 0]!.isCubic ?? false;
