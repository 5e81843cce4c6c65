import { ARC_COS, ARC_RADIUS, ARC_TOWARD, Core } from '../shape/core.js';
import { EDGE, type Rounded, type Vec } from '../shape/rounded.js';
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

const ONE = new Core();
const TWO = new Core();
const FOUND = new Float64Array(5);
/** What the nearest halves so far have, while others are measured. */
const KEPT = new Float64Array(5);

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
  measure(ONE.set(a), TWO.set(b), FOUND);
  return distanceIn(FOUND);
}

/** What `measure` has written. */
export function distanceIn(found: Float64Array): Distance {
  return { distance: found[0]!, normal: [found[1]!, found[2]!], point: [found[3]!, found[4]!] };
}

/**
 * Writes the distance, the normal (x, y) and the nearest point (x, y) into an array of five. Allocates nothing: it is
 * called at every step of every sweep.
 */
export function measure(a: Core, b: Core, out: Float64Array): void {
  measureConvex(a, b, out);
  // Of a shape in two halves, the half that is nearer or deeper inside.
  if (a.hasMore) measureNearer(a.more, b, out);
  if (!b.hasMore) return;
  measureNearer(a, b.more, out);
  if (a.hasMore) measureNearer(a.more, b.more, out);
}

function measureNearer(a: Core, b: Core, out: Float64Array): void {
  KEPT.set(out);
  measureConvex(a, b, out);
  if (!(out[0]! < KEPT[0]!)) out.set(KEPT);
}

/** The axis that parts two cores best so far: its unit vector, and how far the second lies beyond the first along it. */
const AXIS = new Float64Array(3);

function measureConvex(a: Core, b: Core, out: Float64Array): void {
  if (findAxis(a, b, true)) overlapping(a, b, out);
  else apart(a, b, out);
}

/**
 * Finds the axis along which two cores overlap least. Its direction may be that of the edge of the Minkowski difference
 * where it is nearest: the normal of a straight edge, either way, as what lies beyond either side may be what parts it
 * from another; of a line also its ends; of an arc the ends, and from its center to a corner or another center.
 *
 * @param ends whether to end with false at the first axis that parts them, or along which they touch
 */
function findAxis(a: Core, b: Core, ends: boolean): boolean {
  AXIS[0] = 1;
  AXIS[1] = 0;
  AXIS[2] = -Infinity;
  for (let which = 0; which < 2; which++) {
    const { corners, count } = which === 0 ? a : b;
    if (count < 2) continue;
    const isLine = isFlat(corners, count);
    for (let i = 0, last = 2 * count; i < last; i += 2) {
      const next = i + 2 === last ? 0 : i + 2;
      let dx = corners[next]! - corners[i]!;
      let dy = corners[next + 1]! - corners[i + 1]!;
      const length = Math.sqrt(dx * dx + dy * dy);
      if (length === 0) continue;
      dx /= length;
      dy /= length;
      if (tryAxis(a, b, dy, -dx) && ends) return false;
      if (isLine && tryAxis(a, b, dx, dy) && ends) return false;
    }
  }
  if (a.hasArc && tryArc(a, b, a, b) && ends) return false;
  if (b.hasArc && tryArc(a, b, b, a) && ends) return false;
  return AXIS[2] < 0 && AXIS[2] > -Infinity;
}

/** The axes of an arc. */
function tryArc(a: Core, b: Core, own: Core, other: Core): boolean {
  const [cx, cy] = [own.arc[0]!, own.arc[1]!];
  let parts = false;
  const look = (x: number, y: number) => {
    const length = Math.sqrt((x - cx) * (x - cx) + (y - cy) * (y - cy));
    if (length > 0) parts = tryAxis(a, b, (x - cx) / length, (y - cy) / length) || parts;
  };
  for (let i = 1; i < own.count; i++) look(own.corners[2 * i]!, own.corners[2 * i + 1]!);
  for (let i = 0; i < other.count; i++) look(other.corners[2 * i]!, other.corners[2 * i + 1]!);
  if (other.hasArc) look(other.arc[0]!, other.arc[1]!);
  return parts;
}

