import type { Arc, Rounded, Vec } from './rounded.js';

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

  /** Begins with no corners; room for `most` of them. */
  clear(most = USUAL): this {
    if (2 * most > this.corners.length) this.corners = new Float64Array(2 * most);
    this.count = this.radius = 0;
    this.hasArc = this.hasMore = false;
    return this;
  }

  /** Adds a corner. */
  add(x: number, y: number): void {
    const at = 2 * this.count++;
    this.corners[at] = x;
    this.corners[at + 1] = y;
  }

  /** Becomes a shape, moved by x and y. */
  set({ corners, radius, arc, more }: Rounded, x = 0, y = 0): this {
    this.clear(corners.length);
    for (let i = 0; i < corners.length; i++) this.add(corners[i]![0] + x, corners[i]![1] + y);
    this.radius = radius;
    if (arc) this.setArc(arc, x, y);
    this.hasMore = more !== undefined;
    if (more) this.more.set(more, x, y);
    return this;
  }

  setArc({ center, radius, toward, cos }: Arc, x = 0, y = 0): void {
    const { arc } = this;
    this.hasArc = true;
    arc[0] = center[0] + x;
    arc[1] = center[1] + y;
    arc[ARC_RADIUS] = radius;
    arc[ARC_TOWARD] = toward[0];
    arc[ARC_TOWARD + 1] = toward[1];
    arc[ARC_COS] = cos;
  }

  /** What it is now, to be kept. */
  toRounded(): Rounded {
    const { corners, arc } = this;
    return {
      corners: Array.from({ length: this.count }, (_, i): Vec => [corners[2 * i]!, corners[2 * i + 1]!]),
      radius: this.radius,
      ...(this.hasArc && {
        arc: {
          center: [arc[0]!, arc[1]!],
          radius: arc[ARC_RADIUS]!,
          toward: [arc[ARC_TOWARD]!, arc[ARC_TOWARD + 1]!],
          cos: arc[ARC_COS]!,
        },
      }),
      ...(this.hasMore && { more: this.more.toRounded() }),
    };
  }
}
