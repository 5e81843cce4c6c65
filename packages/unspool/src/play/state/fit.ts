import type { ReelNames } from '../../clip/names.js';
import type { Reel } from '../../clip/reel.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { widthOf, type Kind } from '../../value/kind.js';
import { choicesOf, type Playable } from '../time/pick.js';
import { checkSeal, sealed, slotsOf } from './check-state.js';
import type { LayerState, PlaybackState, PlayerState, RoutineState } from './saved.js';

/** A state that fits a changed reel. */
export interface FittedState {
  /** For `player.restore`. */
  readonly state: PlayerState;
  /** One warning (`play/lost`) for each thing that was left out because the reel no longer has it. */
  readonly lost: readonly UnspoolError[];
}

/**
 * Fits a saved state to a reel that has changed since, such as a saved game to a new version of the game. Clips and
 * spans that the reel no longer has do not play on, what waits behind them begins; properties that it no longer has are
 * left out, and new ones are at rest. A playhead stays at its time, or at the nearest that its clip still has. A state
 * that fits already comes back with nothing lost.
 *
 * @throws UnspoolError `play/state` for anything but an unmodified result of `save` of a reel of this name
 * @example
 * const { state, lost } = fitState(JSON.parse(text), reel);
 * for (const { message } of lost) console.warn(message);
 * player.restore(state);
 */
export function fitState<N extends ReelNames>(state: PlayerState, reel: Reel<N>): FittedState {
  checkSeal(state);
  if (state.reel === reel.name) {
    const { state: fitted, lost } = fit(state, reel, { isRuledAnew: state.routine !== undefined });
    return { state: sealed(fitted), lost };
  }
  const message = `the state belongs to the reel ${show(state.reel)}, not to ${reel.message}`;
  throw new UnspoolError('play/state', message, 'fit it to a version of the same reel');
}

/** What fitting needs to know of the player whose state it is. */
interface Fitting {
  /** Whether the routine that runs may have other rules now. */
  readonly isRuledAnew: boolean;
  /** Whether a playback goes without a word. Default: what a rule has begun that is gone. */
  readonly isOut?: (playback: PlaybackState) => boolean;
  /** Called with each playback that is kept, and what it was in the state. */
  readonly goesOn?: (now: PlaybackState, was: PlaybackState) => void;
}

export function fit(
  { check: _, ...state }: PlayerState,
  reel: Reel,
  fitting: Fitting,
): { readonly state: Omit<PlayerState, 'check'>; readonly lost: readonly UnspoolError[] } {
  const { layout, facts } = reel;
  const slots = slotsOf(reel);
  const numbers = numbersFor(state, reel);
  const rests = layout.slots.flatMap(({ rest }) => rest);
  const has = (name: string) => layout.find(name) !== undefined;
  const lost: UnspoolError[] = [];
  const lose = (message: string) =>
    lost.push(new UnspoolError('play/lost', `${message}: ${reel.message} no longer has it`, 'bring it back, or let the game do without it')); // prettier-ignore
  const routine = state.routine && fitRoutine(state.routine, reel, lose);
  const isOut = fitting.isOut ?? orphansOf(state, routine);
  const keep = (list: readonly PlaybackState[], layer: string, place: string) =>
    list.flatMap((was): PlaybackState[] => {
      if (isOut(was)) return [];
      const why = missing(was.clip, was.settings.span, reel);
      if (why !== undefined) {
        lose(`${why}, which ${place} the layer ${show(layer)}, is gone`);
        return [];
      }
      const now = {
        ...was,
        // New rules may name spans that the old ones did not.
        watched: was.watched || fitting.isRuledAnew,
        slots: was.slots?.filter(has) ?? null,
        before: was.before.length === 0 ? [] : numbers(was.before).map((n, i) => n ?? rests[i]!),
      };
      fitting.goesOn?.(now, was);
      return [now];
    });
  const layers = state.layers.map((layer): LayerState => {
    const { name, current, fallback } = layer;
    const stays = layer.voices.filter(
      (voice) => !isOut(voice) && missing(voice.clip, voice.settings.span, reel) === undefined,
    );
    const place = stays.indexOf(layer.voices[current]!);
    const voices = keep(layer.voices, name, 'played on');
    const gone = keep(layer.gone ? [layer.gone] : [], name, 'had ended on')[0] ?? null;
    const queue = keep(layer.queue, name, 'waited on');
    return {
      ...layer,
      ...{ voices, queue, gone, current: place },
      fallback: fallback && fitFallback(fallback, reel, name, lose),
    };
  });
  const faces = state.faces.filter(({ facing }) => {
    const isThere = Object.hasOwn(facts.facings, facing);
    if (!isThere) lose(`the facing ${show(facing)} is gone`);
    return isThere;
  });
  for (const { shape } of state.hits)
    if (!Object.hasOwn(facts.shapes, shape)) lose(`what the shape ${show(shape)} has hit is forgotten`);
  const newRest = layout.slots.filter(({ restGiven, name }) => restGiven && !state.slots.some(([one]) => one === name));
  const { routine: _was, ...rest } = state;
  return {
    state: {
      ...rest,
      ...{ reel: reel.name, slots, texts: layout.texts, layers, faces },
      ground: state.ground && numbers(state.ground),
      covered: [...state.covered.filter(has), ...newRest.map(({ name }) => name)],
      due: [...state.due.filter(has), ...newRest.map(({ name }) => name)],
      objects: state.objects.filter(({ name }) => has(name)),
      hits: state.hits.filter(({ shape }) => Object.hasOwn(facts.shapes, shape)),
      ...(routine && { routine }),
    },
    lost,
  };
}

