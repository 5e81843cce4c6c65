import type { CastAdapter } from '../cast/cast.js';
import type { Clip } from '../clip/clip.js';
import { sampleCurves } from '../clip/curves.js';
import { Pose } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';
import { Coverage, placeClip, type Placed } from './coverage.js';

/** What has no offsets is counted from nothing. */
const NO_BASE = new Float64Array(0);

/** The pose of a reel's whole cast, and the objects that it is written into. */
export class Stage<Target> {
  readonly pose: Pose;
  #rest: Float64Array;
  #coverage: Coverage;
  #placed: Placed | undefined;
  #hints: Int32Array;
  /** Whether the pose has anything but rest values where the clip animates nothing. */
  #isStale = false;
  /** What the clip's properties were when it began, and the same as its offsets are counted from it. */
  #before = NO_BASE;
  #base = NO_BASE;

  /** @param targets the object that plays each role of the reel */
  constructor(
    readonly reel: Reel,
    readonly targets: readonly (Target | undefined)[],
    readonly adapter: CastAdapter<Target>,
  ) {
    const { layout } = reel;
    this.#hints = NO_HINTS;
    this.pose = new Pose(layout, NO_HINTS, NO_BASE);
    this.#coverage = Coverage.none(reel);
    // What stands where nothing is animated: the reel's rest values, else what the objects themselves show.
    this.#rest = restOf(reel);
    for (const slot of layout.slots) {
      const own = slot.restGiven ? undefined : this.#read(slot);
      if (!own?.some((n, k) => n !== slot.rest[k])) continue;
      if (this.#rest === restOf(reel)) this.#rest = this.#rest.slice();
      this.#rest.set(own, slot.offset);
    }
  }

  #read(slot: { readonly role: string } & Parameters<NonNullable<CastAdapter<Target>['read']>>[1]) {
    const target = this.targets[this.reel.roles.indexOf(slot.role)];
    return target === undefined ? undefined : this.adapter.read?.(target, slot);
  }

  /**
   * A clip begins; its offsets are counted from what its properties are now. Makes room, once, for all that playing it
   * in frames will need.
   *
   * @param live nothing is playing: what the objects show themselves counts, as the game may have moved them
   */
  begin(clip: Clip, live: boolean): void {
    const { layout } = this.reel;
    const one = placeClip(clip, this.reel);
    this.#placed = one;
    this.#hints = one.hints.slice();
    if (one.offsets.length > 0) {
      this.#before = this.pose.values.slice();
      for (const { name } of clip.layout.slots) {
        const slot = layout.slot(name);
        const own = live || !this.#coverage.has(slot) ? this.#read(slot) : undefined;
        if (own) this.#before.set(own, slot.offset);
      }
      this.#base = new Float64Array(layout.size);
      clip.startFrom(one.curves, this.#base, this.#before);
    }
    this.#coverage = this.#coverage.with(clip);
    this.#isStale = true;
  }

  /**
   * Poses the cast: rest values, and over them the clip that began last. Allocates nothing.
   * What no object could show never gets out: opacity is kept within 0–1, a frame inside its sheet.
   *
   * @param shows whether the clip is shown, at the time that stands in `pose.at`; else all is at rest, and what it has
   *              offset goes back to what it was
   */
  sample(shows: boolean): void {
    const { values, at } = this.pose;
    const one = this.#placed;
    if (this.#isStale || !shows) {
      values.set(this.#rest);
      this.#isStale = !shows;
    }
    if (one && shows) sampleCurves(one.curves, at, this.#hints, this.#base, values);
    else if (one) for (const i of one.offsets) values[i] = this.#before[i]!;
    const { bounded, most } = this.#coverage;
    for (let i = 0; i < bounded.length; i++) {
      const offset = bounded[i]!;
      const value = values[offset]!;
      if (value < 0) values[offset] = 0;
      else if (value > most[i]!) values[offset] = most[i]!;
    }
  }

  /** Writes the pose into the objects. */
  write(): void {
    const { bindings } = this.#coverage;
    for (let i = 0; i < bindings.length; i++) {
      const bound = bindings[i]!;
      const target = this.targets[bound[0]];
      if (target !== undefined) this.adapter.write(target, this.pose.values, bound[1]);
    }
  }
}

const NO_HINTS = new Int32Array(0);
const rests = new WeakMap<Reel, Float64Array>();

/** The rest values of a reel as one list. Shared: not to be written to. */
function restOf(reel: Reel): Float64Array {
  let rest = rests.get(reel);
  if (!rest) rests.set(reel, (rest = new Pose(reel.layout, NO_HINTS, NO_BASE).values));
  return rest;
}
