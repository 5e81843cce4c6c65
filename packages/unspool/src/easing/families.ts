/**
 * The named families: one curve each, given as its `in` form on 0–1, f(0) = 0 and f(1) = 1.
 * `out` is it turned about the middle, 1 − f(1 − x); `in-out` is `in` on the first half and `out` on the second.
 * docs/easing.md lists the formulas.
 */
const BACK = 1.70158; // goes back by a tenth of the way: the positive root of 4 s³ / 27 (s + 1)² = 0.1
const BACK_IN_OUT = BACK * 1.525; // a tenth again, in each half

const power = (n: number) => (x: number) => x ** n;

const backIn = (overshoot: number) => (x: number) => x * x * ((overshoot + 1) * x - overshoot);

/** A sine of the given period under an exponential; its last quarter wave ends on 1. */
const elasticIn = (period: number) => (x: number) =>
  x <= 0 ? 0 : x >= 1 ? 1 : -(2 ** (10 * (x - 1))) * Math.sin(((x - 1 - period / 4) * 2 * Math.PI) / period);

/** Four parabolas: a ball that falls and bounces back to 1/4, 1/16 and 1/64 of its height, run backwards. */
function bounceIn(x: number): number {
  let y = 1 - x;
  const k = 7.5625;
  if (y < 1 / 2.75) return 1 - k * y * y;
  if (y < 2 / 2.75) return 1 - (k * (y -= 1.5 / 2.75) * y + 0.75);
  if (y < 2.5 / 2.75) return 1 - (k * (y -= 2.25 / 2.75) * y + 0.9375);
  return 1 - (k * (y -= 2.625 / 2.75) * y + 0.984375);
}

type Curve = (x: number) => number;

/** The `in` form, and the one that `in-out` is made of where that is another. */
const families: Readonly<Record<string, readonly [curve: Curve, inOut?: Curve]>> = {
  sine: [(x) => 1 - Math.cos((x * Math.PI) / 2)],
  quad: [power(2)],
  cubic: [power(3)],
  quart: [power(4)],
  quint: [power(5)],
  expo: [(x) => (x <= 0 ? 0 : 2 ** (10 * (x - 1)))],
  circ: [(x) => 1 - Math.sqrt(1 - x * x)],
  back: [backIn(BACK), backIn(BACK_IN_OUT)],
  elastic: [elasticIn(0.3), elasticIn(0.45)],
  bounce: [bounceIn],
};

export const FAMILY_NAMES = [
  'sine',
  'quad',
  'cubic',
  'quart',
  'quint',
  'expo',
  'circ',
  'back',
  'elastic',
  'bounce',
] as const;
export type FamilyName = (typeof FAMILY_NAMES)[number];
export type FamilyEasing = `${FamilyName}-${'in' | 'out' | 'in-out'}`;

/** All thirty names in the order of the vocabulary. A compiled clip refers to one by its place here. */
export const FAMILY_EASINGS = FAMILY_NAMES.flatMap((name) => [
  `${name}-in`,
  `${name}-out`,
  `${name}-in-out`,
]) as readonly FamilyEasing[];

const curves: readonly Curve[] = FAMILY_NAMES.flatMap((name) => {
  const [inward, half = inward] = families[name]!;
  return [
    inward,
    (x: number) => 1 - inward(1 - x),
    (x: number) => (x < 0.5 ? half(2 * x) / 2 : 1 - half(2 - 2 * x) / 2),
  ];
});

/**
 * Evaluates family easing `index` of `FAMILY_EASINGS` at `x`. Outside 0–1 the nearest end holds, and the ends are
 * exactly 0 and 1. Allocates nothing.
 */
export function family(index: number, x: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  return curves[index]!(x);
}
