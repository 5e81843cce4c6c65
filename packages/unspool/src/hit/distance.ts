import { faces, lengthOf, pointOf, reachAlong, type Arc, type Rounded, type Vec } from '../shape/rounded.js';
import { roundedOf, type HitShape } from '../shape/shapes.js';

/** The distance of two shapes, or how deep they overlap. */
export interface Distance {
  /** In the units of the game; negative when they overlap, by the shortest way out. */
  readonly distance: number;
  /** The nearest point, halfway between the edges. */
  readonly point: Vec;
  /** Unit vector from the first to the second: the shortest way to separate them. */
  readonly normal: Vec;
}

/**
 * Returns the distance of two shapes.
 *
 * When the cores are apart, it is the distance of their nearest points minus both radii. When they overlap, the
 * shortest way to separate two convex cores is along the normal of an edge of one of them (separating axis theorem: their
 * Minkowski difference has edges with these normals, and arcs); the radii are added. A sector that is wider than half a
 * circle counts as its two halves.
 *
 * @throws RangeError for an invalid shape
 */
export function distance(a: HitShape, b: HitShape): Distance {
  return distanceOf(roundedOf(a), roundedOf(b));
}

export function distanceOf(a: Rounded, b: Rounded): Distance {
  if (a.more) return nearer(distanceOf({ ...a, more: undefined }, b), distanceOf(a.more, b));
  if (b.more) return nearer(distanceOf(a, { ...b, more: undefined }), distanceOf(a, b.more));
  const deepest = overlapOf(a, b);
  return deepest ? overlapping(a, b, deepest) : apart(a, b);
}

/** Of a shape in two halves, the half that is nearer or deeper inside. */
const nearer = (one: Distance, two: Distance) => (two.distance < one.distance ? two : one);

/** A direction, and how far the second core lies beyond the first along it (below 0: not at all). */
interface Axis {
  readonly normal: Vec;
  readonly gap: number;
}

/** The axis along which two cores overlap least; nothing when one of them parts them, or touches both. */
function overlapOf(a: Rounded, b: Rounded): Axis | undefined {
  let best: Axis | undefined;
  for (const normal of normalsOf(a, b)) {
    const axis = axisOf(a, b, normal);
    if (axis.gap >= 0) return undefined;
    if (!best || axis.gap > best.gap) best = axis;
  }
  return best;
}

function axisOf(a: Rounded, b: Rounded, normal: Vec): Axis {
  const [x, y] = normal;
  return { normal, gap: -reachAlong(b, -x, -y) - reachAlong(a, x, y) };
}

/**
 * Unit normals that may be those of the edge of the Minkowski difference where it is nearest: of straight edges, of the
 * ends of arcs, and from the center of an arc to a corner or another center.
 */
function normalsOf(a: Rounded, b: Rounded): Vec[] {
  const all = [...edgeNormals(a.corners), ...edgeNormals(b.corners)];
  for (const [{ arc, corners }, other] of [
    [a, b],
    [b, a],
  ] as const) {
    if (!arc) continue;
    const { center } = arc;
    const points = [...corners.slice(1), ...other.corners, ...(other.arc ? [other.arc.center] : [])];
    for (const [x, y] of points) {
      const unit = unitOf(x - center[0], y - center[1]);
      if (unit) all.push(unit, [-unit[0], -unit[1]]);
    }
  }
  return all;
}

function unitOf(x: number, y: number): Vec | undefined {
  const length = lengthOf(x, y);
  return length > 0 ? [x / length, y / length] : undefined;
}

/**
 * Unit normals of a polygon's edges, both ways: what lies beyond either side may be what parts it from another. Of a
 * line its ends may be too: two on one line are apart along it alone.
 */
function edgeNormals(corners: readonly Vec[]): Vec[] {
  if (corners.length < 2) return [];
  const isLine = isFlat(corners);
  return corners.flatMap(([x, y], i): Vec[] => {
    const [nextX, nextY] = corners[(i + 1) % corners.length]!;
    const along = unitOf(nextX - x, nextY - y);
    if (!along) return [];
    const [dx, dy] = along;
    const normals: Vec[] = [
      [dy, -dx],
      [-dy, dx],
    ];
    return isLine ? [...normals, along, [-dx, -dy]] : normals;
  });
}

