import { cosine, sine } from '../easing/sine.js';
import { bindRole, type RoleBinding } from '../cast/cast.js';
import type { Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';
import { multiplyQuat } from '../value/quat.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import type { BaseValues } from './base-values.js';

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

/** A placement in numbers: x, y, degrees, scale by x and y; a flip is a negative scale by x. */
export type Transform2D = readonly [x: number, y: number, rotation: number, scaleX: number, scaleY: number];

/** Position, rotation as an angle or a quaternion, scale: numbers of their own for each role that has no parent. */
const ROOM = 10;
const ROTATION = 3;
const SCALE = 7;
const TRANSFORM = ['position', 'rotation', 'scale'];

/** A role without a parent: its transform in the reel, and where the placed transform is written. */
interface Root {
  readonly role: number;
  /** Offsets of its own position, rotation and scale in a pose; −1 for those that it does not have. */
  readonly from: RoleBinding;
  readonly at: number;
  readonly quat: boolean;
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
  /** For a mirror without a placement: twice the x that each root is mirrored about, and its rotation. */
  readonly #turns: Float64Array;
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
    this.#values = new Float64Array(size + roots.length * ROOM);
    this.own = new Float64Array(roots.length * ROOM);
    this.slots = slots.filter(
      ({ role, property }) => TRANSFORM.includes(property) && roots.includes(reel.roles.indexOf(role)),
    );
    this.#roots = roots.map((place, i): Root => {
      const from = bindRole(reel.roles[place]!, slots, []);
      this.own.fill(1, i * ROOM + SCALE, (i + 1) * ROOM);
      const quat = from.rotation >= 0 && from.rotationWidth === 4;
      const depth = from.position >= 0 && from.positionWidth === 3;
      const slot = (name: string) => this.slots.find(({ role, property }) => role === from.role && property === name);
      const own = TRANSFORM.map(slot);
      return { role: place, from, at: size + i * ROOM, quat, depth, own };
    });
    this.#turns = new Float64Array(2 * roots.length);
  }

  /**
   * Takes over what the reel does not speak of, from the objects: all of it when the cast is placed, the scale when it
   * is mirrored.
   */
  find(read: (slot: Slot) => readonly number[] | undefined, all: boolean): void {
    this.#roots.forEach(({ role: place, from }, i) => {
      const role = this.reel.roles[place]!;
      const find = (property: string, width: number, at: number) => {
        const kind = property === 'rotation' ? 'angle' : 'vec2';
        const name = `${role}.${property}`;
        const slot: Slot = { name, role, property, kind, offset: 0, width, rest: [], restGiven: false };
        const numbers = read(slot);
        if (numbers) this.own.set(numbers, i * ROOM + at);
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
    this.#isDirty = true;
  }

  mirror(mirrored: boolean): void {
    this.mirrored = mirrored;
    this.#isDirty = true;
    this.#bound = this.#boundAnew = undefined;
  }

  /** Returns whether it owns a property: then the object is not read. */
  owns(slot: Slot): boolean {
    if (!this.isPlaced && !(this.mirrored && slot.property === 'scale')) return false;
    return this.slots.includes(slot);
  }

  /** The placement in numbers; of a cast that is only mirrored, of its first root. */
  get place(): Transform2D {
    const mirror = this.flip !== this.mirrored ? -1 : 1;
    if (this.isPlaced) return [...this.#at, this.rotation, this.scale[0] * mirror, this.scale[1]];
    if (!this.mirrored) return [0, 0, 0, 1, 1];
    const slot = this.#roots[0]?.own[0];
    return [slot ? 2 * this.#origin(slot) : 0, 0, 0, -1, 1];
  }

  get #at(): readonly [x: number, y: number] {
    return [this.position[0], this.position[1]];
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
    this.#turns.fill(0);
    if (this.isPlaced || !this.mirrored) return;
    this.#roots.forEach(({ own: [position, rotation] }, i) => {
      this.#turns[2 * i] = position ? 2 * this.#origin(position) : 0;
      this.#turns[2 * i + 1] = rotation?.width === 1 ? 2 * this.#origin(rotation) : 0;
    });
  }

  /** The pose as it is placed, with what becomes of each root behind it. */
  apply(pose: Float64Array): Float64Array {
    const out = this.#values;
    out.set(pose);
    const { isPlaced } = this;
    const mirror = this.flip !== this.mirrored ? -1 : 1;
    const sx = this.scale[0] * mirror;
    const sy = this.scale[1];
    // A mirror reverses the direction of rotation.
    const sense = sx * sy < 0 ? -1 : 1;
    const angle = ((this.rotation % 360) * Math.PI) / 180;
    const cos = cosine(angle);
    const sin = sine(angle);
    for (let i = 0; i < this.#roots.length; i++) {
      const { from, at, quat, depth } = this.#roots[i]!;
      const rest = i * ROOM;
      const bare = this.own;
      const x = (from.position >= 0 ? pose[from.position]! : bare[rest]!) * sx;
      const y = (from.position >= 0 ? pose[from.position + 1]! : bare[rest + 1]!) * sy;
      out[at] = (isPlaced ? this.position[0] : this.#turns[2 * i]!) + x * cos - y * sin;
      out[at + 1] = this.position[1] + x * sin + y * cos;
      out[at + 2] = (depth ? pose[from.position + 2]! : 0) + this.position[2];
      if (quat) {
        for (let k = 0; k < 4; k++)
          out[at + ROTATION + k] = pose[from.rotation + k]! * (k === 1 || k === 2 ? sense : 1);
        TURN[2] = sine(angle / 2);
        TURN[3] = cosine(angle / 2);
        multiplyQuat(TURN, 0, out, at + ROTATION, out, at + ROTATION);
      } else {
        const own = from.rotation >= 0 ? pose[from.rotation]! : bare[rest + ROTATION]!;
        out[at + ROTATION] = (isPlaced ? this.rotation : this.#turns[2 * i + 1]!) + sense * own;
      }
      for (let k = 0; k < 3; k++) {
        const own = from.scale < 0 ? bare[rest + SCALE + k]! : k < from.scaleWidth ? pose[from.scale + k]! : 1;
        out[at + SCALE + k] = own * (k === 0 ? sx : k === 1 ? sy : 1);
      }
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
    for (const { role, from, at, quat } of this.#roots) {
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
        rotationWidth: quat ? 4 : 1,
      };
      if (known || moved.position >= 0 || moved.scale >= 0) all.set(role, moved);
    }
    return [...all].sort(([a], [b]) => a - b);
  }

  /** @internal Its numbers, and the same put back. */
  save(): PlacementState {
    const { position, rotation, scale, flip, mirrored, isPlaced, own } = this;
    return { position: [...position], rotation, scale: [...scale], flip, mirrored, isPlaced, own: [...own] };
  }

  load(state: PlacementState | null): void {
    const { position, rotation, scale, flip, mirrored, isPlaced, own } = state ?? NOWHERE;
    this.#leaves = this.isPlaced && !isPlaced;
    [this.position, this.scale] = [position as [number, number, number], scale as [number, number]];
    [this.rotation, this.flip, this.mirrored, this.isPlaced] = [rotation, flip, mirrored, isPlaced];
    this.own.set(own);
    this.#isDirty = true;
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
  /** The base values of the roots. */
  readonly own: readonly number[];
}

/** A cast that is not placed. */
const NOWHERE: PlacementState = {
  ...{ position: [0, 0, 0], rotation: 0, scale: [1, 1], flip: false, mirrored: false, isPlaced: false, own: [] },
};

/** A turn about z, as a quaternion. */
const TURN = new Float64Array(4);

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
