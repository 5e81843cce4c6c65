import type { Routine, RoutineInput, RoutineRule, RuleCondition } from '../../reel/document/routines.js';

/** An input by places. */
export interface CompiledInput extends RoutineInput {
  /** Place of its first number, and of the two of its calm range. */
  readonly at: number;
  readonly calm: number;
  /** Its first condition among those by input, and the one after its last. */
  readonly first: number;
  readonly last: number;
}

/** A condition by places: of its input's numbers, and of its state. */
export interface CompiledCondition extends RuleCondition {
  /** Place of the first number of its input; of a vec2 the length of both is compared. */
  readonly at: number;
  readonly isLength: boolean;
  /** Place among all conditions. */
  readonly place: number;
}

/**
 * A rule by places. What frames read of it is here and not in `rule`: those of a reel have several forms, and the engine
 * finds a member of an object that may have any of many forms ten times as slowly.
 */
export interface CompiledRule {
  readonly place: number;
  readonly rule: RoutineRule;
  /** Place of its layer. */
  readonly lane: number;
  /** Place of its signal; −1 for none. */
  readonly on: number;
  readonly conditions: readonly CompiledCondition[];
  /** The rule that must be in force, and whether that counts at the beginning only: one of its own layer. */
  readonly during: CompiledRule | undefined;
  readonly isDuringOwn: boolean;
  /** The moment of its clip at which that rule must be; and from which its own may be cut by weaker ones. */
  readonly moment: string | undefined;
  readonly free: string | undefined;
  /** Whether something depends on where the playhead of its clip is: its own `free`, or a rule that stands during it. */
  readonly isWatched: boolean;
  /** Whether it needs a reason to apply: without one it cuts nothing. */
  readonly hasReason: boolean;
  /** Whether what it plays follows inputs while it is in force. */
  readonly follows: boolean;
  /** Places of the numbers that drive its direction and its rate; −1 for none. */
  readonly toward: number;
  readonly rateAt: number;
  readonly isRateLength: boolean;
  /** The number at which its rate is 1. */
  readonly rateUnit: number;
  /** Whether it picks what it plays from a list. */
  readonly picks: boolean;
}

const TESTS = ['above', 'below', 'equals'] as const;
/** What a condition asks, as a number: the place in `TESTS`, and of lengths 3 more. */
export const ABOVE = TESTS.indexOf('above');
export const EQUALS = TESTS.indexOf('equals');
export const LENGTH = TESTS.length;

/**
 * What is asked in every frame, as numbers in few arrays: each of them is a visit to the memory.
 *
 * - `tests`: of each condition two, where its number is and what it asks
 * - `limits`: of each condition three, the two thresholds and the seconds for which it must have held
 * - `spans`: of each rule three, its first condition, the one after its last, and its signal
 * - `byInput`: the places of all conditions, those of one input beside each other
 * - `waiting`: the places of the conditions that must have held for some time
 */
export interface RuleNumbers {
  readonly tests: Int32Array;
  readonly limits: Float64Array;
  readonly spans: Int32Array;
  readonly byInput: Int32Array;
  readonly waiting: Int32Array;
}

/** A routine by places, shared by all players that run it. */
export interface CompiledRoutine {
  readonly inputs: readonly CompiledInput[];
  /** Those with conditions. */
  readonly tested: readonly CompiledInput[];
  /** The numbers of `Inputs` at the start, without those of its conditions. */
  readonly start: readonly number[];
  /** Where the numbers of conditions begin, behind those of `start`. */
  readonly states: number;
  readonly signals: readonly RoutineInput[];
  readonly rules: readonly CompiledRule[];
  readonly conditions: readonly CompiledCondition[];
  /** The layers in the order in which they are decided: that of their first rules. */
  readonly layers: readonly { readonly name: string; readonly rules: readonly CompiledRule[] }[];
  /** Whether what begins or ends on one layer changes what applies on another. */
  readonly isLinked: boolean;
  readonly numbers: RuleNumbers;
}

const known = new WeakMap<Routine, CompiledRoutine>();

/** A routine of a checked reel, compiled when it is first run. */
export function compiledRoutine(routine: Routine): CompiledRoutine {
  let compiled = known.get(routine);
  if (!compiled) known.set(routine, (compiled = compile(routine)));
  return compiled;
}

