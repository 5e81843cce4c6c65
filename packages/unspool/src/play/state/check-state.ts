import type { Reel } from '../../clip/reel.js';
import { digest } from '../../errors/digest.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { choicesOf } from '../time/pick.js';
import { windowOf } from '../time/clip-times.js';
import { STATE_VERSION, type PlaybackState, type PlayerState } from './saved.js';

/** A state with what tells whether it was damaged since. */
export function sealed(state: Omit<PlayerState, 'check'>): PlayerState {
  return { ...state, check: digest(state) };
}

function refuse(message: string, hint: string): never {
  throw new UnspoolError('play/state', message, hint);
}

/** Checks that a state is what `save` returned. */
export function checkSeal(state: PlayerState): void {
  if (typeof state !== 'object' || (state as PlayerState | null)?.saved !== STATE_VERSION)
    refuse(`${show(state)} is not a saved state`, 'pass what save() returned');
  const { check, ...all } = state;
  if (check !== digest(all)) refuse('the saved state was modified', 'pass what save() returned, unmodified');
}

/**
 * Checks that a state is what `save` returned, and one of a reel with the same properties, clips and spans. Throws
 * before anything has changed.
 */
export function checkState(
  state: PlayerState,
  reel: Reel,
  gauges: readonly { readonly name: string }[],
  routine: string | undefined,
): void {
  checkSeal(state);
  const hint = 'restore it into a player of the same reel';
  if (state.reel !== reel.name)
    refuse(`the state belongs to the reel ${show(state.reel)}, not to ${reel.message}`, hint);
  if (JSON.stringify([state.slots, state.texts]) !== JSON.stringify([slotsOf(reel), reel.layout.texts]))
    refuse('the properties of the reel have changed since the state was saved', 'fit it first: fitState(state, reel)');
  for (const { voices, queue, gone, fallback } of state.layers) {
    for (const one of [...voices, ...queue, ...(gone ? [gone] : [])]) checkClip(one, reel);
    for (const { clip } of fallback ? choicesOf(fallback.name) : [])
      if (!Object.hasOwn(reel.facts.chains, clip)) reel.clip(clip);
  }
  for (const { name } of state.gauges)
    if (!gauges.some((gauge) => gauge.name === name))
      refuse(`the state has a gauge ${show(name)} that the player does not have`, 'create it first');
  if (state.routine && state.routine.name !== routine)
    refuse(`the state has the routine ${show(state.routine.name)}, which does not run`, 'start it first');
}

function checkClip({ clip, settings }: PlaybackState, reel: Reel): void {
  windowOf(reel.clip(clip), settings.span);
}

const layouts = new WeakMap<Reel, PlayerState['slots']>();

/** The properties of a reel, as states name them. */
export function slotsOf(reel: Reel): PlayerState['slots'] {
  let slots = layouts.get(reel);
  if (!slots) layouts.set(reel, (slots = reel.layout.slots.map(({ name, kind }) => [name, kind])));
  return slots;
}
