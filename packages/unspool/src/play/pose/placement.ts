import { bindRole, type RoleBinding } from '../../cast/cast.js';
import type { Slot } from '../../clip/layout.js';
import type { Reel } from '../../clip/reel.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { BaseValues } from './base-values.js';
import {
  placeRoot,
  ROOT_SIZE,
  rootPlace,
  rootPlaceOf,
  ROTATION,
  SCALE,
  type RootNumbers,
  type RootPlace,
} from './place-root.js';

/** Options of `player.place`. Omitted members keep their value. */
export interface Placement {
  /** In the units of the game; a third number is added to the depth of roles that have one. */
  readonly position?: readonly [x: number, y: number, z?: number];
  /** Degrees; positive turns +x toward +y. */
  readonly rotation?: number;
  readonly scale?: number | readonly [x: number, y: number];
  /** Mirrors the cast left to right. */
  readonly flip?: boolean;
}

export const TRANSFORM: readonly string[] = ['position', 'rotation', 'scale'];

/** A role without a parent: its transform in the reel, and where the placed transform is written. */
interface Root {
  readonly role: number;
  /** Offsets of its own position, rotation and scale in a pose; −1 for those that it does not have. */
  readonly from: RoleBinding;
  readonly numbers: RootNumbers;
  readonly at: number;
  readonly depth: boolean;
  /** Its position, rotation and scale, where the reel speaks of them. */
  readonly own: readonly (Slot | undefined)[];
}

type Bound = readonly [role: number, binding: RoleBinding];

interface BoundOf {
  readonly of: readonly Bound[];
  readonly all: readonly Bound[];
}

/**
 * Composes the transform of a cast as a whole with those of its roots, the roles without a parent. Writes into an
 * array of its own, so that the pose stays that of the reel; the result is never read back.
 *
 * A placed cast is in the space of its placement: the player owns position, rotation and scale of its roots. A cast
 * that is only mirrored, by a facing, is mirrored where it is: the player owns only the scale of its roots, offsets
 * change direction, and an absolute position is mirrored about x = 0.
 */
export class PlacedCast {
  position: readonly [x: number, y: number, z: number] = [0, 0, 0];
  rotation = 0;
  scale: readonly [x: number, y: number] = [1, 1];
  /** By `place`, and by the side that it faces. */
  flip = false;
  mirrored = false;
  isPlaced = false;
  /** The roots' own properties that a clip or a rest value of the reel speaks of. */
  readonly slots: readonly Slot[];
  /** Whether it differs from what was written; and whether it releases everything that it has placed. */
  #isDirty = false;
  #leaves = false;
  readonly #values: Float64Array;
  readonly #roots: readonly Root[];
  /** What the placement makes of each root; worked out again when something of it is another. */
  readonly #places: RootPlace[] = [];
  #isStale = true;
  /** What roots' properties that the reel does not speak of were, when they became the player's. */
  readonly own: Float64Array;
  /** What to write for a set of roots: when only what moves is due, and when the placement has changed too. */
  #bound: BoundOf | undefined;
  #boundAnew: BoundOf | undefined;

