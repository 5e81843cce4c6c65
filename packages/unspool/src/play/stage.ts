import { bindRole, type CastAdapter, type RoleBinding } from '../cast/cast.js';
import type { Clip } from '../clip/clip.js';
import { Pose, type Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';

/** A clip's own pose, and where its numbers go in the pose of the whole reel. */
interface Route {
  readonly pose: Pose;
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** Which of its numbers are offsets, and what the clip's properties were when it began. */
  readonly offsets: readonly number[];
  readonly before: Float64Array;
}

/** The pose of a reel's whole cast, and the objects that it is written into. */
export class Stage<Target> {
  readonly pose: Pose;
  readonly #rest: Float64Array;
  readonly #routes = new Map<Clip, Route>();
  /** Properties that anything has animated so far: those are written, and no others. */
  readonly #animated = new Set<Slot>();
  #bindings: (readonly [Target, RoleBinding])[] = [];
  /** What is kept within bounds before it is written: where it stands, and its greatest value. */
  #bounded: (readonly [offset: number, most: number])[] = [];

  constructor(
    readonly reel: Reel,
    readonly cast: ReadonlyMap<string, Target>,
    readonly adapter: CastAdapter<Target>,
  ) {
    this.pose = new Pose(reel.layout);
    // What stands where nothing is animated: the reel's rest values, else what the objects themselves show.
    this.#rest = new Float64Array(reel.layout.size);
    for (const slot of reel.layout.slots) {
      const target = cast.get(slot.role);
      const own = slot.restGiven || target === undefined ? undefined : adapter.read?.(target, slot);
      this.#rest.set(own ?? slot.rest, slot.offset);
    }
  }

  /** Makes room for a clip, once: all that playing it in frames will need. */
  prepare(clip: Clip): void {
    if (this.#routes.has(clip)) return;
    const { layout } = this.reel;
    const pairs = clip.layout.slots.flatMap(({ name, offset, width }) => {
      const slot = layout.slot(name);
      this.#animated.add(slot);
      return Array.from({ length: width }, (_, k) => [offset + k, slot.offset + k] as const);
    });
    this.#routes.set(clip, {
      pose: clip.createPose(),
      from: Int32Array.from(pairs, ([from]) => from),
      to: Int32Array.from(pairs, ([, to]) => to),
      offsets: clip.offsets,
      before: Float64Array.from(pairs, ([, to]) => this.pose.values[to]!),
    });
    const slots = [...this.#animated];
    this.#bindings = [...this.cast].map(([role, target]) => [target, bindRole(role, slots, layout.texts)]);
    this.#bounded = slots.flatMap(({ property, role, offset }): (readonly [number, number])[] => {
      if (property === 'opacity') return [[offset, 1]];
      if (property !== 'frame') return [];
      const sheet = this.reel.sheetOf(role);
      return [[offset, sheet ? sheet.columns * sheet.rows - 1 : Infinity]];
    });
  }

  /**
   * A prepared clip begins: its offsets are counted from what its properties are now.
   *
   * @param live nothing is playing: what the objects show themselves counts, as the game may have moved them
   */
  begin(clip: Clip, live: boolean): void {
    const route = this.#routes.get(clip);
    if (!route || route.offsets.length === 0) return;
    for (const slot of clip.layout.slots) {
      const { offset } = this.reel.layout.slot(slot.name);
      const target = this.cast.get(slot.role);
      const own = live && target !== undefined ? this.adapter.read?.(target, slot) : undefined;
      route.before.set(own ?? this.pose.values.subarray(offset, offset + slot.width), slot.offset);
    }
    clip.startFrom(route.pose, route.before);
  }

  /**
   * Poses the cast: rest values, and over them a prepared clip at a time inside it. Allocates nothing.
   * At rest, without a time, what the clip has offset goes back to what it was.
   * What no object could show never gets out: opacity is kept within 0–1, a frame inside its sheet.
   */
  sample(clip: Clip | undefined, time: number | undefined): void {
    const { values } = this.pose;
    values.set(this.#rest);
    const route = clip && this.#routes.get(clip);
    if (route && time === undefined) {
      for (const i of route.offsets) values[route.to[i]!] = route.before[i]!;
    } else if (clip && route && time !== undefined) {
      clip.sampleInside(time, route.pose);
      const { from, to, pose } = route;
      for (let i = 0; i < from.length; i++) values[to[i]!] = pose.values[from[i]!]!;
    }
    for (let i = 0; i < this.#bounded.length; i++) {
      const [offset, most] = this.#bounded[i]!;
      values[offset] = Math.min(most, Math.max(0, values[offset]!));
    }
  }

  /** Writes the pose into the objects. */
  write(): void {
    for (let i = 0; i < this.#bindings.length; i++) {
      const [target, binding] = this.#bindings[i]!;
      this.adapter.write(target, this.pose.values, binding);
    }
  }
}
