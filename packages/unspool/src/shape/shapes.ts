import { cosine, sine } from '../easing/sine.js';
import { FARTHEST } from '../value/number.js';
import { show } from '../errors/show.js';
import { boxAround, edgeOf, sectorAround, type Rounded, type Vec } from './rounded.js';

/** A box in world space. `angle` is in degrees, positive from +x toward +y. */
export interface Box {
  readonly kind: 'box';
  readonly center: Vec;
  readonly size: Vec;
  readonly angle: number;
}

/** Everything within `radius` of a point. */
export interface Circle {
  readonly kind: 'circle';
  readonly center: Vec;
  readonly radius: number;
}

/** Everything within `radius` of the line between two points. */
export interface Capsule {
  readonly kind: 'capsule';
  readonly from: Vec;
  readonly to: Vec;
  readonly radius: number;
}

/** A convex polygon with its corners in order, such as a rotated and unevenly scaled box. */
export interface Polygon {
  readonly kind: 'polygon';
  readonly corners: readonly Vec[];
}

/** What of a circle lies between two directions, in degrees from +x toward +y, whichever comes first. */
export interface Sector {
  readonly kind: 'sector';
  readonly center: Vec;
  readonly radius: number;
  readonly from: number;
  readonly to: number;
}

/** A shape in world coordinates. */
export type HitShape = Box | Circle | Capsule | Sector | Polygon;

/**
 * Returns a shape as a core and a radius.
 *
 * @throws RangeError for an invalid shape, numbers that are not finite or beyond ±1e100, and negative lengths
 */
export function roundedOf(shape: HitShape): Rounded {
  checkShape(shape);
  const rounded = rulesOf(shape).rounded(shape);
  if (shape.kind === 'polygon' && !isConvex(rounded.corners))
    throw new RangeError(`${show(shape)} is not a convex polygon. Use three or more corners, in order.`);
  return rounded;
}

/** What the library knows of a shape in world space, by kind. */
interface ShapeRules<S extends HitShape> {
  /** Whether its members are valid. */
  readonly isValid: (shape: Record<string, unknown>) => boolean;
  /** Its convex core and the radius around it. */
  readonly rounded: (shape: S) => Rounded;
  /** The shape with all its points moved. */
  readonly moved: (shape: S, move: (point: Vec) => Vec) => S;
}

const isNumber = (n: unknown) => typeof n === 'number' && Math.abs(n) <= FARTHEST;
const isLength = (n: unknown) => isNumber(n) && (n as number) >= 0;
const isPoint = (point: unknown) => Array.isArray(point) && point.length === 2 && Array.from(point).every(isNumber);

const RULES: { readonly [K in HitShape['kind']]: ShapeRules<Extract<HitShape, { readonly kind: K }>> } = {
  box: {
    isValid: ({ center, size, angle }) =>
      isPoint(center) && isPoint(size) && (size as Vec).every(isLength) && isNumber(angle),
    rounded: ({ center: [x, y], size, angle }) => {
      const [w, h] = [size[0] / 2, size[1] / 2];
      // Whole turns change nothing; what is left of the angle is exact.
      const turn = ((angle % 360) * Math.PI) / 180;
      const [cos, sin] = [cosine(turn), sine(turn)];
      const corner = (u: number, v: number): Vec => [x + u * cos - v * sin, y + u * sin + v * cos];
      return { corners: [corner(w, h), corner(-w, h), corner(-w, -h), corner(w, -h)], radius: 0 };
    },
    moved: (shape, move) => ({ ...shape, center: move(shape.center) }),
  },
  circle: {
    isValid: ({ center, radius }) => isPoint(center) && isLength(radius),
    rounded: ({ center, radius }) => ({ corners: [center], radius }),
    moved: (shape, move) => ({ ...shape, center: move(shape.center) }),
  },
  capsule: {
    isValid: ({ from, to, radius }) => isPoint(from) && isPoint(to) && isLength(radius),
    rounded: ({ from, to, radius }) => ({ corners: [from, to], radius }),
    moved: (shape, move) => ({ ...shape, from: move(shape.from), to: move(shape.to) }),
  },
  sector: {
    isValid: ({ center, radius, from, to }) => isPoint(center) && isLength(radius) && isNumber(from) && isNumber(to),
    rounded: ({ center, radius, from, to }) => sectorAround(center, radius, from, to),
    moved: (shape, move) => ({ ...shape, center: move(shape.center) }),
  },
  polygon: {
    isValid: ({ corners }) => Array.isArray(corners) && corners.length > 0 && Array.from(corners).every(isPoint),
    rounded: ({ corners }) => ({ corners, radius: 0 }),
    moved: (shape, move) => ({ ...shape, corners: shape.corners.map(move) }),
  },
};

const rulesOf = (shape: HitShape) => RULES[shape.kind] as ShapeRules<HitShape>;

function checkShape(shape: unknown): void {
  const message = (typeof shape === 'object' ? shape : null) as Record<string, unknown> | null;
  const kind = String(message?.kind);
  if (!message || !Object.hasOwn(RULES, kind))
    throw new RangeError(`${show(shape)} is not a shape. Use one of the kinds ${Object.keys(RULES).join(', ')}.`);
  if (RULES[kind as HitShape['kind']].isValid(message)) return;
  throw new RangeError(
    `${show(shape)} is not a valid ${kind}. Use finite numbers within ±1e100 and lengths of 0 or more.`,
  );
}

/** Returns the smallest upright box around a shape. */
export function boundsOf(shape: HitShape): { readonly low: Vec; readonly high: Vec } {
  return boxAround(roundedOf(shape));
}

/** Returns the edge of a shape as points in order, for drawing; arcs are short lines. */
export function outlineOf(shape: HitShape): Vec[] {
  return edgeOf(roundedOf(shape));
}

/** Returns a shape with all its points moved. */
export function movedShape(shape: HitShape, move: (point: Vec) => Vec): HitShape {
  return rulesOf(shape).moved(shape, move);
}

/** Whether all corners turn the same way, once around in all. A corner that is flat, up to rounding, does not turn. */
function isConvex(corners: readonly Vec[]): boolean {
  if (corners.length < 3) return false;
  const edges = corners.map(([x, y], i): Vec => {
    const [nextX, nextY] = corners[(i + 1) % corners.length]!;
    return [nextX - x, nextY - y];
  });
  const longest = Math.sqrt(Math.max(...edges.map(([x, y]) => x * x + y * y)));
  // Of a small polygon that is far away, the corners themselves are rounded.
  const farthest = Math.max(...corners.flat().map(Math.abs));
  const nothing = longest * Math.max(1e-9 * longest, 8 * Number.EPSILON * farthest);
  let turned = 0;
  let sense = 0;
  for (let i = 0; i < edges.length; i++) {
    const [[ux, uy], [vx, vy]] = [edges[i]!, edges[(i + 1) % edges.length]!];
    const cross = ux * vy - uy * vx;
    turned += Math.atan2(cross, ux * vx + uy * vy);
    if (Math.abs(cross) <= nothing) continue;
    if (cross * sense < 0) return false;
    sense ||= Math.sign(cross);
  }
  return sense === 0 || Math.abs(Math.abs(turned) - 2 * Math.PI) < 1e-6;
}
