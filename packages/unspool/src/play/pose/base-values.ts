import type { Slot } from '../../clip/layout.js';
import type { Reel } from '../../clip/reel.js';
import { isWritten } from '../../cast/cast.js';
import { AnimatedSlots, remapClip, type RemappedClip } from './animated-slots.js';
import type { Voice } from './mixer.js';
import type { StageLayer, StageVoice } from './stage-voices.js';

/** What the ground of a cast needs of whatever writes it. */
export interface BaseValuesHost {
  /** Reads a property from its object; `undefined` without an object, or when it cannot be read. */
  read(slot: Slot): readonly number[] | undefined;
  /** Whether the cast's placement owns a property: then it is never read back from the object. */
  isPlacement(slot: Slot): boolean;
  /** The numbers of a property as its object shows them, where that is not as the pose has them. */
  shownOf(slot: Slot, pose: Float64Array): readonly number[] | undefined;
}

/**
 * Tracks who owns each property of a cast, and its base value. For each property there is
 *
 * - its declared rest value, if its reel has one;
 *
 * - its base: the value when nothing animates it. It starts as the rest value. When a playback begins on a property
 * that the game owns, it becomes what the object shows; when the last playback leaves with `hold`, its last pose;
 *
 * - its owner: the player, while something animates it and until that was written once more; else the game.
 */
export class BaseValues {
  /** The ground, laid out as a pose. The reel's rest values, shared by all players, until one differs. */
  values: Float64Array;
  /** What the next write owes: all that was animated since the last one. */
  due: AnimatedSlots;
  /** Everything that was ever written: a restored state writes it back. */
  covered: AnimatedSlots;
  /** Whether the declared rest values have been written, or are about to be with the first frame. */
  isStarted = false;
  shown: readonly StageLayer[] = [];
  /** Counts what makes the pose another by itself. */
  changes = 0;
  #live: AnimatedSlots;

  constructor(
    readonly reel: Reel,
    readonly rest: Float64Array,
    readonly host: BaseValuesHost,
  ) {
    this.values = rest;
    this.covered = this.due = AnimatedSlots.withRest(reel);
    this.#live = AnimatedSlots.none(reel);
  }

  /** Something animates a property until the next write at least. */
  touch(placed: RemappedClip): void {
    this.due = this.due.with(placed);
    this.covered = this.covered.with(placed);
  }

  /**
   * The properties to write now; those that are still animated stay due.
   *
   * @param isNew whether the set of playbacks that move differs from the last write
   */
  take(isNew: boolean): AnimatedSlots {
    if (isNew) this.#live = this.#liveNow();
    const taken = this.due === this.#live ? this.due : this.due.union(this.#live);
    this.due = this.#live;
    this.isStarted = true;
    return taken;
  }

