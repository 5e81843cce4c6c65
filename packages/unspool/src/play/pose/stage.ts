import type { CastAdapter } from '../../cast/cast.js';
import { playerOf, type Cast } from '../../cast/using.js';
import { prepareBase } from '../../clip/clip.js';
import { sampleCurves } from '../../clip/curves.js';
import { Pose, type Slot } from '../../clip/layout.js';
import type { Reel } from '../../clip/reel.js';
import type { UnspoolError } from '../../errors/error.js';
import { boundedOf, AnimatedSlots, type Bounded } from './animated-slots.js';
import { BaseValues, type BaseValuesHost } from './base-values.js';
import { Mixer, needsOf, type Voice } from './mixer.js';
import { disown, own, type SharedObject, type Writer } from './write-conflicts.js';
import { checkPlacement, PlacedCast, type Placement, type PlacementState } from './placement.js';
import type { StageLayer, StageVoice } from './stage-voices.js';

/** What has no offsets is counted from nothing. */
const NO_BASE = new Float64Array(0);
const NO_HINTS = new Int32Array(0);

/** The time inside a clip that is sampled. */
const AT = new Float64Array(2);

/**
 * What the players of a reel share: its rest values, which are not written to; an array that each poses its cast in and
 * writes it from at once; and what layers are mixed with. So a thousand players need only one, which stays in the cache.
 */
interface Common {
  readonly rest: Float64Array;
  readonly values: Float64Array;
  readonly bounded: Bounded;
  mixer: Mixer | undefined;
  /** Counts the players that have posed in it: the number of the last one. */
  turn: number;
}

/** The numbers of properties as objects show them, by name. */
export type ObjectNumbers = readonly { readonly name: string; readonly numbers: readonly (number | string)[] }[];

/** The pose of a reel's whole cast, and the objects that it is written into. */
export class Stage implements Writer, BaseValuesHost {
  /** A pose of its own, once somebody has asked for it. */
  #pose: Pose | undefined;
  readonly #common: Common;
  /** Its turn in the array of all: while it is the last one there, that has its values. */
  #turn = -1;
  /** Who owns which property, and its base value. */
  readonly base: BaseValues;
  /** Frames so far, and in which of them it wrote last. */
  frames = 0;
  wroteAt = -2;
  /** By role: its object, where other players have it too. */
  #shared: (SharedObject | undefined)[] | undefined;
  #placed: PlacedCast | undefined;
  /** What its layers need of the mixer; −1 before it was asked. */
  #needs = -1;
  /** The voice that the pose is of, if it is of one alone and all else is at rest; and the count of base values then. */
  #alone: Voice | undefined;
  #base = -1;

  /** The object that plays each role of the reel. */
  readonly targets: (object | undefined)[];
  /** By role: the adapter of its own, where any has one. */
  readonly #adapters: readonly (CastAdapter | undefined)[] | undefined;

