import fc from 'fast-check';
import type { ConditionDocument, ReelDocument, RuleDocument } from '../src/index.js';

/**
 * Random routines, and random programs of what a game does with them. All times are 64ths of a second, so that nothing
 * is rounded and a twin can say exactly what happens when.
 */
export interface ClipPlan {
  readonly duration: number;
  readonly loop: 'once' | 'loop' | 'ping-pong' | { readonly mode: 'loop' | 'ping-pong'; readonly count: 2 };
  /** The cue `pass`, and the span `window`. */
  readonly pass: number;
  readonly window: readonly [from: number, until: number];
}

export interface RulePlan {
  readonly layer: 'base' | 'top';
  readonly on: number | undefined;
  readonly conditions: readonly {
    readonly input: string;
    readonly condition: ConditionDocument;
    readonly for: number;
  }[];
  /** Which rule, as a share of those that it may name; and where in it. */
  readonly during: { readonly rule: number; readonly moment: 'pass' | 'window' | undefined } | undefined;
  readonly play: { readonly clips: readonly number[]; readonly as: 'clip' | 'chain' | 'list' | 'facing' };
  readonly free: 'pass' | 'window' | undefined;
  readonly until: 'pass' | undefined;
  readonly rate: number | 'input';
  readonly fade: number;
}

export interface RoutinePlan {
  readonly clips: readonly ClipPlan[];
  readonly keeps: readonly number[];
  readonly rules: readonly RulePlan[];
}

export type Act =
  | { readonly at: number; readonly set: Readonly<Record<string, number | boolean | readonly [number, number]>> }
  | { readonly at: number; readonly signal: number }
  | { readonly at: number; readonly play: number; readonly layer: 'base' | 'top' }
  | { readonly at: number; readonly stop: 'base' | 'top' };

const clip: fc.Arbitrary<ClipPlan> = fc
  .tuple(
    fc.integer({ min: 1, max: 16 }),
    fc.constantFrom('once', 'once', 'loop', 'ping-pong', { mode: 'loop', count: 2 }, { mode: 'ping-pong', count: 2 }),
    fc.nat(99),
    fc.nat(99),
    fc.nat(99),
  )
  .map(([half, loop, a, b, c]) => {
    const duration = 4 * half;
    const at = (n: number) => n % (duration + 1);
    const from = at(b) % duration;
    return {
      duration,
      loop: loop as ClipPlan['loop'],
      pass: 1 + (a % (duration - 1)),
      window: [from, from + 1 + (c % (duration - from))],
    };
  });

const number = fc.constantFrom(0, 1, 2, 4);
const wait = fc.constantFrom(0, 0, 0, 3, 10);
const condition = fc.oneof(
  fc.tuple(number, number, wait).map(([a, b, seconds]) => {
    const [low, high] = [Math.min(a, b), Math.max(a, b)];
    return { input: 'n', condition: { above: high, until: low }, for: seconds };
  }),
  fc.tuple(number, number, wait).map(([a, b, seconds]) => {
    return { input: 'v', condition: { below: Math.min(a, b) + 1, until: Math.max(a, b) + 1 }, for: seconds };
  }),
  fc.tuple(fc.boolean(), wait).map(([is, seconds]) => ({ input: 'f', condition: { equals: is }, for: seconds })),
  fc.constantFrom(1, 2).map((value) => ({ input: 'm', condition: value, for: 0 })),
);

const rule: fc.Arbitrary<RulePlan> = fc.record({
  layer: fc.constantFrom('base', 'base', 'top'),
  on: fc.option(fc.nat(2), { nil: undefined }),
  conditions: fc.uniqueArray(condition, { maxLength: 2, selector: ({ input }) => input }),
  during: fc.option(fc.record({ rule: fc.nat(20), moment: fc.constantFrom(undefined, 'pass', 'window') }), {
    nil: undefined,
    freq: 2,
  }),
  play: fc.record({
    clips: fc.array(fc.nat(4), { minLength: 1, maxLength: 3 }),
    as: fc.constantFrom('clip', 'clip', 'chain', 'list', 'facing'),
  }),
  free: fc.constantFrom(undefined, 'pass', 'window'),
  until: fc.constantFrom(undefined, undefined, undefined, 'pass'),
  rate: fc.constantFrom<RulePlan['rate'][]>(1, 1, 2, 0.5, 'input'),
  fade: fc.constantFrom(0, 4),
});

export const randomRoutine: fc.Arbitrary<RoutinePlan> = fc.record({
  clips: fc.array(clip, { minLength: 5, maxLength: 5 }),
  keeps: fc.tuple(fc.constantFrom(0, 8), fc.constantFrom(0, 16), fc.constant(5)),
  rules: fc.array(rule, { minLength: 2, maxLength: 8 }),
});

const direction = fc
  .tuple(number, fc.constantFrom([1, 0], [0, -1], [-1, 0]))
  .map(([n, [x, y]]): [number, number] => [n * x, n * y]);
