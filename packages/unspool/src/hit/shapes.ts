/** A point or direction in the plane. */
export type Vec = readonly [x: number, y: number];

/** Shapes in world space, in the game's own units; angles in degrees, positive from +x toward +y. */
export interface Box {
  readonly kind: 'box';
  readonly center: Vec;
  readonly size: Vec;
  readonly angle: number;
}

export interface Circle {
  readonly kind: 'circle';
  readonly center: Vec;
  readonly radius: number;
}

/** All that is within `radius` of the line from one point to another. */
export interface Capsule {
  readonly kind: 'capsule';
  readonly from: Vec;
  readonly to: Vec;
  readonly radius: number;
}

export type HitShape = Box | Circle | Capsule;

/**
 * A shape as its core, and how far it reaches beyond that: a circle is a point, a capsule a line, a box four corners.
 * So every pair of shapes is a pair of convex polygons with rounded corners.
 */
export interface Rounded {
  /** Corners in order round the core: one, two or four. */
  readonly corners: readonly Vec[];
  readonly radius: number;
}

/** @throws RangeError for numbers that are not finite, and for lengths below 0 */
export function roundedOf(shape: HitShape): Rounded {
  const [corners, radius] = partsOf(shape);
  if (!corners.flat().every(Number.isFinite) || !(radius >= 0 && radius < Infinity))
    throw new RangeError(`${JSON.stringify(shape)} is no shape. Give finite numbers, and lengths of 0 or more.`);
  return { corners, radius };
}

function partsOf(shape: HitShape): readonly [corners: readonly Vec[], radius: number] {
  if (shape.kind === 'circle') return [[shape.center], shape.radius];
  if (shape.kind === 'capsule') return [[shape.from, shape.to], shape.radius];
  const [x, y] = shape.center;
  const [w, h] = [shape.size[0] / 2, shape.size[1] / 2];
  const angle = (shape.angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const corner = (u: number, v: number): Vec => [x + u * cos - v * sin, y + u * sin + v * cos];
  return [[corner(w, h), corner(-w, h), corner(-w, -h), corner(w, -h)], w >= 0 && h >= 0 ? 0 : NaN];
}
