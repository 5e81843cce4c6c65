import { DEFAULT_FPS, toSeconds, type Time } from '../../time/units.js';
import type { InputKind } from './input-kinds.js';
import type { LoopDocument, ReelDocument, RuleDocument } from './document.js';

/** An input of a routine. */
export interface RoutineInput {
  readonly name: string;
  readonly kind: InputKind;
  /** Its numbers at the start: one, two of a vec2, none of a signal. A flag is 0 or 1. */
  readonly value: readonly number[];
  /** Of a signal: how long it waits to be used, in seconds. */
  readonly keep: number;
}

/**
 * A condition: it begins to hold when the input is above `above`, or below `below`, or equal to `equals`, and holds
 * until the input is back at `until`. The input of a vec2 is its length.
 */
export interface RuleCondition {
  readonly input: string;
  readonly test: 'above' | 'below' | 'equals';
  readonly than: number;
  /** Of `equals`: the same number. */
  readonly until: number;
  /** Seconds for which it must have held. */
  readonly for: number;
}

/** A rule of a routine, said in full. */
export interface RoutineRule {
  readonly name: string;
  readonly layer: string;
  /** The signal that begins it. */
  readonly on?: string | undefined;
  readonly conditions: readonly RuleCondition[];
  /** The rule that must be in force, and the moment of its clip: a span or an interval to be inside, or a cue passed. */
  readonly during?: { readonly rule: string; readonly moment?: string | undefined } | undefined;
  /** What it plays: one clip or chain, or several of which one is picked. */
  readonly play: readonly { readonly clip: string; readonly share: number }[];
  /** Whether it picks: each pick plays one round. */
  readonly picks: boolean;
  /** The facing that it plays in place of a clip, and the vec2 that says where to. */
  readonly face?: string | undefined;
  readonly toward?: string | undefined;
  readonly rate: number;
  /** The input that drives the rate, and its value at which the rate is 1. */
  readonly rateInput?: string | undefined;
  readonly rateAt: number;
  /** The moment from which weaker rules may cut it. */
  readonly free?: string | undefined;
  /** Options of `play`. */
  readonly options: {
    readonly loop?: LoopDocument;
    readonly span?: string;
    readonly from?: string | number;
    readonly until?: string | number;
    readonly fade?: Time;
    readonly fadeOut?: Time;
  };
}

/** A routine of a checked reel: its inputs by place, and its rules, the strongest first. */
export interface Routine {
  readonly inputs: readonly RoutineInput[];
  readonly rules: readonly RoutineRule[];
}

/** The layer of rules that name none. */
export const BASE_LAYER = 'base';

const OPTIONS = ['loop', 'span', 'from', 'until', 'fade', 'fadeOut'] as const;

/** The routines of a checked reel. Times of inputs and conditions are in frames of the reel. */
export function routinesOf({ routines = {}, fps = DEFAULT_FPS }: ReelDocument): Record<string, Routine> {
  const seconds = (time: Time | undefined) => (time === undefined ? 0 : toSeconds(time, fps));
  return Object.fromEntries(
    Object.entries(routines).map(([name, { inputs = {}, rules }]) => {
      const list = Object.entries(inputs).map(([input, { kind, value, keep }]): RoutineInput => {
        return { name: input, kind, value: numbersOf(kind, value), keep: seconds(keep) };
      });
      return [name, { inputs: list, rules: rules.map((rule) => ruleOf(rule, seconds)) }];
    }),
  );
}

function numbersOf(kind: InputKind, value: unknown): number[] {
  if (kind === 'signal') return [];
  if (kind === 'vec2') return [...((value as readonly number[] | undefined) ?? [0, 0])];
  return [Number(value ?? 0)];
}

function ruleOf(rule: RuleDocument, seconds: (time: Time | undefined) => number): RoutineRule {
  const { name, layer = BASE_LAYER, on, during, play = [], face, toward, rate = 1, free } = rule;
  const list = typeof play === 'string' ? [play] : play;
  const options = Object.fromEntries(OPTIONS.flatMap((key) => (rule[key] === undefined ? [] : [[key, rule[key]]])));
  return {
    name,
    layer,
    on,
    conditions: Object.entries(rule.if ?? {}).map(([input, condition]): RuleCondition => {
      if (typeof condition !== 'object')
        return { input, test: 'equals', than: Number(condition), until: Number(condition), for: 0 };
      const { above, below, equals } = condition;
      const test = above !== undefined ? 'above' : below !== undefined ? 'below' : 'equals';
      const than = Number(above ?? below ?? equals);
      return { input, test, than, until: condition.until ?? than, for: seconds(condition.for) };
    }),
    during: during && { rule: during.rule, moment: during.span ?? during.cue },
    play: list.map((one) =>
      typeof one === 'string' ? { clip: one, share: 1 } : { clip: one.clip, share: one.share ?? 1 },
    ),
    picks: typeof play !== 'string' && play.length > 0,
    face,
    toward,
    rate: typeof rate === 'number' ? rate : 1,
    rateInput: typeof rate === 'number' ? undefined : rate.input,
    rateAt: typeof rate === 'number' ? 1 : rate.at,
    free,
    options,
  };
}
