import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import reference from '../../fixtures/easing.json' with { type: 'json' };
import serialize from '../../fixtures/serialize.json' with { type: 'json' };
import { easing, EASING_NAMES, FAMILY_NAMES, formatEasing, parseEasing, type FamilyName } from './index.js';

type Samples = readonly (readonly number[])[];
interface Case {
  readonly easing: string;
  readonly serialized: string;
  readonly effect: Samples;
  readonly nested: Samples;
  readonly exactEffect?: readonly number[];
  readonly exactNested?: readonly number[];
  readonly phases: Record<'normal' | 'reverse', { before: number; after: number }>;
}

describe('CSS easings, against exact arithmetic and Chromium', () => {
  test.each(reference.cases as unknown as Case[])('$easing', (one) => {
    const at = easing(one.easing);
    const exact = one.exactEffect && one.exactNested ? [...one.exactEffect, ...one.exactNested] : undefined;
    for (const [i, [x, chromium]] of [...one.effect, ...one.nested].entries()) {
      const y = exact ? exact[i]! : chromium!;
      const off = Math.abs(at(x!) - y) / Math.max(1, Math.abs(y));
      expect(off, `x = ${x}: ${at(x!)} instead of ${y}`).toBeLessThanOrEqual(exact ? 1e-9 : 0);
    }
    expect(at(0, true)).toBeCloseTo(one.phases.normal.before, 12);
    expect(at(1)).toBeCloseTo(one.phases.normal.after, 12);
    expect(formatted(one.easing)).toBe(one.serialized);
  });
});

/** What is refused here though the Web Animations API takes it, each with the words its message must have. */
const STRICTER: readonly [RegExp, string][] = [
  [/calc\(/, 'calc()'],
  [/\/\*/, 'comment'],
  [/\([^)]*$/, 'closing parenthesis'],
  [/1e400|2147483648/, 'beyond ±1000000000'],
];

describe('reading and writing', () => {
  test.each(serialize.cases.map((one) => [one.input, one] as const))('%j as the API does', (input, one) => {
    const reading = parseEasing(input);
    const stricter = one.animateAccepts ? STRICTER.find(([pattern]) => pattern.test(input)) : undefined;
    if (!one.animateAccepts || stricter) {
      expect(reading).toHaveProperty('problem.hint');
      if (stricter) expect(reading).toHaveProperty('problem.message', expect.stringContaining(stricter[1]));
    } else {
      expect(formatted(input)).toBe(one.effectEasing);
    }
  });

  test.each(EASING_NAMES)('%s is parsed in any case, and its text parses to the same', (name) => {
    expect(formatted(name.toUpperCase())).toBe(formatted(name));
    expect(formatted(formatted(name))).toBe(formatted(name));
  });

  test.each([
    ['quad-oot', 'unknown easing "quad-oot"', 'did you mean "quad-out"?'],
    ['cubik-bezier(0, 0, 1, 1)', 'unknown easing "cubik-bezier"', 'did you mean "cubic-bezier"?'],
    ['steps(3, jump-strat)', 'unknown jump term "jump-strat"', 'did you mean "jump-start"?'],
    ['steps', 'the easing "steps" needs arguments', 'write it as steps(4) or steps(4, jump-both)'],
    ['linear(0.5)', 'the easing "linear(0.5)" has only one stop', 'add a second stop, such as linear(0, 1)'],
    [
      'cubic-bezier(1.5, 0, 1, 1)',
      'x 1.5 in the easing "cubic-bezier(1.5, 0, 1, 1)" is not from 0 to 1',
      'keep the first and third number from 0 to 1, so that time does not run backwards',
    ],
  ])('%s is refused with what to do', (text, message, hint) => {
    expect(parseEasing(text)).toEqual({ problem: { message, hint } });
    expect(() => easing(text)).toThrow(expect.objectContaining({ code: 'easing/unreadable', hint }));
  });

  test('any cubic-bezier reads back to the same numbers', () => {
    const x = fc.double({ min: 0, max: 1, noNaN: true });
    const y = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(x, y, x, y, (...points) => {
        const text = `cubic-bezier(${points.map((n) => n + 0).join(', ')})`;
        expect(formatted(text)).toBe(text);
      }),
    );
  });
});

