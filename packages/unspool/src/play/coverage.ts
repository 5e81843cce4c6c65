import { bindRole, type RoleBinding } from '../cast/cast.js';
import type { Clip } from '../clip/clip.js';
import { ABSOLUTE, HEAD_SIZE, type Curves } from '../clip/curves.js';
import type { Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';

/** A clip as it is sampled into the pose of its whole reel. One for all players. */
export interface Placed {
  readonly curves: Curves;
  readonly hints: Int32Array;
  /** Indices into the reel's pose of the numbers that are offsets, and so depend on what was before. */
  readonly offsets: readonly number[];
}

const placed = new WeakMap<Clip, Placed>();

/** The clip with its curves' targets moved to where the reel has their properties. */
export function placeClip(clip: Clip, reel: Reel): Placed {
  let one = placed.get(clip);
  if (!one) {
    const moved = new Int32Array(clip.layout.size);
    for (const { name, offset, width } of clip.layout.slots) {
      const target = reel.layout.slot(name).offset;
      for (let k = 0; k < width; k++) moved[offset + k] = target + k;
    }
    const heads = clip.curves.heads.slice();
    for (let head = 2; head < heads.length; head += HEAD_SIZE) heads[head] = moved[heads[head]!]!;
    const hints = clip.createPose().hints;
    placed.set(
      clip,
      (one = { curves: { ...clip.curves, heads }, hints, offsets: offsetsOf(clip.curves).map((i) => moved[i]!) }),
    );
  }
  return one;
}

/** Indices into a clip's pose of the numbers that are offsets. */
function offsetsOf({ count, heads }: Curves): number[] {
  return Array.from({ length: count }, (_, c) => c * HEAD_SIZE)
    .filter((head) => heads[head + 4] !== ABSOLUTE)
    .flatMap((head) => Array.from({ length: heads[head + 1]! }, (_, k) => heads[head + 2]! + k));
}

/**
 * The properties that a player has animated so far, and what it takes to write them: those are written, and no others.
 * Players that have played the same clips share it.
 */
export class Coverage {
  /** By role with something to write: its place among the reel's roles, and where its values stand. */
  readonly bindings: readonly (readonly [role: number, binding: RoleBinding])[];
  /** Numbers that are kept within bounds before they are written: where they stand, and their greatest value. */
  readonly bounded: Int32Array;
  readonly most: Float64Array;
  readonly #slots: ReadonlySet<Slot>;
  readonly #next = new Map<Clip, Coverage>();

  private constructor(
    readonly reel: Reel,
    slots: ReadonlySet<Slot>,
  ) {
    this.#slots = slots;
    const list = [...slots];
    this.bindings = reel.roles
      .map((role, place) => [place, bindRole(role, list, reel.layout.texts)] as const)
      .filter(([place]) => list.some(({ role }) => role === reel.roles[place]));
    const bounds = list.flatMap(({ property, role, offset }): (readonly [number, number])[] => {
      if (property === 'opacity') return [[offset, 1]];
      if (property !== 'frame') return [];
      const sheet = reel.sheetOf(role);
      return [[offset, sheet ? sheet.columns * sheet.rows - 1 : Infinity]];
    });
    this.bounded = Int32Array.from(bounds, ([offset]) => offset);
    this.most = Float64Array.from(bounds, ([, most]) => most);
  }

  static #none = new WeakMap<Reel, Coverage>();

  /** Of a player that has played nothing yet. */
  static none(reel: Reel): Coverage {
    let none = Coverage.#none.get(reel);
    if (!none) Coverage.#none.set(reel, (none = new Coverage(reel, new Set())));
    return none;
  }

  has(slot: Slot): boolean {
    return this.#slots.has(slot);
  }

  /** With what a clip animates. */
  with(clip: Clip): Coverage {
    let next = this.#next.get(clip);
    if (!next) {
      const added = clip.layout.slots.map(({ name }) => this.reel.layout.slot(name));
      const all = added.every((slot) => this.#slots.has(slot));
      next = all ? this : new Coverage(this.reel, new Set([...this.#slots, ...added]));
      this.#next.set(clip, next);
    }
    return next;
  }
}