  constructor(
    readonly reel: Reel,
    readonly ground: BaseValues,
  ) {
    const { size, slots } = reel.layout;
    const { parents } = reel.facts;
    const roots = reel.roles.flatMap((role, place) => (Object.hasOwn(parents, role) ? [] : [place]));
    this.#values = new Float64Array(size + roots.length * ROOT_SIZE);
    this.own = new Float64Array(roots.length * ROOT_SIZE);
    this.slots = slots.filter(
      ({ role, property }) => TRANSFORM.includes(property) && roots.includes(reel.roles.indexOf(role)),
    );
    this.#roots = roots.map((place, i): Root => {
      const from = bindRole(reel.roles[place]!, slots, []);
      this.own.fill(1, i * ROOT_SIZE + SCALE, (i + 1) * ROOT_SIZE);
      const isQuat = from.rotation >= 0 && from.rotationWidth === 4;
      const numbers = { position: from.position, rotation: from.rotation, isQuat, scale: from.scale };
      const depth = from.position >= 0 && from.positionWidth === 3;
      const slot = (name: string) => this.slots.find(({ role, property }) => role === from.role && property === name);
      const own = TRANSFORM.map(slot);
      return { role: place, from, at: size + i * ROOT_SIZE, numbers, depth, own };
    });
  }

  /**
   * Takes over what the reel does not speak of, from the objects: all of it when the cast is placed, the scale when it
   * is mirrored.
   */
  find(read: (slot: Slot) => readonly number[] | undefined, all: boolean): void {
    this.#isStale = true;
    this.#roots.forEach(({ role: place, from }, i) => {
      const role = this.reel.roles[place]!;
      const find = (property: string, width: number, at: number) => {
        const kind = property === 'rotation' ? 'angle' : 'vec2';
        const name = `${role}.${property}`;
        const slot: Slot = { name, role, property, kind, offset: 0, width, rest: [], restGiven: false };
        const numbers = read(slot);
        if (numbers) this.own.set(numbers, i * ROOT_SIZE + at);
      };
      if (all && from.position < 0) find('position', 2, 0);
      if (all && from.rotation < 0) find('rotation', 1, ROTATION);
      if (from.scale < 0 && !this.mirrored) find('scale', 2, SCALE);
    });
  }

  /** Takes over a placement that was checked. */
  set({ position, rotation, scale, flip }: Placement): void {
    if (position) this.position = [position[0], position[1], position[2] ?? 0];
    if (scale !== undefined) this.scale = typeof scale === 'number' ? [scale, scale] : [scale[0], scale[1]];
    this.rotation = rotation ?? this.rotation;
    this.flip = flip ?? this.flip;
    if (!this.isPlaced) this.#bound = this.#boundAnew = undefined;
    this.isPlaced = true;
    this.#isDirty = this.#isStale = true;
  }

  mirror(mirrored: boolean): void {
    this.mirrored = mirrored;
    this.#isDirty = this.#isStale = true;
    this.#bound = this.#boundAnew = undefined;
  }

  /** Returns whether it owns a property: then the object is not read. */
  owns(slot: Slot): boolean {
    if (!this.isPlaced && !(this.mirrored && slot.property === 'scale')) return false;
    return this.slots.includes(slot);
  }

  /** What becomes of a root. Of a cast that is only mirrored the sizes of its objects are the game's, as they were. */
  placeOf(role: string): RootPlace {
    if (this.#isStale) this.#settle();
    let at = 0;
    while (at < this.#roots.length && this.#roots[at]!.from.role !== role) at++;
    const found = this.#places[at] ?? NOT_PLACED;
    return this.isPlaced ? found : unsized(found);
  }

  /** What a mirror without a place turns the first number of a property about: an offset where it began, else 0. */
  #origin(slot: Slot): number {
    const all = this.ground.shown.flatMap(({ voices }) => voices).filter(({ placed }) => placed.slots.includes(slot));
    // What nothing animates stays where it is: it turns about itself.
    const isOffset = all.every(({ placed }) => placed.offsets.includes(slot.offset));
    return isOffset ? this.ground.values[slot.offset]! : 0;
  }

  /** The numbers of a root's property as its object shows them. */
  shownOf(slot: Slot, pose: Float64Array): readonly number[] | undefined {
    const root = this.isPlaced || !this.mirrored ? undefined : this.#roots.find(({ own }) => own.includes(slot));
    if (!root) return undefined;
    this.regroup();
    const at = root.at + [0, ROTATION, SCALE][root.own.indexOf(slot)]!;
    return [...this.apply(pose).subarray(at, at + slot.width)];
  }

  /** Where the first role that has no parent is, x and y. */
  rootInto(pose: Float64Array, out: Float64Array): void {
    this.regroup();
    this.apply(pose);
    const at = this.#roots[0]?.at ?? 0;
    out[0] = this.#values[at]!;
    out[1] = this.#values[at + 1]!;
  }

  /** Other playbacks show what a mirror is to turn. */
  regroup(): void {
    if (!this.isPlaced) this.#isStale = true;
  }

  /** Only when something is another: what it calls would be made each time. */
  #settle(): void {
    this.#isStale = false;
    this.#roots.forEach((root, i) => (this.#places[i] = this.#placeOf(root, i * ROOT_SIZE)));
  }

  #placeOf({ own: [position, rotation], from }: Root, rest: number): RootPlace {
    const { own } = this;
    const [sx, sy] = [this.scale[0] * (this.flip !== this.mirrored ? -1 : 1), this.scale[1]];
    const bare = rootPlace(this.position[0], this.position[1], this.rotation, sx, sy);
    // What the reel does not speak of is as its object had it.
    placeRoot(bare, OWN, own.subarray(rest, rest + ROOT_SIZE), FOUND, 0);
    const [sizeX, sizeY] = from.scale < 0 ? [FOUND[SCALE]!, FOUND[SCALE + 1]!] : [sx, sy];
    if (!this.isPlaced) {
      // A mirror where it is: about where its offsets began.
      const twice = (slot: Slot | undefined) => (slot && this.mirrored ? 2 * this.#origin(slot) : 0);
      const turn = rotation?.width === 1 ? twice(rotation) : 0;
      return rootPlaceOf(twice(position), 0, 0, sx, sy, turn, sizeX, sizeY);
    }
    const [x, y] = from.position < 0 ? [FOUND[0]!, FOUND[1]!] : [bare[0], bare[1]];
    const turn = from.rotation < 0 ? FOUND[ROTATION]! : this.rotation;
    return rootPlaceOf(x, y, this.rotation, sx, sy, turn, sizeX, sizeY);
  }

  /** The pose as it is placed, with what becomes of each root behind it. */
  apply(pose: Float64Array): Float64Array {
    if (this.#isStale) this.#settle();
    const out = this.#values;
    out.set(pose);
    for (let i = 0; i < this.#roots.length; i++) {
      const { from, numbers, at, depth } = this.#roots[i]!;
      placeRoot(this.#places[i]!, numbers, pose, out, at);
      out[at + 2] = (depth ? pose[from.position + 2]! : 0) + this.position[2];
      out[at + SCALE + 2] = from.scale >= 0 && from.scaleWidth === 3 ? pose[from.scale + 2]! : 1;
    }
    return out;
  }

  /**
   * What to write for a set of roots with their composed transforms. `undefined` when nothing is placed. All of a
   * placed root's transform is written with any part of it, and when the placement has changed.
   */
  bind(bindings: readonly Bound[]): readonly Bound[] | undefined {
    if (!this.isPlaced && !this.mirrored && !this.#isDirty) return undefined;
    const isDirty = this.#isDirty;
    this.#isDirty = false;
    const known = isDirty ? this.#boundAnew : this.#bound;
    if (known?.of === bindings) return known.all;
    const all = this.#bind(bindings, isDirty);
    this.#leaves = false;
    if (isDirty) this.#boundAnew = { of: bindings, all };
    else this.#bound = { of: bindings, all };
    return all;
  }

  #bind(bindings: readonly Bound[], isDirty: boolean): readonly Bound[] {
    const all = new Map(bindings);
    for (const { role, from, numbers, at } of this.#roots) {
      const known = all.get(role);
      const isMoved = known && (known.position >= 0 || known.rotation >= 0 || known.scale >= 0);
      const whole = this.#leaves || (this.isPlaced && (isDirty || isMoved));
      const has = (offset: number | undefined) => whole || (offset ?? -1) >= 0;
      const moved = {
        ...(known ?? bindRole(this.reel.roles[role]!, [], [])),
        position: has(known?.position) ? at : -1,
        rotation: has(known?.rotation) ? at + ROTATION : -1,
        scale: has(known?.scale) || (!this.isPlaced && isDirty) ? at + SCALE : -1,
        positionWidth: from.position >= 0 ? from.positionWidth : 2,
        scaleWidth: from.scale >= 0 ? from.scaleWidth : 2,
        rotationWidth: numbers.isQuat ? 4 : 1,
      };
      if (known || moved.position >= 0 || moved.scale >= 0) all.set(role, moved);
    }
    return [...all].sort(([a], [b]) => a - b);
  }

  /** @internal Its numbers, and the same put back. */
  save(): PlacementState {
    const { position, rotation, scale, flip, mirrored, isPlaced } = this;
    const own = this.#roots.map(({ from }, i) => {
      return { role: from.role, numbers: [...this.own.subarray(i * ROOT_SIZE, (i + 1) * ROOT_SIZE)] };
    });
    return { position: [...position], rotation, scale: [...scale], flip, mirrored, isPlaced, own };
  }

  load(state: PlacementState | null): void {
    const { position, rotation, scale, flip, mirrored, isPlaced, own } = state ?? NOWHERE;
    this.#leaves = this.isPlaced && !isPlaced;
    [this.position, this.scale] = [position as [number, number, number], scale as [number, number]];
    [this.rotation, this.flip, this.mirrored, this.isPlaced] = [rotation, flip, mirrored, isPlaced];
    this.#roots.forEach(({ from }, i) => {
      const numbers = own.find(({ role }) => role === from.role)?.numbers;
      if (numbers) this.own.set(numbers, i * ROOT_SIZE);
    });
    this.#isDirty = this.#isStale = true;
    this.#bound = this.#boundAnew = undefined;
  }
}