const at = fc.nat(320);
const act: fc.Arbitrary<Act> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({
      at,
      set: fc.record({ n: number, v: direction, f: fc.boolean(), m: number, r: number }, { requiredKeys: [] }),
    }),
  },
  { weight: 5, arbitrary: fc.record({ at, signal: fc.nat(2) }) },
  { weight: 1, arbitrary: fc.record({ at, play: fc.nat(4), layer: fc.constantFrom('base', 'top') }) },
  { weight: 1, arbitrary: fc.record({ at, stop: fc.constantFrom('base', 'top') }) },
);
export const randomActs: fc.Arbitrary<readonly Act[]> = fc
  .array(act, { maxLength: 24 })
  .map((list) => [...list].sort((a, b) => a.at - b.at));

const UNIT = 1 / 64;

/** The layers in the order of their first rules; a rule may stand during rules of its own and of earlier ones. */
export function layersOf({ rules }: RoutinePlan): readonly string[] {
  return [...new Set(rules.map(({ layer }) => layer))];
}

export function duringOf(plan: RoutinePlan, place: number): number | undefined {
  const { during, layer } = plan.rules[place]!;
  if (!during) return undefined;
  const order = layersOf(plan);
  const known = plan.rules.flatMap((other, i) => (order.indexOf(other.layer) <= order.indexOf(layer) ? [i] : []));
  return known[during.rule % known.length];
}

/** What a rule plays: the clips of its chain, or the one that it repeats. Picks and sides are all of one length. */
export function clipsOf({ play }: RulePlan): readonly number[] {
  return play.as === 'chain' ? play.clips : [play.clips[0]!];
}

/** Whether nothing that a rule may stand or be cut by is missing in what it plays, and no chain is stuck. */
export function documentOf(plan: RoutinePlan): ReelDocument {
  const clipOf = ({ duration, loop, pass, window }: ClipPlan, glow: number) => ({
    duration: duration * UNIT,
    loop,
    tracks: {
      'crab.glow': [
        { at: 0, value: glow },
        { at: (duration * UNIT) / 2, value: glow + 1, ease: 'quad-in' },
        { at: duration * UNIT, value: 0 },
      ],
    },
    cues: [{ at: pass * UNIT, name: 'pass' }],
    spans: { window: [window[0] * UNIT, window[1] * UNIT] },
  });
  const clips = Object.fromEntries(
    plan.clips.flatMap((one, i) => [
      [`c${i}`, clipOf(one, i)],
      [`d${i}`, clipOf(one, i + 10)],
    ]),
  );
  const chains: Record<string, string[]> = {};
  const facings: Record<string, object> = {};
  const rules = plan.rules.map((rule, place): RuleDocument => {
    const name = `r${place}`;
    const first = rule.play.clips[0]!;
    const during = duringOf(plan, place);
    let what: object = { play: `c${first}` };
    if (rule.play.as === 'chain') {
      chains[`chain${place}`] = rule.play.clips.map((one) => `c${one}`);
      what = { play: `chain${place}` };
    } else if (rule.play.as === 'list') what = { play: [{ clip: `c${first}`, share: 2 }, `d${first}`] };
    else if (rule.play.as === 'facing') {
      facings[`facing${place}`] = { right: `c${first}`, up: `d${first}`, left: { mirror: 'right' } };
      what = { face: `facing${place}`, toward: 'v' };
    }
    return {
      name,
      ...(rule.layer === 'top' && { layer: 'top' }),
      ...(rule.on !== undefined && { on: `s${rule.on}` }),
      ...(rule.conditions.length > 0 && {
        if: Object.fromEntries(
          rule.conditions.map(({ input, condition: said, for: units }) => [
            input,
            typeof said === 'object' && units > 0 ? { ...said, for: units * UNIT } : said,
          ]),
        ),
      }),
      ...(during !== undefined && {
        during: {
          rule: `r${during}`,
          ...(rule.during!.moment === 'pass' && { cue: 'pass' }),
          ...(rule.during!.moment === 'window' && { span: 'window' }),
        },
      }),
      ...what,
      ...(rule.free && { free: rule.free }),
      ...(rule.until && rule.play.as !== 'chain' && { until: rule.until }),
      rate: rule.rate === 'input' ? { input: 'r', at: 2 } : rule.rate,
      ...(rule.fade > 0 && { fade: rule.fade * UNIT }),
    };
  });
  return {
    unspool: 1,
    name: 'random',
    roles: { crab: {} },
    clips,
    chains,
    facings,
    routines: {
      main: {
        inputs: {
          n: { kind: 'number' },
          m: { kind: 'number' },
          r: { kind: 'number', value: 2 },
          v: { kind: 'vec2' },
          f: { kind: 'flag', value: true },
          ...Object.fromEntries(plan.keeps.map((keep, i) => [`s${i}`, { kind: 'signal', keep: keep * UNIT }])),
        },
        rules,
      },
    },
  } as unknown as ReelDocument;
}
