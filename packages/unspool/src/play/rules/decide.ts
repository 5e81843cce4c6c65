import { hasReached } from '../time/inside.js';
import type { CompiledRule } from './compile.js';
import type { Inputs } from './inputs.js';
import type { Lane } from './lane.js';

/** Whether the rule that it must stand during is in force, and its playhead at the moment that it names. */
export function isDuring({ during, moment }: CompiledRule, lanes: readonly Lane[]): boolean {
  if (!during) return true;
  const lane = lanes[during.lane]!;
  const playback = lane.rule === during ? lane.shown : undefined;
  if (!playback) return false;
  return moment === undefined ? true : hasReached(playback, moment);
}

/** Whether all conditions of a rule hold. */
function allApply(rule: number, inputs: Inputs): boolean {
  const { spans } = inputs.routine.numbers;
  for (let i = spans[3 * rule]!; i < spans[3 * rule + 1]!; i++) if (!inputs.applies(i)) return false;
  return true;
}

/** Whether a rule that is in force by its conditions stays so. A rule of its own layer counted at the beginning only. */
function stays(rule: CompiledRule, inputs: Inputs, lanes: readonly Lane[]): boolean {
  return allApply(rule.place, inputs) && (rule.isDuringOwn || isDuring(rule, lanes));
}

/** Whether the rule of a layer has the floor: it was begun by a signal, and its clip has not ended. */
export function hasFloor(lane: Lane): boolean {
  return lane.rule !== undefined && lane.rule.on >= 0 && lane.isGoingOn;
}

/** Whether weaker rules may cut the rule that has the floor. */
export function isFree(lane: Lane): boolean {
  const free = lane.rule?.free;
  if (free === undefined) return false;
  const { shown } = lane;
  return shown !== undefined && hasReached(shown, free);
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
  begun: Uint8Array,
): CompiledRule | 'keep' | 'none' {
  const { rules, rule: current } = lane;
  const { spans } = inputs.routine.numbers;
  const floor = hasFloor(lane);
  const isClosed = floor && !isFree(lane);
  const isHeld = current !== undefined && current.on < 0 && !lane.wasStopped;
  for (let i = 0; i < rules.length; i++) {
    const rule = rules[i]!;
    const { place } = rule;
    if (rule === current) {
      if (isClosed) return 'keep';
      if (isHeld) {
        if (stays(rule, inputs, lanes)) return 'keep';
        continue;
      }
    }
    const on = spans[3 * place + 2]!;
    if (on >= 0 && !inputs.waits(rule.lane, on)) continue;
    if (!allApply(place, inputs) || (rule.during !== undefined && !isDuring(rule, lanes))) continue;
    if (begun[place] === 1 || (floor && place > current!.place && !rule.hasReason)) continue;
    return rule;
  }
  return floor ? 'keep' : 'none';
}
