import { cosine, sine } from '../easing/sine.js';
import { bindRole, type CastAdapter, type RoleBinding } from '../cast/cast.js';
import type { Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';
import { multiplyQuat } from '../value/quat.js';
import { UnspoolError } from '../wording/error.js';
import { show } from '../wording/show.js';
import type { Coverage } from './coverage.js';

/** Where a player's whole cast stands. What is left out stays as it was. */
export interface Placement {
  /** In the game's own units; a third number is added to the depth of roles that have one. */
  readonly position?: readonly [x: number, y: number, z?: number];
  /** Degrees; positive turns +x toward +y. */
  readonly rotation?: number;
  readonly scale?: number | readonly [x: number, y: number];
  /** As in a mirror: left for right. */
  readonly flip?: boolean;
}

/** Position, rotation as an angle or a quaternion, scale: numbers of their own for each role that has no parent. */
const ROOM = 10;
const ROTATION = 3;
const SCALE = 7;

/** A role without a parent: what it is in its reel, and where what it becomes is put. */
interface Root {
  readonly role: number;
  /** Where its own position, rotation and scale stand in a pose; −1 where it has none. */
  readonly from: RoleBinding;
  readonly at: number;
  readonly quat: boolean;
  readonly depth: boolean;
}

/**
 * Moves a cast as a whole: the roles that have no parent, after their own position, rotation and scale; the others move
 * with them. Writes into a list of its own, so that the pose stays the reel's.
 */
export class PlacedCast {
  position: [x: number, y: number, z: number] = [0, 0, 0];
  rotation = 0;
  scale: [x: number, y: number] = [1, 1];
  /** By `place`, and by the side that it faces. */
  flip = false;
  mirrored = false;
  readonly #values: Float64Array;
  readonly #roots: readonly Root[];
  readonly #rest: Float64Array;
  #coverage: Coverage | undefined;
  #bindings: readonly (readonly [role: number, binding: RoleBinding])[] = [];

  /** @param read what the object of a role shows of a property that its reel does not animate */
  constructor(
    readonly reel: Reel,
    read: (slot: Slot) => readonly number[] | undefined,
  ) {
    const { size, slots } = reel.layout;
    const { parents } = reel.facts;
    const roots = reel.roles.flatMap((role, place) => (Object.hasOwn(parents, role) ? [] : [place]));
    this.#values = new Float64Array(size + roots.length * ROOM);
    this.#rest = new Float64Array(roots.length * ROOM);
    this.#roots = roots.map((place, i): Root => {
      const role = reel.roles[place]!;
      const from = bindRole(role, slots, []);
      const own = (property: string, width: number, usual: readonly number[], at: number) => {
        const kind = property === 'rotation' ? 'angle' : 'vec2';
        const slot = {
          name: `${role}.${property}`,
          role,
          property,
          kind,
          offset: 0,
          width,
          rest: usual,
          restGiven: false,
        };
        this.#rest.set(read(slot as Slot) ?? usual, i * ROOM + at);
      };
      if (from.position < 0) own('position', 2, [0, 0], 0);
      if (from.rotation < 0) own('rotation', 1, [0], ROTATION);
      if (from.scale < 0) own('scale', 2, [1, 1], SCALE);
      const quat = from.rotation >= 0 && from.rotationWidth === 4;
      return { role: place, from, at: size + i * ROOM, quat, depth: from.position >= 0 && from.positionWidth === 3 };
    });
  }

  /** Checks a placement, then takes it over. */
  set({ position, rotation, scale, flip, ...others }: Placement): void {
    for (const name of Object.keys(others)) throw wrong(name, Object.getOwnPropertyDescriptor(others, name)?.value);
    const [x, y, z = 0] = position ?? this.position;
    const [sx, sy] = typeof scale === 'number' ? [scale, scale] : (scale ?? this.scale);
    const turn = rotation ?? this.rotation;
    if (![x, y, z].every(Number.isFinite)) throw wrong('position', position);
    if (![sx, sy].every(Number.isFinite)) throw wrong('scale', scale);
    if (!Number.isFinite(turn)) throw wrong('rotation', rotation);
    this.position = [x, y, z];
    this.scale = [sx, sy];
    this.rotation = turn;
    this.flip = flip ?? this.flip;
  }

  /** Where the first role that has no parent is, x and y. */
  rootInto(pose: Float64Array, out: Float64Array): void {
    this.#apply(pose);
    const at = this.#roots[0]?.at ?? 0;
    out[0] = this.#values[at]!;
    out[1] = this.#values[at + 1]!;
  }

  #apply(pose: Float64Array): Float64Array {
    const out = this.#values;
    out.set(pose);
    const mirror = this.flip !== this.mirrored ? -1 : 1;
    const [sx, sy] = [this.scale[0] * mirror, this.scale[1]];
    // A mirror turns the other way round.
    const sense = sx * sy < 0 ? -1 : 1;
    const angle = (this.rotation * Math.PI) / 180;
    const [cos, sin] = [cosine(angle), sine(angle)];
    for (let i = 0; i < this.#roots.length; i++) {
      const { from, at, quat, depth } = this.#roots[i]!;
      const rest = i * ROOM;
      const own = (offset: number, k: number, place: number) =>
        offset >= 0 ? pose[offset + k]! : this.#rest[rest + place + k]!;
      const x = own(from.position, 0, 0) * sx;
      const y = own(from.position, 1, 0) * sy;
      out[at] = this.position[0] + x * cos - y * sin;
      out[at + 1] = this.position[1] + x * sin + y * cos;
      out[at + 2] = (depth ? pose[from.position + 2]! : 0) + this.position[2];
      if (quat) {
        for (let k = 0; k < 4; k++)
          out[at + ROTATION + k] = pose[from.rotation + k]! * (k === 1 || k === 2 ? sense : 1);
        TURN[2] = sine(angle / 2);
        TURN[3] = cosine(angle / 2);
        multiplyQuat(TURN, 0, out, at + ROTATION, out, at + ROTATION);
      } else out[at + ROTATION] = this.rotation + sense * own(from.rotation, 0, ROTATION);
      out[at + SCALE] = own(from.scale, 0, SCALE) * sx;
      out[at + SCALE + 1] = own(from.scale, 1, SCALE) * sy;
      out[at + SCALE + 2] = from.scale >= 0 && from.scaleWidth === 3 ? pose[from.scale + 2]! : 1;
    }
    return out;
  }

  /** Writes the pose, as it is placed, into the objects. */
  write<Target>(
    pose: Float64Array,
    coverage: Coverage,
    targets: readonly (Target | undefined)[],
    adapter: CastAdapter<Target>,
  ): void {
    if (this.#coverage !== coverage) {
      this.#coverage = coverage;
      this.#bindings = this.#bind(coverage);
    }
    const values = this.#apply(pose);
    for (const [role, binding] of this.#bindings) {
      const target = targets[role];
      if (target !== undefined) adapter.write(target, values, binding);
    }
  }

  #bind(coverage: Coverage): (readonly [number, RoleBinding])[] {
    const moved = new Map(
      this.#roots.map(({ role, from, at, quat }) => {
        const covered =
          coverage.bindings.find(([place]) => place === role)?.[1] ?? bindRole(this.reel.roles[role]!, [], []);
        const binding = { ...covered, position: at, rotation: at + ROTATION, scale: at + SCALE };
        return [role, { ...binding, ...widths(from), rotationWidth: quat ? 4 : 1 }] as const;
      }),
    );
    const others = coverage.bindings.filter(([role]) => !moved.has(role));
    return [...moved, ...others].sort(([a], [b]) => a - b);
  }
}

/** A turn about z, as a quaternion. */
const TURN = new Float64Array(4);

function widths({ position, scale, positionWidth, scaleWidth }: RoleBinding) {
  return { positionWidth: position >= 0 ? positionWidth : 2, scaleWidth: scale >= 0 ? scaleWidth : 2 };
}

function wrong(name: string, value: unknown): Error {
  const hint = 'give { position: [x, y], rotation, scale, flip }, of finite numbers';
  return new UnspoolError('play/place', `${show(value)} is no ${name} to place a cast at`, hint);
}