/** What rules have begun that are gone does not go on without them. */
function orphansOf({ layers, routine: was }: Pick<PlayerState, 'layers' | 'routine'>, now: RoutineState | undefined) {
  const ruleOf = (routine: RoutineState | undefined, layer: string) =>
    routine?.layers.find((one) => one.layer === layer && one.plays)?.rule ?? null;
  const orphans = layers.flatMap(({ name, voices, current, gone }) =>
    ruleOf(was, name) !== null && ruleOf(now, name) === null ? [gone ?? voices[current]] : [],
  );
  return (playback: PlaybackState) => orphans.includes(playback);
}

/** Lays out lists of numbers, one for each of a pose, by the properties of another reel; `null` for those that are new. */
function numbersFor({ slots, texts }: Pick<PlayerState, 'slots' | 'texts'>, { layout }: Reel) {
  let at = 0;
  const before = new Map<string, { readonly kind: Kind; readonly at: number }>();
  for (const [name, kind] of slots) {
    before.set(name, { kind, at });
    at += widthOf(kind);
  }
  return <T extends number | string | null>(list: readonly T[]): (T | null)[] =>
    layout.slots.flatMap(({ name, kind, width }): (T | null)[] => {
      const found = before.get(name);
      if (found?.kind !== kind) return Array.from({ length: width }, () => null);
      const own = list.slice(found.at, found.at + width);
      if (kind !== 'text') return own;
      // A text is a place in the list of all.
      const place = own[0] === null ? -1 : layout.texts.indexOf(texts[Number(own[0])]!);
      return [place < 0 ? null : (place as T)];
    });
}

/** What of a playback a reel does not have, its clip or its span; `undefined` when it has both. */
export function missing(clip: string, span: string | undefined, reel: Reel): string | undefined {
  if (!reel.clipNames.includes(clip)) return `the clip ${show(clip)}`;
  const has = span === undefined || Object.hasOwn(reel.clip(clip).spans, span);
  return has ? undefined : `the span ${show(span)} of ${show(clip)}`;
}

function fitFallback(
  { name, options }: NonNullable<LayerState['fallback']>,
  reel: Reel,
  layer: string,
  lose: (message: string) => void,
): LayerState['fallback'] {
  const choices = choicesOf(name);
  const isThere = ({ clip }: { readonly clip: string }) =>
    reel.clipNames.includes(clip) || Object.hasOwn(reel.facts.chains, clip);
  const left = choices.filter(isThere);
  if (left.length === choices.length) return { name, options };
  for (const one of choices)
    if (!isThere(one)) lose(`${show(one.clip)}, the fallback of the layer ${show(layer)}, is gone`);
  return left.length === 0 ? null : { name: left as Playable, options };
}

/** What is left of a routine; `undefined` when it is gone as a whole. */
function fitRoutine(state: RoutineState, reel: Reel, lose: (message: string) => void): RoutineState | undefined {
  if (!Object.hasOwn(reel.facts.routines, state.name)) {
    lose(`the routine ${show(state.name)} is gone`);
    return undefined;
  }
  const { inputs, rules } = reel.routine(state.name);
  const input = (name: string) => inputs.find((one) => one.name === name);
  for (const { rule } of state.layers)
    if (rule !== null && !rules.some(({ name }) => name === rule)) lose(`the rule ${show(rule)} is gone`);
  const layers = [...new Set(rules.map(({ layer }) => layer))];
  return {
    ...state,
    inputs: Object.fromEntries(
      Object.entries(state.inputs).filter(([name, numbers]) => input(name)?.value.length === numbers.length),
    ),
    signals: state.signals.filter(({ signal, layer }) => input(signal)?.kind === 'signal' && layers.includes(layer)),
    layers: state.layers.map((one) => {
      const stays = one.rule === null || rules.some(({ name, layer }) => name === one.rule && layer === one.layer);
      return stays ? one : { ...one, rule: null, plays: false, chain: -1, direction: null };
    }),
    isDue: state.isDue || state.layers.some(({ rule }) => rule !== null && !rules.some(({ name }) => name === rule)),
  };
}