  /** @param cast the objects by role */
  constructor(
    readonly reel: Reel,
    public cast: Cast,
    readonly adapter: CastAdapter,
    readonly name: string,
    readonly warn: (problem: UnspoolError) => void,
  ) {
    this.#common = commonOf(reel);
    this.base = new BaseValues(reel, this.#common.rest, this);
    const players = reel.roles.map((role) => playerOf(cast, role));
    this.targets = players.map(({ object }) => object);
    if (players.some(({ adapter }) => adapter)) this.#adapters = players.map((player) => player.adapter);
    this.targets.forEach((target, role) => own(target, this, role));
  }

  /** The values of the cast as they were posed last; another player's where `isPosed` is false. */
  get values(): Float64Array {
    return (this.#pose ?? this.#common).values;
  }

  /** Whether the values are still its own. */
  get isPosed(): boolean {
    return this.#turn === this.#common.turn || this.#pose !== undefined;
  }

  /** A pose of its own from now on; it is sampled again when it was just created. */
  get pose(): Pose | undefined {
    return this.#pose;
  }

  makePose(): Pose {
    this.#forget();
    return (this.#pose = new Pose(this.reel.layout, NO_HINTS, NO_BASE));
  }

  /** Before the first frame a declared rest value counts, and not what the object shows: it is about to be written. */
  read(slot: Slot): readonly number[] | undefined {
    if (slot.restGiven && !this.base.isStarted) return undefined;
    return this.#read(slot);
  }

  #read(slot: Slot): readonly number[] | undefined {
    const numbers = this.readNow(slot);
    // A property that holds NaN cannot be a starting point.
    return numbers?.every(Number.isFinite) ? numbers : undefined;
  }

  /** The numbers that the object of a property shows, whoever owns it. */
  readNow(slot: Slot): readonly number[] | undefined {
    const role = this.reel.roles.indexOf(slot.role);
    const target = this.targets[role];
    return target && this.#adapterOf(role).read?.(target as never, slot);
  }

  #adapterOf(role: number): CastAdapter {
    return this.#adapters?.[role] ?? this.adapter;
  }

  /** What the objects show of the properties that are the game's now. */
  readFree(): [name: string, numbers: number[]][] {
    return this.reel.layout.slots.flatMap((slot): [string, number[]][] => {
      const numbers = this.base.isFree(slot) ? this.read(slot) : undefined;
      return numbers ? [[slot.name, [...numbers]]] : [];
    });
  }

  /** Readies a voice that begins now, over what the pose shows. */
  begin(voice: StageVoice, mask: readonly string[] | undefined): void {
    const { base: ground } = this;
    ground.ready(voice, mask);
    const { offsets, slots } = voice.placed;
    if (offsets.length > 0 || ground.differs(slots, this.values)) {
      voice.before = this.values.slice();
      voice.base = voice.before.slice();
      prepareBase(voice.placed.curves, voice.base);
    }
    ground.touch(voice.placed);
    this.#forget();
  }

  /**
   * Poses the cast: the ground, and over it the layers. Allocates nothing.
   * What no object could show never gets out: opacity is kept within 0–1, a frame inside its sheet.
   *
   * @param isNew whether other voices may be shown than at the last time
   */
  sample(layers: readonly StageLayer[], isNew: boolean): void {
    const { values } = this;
    const first = layers[0]!;
    const voice = first.voices[0];
    const isAlone = layers.length === 1 && first.voices.length === 1 && voice!.share * first.shownWeight === 1;
    const alone = isAlone ? voice : undefined;
    if (!alone || !this.#shows(alone)) {
      this.#putToRest(values);
      this.#remember(alone);
    }
    if (alone) {
      alone.timeInto(AT);
      sampleCurves(alone.placed.curves, AT, alone.hints, alone.base, values);
    } else if (layers.length > 1 || voice) {
      if (isNew || this.#needs < 0) this.#needs = needsOf(layers);
      const mixer = (this.#common.mixer ??= new Mixer(values.length));
      mixer.begin(this.#needs);
      for (let i = 0; i < layers.length; i++) mixer.layer(layers[i]!, values);
    }
    const { at, most } = this.#common.bounded;
    for (let i = 0; i < at.length; i++) {
      const offset = at[i]!;
      const value = values[offset]!;
      if (value < 0) values[offset] = 0;
      else if (value > most[i]!) values[offset] = most[i]!;
    }
  }

  /** Whether the array still shows this voice alone, so that all that it does not write is at rest already. */
  #shows(voice: Voice): boolean {
    return this.#alone === voice && this.#base === this.base.changes && this.isPosed;
  }

  #remember(alone: Voice | undefined): void {
    if (!this.isPosed) this.#turn = this.#common.turn = (this.#common.turn + 1) | 0;
    this.#base = this.base.changes;
    this.#alone = alone;
  }

  /** The next pose starts from rest. */
  #forget(): void {
    this.#alone = undefined;
  }

  /** By hand: a call costs more than the dozens of numbers that a reel has. */
  #putToRest(values: Float64Array): void {
    const rest = this.base.values;
    for (let i = 0; i < rest.length; i++) values[i] = rest[i]!;
  }

  /** The cast's placement, if it was ever placed or mirrored. */
  get placed(): PlacedCast | undefined {
    return this.#placed;
  }

  #makePlaced(): PlacedCast {
    return (this.#placed ??= new PlacedCast(this.reel, this.base));
  }

  isPlacement(slot: Slot): boolean {
    return this.#placed?.owns(slot) ?? false;
  }

  shownOf(slot: Slot, pose: Float64Array): readonly number[] | undefined {
    return this.#placed?.shownOf(slot, pose);
  }

