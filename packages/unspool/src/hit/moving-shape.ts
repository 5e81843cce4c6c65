import { mustBeClip } from '../clip/expect.js';
import { prepareBase, type Clip } from '../clip/clip.js';
import type { ReelFacts } from '../clip/compiled.js';
import { boundCurves } from '../clip/bounds.js';
import { HEAD_SIZE, sampleCurves, type Curves, HEAD_FIRST } from '../clip/curves.js';
import { remapCurves } from '../clip/remapped-curves.js';
import { rootPlace, type RootPlace } from '../play/pose/place-root.js';
import { checkPlacement, type Placement } from '../play/pose/placement.js';
import { toSeconds, type Time } from '../time/units.js';
import type { Bounds } from '../shape/rig-shapes.js';
import { Rig } from './rig.js';
import type { Core } from '../shape/core.js';
import type { Rounded, Vec } from '../shape/rounded.js';
import { roundedOf, type HitShape } from '../shape/shapes.js';

/** A moving shape: where it is at a time, and a bound on how far it moves. */
export interface Moving {
  /** Returns the shape at a time, in seconds. */
  at(time: number): Rounded;
  /**
   * Returns an upper bound, in units, on how far any of its points moves away from its position at `from`, at any time
   * until `until`. The bound goes to 0 with the interval, except for jumps. A bound that is too large costs steps; one
   * that is too small can miss a contact.
   *
   * @param direction a unit vector: only the movement in this direction counts. `[0, 0]` stands for any direction
   */
  farthest(from: number, until: number, direction: Vec): number;
  /** Returns the intervals between two times in which it is active, in order. Default: always active. */
  activeIn?(from: number, until: number): readonly (readonly [from: number, until: number])[];
}

/** @throws UnspoolError for what is not a placement */
export function placeOf(placement: Placement): RootPlace {
  checkPlacement(placement);
  const { position = [0, 0], rotation = 0, scale = 1, flip = false } = placement;
  const [sx, sy] = typeof scale === 'number' ? [scale, scale] : scale;
  return rootPlace(position[0], position[1], rotation, flip ? -sx : sx, sy);
}

/** Where the numbers of a rig come from. */
export interface Numbers {
  /** Writes their values at a time into an array. */
  sampleInto(time: number, values: Float64Array): void;
  /** Writes their bounds between two times into two arrays. */
  boundsInto(from: number, until: number, low: Float64Array, high: Float64Array): void;
  /** Writes their bounds over all time, if they have any. */
  wholeInto?(low: Float64Array, high: Float64Array): boolean;
}

/** A shape that moves with the roles of a reel, and with the place of its cast. */
export class RigMotion {
  readonly #bounds: Bounds;
  /** The time that its numbers were sampled at last. */
  #sampled = NaN;

  constructor(
    readonly rig: Rig,
    readonly numbers: Numbers,
  ) {
    const { size } = rig.layout;
    this.#bounds = { values: new Float64Array(size), low: new Float64Array(size), high: new Float64Array(size) };
  }

  /** Its numbers are others now. */
  freshen(): void {
    this.#sampled = NaN;
  }

