import { prepareBase } from '../clip/clip.js';
import type { Pose, Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';
import type { PlayerCore } from '../play/drive/core.js';
import { AnimatedSlots } from '../play/pose/animated-slots.js';
import { ROTATION, SCALE } from '../play/pose/place-root.js';
import type { StageVoice } from '../play/pose/stage-voices.js';
import type { ObjectNumbers } from '../play/pose/stage.js';
import type { PlayerState } from '../play/state/saved.js';
import { isWritten } from '../cast/cast.js';

/** What a property showed before, its rest value then, and whether it was the game's. */
interface Shown {
  readonly numbers: readonly number[];
  readonly rest: readonly number[];
  readonly isFree: boolean;
}

export function shownOf(core: PlayerCore): ReadonlyMap<string, Shown> {
  const { reel, stage } = core;
  const of = (slot: Slot): Shown => {
    return { numbers: numbersAt(stage, slot), rest: slot.rest, isFree: stage.base.isFree(slot) };
  };
  return new Map(reel.layout.slots.map((slot) => [slot.name, of(slot)]));
}

/** Properties that the next reel does not have return to their base values. */
export function giveBack({ reel, stage }: PlayerCore, next: Reel): void {
  const gone = reel.layout.slots.filter((slot) => {
    return isWritten(slot, reel.facts) && next.layout.find(slot.name)?.kind !== slot.kind && !stage.base.isFree(slot);
  });
  if (gone.length === 0 || !stage.base.isStarted) return;
  for (const { offset, width } of gone)
    for (let k = 0; k < width; k++) stage.values[offset + k] = stage.base.values[offset + k]!;
  putNow(stage, gone, []);
}

/** The base values with those of new properties: as their objects show them, or showed them before they were placed. */
export function foundIn(
  { reel, stage }: PlayerCore,
  { ground, place }: Pick<PlayerState, 'ground' | 'place'>,
  before: ReadonlyMap<string, Shown>,
): PlayerState['ground'] {
  const base = Array.from({ length: reel.layout.size }, (_, i) => ground?.[i] ?? null);
  for (const slot of reel.layout.slots) {
    if (before.has(slot.name) || slot.restGiven) continue;
    const { role, property, offset, width } = slot;
    const own = place?.isPlaced ? place.own.find((one) => one.role === role)?.numbers : undefined;
    const at = { position: 0, rotation: ROTATION, scale: SCALE }[property];
    const numbers = own && at !== undefined ? own.slice(at, at + width) : stage.read(slot);
    numbers?.forEach((n, k) => (base[offset + k] = n));
  }
  return base;
}

const numbersAt = ({ values }: Pick<Pose, 'values'>, { offset, width }: Slot) => [
  ...values.subarray(offset, offset + width),
];
const areSame = (a: readonly number[], b: readonly number[]) => a.every((n, i) => Object.is(n, b[i]));

/**
 * Writes what looks different now. What nothing animates any longer is at its base value, or as it was found. What is
 * the game's is written only where its object shows the rest value of before, and that is another now.
 *
 * @param found what objects showed of the game's own properties when there was no other reel yet
 */
export function writeChanged(core: PlayerCore, before: ReadonlyMap<string, Shown>, found: ObjectNumbers): void {
  const { reel, stage } = core;
  if (!stage.base.isStarted) return;
  const changed = reel.layout.slots.filter((slot) => {
    if (!isWritten(slot, reel.facts)) return false;
    const was = before.get(slot.name);
    if (!stage.base.isFree(slot)) return !was || !areSame(numbersAt(stage, slot), was.numbers);
    if (was?.isFree === false) return true;
    if (!slot.restGiven) return false;
    const shown = stage.read(slot);
    return !was || (!areSame(slot.rest, was.rest) && shown !== undefined && areSame(shown, was.rest));
  });
  const given = found.filter(({ name }) => before.get(name)?.isFree === false);
  putNow(stage, changed, given);
}

/**
 * Writes some properties at once: those of the player as they are posed and placed, those of the game as they are at
 * rest, or as they were found.
 */
function putNow(stage: PlayerCore['stage'], slots: readonly Slot[], found: ObjectNumbers): void {
  const bindings = (list: readonly Slot[]) => AnimatedSlots.of(stage.reel, list.map(({ name }) => name)).bindings; // prettier-ignore
  const own = slots.filter((slot) => !stage.base.isFree(slot));
  if (own.length > 0) stage.put(stage.values, bindings(own));
  const free = slots.filter((slot) => !own.includes(slot));
  const pose = stage.values.slice();
  for (const { name, offset } of free)
    pose.set(found.find((one) => one.name === name)?.numbers.map(Number) ?? [], offset);
  stage.putPlain(pose, bindings(free));
}

/** What a voice stands on whose clip has offsets now and had none before: the base values. */
export function underlay({ base }: PlayerCore['stage'], voice: StageVoice): void {
  if (voice.placed.offsets.length === 0 || voice.before.length === base.values.length) return;
  voice.before = base.values.slice();
  voice.base = voice.before.slice();
  prepareBase(voice.placed.curves, voice.base);
}
