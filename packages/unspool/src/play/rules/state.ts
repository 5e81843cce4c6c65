import { numberOut } from '../time/playhead.js';
import type { ChainRun } from '../drive/playback.js';
import type { RoutineState } from '../state/saved.js';
import type { Inputs } from './inputs.js';
import type { Lane } from './lane.js';

/** What a routine knows as plain JSON, by the names in the reel. */
export function saveRoutine(
  routine: string,
  known: Inputs,
  lanes: readonly Lane[],
  isDue: boolean,
  chainOf: (run: ChainRun | undefined) => number,
): RoutineState {
  const { inputs, signals, layers, rules } = known.routine;
  const { numbers, signals: kept } = known;
  return {
    name: routine,
    inputs: Object.fromEntries(
      inputs.map(({ name, at, value }) => [name, Array.from(numbers.subarray(at, at + value.length), numberOut)]),
    ),
    signals: layers.flatMap(({ name: layer }, lane) =>
      signals.flatMap(({ name: signal }, i) => {
        const at = kept[lane * signals.length + i]!;
        return Number.isNaN(at) ? [] : [{ signal, layer, since: numberOut(at) }];
      }),
    ),
    conditions: rules.flatMap(({ rule, conditions }) =>
      conditions.map(({ input, place }) => {
        return {
          rule: rule.name,
          input,
          holds: known.holds(place),
          since: numberOut(known.since(place)),
        };
      }),
    ),
    layers: lanes.map((lane) => ({
      layer: lane.layer.name,
      rule: lane.rule?.rule.name ?? null,
      since: numberOut(lane.since),
      plays: lane.playback !== undefined && lane.isOurs,
      chain: chainOf(lane.run),
      picked: lane.picked ?? null,
      direction: lane.rule?.rule.face === undefined ? null : [lane.x, lane.y],
    })),
    isDue,
  };
}

/** Becomes what was saved. */
export function loadRoutine(
  state: RoutineState,
  known: Inputs,
  lanes: readonly Lane[],
  runs: readonly ChainRun[],
): void {
  const { inputs, signals, layers, rules } = known.routine;
  const { numbers, signals: kept } = known;
  for (const { name, at } of inputs) state.inputs[name]?.forEach((n, i) => (numbers[at + i] = Number(n)));
  kept.fill(NaN);
  for (const { signal, layer, since: at } of state.signals) {
    const lane = layers.findIndex(({ name }) => name === layer);
    const i = signals.findIndex(({ name }) => name === signal);
    kept[lane * signals.length + i] = Number(at);
  }
  for (const { rule: name, input, holds: held, since: at } of state.conditions) {
    const place = rules.find(({ rule }) => rule.name === name)?.conditions.find((one) => one.input === input)?.place;
    if (place !== undefined) known.setState(place, held, Number(at));
  }
  for (const { layer, rule: name, since: at, plays, chain, picked, direction } of state.layers) {
    const lane = lanes.find((one) => one.layer.name === layer);
    if (!lane) continue;
    lane.rule = rules.find(({ rule }) => rule.name === name);
    lane.since = Number(at);
    lane.picked = picked ?? undefined;
    lane.playback = undefined;
    lane.run = runs[chain];
    if (plays && lane.layer.playback) lane.took(lane.layer.playback);
    [lane.x, lane.y] = direction ? [direction[0]!, direction[1]!] : [0, 0];
  }
  known.loaded();
}