/** Tries a direction both ways. Returns whether either parts the cores, or they touch along it. */
function tryAxis(a: Core, b: Core, x: number, y: number): boolean {
  let lowA = Infinity;
  let highA = -Infinity;
  for (let i = 0, { corners, count } = a; i < 2 * count; i += 2) {
    const at = corners[i]! * x + corners[i + 1]! * y;
    if (at < lowA) lowA = at;
    if (at > highA) highA = at;
  }
  let lowB = Infinity;
  let highB = -Infinity;
  for (let i = 0, { corners, count } = b; i < 2 * count; i += 2) {
    const at = corners[i]! * x + corners[i + 1]! * y;
    if (at < lowB) lowB = at;
    if (at > highB) highB = at;
  }
  if (a.hasArc) {
    if (faces(a.arc, x, y)) highA = Math.max(highA, arcAlong(a.arc, x, y));
    if (faces(a.arc, -x, -y)) lowA = Math.min(lowA, -arcAlong(a.arc, -x, -y));
  }
  if (b.hasArc) {
    if (faces(b.arc, x, y)) highB = Math.max(highB, arcAlong(b.arc, x, y));
    if (faces(b.arc, -x, -y)) lowB = Math.min(lowB, -arcAlong(b.arc, -x, -y));
  }
  if (lowB - highA > AXIS[2]!) {
    AXIS[0] = x;
    AXIS[1] = y;
    AXIS[2] = lowB - highA;
  }
  if (lowA - highB > AXIS[2]!) {
    AXIS[0] = -x;
    AXIS[1] = -y;
    AXIS[2] = lowA - highB;
  }
  return lowB >= highA || lowA >= highB;
}

/** Whether an arc has a point in a direction, a unit vector; and how far it reaches there. */
function faces(arc: Float64Array, x: number, y: number): boolean {
  return arc[ARC_TOWARD]! * x + arc[ARC_TOWARD + 1]! * y >= arc[ARC_COS]! - EDGE;
}

function arcAlong(arc: Float64Array, x: number, y: number): number {
  return arc[0]! * x + arc[1]! * y + arc[ARC_RADIUS]!;
}

/** Whether all corners lie on one line, but for rounding. */
function isFlat(corners: Float64Array, count: number): boolean {
  if (count === 2) return true;
  const ox = corners[0]!;
  const oy = corners[1]!;
  let area = 0;
  let longest = 0;
  for (let i = 1; i < count; i++) {
    const ax = corners[2 * i - 2]! - ox;
    const ay = corners[2 * i - 1]! - oy;
    const bx = corners[2 * i]! - ox;
    const by = corners[2 * i + 1]! - oy;
    area += Math.abs(ax * by - ay * bx);
    longest = Math.max(longest, bx * bx + by * by);
  }
  return area <= 1e-12 * longest;
}

/** The stretch across a normal that is taken by what of a core lies foremost along it; then by that of another. */
const ACROSS = new Float64Array(4);

function overlapping(a: Core, b: Core, out: Float64Array): void {
  const [x, y, gap] = [AXIS[0]!, AXIS[1]!, AXIS[2]!];
  // Along the normal half way between the edges; across it in the middle of what lies foremost in both.
  const top = findForemost(a, x, y, 1, 0);
  const bottom = findForemost(b, x, y, -1, 2);
  const along = (top + a.radius + bottom - b.radius) / 2;
  const across = (Math.max(ACROSS[0]!, ACROSS[2]!) + Math.min(ACROSS[1]!, ACROSS[3]!)) / 2;
  out[0] = gap - a.radius - b.radius;
  out[1] = x;
  out[2] = y;
  out[3] = x * along - y * across;
  out[4] = y * along + x * across;
}

/** Where a core ends along a normal (`sense` 1) or begins (−1); writes what of it lies there to `ACROSS`. */
function findForemost({ corners, count, hasArc, arc }: Core, x: number, y: number, sense: number, to: number): number {
  let most = -Infinity;
  for (let i = 0; i < 2 * count; i += 2) most = Math.max(most, sense * (corners[i]! * x + corners[i + 1]! * y));
  const isFacing = hasArc && faces(arc, sense * x, sense * y);
  if (isFacing) most = Math.max(most, arcAlong(arc, sense * x, sense * y));
  const place = sense * most;
  const near = 1e-9 * (1 + Math.abs(place));
  ACROSS[to] = Infinity;
  ACROSS[to + 1] = -Infinity;
  const look = (px: number, py: number) => {
    if (Math.abs(px * x + py * y - place) > near) return;
    ACROSS[to] = Math.min(ACROSS[to]!, py * x - px * y);
    ACROSS[to + 1] = Math.max(ACROSS[to + 1]!, py * x - px * y);
  };
  for (let i = 0; i < 2 * count; i += 2) look(corners[i]!, corners[i + 1]!);
  if (isFacing) look(arc[0]! + arc[ARC_RADIUS]! * sense * x, arc[1]! + arc[ARC_RADIUS]! * sense * y);
  return place;
}

