import { hasReached } from '../time/inside.js';
import type { CompiledRule } from './compile.js';
import type { Inputs } from './inputs.js';
import type { Lane } from './lane.js';

/** Whether the rule that it must stand during is in force, and its playhead at the moment that it names. */
export function isDuring({ during, rule }: CompiledRule, lanes: readonly Lane[]): boolean {
  if (!during) return true;
  const lane = lanes[during.lane]!;
  const playback = lane.rule === during ? lane.shown : undefined;
  if (!playback) return false;
  const { moment } = rule.during!;
  return moment === undefined ? true : hasReached(playback, moment);
}

/** Whether all conditions of a rule hold. */
export function allApply({ conditions }: CompiledRule, inputs: Inputs, now: number): boolean {
  for (let i = 0; i < conditions.length; i++) if (!inputs.applies(conditions[i]!, now)) return false;
  return true;
}

/** Whether a rule that is not in force may begin. */
export function mayBegin(rule: CompiledRule, inputs: Inputs, lanes: readonly Lane[], now: number): boolean {
  if (rule.on >= 0 && !inputs.waits(rule.lane, rule.on, now)) return false;
  return allApply(rule, inputs, now) && isDuring(rule, lanes);
}

/** Whether a rule that is in force by its conditions stays so. A rule of its own layer counted at the beginning only. */
export function stays(rule: CompiledRule, inputs: Inputs, lanes: readonly Lane[], now: number): boolean {
  return allApply(rule, inputs, now) && (rule.isDuringOwn || isDuring(rule, lanes));
}

/** Whether the rule of a layer has the floor: it was begun by a signal, and its clip has not ended. */
export function hasFloor({ rule, isGoingOn }: Lane): boolean {
  return rule !== undefined && rule.on >= 0 && isGoingOn;
}

/** Whether weaker rules may cut the rule that has the floor. */
export function isFree({ rule, shown }: Lane): boolean {
  const free = rule?.rule.free;
  return free !== undefined && shown !== undefined && hasReached(shown, free);
}

/**
 * What becomes of a layer at a moment: a rule begins, the one in force stays (`keep`), or none applies.
 *
 * Rules are asked from the strongest on. One that has the floor gives it up to stronger ones at any time; to itself and
 * to weaker ones only while it is free, and only if they have a reason to apply.
 *
 * @param begun rules that have begun at this moment, by place: each begins once
 */
export function choose(
  lane: Lane,
  inputs: Inputs,
  lanes: readonly Lane[],
  now: number,
  begun: Uint8Array,
): CompiledRule | 'keep' | 'none' {
  const { rules, rule: current } = lane;
  const floor = hasFloor(lane);
  const isHeld = current !== undefined && current.on < 0 && !lane.wasStopped;
  for (let i = 0; i < rules.length; i++) {
    const rule = rules[i]!;
    if (rule === current && floor && !isFree(lane)) return 'keep';
    if (rule === current && isHeld) {
      if (stays(rule, inputs, lanes, now)) return 'keep';
      continue;
    }
    if (begun[rule.place] === 1) continue;
    const isWeaker = floor && rule.place > current!.place;
    if (isWeaker && !rule.hasReason) continue;
    if (mayBegin(rule, inputs, lanes, now)) return rule;
  }
  return floor ? 'keep' : 'none';
}