describe('families', () => {
  const x01 = fc.double({ min: 0, max: 1, noNaN: true });

  test.each(FAMILY_NAMES)('%s: ends exact, out is in turned about, in-out is symmetric', (name) => {
    const [inward, out, both] = ['in', 'out', 'in-out'].map((form) => easing(`${name}-${form}`)) as [Fn, Fn, Fn];
    for (const at of [inward, out, both]) expect([at(-1), at(0), at(1), at(2)]).toEqual([0, 0, 1, 1]);
    fc.assert(
      fc.property(x01, (x) => {
        expect(out(1 - x)).toBeCloseTo(1 - inward(1 - (1 - x)), 12);
        expect(both(1 - x)).toBeCloseTo(1 - both(1 - (1 - x)), 9);
      }),
    );
    for (let i = 0, last = 0; i <= 1000; last = both(i++ / 1000)) {
      expect(Math.abs(both(i / 1000) - last), `no jump at ${i / 1000}`).toBeLessThan(0.06);
    }
  });

  test.each([
    ['sine-in', 0.5, 1 - Math.SQRT1_2],
    ['quad-in', 0.3, 0.09],
    ['quint-out', 0.5, 1 - 1 / 32],
    ['cubic-in-out', 0.25, 0.0625],
    ['expo-in', 0.9, 0.5],
    ['circ-out', 0.2, 0.6],
    ['elastic-out', 0.075, 1],
    ['bounce-out', 1 / 2.75, 1],
  ] as const)('%s(%d) is %d', (name, x, y) => {
    expect(easing(name)(x)).toBeCloseTo(y, 12);
  });

  /** From docs/reference/easings.md alone. A family without a formula here does not compile. */
  const FORMULAS: Readonly<Record<FamilyName, (x: number) => number>> = {
    sine: (x) => 1 - Math.cos((x * Math.PI) / 2),
    quad: (x) => x ** 2,
    cubic: (x) => x ** 3,
    quart: (x) => x ** 4,
    quint: (x) => x ** 5,
    sext: (x) => x ** 6,
    expo: (x) => 2 ** (10 * (x - 1)),
    circ: (x) => 1 - Math.sqrt(1 - x * x),
    back: (x) => x * x * (2.70158 * x - 1.70158),
    elastic: (x) => -(2 ** (10 * (x - 1))) * Math.sin(((x - 1.075) * 2 * Math.PI) / 0.3),
    bounce: (x) => {
      const fall = 1 - x;
      const bounces = [[0, 0], [1.5, 0.75], [2.25, 0.9375], [2.625, 0.984375]] as const; // prettier-ignore
      return 1 - Math.min(...bounces.map(([low, height]) => 7.5625 * (fall - low / 2.75) ** 2 + height));
    },
  };

  test.each(FAMILY_NAMES)('%s is its formula', (name) => {
    for (let i = 1; i < 1000; i++) expect(easing(`${name}-in`)(i / 1000)).toBeCloseTo(FORMULAS[name](i / 1000), 12);
  });

  test('back goes back by a tenth', () => {
    const lowest = (name: string) => Math.min(...Array.from({ length: 10001 }, (_, i) => easing(name)(i / 10000)));
    expect(lowest('back-in')).toBeCloseTo(-0.1, 5);
    expect(lowest('back-in-out')).toBeCloseTo(-0.1, 3);
  });
});

type Fn = (x: number) => number;

function formatted(text: string): string {
  const reading = parseEasing(text);
  if ('problem' in reading) throw new Error(reading.problem.message);
  return formatEasing(reading.easing);
}

describe('spring(), against an oscillator that is integrated step by step, from docs/reference/easings.md alone', () => {
  /** y'' = −2k y' − (k² + ω²)(y − 1) from rest at 0, by Runge and Kutta's fourth order; then spread to end on 1. */
  function integrated(overshoot: number, steps = 20_000): Float64Array {
    const left = (k: number, w: number) => Math.exp(-k) * Math.hypot(1, k / w);
    let [low, high] = [0, 100];
    for (let i = 0; i < 200; i++) {
      const k = (low + high) / 2;
      if (left(k, (k * Math.PI) / -Math.log(overshoot)) > 1e-3) low = k;
      else high = k;
    }
    const [k, w] = [low, (low * Math.PI) / -Math.log(overshoot)];
    const pull = (y: number, speed: number) => -2 * k * speed - (k * k + w * w) * (y - 1);
    const h = 1 / steps;
    const ys = new Float64Array(steps + 1);
    let [y, speed] = [0, 0];
    for (let i = 1; i <= steps; i++) {
      const [a, b] = [speed, pull(y, speed)];
      const [c, d] = [speed + (h / 2) * b, pull(y + (h / 2) * a, speed + (h / 2) * b)];
      const [e, f] = [speed + (h / 2) * d, pull(y + (h / 2) * c, speed + (h / 2) * d)];
      const [g, j] = [speed + h * f, pull(y + h * e, speed + h * f)];
      y += (h / 6) * (a + 2 * c + 2 * e + g);
      speed += (h / 6) * (b + 2 * d + 2 * f + j);
      ys[i] = y;
    }
    return ys.map((value) => value / ys[steps]!);
  }

  const compare = (overshoot: number, steps: number, most: number) => {
    const expected = integrated(overshoot, steps);
    const at = easing(`spring(${overshoot})`);
    for (let i = 0; i <= steps; i += 10) expect(Math.abs(at(i / steps) - expected[i]!)).toBeLessThan(most);
    expect(Math.max(...expected) - 1).toBeCloseTo(overshoot, 2);
  };

  test.each([0.01, 0.1, 0.3, 0.5, 0.72, 0.9, 0.95])('spring(%d)', (overshoot) => compare(overshoot, 20_000, 1e-6));

  test('any overshoot', () => {
    fc.assert(
      fc.property(fc.integer({ min: 10, max: 950 }), (overshoot) => compare(overshoot / 1000, 8000, 1e-5)),
      runs(100),
    );
  });
});

test('reading takes time in proportion to the text', () => {
  const once = (text: string) => {
    const start = performance.now();
    parseEasing(text);
    return performance.now() - start;
  };
  // Other programs on the machine may take part of one.
  const time = (text: string) => Math.min(once(text), once(text), once(text));
  for (const count of [30_000, 300_000]) {
    const spaces = ' '.repeat(count);
    for (const text of [`ease${spaces}x`, `cubic-bezier(${spaces}x`, `linear(0${', 0'.repeat(count)}, 1)`])
      expect(time(text)).toBeLessThan(count / 100);
  }
});