function compile(routine: Routine): CompiledRoutine {
  // The first two are times; see `Inputs`.
  const start: number[] = [0, Infinity];
  const placed = routine.inputs.map((input) => {
    const at = start.length;
    // Without a condition every number is calm.
    const isTested = routine.rules.some(({ conditions }) => conditions.some((one) => one.input === input.name));
    start.push(...input.value, ...(isTested ? [NaN, NaN] : [-Infinity, Infinity]));
    return { ...input, at };
  });
  const signals = placed.filter(({ kind }) => kind === 'signal');
  const inputOf = (name: string | undefined) => placed.find((input) => input.name === name);
  const names = [...new Set(routine.rules.map(({ layer }) => layer))];
  const conditions: CompiledCondition[] = [];
  const rules: CompiledRule[] = [];
  for (const [place, rule] of routine.rules.entries()) {
    const own = rule.conditions.map((condition, i): CompiledCondition => {
      const { at, kind } = inputOf(condition.input)!;
      return { ...condition, at, isLength: kind === 'vec2', place: conditions.length + i };
    });
    conditions.push(...own);
    const rate = inputOf(rule.rateInput);
    rules.push({
      place,
      rule,
      conditions: own,
      lane: names.indexOf(rule.layer),
      on: signals.findIndex(({ name }) => name === rule.on),
      during: undefined,
      isDuringOwn: routine.rules.find(({ name }) => name === rule.during?.rule)?.layer === rule.layer,
      isWatched:
        rule.free !== undefined ||
        routine.rules.some(({ during }) => during?.rule === rule.name && during.moment !== undefined),
      hasReason: rule.on !== undefined || own.length > 0 || rule.during !== undefined,
      follows: rate !== undefined || rule.toward !== undefined,
      toward: inputOf(rule.toward)?.at ?? -1,
      rateAt: rate?.at ?? -1,
      isRateLength: rate?.kind === 'vec2',
      rateUnit: rule.rateAt,
      moment: rule.during?.moment,
      free: rule.free,
      picks: rule.picks,
    });
  }
  // A rule may stand during one that is written below it.
  for (const rule of rules) {
    const during = rules.find((other) => other.rule.name === rule.rule.during?.rule);
    (rule as { during: CompiledRule | undefined }).during = during;
  }
  const byInput = placed.flatMap(({ name }) => conditions.filter(({ input }) => input === name));
  // Written out, and not spread: objects that are spread have forms of their own.
  const inputs = placed.map(({ name, kind, value, keep, at }): CompiledInput => {
    const own = byInput.filter((condition) => condition.input === name);
    const first = own.length === 0 ? 0 : byInput.indexOf(own[0]!);
    return { name, kind, value, keep, at, calm: at + value.length, first, last: first + own.length };
  });
  const layers = names.map((name) => ({ name, rules: rules.filter(({ rule }) => rule.layer === name) }));
  const isLinked = rules.some(({ during, isDuringOwn }) => during !== undefined && !isDuringOwn);
  return {
    inputs,
    tested: inputs.filter(({ first, last }) => last > first),
    start,
    states: start.length,
    signals,
    rules,
    conditions,
    layers,
    isLinked,
    numbers: numbersOf(rules, conditions, byInput),
  };
}

function numbersOf(
  rules: readonly CompiledRule[],
  conditions: readonly CompiledCondition[],
  byInput: readonly CompiledCondition[],
): RuleNumbers {
  const first = rules.map((_, i) => rules.slice(0, i).reduce((sum, rule) => sum + rule.conditions.length, 0));
  return {
    tests: Int32Array.from(
      conditions.flatMap(({ at, isLength, test }) => [at, TESTS.indexOf(test) + (isLength ? LENGTH : 0)]),
    ),
    limits: Float64Array.from(conditions.flatMap((one) => [one.than, one.until, one.for])),
    byInput: Int32Array.from(byInput, ({ place }) => place),
    waiting: Int32Array.from(conditions.filter((condition) => condition.for > 0).map(({ place }) => place)),
    spans: Int32Array.from(rules.flatMap(({ conditions: own, on }, i) => [first[i]!, first[i]! + own.length, on])),
  };
}
