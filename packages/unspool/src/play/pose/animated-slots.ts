import { bindRole, isWritten, revealsOf, type RoleBinding } from '../../cast/cast.js';
import type { Clip } from '../../clip/clip.js';
import {
  ABSOLUTE,
  HEAD_SIZE,
  type Curves,
  HEAD_FIRST,
  HEAD_SPACE,
  HEAD_TARGET,
  HEAD_WIDTH,
} from '../../clip/curves.js';
import type { Layout, Slot } from '../../clip/layout.js';
import { remapCurves } from '../../clip/remapped-curves.js';
import type { Reel } from '../../clip/reel.js';
import { sheetCells } from '../../reel/document/sheet.js';
import { KINDS } from '../../value/kind.js';
import { COLORS, howOf, QUATS } from './blend.js';

/** A clip, or what a mask leaves of it, as it is sampled into the pose of its whole reel. One for all players. */
export interface RemappedClip {
  readonly curves: Curves;
  readonly hints: Int32Array;
  /** Indices into the reel's pose of the numbers that are offsets, and so depend on what was before. */
  readonly offsets: readonly number[];
  /** Numbers that are blended together, BLEND_SIZE entries each: see there. */
  readonly blends: Int32Array;
  /** Of those, the offsets of single channels of colors. */
  readonly colorChannels: readonly number[];
  /** The properties of the reel that it animates. */
  readonly slots: readonly Slot[];
}

const placed = new WeakMap<Clip, Map<string, RemappedClip>>();

/**
 * The clip with the targets of its curves mapped to the layout of the reel.
 *
 * @param mask what remains of it: `role`, `role.property` or `*.property`; default: everything
 */
export function remapClip(clip: Clip, reel: Reel, mask?: readonly string[]): RemappedClip {
  let known = placed.get(clip);
  if (!known) placed.set(clip, (known = new Map<string, RemappedClip>()));
  const key = mask ? mask.join(' ') : '*';
  let one = known.get(key);
  if (!one) known.set(key, (one = place(clip, reel.layout, mask)));
  return one;
}

/** The curves of a clip as they are sampled and blended in a layout, but for what a mask leaves out. */
export function place(clip: Clip, layout: Layout, mask: readonly string[] | undefined): RemappedClip {
  const { curves, slots } = remapCurves(clip, layout, (slot) => !mask || isIn(mask, slot));
  const { heads } = curves;
  const blends: number[] = [];
  const offsets: number[] = [];
  const colorChannels: number[] = [];
  slots.forEach(({ kind }, c) => {
    const head = c * HEAD_SIZE;
    const width = heads[head + HEAD_WIDTH]!;
    const target = heads[head + HEAD_TARGET]!;
    const how = howOf(kind, heads, head);
    // Independent numbers are blended one by one, so that a channel that is keyed alone blends with a property that is
    // keyed whole.
    if (how === QUATS || how >= COLORS) blends.push(target, width, how);
    else for (let k = 0; k < width; k++) blends.push(target + k, 1, how);
    if (kind === 'color' && width < KINDS.color.channels.length) colorChannels.push(target);
    if (heads[head + HEAD_SPACE] !== ABSOLUTE) for (let k = 0; k < width; k++) offsets.push(target + k);
  });
  return {
    curves,
    hints: Int32Array.from(slots, (_, c) => heads[c * HEAD_SIZE + HEAD_FIRST]!),
    offsets,
    blends: Int32Array.from(blends),
    colorChannels,
    slots: [...new Set(slots)],
  };
}

/** Whether a mask names a property. */
export function isIn(mask: readonly string[], { role, property }: Slot): boolean {
  return mask.some((name) => name === role || name === `${role}.${property}` || name === `*.${property}`);
}

/**
 * A set of properties and what is needed to write them. Players of one reel that animate the same set share it, so
 * that nothing is created again when the same clips follow each other.
 */
export class AnimatedSlots {
  /** Per role with something to write: its index among the roles of the reel, and its binding. */
  readonly bindings: readonly (readonly [role: number, binding: RoleBinding])[];
  readonly #slots: ReadonlySet<Slot>;
  readonly #next = new WeakMap<object, AnimatedSlots>();

  private constructor(
    readonly reel: Reel,
    slots: ReadonlySet<Slot>,
  ) {
    this.#slots = slots;
    const { layout, facts } = reel;
    const list = [...slots].filter((slot) => isWritten(slot, facts));
    this.bindings = reel.roles
      .map((role, place) => {
        const reveals = revealsOf(role, list, layout.slots, facts.shapes);
        return [place, bindRole(role, list, layout.texts, reveals)] as const;
      })
      .filter(([place]) => list.some(({ role }) => role === reel.roles[place]));
  }

  static #known = new WeakMap<Reel, Map<string, AnimatedSlots>>();

  /** The one of a set: in the order of the layout. */
  static #set(reel: Reel, slots: ReadonlySet<Slot>): AnimatedSlots {
    let known = AnimatedSlots.#known.get(reel);
    if (!known) AnimatedSlots.#known.set(reel, (known = new Map<string, AnimatedSlots>()));
    const ordered = reel.layout.slots.filter((slot) => slots.has(slot));
    const key = ordered.map(({ offset }) => offset).join();
    let one = known.get(key);
    if (!one) known.set(key, (one = new AnimatedSlots(reel, new Set(ordered))));
    return one;
  }

  static none(reel: Reel): AnimatedSlots {
    return AnimatedSlots.#set(reel, new Set());
  }

  /** Those with a declared rest value. */
  static withRest(reel: Reel): AnimatedSlots {
    return AnimatedSlots.#set(
      reel,
      new Set(reel.layout.slots.filter((slot) => slot.restGiven && isWritten(slot, reel.facts))),
    );
  }

  static of(reel: Reel, names: readonly string[]): AnimatedSlots {
    return AnimatedSlots.#set(reel, new Set(names.map((name) => reel.layout.slot(name))));
  }

  get names(): string[] {
    return [...this.#slots].map(({ name }) => name);
  }

  get isEmpty(): boolean {
    return this.#slots.size === 0;
  }

  has(slot: Slot): boolean {
    return this.#slots.has(slot);
  }

  /** With what a clip animates. */
  with(one: RemappedClip): AnimatedSlots {
    return this.#plus(one, one.slots);
  }

  /** With what another has. */
  union(other: AnimatedSlots): AnimatedSlots {
    return this === other ? this : this.#plus(other, other.#slots);
  }

  #plus(key: object, slots: Iterable<Slot>): AnimatedSlots {
    let next = this.#next.get(key);
    if (!next) this.#next.set(key, (next = AnimatedSlots.#set(this.reel, new Set([...this.#slots, ...slots]))));
    return next;
  }
}

/** Numbers that are clamped when they are shown: their offset in a pose, and their maximum. */
export interface Bounded {
  readonly at: Int32Array;
  readonly most: Float64Array;
}

/** Of a whole reel: opacity stays within 0–1, a frame inside its sheet. */
export function boundedOf(reel: Reel): Bounded {
  const bounds = reel.layout.slots.flatMap(({ property, role, offset }): (readonly [number, number])[] => {
    if (property === 'opacity') return [[offset, 1]];
    if (property !== 'frame') return [];
    const sheet = reel.sheetOf(role);
    return [[offset, sheet ? sheetCells(sheet) - 1 : Infinity]];
  });
  return {
    at: Int32Array.from(bounds, ([offset]) => offset),
    most: Float64Array.from(bounds, ([, most]) => most),
  };
}