/** Whether all corners lie on one line, but for rounding. */
function isFlat(corners: readonly Vec[]): boolean {
  if (corners.length === 2) return true;
  const [ox, oy] = corners[0]!;
  let area = 0;
  let longest = 0;
  for (let i = 1; i < corners.length; i++) {
    const [ax, ay] = [corners[i - 1]![0] - ox, corners[i - 1]![1] - oy];
    const [bx, by] = [corners[i]![0] - ox, corners[i]![1] - oy];
    area += Math.abs(ax * by - ay * bx);
    longest = Math.max(longest, bx * bx + by * by);
  }
  return area <= 1e-12 * longest;
}

function overlapping(a: Rounded, b: Rounded, { normal, gap }: Axis): Distance {
  const [x, y] = normal;
  // Along the normal half way between the edges; across it in the middle of what lies foremost in both.
  const top = reachAlong(a, x, y);
  const bottom = -reachAlong(b, -x, -y);
  const along = (top + a.radius + bottom - b.radius) / 2;
  const [low, high] = foremost(a, normal, top, normal);
  const [lower, higher] = foremost(b, normal, bottom, [-x, -y]);
  const across = (Math.max(low, lower) + Math.min(high, higher)) / 2;
  return {
    distance: gap - a.radius - b.radius,
    point: [x * along - y * across, y * along + x * across],
    normal,
  };
}

/** What of a core lies at a place along a normal: the stretch that it takes across. */
function foremost(
  { corners, arc }: Rounded,
  [x, y]: Vec,
  place: number,
  toward: Vec,
): readonly [low: number, high: number] {
  const points = arc && faces(arc, toward) ? [...corners, pointOf(arc, toward)] : corners;
  const there = points.filter(([cx, cy]) => Math.abs(cx * x + cy * y - place) <= 1e-9 * (1 + Math.abs(place)));
  const across = there.map(([cx, cy]) => cy * x - cx * y);
  return [Math.min(...across), Math.max(...across)];
}

function apart(a: Rounded, b: Rounded): Distance {
  let least = Infinity;
  let from: Vec = a.corners[0]!;
  let to: Vec = b.corners[0]!;
  const look = (p: Vec, q: Vec) => {
    const far = lengthOf(q[0] - p[0], q[1] - p[1]);
    if (far < least) [least, from, to] = [far, p, q];
  };
  for (const corner of a.corners) look(corner, nearestOn(b, corner));
  for (const corner of b.corners) look(nearestOn(a, corner), corner);
  // Between an arc and anything, along the way from its center.
  if (a.arc) lookAlong(a.arc, nearestOn(b, a.arc.center), look);
  if (b.arc) lookAlong(b.arc, nearestOn(a, b.arc.center), (p, q) => look(q, p));
  // A way that is no longer than the rounding of its ends has no direction.
  const rounding = 8 * Number.EPSILON * (Math.abs(from[0]) + Math.abs(from[1]));
  const normal = least > rounding ? ([(to[0] - from[0]) / least, (to[1] - from[1]) / least] as const) : sideways(a, b);
  // Half way between the edges, which lie beyond the nearest points of the cores by the radii.
  const along = (least + a.radius - b.radius) / 2;
  return {
    distance: least - a.radius - b.radius,
    point: [from[0] + normal[0] * along, from[1] + normal[1] * along],
    normal,
  };
}

function lookAlong(arc: Arc, point: Vec, look: (onArc: Vec, point: Vec) => void): void {
  const toward = unitOf(point[0] - arc.center[0], point[1] - arc.center[1]);
  if (toward && faces(arc, toward)) look(pointOf(arc, toward), point);
}

/** The point of a core's edge that is nearest to a point beside it. */
function nearestOn({ corners, arc }: Rounded, [px, py]: Vec): Vec {
  let least = Infinity;
  let best = corners[0]!;
  const look = (point: Vec) => {
    const far = lengthOf(px - point[0], py - point[1]);
    if (far < least) [least, best] = [far, point];
  };
  corners.forEach(([x, y], i) => {
    const [nextX, nextY] = corners[(i + 1) % corners.length]!;
    const [dx, dy] = [nextX - x, nextY - y];
    const square = dx * dx + dy * dy;
    const share = square > 0 ? Math.min(1, Math.max(0, ((px - x) * dx + (py - y) * dy) / square)) : 0;
    look([x + dx * share, y + dy * share]);
  });
  if (arc) lookAlong(arc, [px, py], look);
  return best;
}

/** Cores that touch have no way from one to the other: along the axis that parts them best then, or any. */
function sideways(a: Rounded, b: Rounded): Vec {
  let best: Axis = { normal: [1, 0], gap: -Infinity };
  for (const normal of normalsOf(a, b)) {
    const axis = axisOf(a, b, normal);
    if (axis.gap > best.gap) best = axis;
  }
  return best.normal;
}
