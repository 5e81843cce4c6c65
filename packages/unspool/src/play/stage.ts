import type { CastAdapter } from '../cast/cast.js';
import { prepareBase, type Clip } from '../clip/clip.js';
import { sampleCurves } from '../clip/curves.js';
import { Pose, type Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';
import type { UnspoolError } from '../wording/error.js';
import { Coverage, placeClip } from './coverage.js';
import { Mixer, type MixedLayer, type Voice } from './mixer.js';
import { disown, own, type SharedObject, type Writer } from './owners.js';
import { PlacedCast } from './placement.js';
import { numberOut, type SavedNumber } from './playhead.js';

/** What has no offsets is counted from nothing. */
const NO_BASE = new Float64Array(0);
const NO_HINTS = new Int32Array(0);

/** The time inside a clip that is sampled. */
const AT = new Float64Array(1);

/** A layer of clips. */
export type ShownLayer = MixedLayer<Voice & { readonly clip: Clip }>;

/**
 * What the players of a reel have in common: its rest values as one list, not to be written to; and a list that each
 * poses its cast in, and writes it from at once. So a thousand players want one, which stays at hand.
 */
interface Common {
  readonly rest: Float64Array;
  readonly values: Float64Array;
  /** Counts who posed in it: the last one's number. */
  turn: number;
}

/** The pose of a reel's whole cast, and the objects that it is written into. */
export class Stage<Target> implements Writer {
  /** A pose of its own, once somebody has asked for it. */
  #pose: Pose | undefined;
  readonly #common: Common;
  /** Its number in the list of all: while it is the last one there, that holds its values. */
  #turn = -1;
  coverage: Coverage;
  /** What stands where nothing is animated: the reel's rest values, else what the objects themselves show. */
  rest: Float64Array;
  /** Frames so far, and in which of them it wrote last. */
  frames = 0;
  wroteAt = -2;
  /** By role: its object, where other players have it too. */
  #shared: (SharedObject | undefined)[] | undefined;
  #placed: PlacedCast | undefined;
  #layers: readonly ShownLayer[] = [];
  #mixer: Mixer | undefined;
  /** The voice that the pose is of, if it is of one alone and nothing else is but at rest. */
  #only: Voice | undefined;

  /** @param targets the object that plays each role of the reel */
  constructor(
    readonly reel: Reel,
    readonly targets: (Target | undefined)[],
    readonly adapter: CastAdapter<Target>,
    readonly name: string,
    readonly warn: (problem: UnspoolError) => void,
  ) {
    this.#common = commonOf(reel);
    this.coverage = Coverage.none(reel);
    this.rest = this.#common.rest;
    targets.forEach((target, role) => own(target, this, role));
    for (const slot of reel.layout.slots) {
      const own = slot.restGiven ? undefined : this.#read(slot);
      if (own?.some((n, k) => n !== slot.rest[k])) this.#ownRest().set(own, slot.offset);
    }
  }

  #ownRest(): Float64Array {
    if (this.rest === this.#common.rest) this.rest = this.rest.slice();
    return this.rest;
  }

  /** The values of the cast as they were posed last; another player's where `isPosed` is false. */
  get values(): Float64Array {
    return (this.#pose ?? this.#common).values;
  }

  /** Whether the values are still its own. */
  get isPosed(): boolean {
    return this.#turn === this.#common.turn || this.#pose !== undefined;
  }

  /** A pose of its own, from now on; it is to be sampled anew when it was just made. */
  get pose(): Pose | undefined {
    return this.#pose;
  }

  makePose(): Pose {
    this.#only = undefined;
    return (this.#pose = new Pose(this.reel.layout, NO_HINTS, NO_BASE));
  }

  #read(slot: Slot) {
    const target = this.targets[this.reel.roles.indexOf(slot.role)];
    return target === undefined ? undefined : this.adapter.read?.(target, slot);
  }

  /**
   * Readies a voice, which begins over what the pose shows now. Makes room, once, for all that playing it in frames
   * will need.
   *
   * @param live nothing is playing: what the objects show themselves counts, as the game may have moved them
   */
  begin(voice: Voice & { readonly clip: Clip }, mask: readonly string[] | undefined, live: boolean): void {
    const one = placeClip(voice.clip, this.reel, mask);
    voice.placed = one;
    voice.hints = one.hints.slice();
    if (one.offsets.length > 0) {
      voice.before = (this.isPosed ? this.values : this.rest).slice();
      for (const slot of one.slots) {
        const own = live || !this.coverage.has(slot) ? this.#read(slot) : undefined;
        if (own) voice.before.set(own, slot.offset);
      }
      voice.base = voice.before.slice();
      prepareBase(one.curves, voice.base);
    }
    this.coverage = this.coverage.with(one);
    this.#only = undefined;
  }

  /** A voice is gone: what it has offset goes back to what it was. */
  left({ placed, before }: Voice): void {
    for (const i of placed.offsets) this.#ownRest()[i] = before[i]!;
  }

  /**
   * Poses the cast: rest values, and over them the layers. Allocates nothing.
   * What no object could show never gets out: opacity is kept within 0–1, a frame inside its sheet.
   */
  sample(layers: readonly ShownLayer[]): void {
    this.#layers = layers;
    const { values } = this;
    if (!this.isPosed) {
      this.#turn = this.#common.turn = (this.#common.turn + 1) | 0;
      this.#only = undefined;
    }
    const first = layers[0]!;
    const voice = first.voices[0];
    if (layers.length === 1 && first.voices.length === 1 && voice!.share * first.shownWeight === 1) {
      if (this.#only !== voice) this.#putToRest(values);
      this.#only = voice;
      voice!.timeInto(AT);
      sampleCurves(voice!.placed.curves, AT, voice!.hints, voice!.base, values);
    } else {
      this.#only = undefined;
      this.#putToRest(values);
      const mixer = (this.#mixer ??= new Mixer(values.length));
      mixer.begin();
      for (let i = 0; i < layers.length; i++) mixer.layer(layers[i]!, values);
    }
    const { bounded, most } = this.coverage;
    for (let i = 0; i < bounded.length; i++) {
      const offset = bounded[i]!;
      const value = values[offset]!;
      if (value < 0) values[offset] = 0;
      else if (value > most[i]!) values[offset] = most[i]!;
    }
  }

  /** By hand: a call costs more than the dozens of numbers that a reel has. */
  #putToRest(values: Float64Array): void {
    const { rest } = this;
    for (let i = 0; i < rest.length; i++) values[i] = rest[i]!;
  }

  get isPlaced(): boolean {
    return this.#placed !== undefined;
  }

  /** Moves the cast as a whole; made when it is first asked for. */
  get placed(): PlacedCast {
    return (this.#placed ??= new PlacedCast(this.reel, (slot) => this.#read(slot)));
  }

  /** Writes the pose into the objects. */
  write(): void {
    const { values } = this;
    const { bindings } = this.coverage;
    if (this.#shared) for (const [role] of bindings) this.#shared[role]?.claim(this, role);
    this.wroteAt = this.frames;
    if (this.#placed) {
      this.#placed.write(values, this.coverage, this.targets, this.adapter);
      return;
    }
    for (let i = 0; i < bindings.length; i++) {
      const bound = bindings[i]!;
      const target = this.targets[bound[0]];
      if (target !== undefined) this.adapter.write(target, values, bound[1]);
    }
  }

  roleOf(target: object): number {
    return (this.targets as readonly unknown[]).indexOf(target);
  }

  shares(role: number, object: SharedObject): void {
    (this.#shared ??= [])[role] = object;
  }

  written(role: number): ReadonlyMap<string, string> {
    const name = this.reel.roles[role];
    const all = new Map<string, string>();
    for (const { voices } of this.#layers)
      for (const { placed, clip } of voices)
        for (const slot of placed.slots) if (slot.role === name) all.set(slot.property, clip.name);
    return all;
  }

  /** @internal Becomes what was saved: which properties are written, and what stands where nothing is animated. */
  load(covered: readonly string[], rest: readonly SavedNumber[] | null): void {
    this.coverage = Coverage.of(this.reel, covered);
    this.rest = rest ? Float64Array.from(rest, Number) : this.#common.rest;
    this.#only = undefined;
  }

  saveRest(): SavedNumber[] | null {
    return this.rest === this.#common.rest ? null : Array.from(this.rest, numberOut);
  }

  /** Lets go of every object. */
  dispose(): void {
    for (const target of this.targets) disown(target, this);
    this.targets.length = 0;
    this.#shared = undefined;
    this.#layers = [];
  }
}

const commons = new WeakMap<Reel, Common>();

function commonOf(reel: Reel): Common {
  let common = commons.get(reel);
  if (!common) {
    const rest = new Pose(reel.layout, NO_HINTS, NO_BASE).values;
    commons.set(reel, (common = { rest, values: rest.slice(), turn: 0 }));
  }
  return common;
}
