import { roundedOf, type HitShape, type Rounded, type Vec, lengthOf } from './shapes.js';

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
 * shortest way to separate two convex polygons is along the normal of an edge of one of them (separating axis theorem:
 * their Minkowski difference is a convex polygon with these normals); the radii are added.
 *
 * @throws RangeError for an invalid shape
 */
export function distance(a: HitShape, b: HitShape): Distance {
  return distanceOf(roundedOf(a), roundedOf(b));
}

export function distanceOf(a: Rounded, b: Rounded): Distance {
  const deepest = overlapOf(a.corners, b.corners);
  return deepest ? overlapping(a, b, deepest) : apart(a, b);
}

/** An edge's normal, and how far the second polygon lies beyond the first along it (below 0: not at all). */
interface Axis {
  readonly normal: Vec;
  readonly gap: number;
}

/** The axis along which two polygons overlap least; nothing when one of them parts them, or touches both. */
function overlapOf(a: readonly Vec[], b: readonly Vec[]): Axis | undefined {
  let best: Axis | undefined;
  for (const normal of [...normalsOf(a), ...normalsOf(b)]) {
    const axis = axisOf(a, b, normal);
    if (axis.gap >= 0) return undefined;
    if (!best || axis.gap > best.gap) best = axis;
  }
  return best;
}

function axisOf(a: readonly Vec[], b: readonly Vec[], normal: Vec): Axis {
  const [x, y] = normal;
  return { normal, gap: leastAlong(b, x, y) + leastAlong(a, -x, -y) };
}

/** Unit normals of a polygon's edges, both ways: what lies beyond either side may be what parts it from another. */
function normalsOf(corners: readonly Vec[]): Vec[] {
  if (corners.length < 2) return [];
  return corners.flatMap(([x, y], i): Vec[] => {
    const [nextX, nextY] = corners[(i + 1) % corners.length]!;
    const [dx, dy] = [nextX - x, nextY - y];
    const length = lengthOf(dx, dy);
    if (length === 0) return [];
    return [
      [dy / length, -dx / length],
      [-dy / length, dx / length],
    ];
  });
}

function leastAlong(corners: readonly Vec[], x: number, y: number): number {
  let least = Infinity;
  for (const [cx, cy] of corners) least = Math.min(least, cx * x + cy * y);
  return least;
}

function overlapping(a: Rounded, b: Rounded, { normal, gap }: Axis): Distance {
  const [x, y] = normal;
  // Along the normal half way between the edges; across it in the middle of what lies foremost in both.
  const top = -leastAlong(a.corners, -x, -y);
  const bottom = leastAlong(b.corners, x, y);
  const along = (top + a.radius + bottom - b.radius) / 2;
  const [low, high] = foremost(a.corners, normal, top);
  const [lower, higher] = foremost(b.corners, normal, bottom);
  const across = (Math.max(low, lower) + Math.min(high, higher)) / 2;
  return {
    distance: gap - a.radius - b.radius,
    point: [x * along - y * across, y * along + x * across],
    normal,
  };
}

/** What of the corners lies at a place along a normal: the stretch that it takes across. */
function foremost(corners: readonly Vec[], [x, y]: Vec, place: number): readonly [low: number, high: number] {
  const there = corners.filter(([cx, cy]) => Math.abs(cx * x + cy * y - place) <= 1e-9 * (1 + Math.abs(place)));
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
  for (const corner of a.corners) look(corner, nearestOn(b.corners, corner));
  for (const corner of b.corners) look(nearestOn(a.corners, corner), corner);
  const normal = least > 0 ? ([(to[0] - from[0]) / least, (to[1] - from[1]) / least] as const) : sideways(a, b);
  // Half way between the edges, which lie beyond the nearest points of the cores by the radii.
  const along = (least + a.radius - b.radius) / 2;
  return {
    distance: least - a.radius - b.radius,
    point: [from[0] + normal[0] * along, from[1] + normal[1] * along],
    normal,
  };
}

/** The point of a polygon's edges that is nearest to another. */
function nearestOn(corners: readonly Vec[], [px, py]: Vec): Vec {
  let least = Infinity;
  let best = corners[0]!;
  corners.forEach(([x, y], i) => {
    const [nextX, nextY] = corners[(i + 1) % corners.length]!;
    const [dx, dy] = [nextX - x, nextY - y];
    const square = dx * dx + dy * dy;
    const share = square > 0 ? Math.min(1, Math.max(0, ((px - x) * dx + (py - y) * dy) / square)) : 0;
    const point: Vec = [x + dx * share, y + dy * share];
    const far = lengthOf(px - point[0], py - point[1]);
    if (far < least) [least, best] = [far, point];
  });
  return best;
}

/** Cores that touch have no way from one to the other: along the axis that parts them best then, or any. */
function sideways({ corners: a }: Rounded, { corners: b }: Rounded): Vec {
  let best: Axis = { normal: [1, 0], gap: -Infinity };
  for (const normal of [...normalsOf(a), ...normalsOf(b)]) {
    const axis = axisOf(a, b, normal);
    if (axis.gap > best.gap) best = axis;
  }
  return best.normal;
}