  values(time: number): Float64Array {
    const { values } = this.#bounds;
    if (time !== this.#sampled) this.numbers.sampleInto(time, values);
    this.#sampled = time;
    return values;
  }

  rounded(time: number, place: RootPlace): Rounded {
    return this.rig.rounded(this.values(time), place);
  }

  /** Writes the shape at a time. */
  put(time: number, place: RootPlace, core: Core): void {
    this.rig.put(this.values(time), place, core);
  }

  /**
   * Writes how far its root may be from the place of the cast as long as the same plays, and it from there: see
   * `Rig.reach`. Infinity where that has no bound.
   */
  reachInto(out: Float64Array): void {
    const { low, high } = this.#bounds;
    out.fill(Infinity);
    if (this.numbers.wholeInto?.(low, high)) out[1] = this.rig.reach(this.#bounds, out);
  }

  /** See `Rig.farthest`. */
  farthest(from: number, until: number, start: RootPlace, end: RootPlace, x: number, y: number): number {
    this.values(from);
    this.numbers.boundsInto(from, until, this.#bounds.low, this.#bounds.high);
    return this.rig.farthest(this.#bounds, start, end, x, y);
  }
}

/** A shape of a clip, moving through the world. */
export interface MovingShape extends Moving {
  /** Returns the shape at a time, in seconds, or `null` while it is not active. */
  shape(time: number): HitShape | null;
}

/**
 * Returns a shape of a clip as a moving shape: its track under the transforms of its role and the parents (their rest
 * values where the clip does not animate them), and under a placement.
 *
 * @param name      `role.shape`; throws for one that the reel does not animate
 * @param placement as `player.place` takes it
 */
export function shapeOf(clip: Clip, name: string, placement: Placement = {}): MovingShape {
  mustBeClip(clip);
  const rig = rigOf(clip.facts, name);
  const motion = new RigMotion(rig, new ClipNumbers(clip, rig));
  const place = placeOf(placement);
  const inside = (time: number) => Math.min(clip.duration, Math.max(0, time));
  return {
    at: (time) => motion.rounded(inside(time), place),
    farthest: (from, until, [x, y]) => motion.farthest(inside(from), inside(until), place, place, x, y),
    activeIn: (from, until) =>
      clip.activations
        .filter(({ shape, at, until: end }) => shape === name && at <= until && end >= from)
        .map(({ at, until: end }) => [Math.max(at, from), Math.min(end, until)] as const),
    shape: (time) => {
      const values = motion.values(inside(time));
      return rig.isActive(values) ? rig.shape(values, place) : null;
    },
  };
}

/** Returns the active shapes of a clip at a time, in world coordinates. */
export function shapesAt(clip: Clip, time: Time, placement: Placement = {}): readonly ShapeAt[] {
  mustBeClip(clip);
  const seconds = toSeconds(time, clip.fps, 'time');
  return Object.entries(clip.facts.shapes).flatMap(([name, { tag }]) => {
    const shape = clip.layout.find(name) ? shapeOf(clip, name, placement).shape(seconds) : null;
    return shape ? [{ name, tag, shape }] : [];
  });
}

/** A shape at one moment, in world coordinates. */
export interface ShapeAt {
  /** `role.shape` */
  readonly name: string;
  readonly tag: string | undefined;
  readonly shape: HitShape;
}

/** A shape that does not move, for `sweep`. */
export function still(shape: HitShape): Moving {
  const rounded = roundedOf(shape);
  return { at: () => rounded, farthest: () => 0 };
}

const rigs = new WeakMap<object, Map<string, Rig>>();

export function rigOf(facts: ReelFacts, name: string): Rig {
  let known = rigs.get(facts);
  if (!known) rigs.set(facts, (known = new Map<string, Rig>()));
  let rig = known.get(name);
  if (!rig) known.set(name, (rig = new Rig(facts, name)));
  return rig;
}

/** The numbers of a rig as a clip has them; where it does not animate them, the rest values. */
export class ClipNumbers implements Numbers {
  readonly #curves: Curves;
  readonly #hints: Int32Array;
  readonly #rest: Float64Array;
  readonly #base: { readonly low: Float64Array; readonly high: Float64Array };
  readonly #at = new Float64Array(1);

  constructor(clip: Clip, { layout }: Rig) {
    this.#curves = remapCurves(clip, layout, () => true).curves;
    const { count, heads } = this.#curves;
    this.#hints = Int32Array.from({ length: count }, (_, c) => heads[c * HEAD_SIZE + HEAD_FIRST]!);
    this.#rest = Float64Array.from(layout.slots.flatMap(({ rest }) => rest));
    const base = this.#rest.slice();
    prepareBase(this.#curves, base);
    this.#base = { low: base, high: base };
  }

  sampleInto(time: number, values: Float64Array): void {
    values.set(this.#rest);
    this.#at[0] = time;
    sampleCurves(this.#curves, this.#at, this.#hints, this.#base.low, values);
  }

  boundsInto(from: number, until: number, low: Float64Array, high: Float64Array): void {
    low.set(this.#rest);
    high.set(this.#rest);
    boundCurves(this.#curves, [from, until], this.#base, low, high);
  }
}
