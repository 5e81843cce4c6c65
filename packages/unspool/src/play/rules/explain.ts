import { show } from '../../errors/show.js';
import type { CompiledCondition, CompiledRoutine, CompiledRule } from './compile.js';
import { hasFloor, isDuring, isFree } from './decide.js';
import type { Inputs } from './inputs.js';
import type { Lane } from './lane.js';

/**
 * Why a rule plays or does not: it is in force; its signal has not come; a condition does not hold; the rule that it
 * must stand during is not there; another has the floor; a stronger one applies; the game plays something itself; or it
 * begins at the next moment.
 */
export type RuleReason = 'in-force' | 'signal' | 'condition' | 'during' | 'floor' | 'weaker' | 'game' | 'next';

/** What `explain` says of a rule. */
export interface RuleExplanation<Name extends string = string> {
  readonly rule: Name;
  readonly layer: string;
  readonly why: RuleReason;
  /** The reason in a sentence, with values. */
  readonly text: string;
  /** Player time in seconds since which it is in force; `undefined` for a rule that is not. */
  readonly since: number | undefined;
}

const short = (n: number) => String(Number(n.toPrecision(4)));

/** Says of every rule why it plays or not, as of now: also of inputs that were set since the last tick. */
export function explainRules<Name extends string>(
  routine: CompiledRoutine,
  inputs: Inputs,
  lanes: readonly Lane[],
): RuleExplanation<Name>[] {
  return routine.rules.map((rule) => {
    const lane = lanes[rule.lane]!;
    const isInForce = lane.rule === rule;
    const [why, text] = isInForce ? inForce(rule, lane) : reasonOf(rule, routine, inputs, lanes);
    const kept =
      rule.on >= 0 && inputs.waits(rule.lane, rule.on) && why !== 'next' ? keptText(rule, routine, inputs) : '';
    return {
      rule: rule.rule.name as Name,
      layer: rule.rule.layer,
      why,
      text: text + kept,
      since: isInForce ? lane.since : undefined,
    };
  });
}

function inForce(rule: CompiledRule, lane: Lane): readonly [RuleReason, string] {
  const since = `in force since ${short(lane.since)} s`;
  if (!hasFloor(lane)) return ['in-force', since];
  const end = rule.rule.free === undefined || isFree(lane) ? '' : `, keeps the floor until ${show(rule.rule.free)}`;
  return ['in-force', since + end];
}

function reasonOf(
  rule: CompiledRule,
  routine: CompiledRoutine,
  inputs: Inputs,
  lanes: readonly Lane[],
): readonly [RuleReason, string] {
  const lane = lanes[rule.lane]!;
  const { name } = rule.rule;
  if (lane.isTaken) return ['game', `the game plays ${show(lane.layer.playback!.clip.name)} on this layer`];
  if (rule.on >= 0 && !inputs.waits(rule.lane, rule.on))
    return ['signal', `waits for the signal ${show(routine.signals[rule.on]!.name)}`];
  const failed = rule.conditions.find((condition) => !holdsNow(condition, inputs));
  if (failed) return ['condition', conditionText(failed, routine, inputs)];
  if (!isDuring(rule, lanes)) {
    const { rule: other, moment } = rule.rule.during!;
    const isThere = lanes[rule.during!.lane]!.rule === rule.during;
    return ['during', isThere ? `${show(other)} has not reached ${show(moment)}` : `${show(other)} is not in force`];
  }
  const { rule: current } = lane;
  if (current && hasFloor(lane) && rule.place > current.place && (!isFree(lane) || !rule.hasReason)) {
    const until = current.rule.free !== undefined && rule.hasReason ? show(current.rule.free) : 'it ends';
    return ['floor', `waits: ${show(current.rule.name)} has the floor until ${until}`];
  }
  if (current && current.place < rule.place) return ['weaker', `${show(current.rule.name)} is stronger`];
  return ['next', `${show(name)} begins at the next moment`];
}

/** Whether a condition applies with the numbers of now: those of the last decision, or of a later `set`. */
function holdsNow({ place, for: least }: CompiledCondition, inputs: Inputs): boolean {
  if (!inputs.test(place)) return false;
  return inputs.holds(place) ? inputs.applies(place) : least === 0;
}

function conditionText(condition: CompiledCondition, routine: CompiledRoutine, inputs: Inputs): string {
  const { input, test, than, place, isLength } = condition;
  const number = inputs.read(condition.at, isLength);
  const isFlag = routine.inputs.find(({ name }) => name === input)!.kind === 'flag';
  if (inputs.test(place)) {
    return `${input} has held for ${short(inputs.holds(place) ? inputs.now - inputs.since(place) : 0)} of ${short(condition.for)} s`;
  }
  if (isFlag) return `${input} is ${number === 1 ? 'true' : 'false'}`;
  const value = `${isLength ? 'the length of ' : ''}${input} ${short(number)}`;
  return `${value} is not ${test === 'equals' ? '' : `${test} `}${short(than)}`;
}

function keptText({ on, lane }: CompiledRule, { signals }: CompiledRoutine, inputs: Inputs): string {
  const { name, keep } = signals[on]!;
  const left = keep - (inputs.now - inputs.signals[lane * signals.length + on]!);
  return `; the signal ${show(name)} is kept for ${short(Math.max(0, left))} s more`;
}