/** A saved placement. */
export interface PlacementState {
  readonly position: readonly number[];
  readonly rotation: number;
  readonly scale: readonly number[];
  readonly flip: boolean;
  readonly mirrored: boolean;
  readonly isPlaced: boolean;
  /** The base values of the roots, by role. */
  readonly own: readonly { readonly role: string; readonly numbers: readonly number[] }[];
}

const unsized = ({ 0: x, 1: y, 2: rotation, 3: sx, 4: sy, 5: turn }: RootPlace) =>
  rootPlaceOf(x, y, rotation, sx, sy, turn, sx, sy);
const NOT_PLACED = rootPlace(0, 0, 0, 1, 1);

/** A cast that is not placed. */
const NOWHERE: PlacementState = {
  ...{ position: [0, 0, 0], rotation: 0, scale: [1, 1], flip: false, mirrored: false, isPlaced: false, own: [] },
};

/** Numbers of a root that the reel does not speak of, as a root of its own; and what becomes of them. */
const OWN: RootNumbers = { position: 0, rotation: ROTATION, isQuat: false, scale: SCALE };
const FOUND = new Float64Array(ROOT_SIZE);

/** Checks a placement. Throws for an unknown member, or a value that is none. */
export function checkPlacement(placement: Placement): void {
  if (typeof placement !== 'object' || (placement as Placement | null) === null || Array.isArray(placement))
    throw new UnspoolError('play/place', `${show(placement)} is not a valid placement`, HINT);
  const { position, rotation, scale, flip, ...others } = placement;
  for (const [name, value] of Object.entries(others)) throw wrong(name, value);
  const are = (value: unknown, ...lengths: readonly number[]) =>
    Array.isArray(value) && lengths.includes(value.length) && value.every(isInRange);
  if (position !== undefined && !are(position, 2, 3)) throw wrong('position', position);
  if (scale !== undefined && !isInRange(scale) && !are(scale, 2)) throw wrong('scale', scale);
  if (rotation !== undefined && !isInRange(rotation)) throw wrong('rotation', rotation);
  if (flip !== undefined && typeof flip !== 'boolean') throw wrong('flip', flip);
}

const HINT = 'use { position: [x, y], rotation, scale, flip } with finite numbers within ±1e100';

/** Numbers of a placement have the same limits as those of reels. */
const MAX_COORDINATE = 1e100;

function isInRange(value: unknown): value is number {
  return typeof value === 'number' && Math.abs(value) <= MAX_COORDINATE;
}

function wrong(name: string, value: unknown): Error {
  return new UnspoolError('play/place', `${show(value)} is not a valid ${name} of a placement`, HINT);
}