  #liveNow(): AnimatedSlots {
    let live = AnimatedSlots.none(this.reel);
    for (const layer of this.shown)
      for (const voice of layer.voices) if (layer.animates(voice)) live = live.with(voice.placed);
    return live;
  }

  /** Whether a property is the game's: nothing animates it, and all that did was written. */
  isFree(slot: Slot): boolean {
    if (this.due.has(slot) || this.host.isPlacement(slot)) return false;
    return !this.shown.some((layer) =>
      layer.voices.some((voice) => layer.claims(voice) && voice.placed.slots.includes(slot)),
    );
  }

  /**
   * A playback is about to begin. Properties that it animates and the game owns get their base from what the object
   * shows; an ended playback that still held them no longer does.
   *
   * @param pose what is shown now
   */
  acquire(placed: RemappedClip, pose: Float64Array): void {
    for (const slot of placed.slots) this.#takeOver(slot, pose);
  }

  /** Of a property that is the game's: what its object shows is the ground, and no playback that has ended holds it. */
  #takeOver(slot: Slot, pose: Float64Array): void {
    if (!isWritten(slot, this.reel.facts) || !this.isFree(slot)) return;
    this.#find(slot, pose);
    for (const layer of this.shown)
      for (const voice of layer.voices) if (voice.placed.slots.includes(slot)) this.#restrict(voice, [slot]);
  }

  /** A property of the game's becomes the placement's. */
  find(slot: Slot, pose: Float64Array): void {
    this.#takeOver(slot, pose);
  }

  #find(slot: Slot, pose: Float64Array): void {
    this.#put(slot, this.host.read(slot) ?? this.#shownOf(slot, pose));
  }

  #shownOf(slot: Slot, pose: Float64Array): readonly number[] {
    const { offset, width } = slot;
    return this.host.shownOf(slot, pose) ?? [...pose.subarray(offset, offset + width)];
  }

  #put({ offset }: Slot, numbers: ArrayLike<number>): void {
    for (let k = 0; k < numbers.length; k++) {
      if (this.values[offset + k] === numbers[k]) continue;
      this.changes++;
      if (this.values === this.rest) this.values = this.rest.slice();
      this.values[offset + k] = numbers[k]!;
    }
  }

  /**
   * Playbacks leave. What nothing else animates keeps the last pose (`hold`) or returns to rest (`rest`: see
   * `#leftBy`).
   *
   * @param outgoing the oldest first; the newest that animates a property decides
   * @param pose     what is shown now, including them
   * @param incoming plays in their place: what it animates is kept
   */
  release(outgoing: readonly StageVoice[], pose: Float64Array, incoming?: StageVoice): void {
    const done = new Set<Slot>();
    for (const voice of [...outgoing].reverse()) {
      for (const slot of voice.placed.slots) {
        if (done.has(slot)) continue;
        done.add(slot);
        if (this.#isAnimatedBeside(outgoing, slot)) continue;
        if (voice.after === 'rest' || !isWritten(slot, this.reel.facts)) this.#put(slot, this.#leftBy(voice, slot));
        else if (incoming?.placed.slots.includes(slot)) continue;
        else if (this.isFree(slot)) this.#find(slot, pose);
        else this.#put(slot, this.#shownOf(slot, pose));
      }
      if (voice.after === 'rest') this.touch(voice.placed);
    }
  }

  /**
   * What a playback with `rest` leaves behind: for an offset, its base; else the declared rest value; else the value
   * when it began, or the base that was set since.
   */
  #leftBy({ placed, before }: Voice, { offset, rest, restGiven }: Slot): number[] {
    return rest.map((declared, k) => {
      const at = offset + k;
      if (restGiven && !placed.offsets.includes(at)) return declared;
      return before.length > 0 ? before[at]! : this.values[at]!;
    });
  }

  /** Whether properties are shown otherwise than their ground is. */
  differs(slots: readonly Slot[], pose: Float64Array): boolean {
    return slots.some(({ offset, rest }) => rest.some((_, k) => pose[offset + k] !== this.values[offset + k]));
  }

  /**
   * An ended playback is about to be faded over or out. What the game owns is not faded. When it is faded over, what
   * it alone holds becomes the base. Returns false when nothing of it is left.
   */
  settle(voice: StageVoice, pose: Float64Array, isOut: boolean): boolean {
    for (const slot of voice.placed.slots) this.#takeOver(slot, pose);
    if (isOut) return voice.placed.slots.length > 0;
    const alone = voice.placed.slots.filter((slot) => !this.#isAnimatedBeside([voice], slot));
    for (const slot of alone) if (isWritten(slot, this.reel.facts)) this.#put(slot, this.#shownOf(slot, pose));
    return this.#restrict(voice, alone);
  }

  #isAnimatedBeside(voices: readonly Voice[], slot: Slot): boolean {
    return this.shown.some((layer) =>
      layer.voices.some((other) => !voices.includes(other) && other.placed.slots.includes(slot)),
    );
  }

  #restrict(voice: StageVoice, without: readonly Slot[]): boolean {
    if (without.length === 0) return voice.placed.slots.length > 0;
    const left = voice.placed.slots.filter((slot) => !without.includes(slot));
    voice.slotsLeft = left.map(({ name }) => name);
    this.ready(voice, voice.slotsLeft);
    this.changes++;
    return left.length > 0;
  }

  /** Readies a voice to be sampled: all of its clip, or what a mask leaves of it. */
  ready(voice: StageVoice, mask: readonly string[] | undefined): void {
    voice.placed = remapClip(voice.clip, this.reel, mask);
    voice.hints = voice.placed.hints.slice();
  }

  /** The ground to be saved; nothing where it is the rest values. */
  get saved(): Float64Array | null {
    return this.#areRest(this.values) ? null : this.values;
  }

  #areRest(values: Float64Array): boolean {
    return values === this.rest || values.every((n, i) => Object.is(n, this.rest[i]));
  }

  /** Becomes what was saved. */
  load(values: Float64Array, isStarted: boolean): void {
    this.values = this.#areRest(values) ? this.rest : values;
    this.isStarted = isStarted;
    this.changes++;
  }

  loadOwed(due: readonly string[], covered: readonly string[]): void {
    this.due = AnimatedSlots.of(this.reel, due);
    this.covered = AnimatedSlots.of(this.reel, covered);
  }
}
