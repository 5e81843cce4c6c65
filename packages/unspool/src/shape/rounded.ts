import { cosine, sine } from '../easing/sine.js';

/** A point or direction in the plane. */
export type Vec = readonly [x: number, y: number];

/** Of the square root every engine gives the same bits; of `Math.hypot` the language does not promise it. */
export function lengthOf(x: number, y: number): number {
  return Math.sqrt(x * x + y * y);
}

/**
 * A shape as a convex core and a radius around it: a circle is a point, a capsule a line, a box four corners. So every
 * pair of shapes is a pair of convex cores with rounded corners.
 */
export interface Rounded {
  /** Corners of the core in order: one, two or more. */
  readonly corners: readonly Vec[];
  readonly radius: number;
  /** Of a sector: the core bulges from its second corner to its third. */
  readonly arc?: Arc;
  /** The other half of a shape that is not convex. It goes on from the third corner. */
  readonly more?: Rounded | undefined;
}

/** At most half of a circle about a point. */
export interface Arc {
  readonly center: Vec;
  readonly radius: number;
  /** Unit vector from the center to its middle; and the cosine of half its angle, 0 or more. */
  readonly toward: Vec;
  readonly cos: number;
}

/** Directions as near to an arc's end as rounding brings them are on it. */
export const EDGE = 1e-12;

/** Whether an arc has a point in a direction, a unit vector. */
export function faces({ toward: [x, y], cos }: Arc, [dx, dy]: Vec): boolean {
  return x * dx + y * dy >= cos - EDGE;
}

/** How far a convex core reaches along a direction, a unit vector. */
export function reachAlong({ corners, arc }: Rounded, x: number, y: number): number {
  let most = -Infinity;
  for (const [cx, cy] of corners) most = Math.max(most, cx * x + cy * y);
  if (arc && faces(arc, [x, y])) most = Math.max(most, arc.center[0] * x + arc.center[1] * y + arc.radius);
  return most;
}

/** The smallest upright box around a shape, with its radius. */
export function boxAround(shape: Rounded): { readonly low: Vec; readonly high: Vec } {
  const side = (x: number, y: number) => {
    const reach = reachAlong(shape, x, y);
    return (shape.more ? Math.max(reach, reachAlong(shape.more, x, y)) : reach) + shape.radius;
  };
  return { low: [-side(-1, 0), -side(0, -1)], high: [side(1, 0), side(0, 1)] };
}

/** The shape elsewhere. */
export function shifted({ corners, radius, arc, more }: Rounded, x: number, y: number): Rounded {
  const shift = ([px, py]: Vec): Vec => [px + x, py + y];
  return {
    corners: corners.map(shift),
    radius,
    ...(arc && { arc: { ...arc, center: shift(arc.center) } }),
    ...(more && { more: shifted(more, x, y) }),
  };
}

/**
 * What of a circle lies between two directions: one core, or two where it is wider than half a circle; a whole circle is
 * a point with a radius.
 *
 * @param from degrees, as `to`; either may be the greater
 * @param turn where the transform that it is under turns a unit vector
 */
export function sectorAround(
  center: Vec,
  radius: number,
  from: number,
  to: number,
  turn: (x: number, y: number) => Vec = (x, y) => [x, y],
): Rounded {
  const low = Math.min(from, to);
  const width = Math.abs(to - from);
  /** The unit vector to a share of its width. */
  const towards = (share: number) => {
    const angle = (((low + share * width) % 360) * Math.PI) / 180;
    return turn(cosine(angle), sine(angle));
  };
  if (width >= 360) return { corners: [center], radius };
  if (radius === 0) return { corners: [center], radius: 0 };
  const part = (from: number, until: number, more?: Rounded): Rounded => {
    const [start, toward, end] = [towards(from), towards((from + until) / 2), towards(until)];
    const at = ([x, y]: Vec): Vec => [center[0] + radius * x, center[1] + radius * y];
    const cos = Math.max(0, start[0] * toward[0] + start[1] * toward[1]);
    const arc = { center, radius, toward, cos };
    return { corners: [center, at(start), at(end)], radius: 0, arc, ...(more && { more }) };
  };
  if (width === 0) return { corners: part(0, 0).corners.slice(0, 2), radius: 0 };
  // A half circle by rounded angles is one.
  return width <= 180 + 1e-9 ? part(0, 1) : part(0, 0.5, part(0.5, 1));
}

/** Points on a half circle: enough that a shape as large as a screen has no corners to be seen. */
const HALF = 24;

/** The edge of a shape as points in order, with arcs as many short lines. */
export function edgeOf({ corners, radius, arc, more }: Rounded): Vec[] {
  if (radius > 0) return corners.flatMap((corner, i) => roundOff(corners, corner, i, radius));
  if (!arc) return [...corners];
  const [center, ...points] = [corners[0]!, ...arcPoints(arc, corners[1]!, corners[2]!)];
  return [center, ...points, ...(more?.arc ? arcPoints(more.arc, more.corners[1]!, more.corners[2]!).slice(1) : [])];
}

function arcPoints({ center: [x, y], radius, toward, cos }: Arc, start: Vec, end: Vec): Vec[] {
  const from = Math.atan2(start[1] - y, start[0] - x);
  const sense = Math.sign((start[0] - x) * toward[1] - (start[1] - y) * toward[0]) || 1;
  const steps = HALF;
  const turn = (2 * sense * Math.acos(Math.min(1, cos))) / steps;
  const between = Array.from({ length: steps - 1 }, (_, k): Vec => {
    const angle = from + turn * (k + 1);
    return [x + Math.cos(angle) * radius, y + Math.sin(angle) * radius];
  });
  return [start, ...between, end];
}

/** A full circle around a point, a half circle around each end of a line. */
function roundOff(corners: readonly Vec[], [x, y]: Vec, index: number, radius: number): Vec[] {
  const [ox, oy] = corners[(index + 1) % corners.length]!;
  const isAlone = corners.length === 1;
  const from = isAlone ? 0 : Math.atan2(y - oy, x - ox) - Math.PI / 2;
  const steps = isAlone ? 2 * HALF : HALF;
  return Array.from({ length: steps + 1 }, (_, k): Vec => {
    const angle = from + (Math.PI * k) / HALF;
    return [x + Math.cos(angle) * radius, y + Math.sin(angle) * radius];
  });
}
