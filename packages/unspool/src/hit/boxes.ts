import { ARC_RADIUS, type Core } from '../shape/core.js';

/** Boxes are four numbers: low x, low y, high x, high y. This one contains nothing. */
export function empty(box: Float64Array): void {
  box[0] = box[1] = Infinity;
  box[2] = box[3] = -Infinity;
}

/** A number without an end, but not as far as where nothing is. */
export const ENDLESS = Number.MAX_VALUE;

/** And this one everything. */
export function fill(box: Float64Array): void {
  box[0] = box[1] = -ENDLESS;
  box[2] = box[3] = ENDLESS;
}

export function overlap(a: Float64Array, b: Float64Array): boolean {
  return a[0]! <= b[2]! && b[0]! <= a[2]! && a[1]! <= b[3]! && b[1]! <= a[3]!;
}

/** Whether the first box contains the second. */
export function contains(a: Float64Array, b: Float64Array): boolean {
  return a[0]! <= b[0]! && a[1]! <= b[1]! && a[2]! >= b[2]! && a[3]! >= b[3]!;
}

/** Extends a box by so much on each side. */
export function grow(box: Float64Array, by: number): void {
  box[0]! -= by;
  box[1]! -= by;
  box[2]! += by;
  box[3]! += by;
}

/** The box around a shape. An arc counts as its whole circle. */
export function boxOf(core: Core, box: Float64Array): void {
  empty(box);
  include(core, box);
  if (core.hasMore) include(core.more, box);
  grow(box, core.radius);
}

function include({ corners, count, hasArc, arc }: Core, box: Float64Array): void {
  for (let i = 0; i < 2 * count; i += 2) includePoint(box, corners[i]!, corners[i + 1]!, 0);
  if (hasArc) includePoint(box, arc[0]!, arc[1]!, arc[ARC_RADIUS]!);
}

/** Extends a box so that it contains everything within a distance of a point. */
export function includePoint(box: Float64Array, x: number, y: number, by: number): void {
  box[0] = Math.min(box[0]!, x - by);
  box[1] = Math.min(box[1]!, y - by);
  box[2] = Math.max(box[2]!, x + by);
  box[3] = Math.max(box[3]!, y + by);
}