  /** Places the cast as a whole. Its roots are the player's from the first time on. */
  place(placement: Placement): void {
    const placed = this.#makePlaced();
    checkPlacement(placement);
    if (!placed.isPlaced) {
      for (const slot of placed.slots) this.base.find(slot, this.values);
      placed.find((slot) => this.#read(slot), true);
    }
    placed.set(placement);
  }

  /** Mirrors the cast, or ends that. Returns whether anything is another now. */
  mirror(mirrored: boolean): boolean {
    if (!mirrored && !this.#placed?.mirrored) return false;
    const placed = this.#makePlaced();
    if (placed.mirrored === mirrored) return false;
    if (!placed.isPlaced && mirrored) {
      for (const slot of placed.slots) if (slot.property === 'scale') this.base.find(slot, this.values);
      placed.find((slot) => this.#read(slot), false);
    }
    placed.mirror(mirrored);
    return true;
  }

  /** Where the first role without a parent is, x and y: as it is placed, as it is posed, or as the game put it. */
  rootInto(out: Float64Array): void {
    const slot = this.reel.layout.find(`${this.#rootRole}.position`);
    const isGames = !this.#placed?.isPlaced && (!slot || this.base.isFree(slot));
    const own = isGames ? this.#read(slot ?? positionOf(this.#rootRole)) : undefined;
    if (own) [out[0], out[1]] = [own[0]!, own[1]!];
    else if (this.#placed) this.#placed.rootInto(this.values, out);
    else for (let k = 0; k < 2; k++) out[k] = slot ? this.values[slot.offset + k]! : 0;
  }

  get #rootRole(): string {
    const { parents } = this.reel.facts;
    return this.reel.roles.find((role) => !Object.hasOwn(parents, role)) ?? this.reel.roles[0] ?? '';
  }

  /**
   * Writes what is due into the objects: what moves, what has stopped since the last time, and the placement.
   *
   * @param isNew whether the set of playbacks that move differs from the last time
   */
  write(isNew: boolean): void {
    const { values, base: ground } = this;
    const { bindings } = ground.take(isNew);
    if (this.#shared) for (const [role] of bindings) this.#shared[role]?.claim(this, role);
    this.wroteAt = this.frames;
    if (isNew) this.#placed?.regroup();
    this.put(values, bindings);
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
    for (const { voices } of this.base.shown)
      for (const { placed, clip } of voices)
        for (const slot of placed.slots) if (slot.role === name) all.set(slot.property, clip.name);
    return all;
  }

  /** Becomes what was saved; not placed where that was not. */
  loadPlacement(state: PlacementState | null): void {
    if (state) this.#makePlaced();
    this.#placed?.load(state);
    this.#forget();
  }

  /**
   * Writes at once what a restored state shows, and what its objects showed that were the game's.
   *
   * @param known what this player has written before it became another
   */
  writeBack(known: AnimatedSlots, objects: ObjectNumbers): void {
    const { base: ground } = this;
    this.targets.forEach((target, role) => target && this.#adapterOf(role).forget?.(target as never));
    const pose = this.values.slice();
    const free = objects.map(({ name }) => name);
    for (const { name, numbers } of objects) pose.set(numbers.map(Number), this.reel.layout.slot(name).offset);
    const all = known.union(ground.covered).union(AnimatedSlots.of(this.reel, free));
    this.put(pose, ground.isStarted ? all.bindings : AnimatedSlots.of(this.reel, free).bindings);
  }

  /** Writes properties now, as the cast is placed. */
  put(pose: Float64Array, bindings: AnimatedSlots['bindings']): void {
    const placed = this.#placed?.bind(bindings);
    const values = placed ? this.#placed!.apply(pose) : pose;
    this.putPlain(values, placed ?? bindings);
  }

  /** Writes properties now, as they are. */
  putPlain(values: Float64Array, all: AnimatedSlots['bindings']): void {
    for (let i = 0; i < all.length; i++) {
      const bound = all[i]!;
      const target = this.targets[bound[0]];
      if (target) this.#adapterOf(bound[0]).write(target as never, values, bound[1]);
    }
  }

  /** Releases every object. */
  dispose(): void {
    for (const target of this.targets) disown(target, this);
    this.targets.length = 0;
    this.cast = {};
    this.#shared = undefined;
    this.base.shown = [];
  }
}

/** Stands in for a position that no clip animates, to read it from an object. */
function positionOf(role: string): Slot {
  return {
    ...{ name: `${role}.position`, role, property: 'position', kind: 'vec2', offset: 0, width: 2 },
    ...{ rest: [0, 0], restGiven: false },
  };
}

const commons = new WeakMap<Reel, Common>();

function commonOf(reel: Reel): Common {
  let common = commons.get(reel);
  if (!common) {
    const rest = new Pose(reel.layout, NO_HINTS, NO_BASE).values;
    commons.set(reel, (common = { rest, values: rest.slice(), bounded: boundedOf(reel), mixer: undefined, turn: 0 }));
  }
  return common;
}