/** The nearest points of two cores so far: their distance, squared and not, and both points. */
const NEAREST = new Float64Array(5);

function apart(a: Core, b: Core, out: Float64Array): void {
  NEAREST[0] = Infinity;
  lookFrom(a, b, 1);
  lookFrom(b, a, 3);
  const ax = NEAREST[1]!;
  const ay = NEAREST[2]!;
  const bx = NEAREST[3]!;
  const by = NEAREST[4]!;
  const least = Math.sqrt(NEAREST[0]);
  let nx = (bx - ax) / least;
  let ny = (by - ay) / least;
  // A way that is no longer than the rounding of its ends has no direction: along the axis that parts them best then.
  if (!(least > 8 * Number.EPSILON * (Math.abs(ax) + Math.abs(ay)))) {
    findAxis(a, b, false);
    nx = AXIS[0]!;
    ny = AXIS[1]!;
  }
  // Half way between the edges, which lie beyond the nearest points of the cores by the radii.
  const along = (least + a.radius - b.radius) / 2;
  out[0] = least - a.radius - b.radius;
  out[1] = nx;
  out[2] = ny;
  out[3] = ax + nx * along;
  out[4] = ay + ny * along;
}

/** From each corner of a core, and from the center of its arc along the arc, to the nearest point of another. */
function lookFrom(one: Core, other: Core, to: number): void {
  const { corners, count } = one;
  for (let i = 0; i < 2 * count; i += 2) lookTo(other, corners, i, to, undefined);
  if (one.hasArc) lookTo(other, one.arc, 0, to, one.arc);
}

/**
 * Where the edge of a core is nearest to a point beside it.
 *
 * @param point two numbers of it, from `k` on
 * @param to  where the point belongs in `NEAREST`; the other one is that of the core
 * @param arc the arc that the point is the center of: then its own point in the same direction counts
 */
function lookTo(
  { corners, count, hasArc, arc: own }: Core,
  point: Float64Array,
  k: number,
  to: number,
  arc: Float64Array | undefined,
): void {
  const px = point[k]!;
  const py = point[k + 1]!;
  let least = Infinity;
  let bestX = 0;
  let bestY = 0;
  for (let i = 0, last = 2 * count; i < last; i += 2) {
    const next = i + 2 === last ? 0 : i + 2;
    const x = corners[i]!;
    const y = corners[i + 1]!;
    const dx = corners[next]! - x;
    const dy = corners[next + 1]! - y;
    const square = dx * dx + dy * dy;
    let share = square > 0 ? ((px - x) * dx + (py - y) * dy) / square : 0;
    if (!(share > 0)) share = 0;
    else if (share > 1) share = 1;
    const qx = x + dx * share;
    const qy = y + dy * share;
    const far = (px - qx) * (px - qx) + (py - qy) * (py - qy);
    if (far < least) {
      least = far;
      bestX = qx;
      bestY = qy;
    }
  }
  if (hasArc) {
    const cx = own[0]!;
    const cy = own[1]!;
    const length = Math.sqrt((px - cx) * (px - cx) + (py - cy) * (py - cy));
    if (length > 0 && faces(own, (px - cx) / length, (py - cy) / length)) {
      const qx = cx + (own[ARC_RADIUS]! * (px - cx)) / length;
      const qy = cy + (own[ARC_RADIUS]! * (py - cy)) / length;
      const far = (px - qx) * (px - qx) + (py - qy) * (py - qy);
      if (far < least) {
        least = far;
        bestX = qx;
        bestY = qy;
      }
    }
  }
  let ownX = px;
  let ownY = py;
  if (arc) {
    const length = Math.sqrt((bestX - px) * (bestX - px) + (bestY - py) * (bestY - py));
    if (!(length > 0) || !faces(arc, (bestX - px) / length, (bestY - py) / length)) return;
    ownX = px + (arc[ARC_RADIUS]! * (bestX - px)) / length;
    ownY = py + (arc[ARC_RADIUS]! * (bestY - py)) / length;
    least = (ownX - bestX) * (ownX - bestX) + (ownY - bestY) * (ownY - bestY);
  }
  if (!(least < NEAREST[0]!)) return;
  NEAREST[0] = least;
  NEAREST[to] = ownX;
  NEAREST[to + 1] = ownY;
  NEAREST[4 - to] = bestX;
  NEAREST[5 - to] = bestY;
}
