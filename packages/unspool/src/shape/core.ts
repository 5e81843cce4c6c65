import type { Rounded } from './rounded.js';

/** Where the numbers of an arc are: its center, radius, the unit vector to its middle, and the cosine of half its angle. */
export const ARC_RADIUS = 2;
export const ARC_TOWARD = 3;
export const ARC_COS = 5;
const ARC_SIZE = 6;

/** Room for as many corners as a shape of a reel has at most; others make more. */
const USUAL = 8;

/** A `Rounded` as numbers that are written again and again, where hits are looked for: see there for what they mean. */
export class Core {
  /** Number of corners; their coordinates are x and y in turn. */
  count = 0;
  corners = new Float64Array(2 * USUAL);
  radius = 0;
  hasArc = false;
  readonly arc = new Float64Array(ARC_SIZE);
  /** The other half of a shape that is not convex, while it has one. */
  hasMore = false;
  #more: Core | undefined;

  get more(): Core {
    return (this.#more ??= new Core());
  }

  /** Becomes a shape, moved by x and y. */
  set({ corners, radius, arc, more }: Rounded, x = 0, y = 0): this {
    this.count = corners.length;
    if (2 * this.count > this.corners.length) this.corners = new Float64Array(2 * this.count);
    for (let i = 0; i < this.count; i++) {
      this.corners[2 * i] = corners[i]![0] + x;
      this.corners[2 * i + 1] = corners[i]![1] + y;
    }
    this.radius = radius;
    this.hasArc = arc !== undefined;
    if (arc) {
      const { center, toward, cos } = arc;
      this.arc.set([center[0] + x, center[1] + y, arc.radius, toward[0], toward[1], cos]);
    }
    this.hasMore = more !== undefined;
    if (more) this.more.set(more, x, y);
    return this;
  }
}
