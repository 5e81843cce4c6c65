import type { Matrix } from 'pixi.js';
import type { ShapeKind, ShapeValue } from 'unspool';
import { roundedOf, shapeOfValue } from 'unspool/hit';

export type Point = readonly [x: number, y: number];

const ARC = 16;

/** The edge of a shape in the coordinates that a matrix leads to, as points. */
export function outlineOf(kind: ShapeKind, value: ShapeValue, matrix: Matrix): Point[] {
  const { corners, radius } = roundedOf(shapeOfValue(kind, value));
  const points = radius === 0 ? corners : corners.flatMap((corner, i) => arc(corners, corner, i, radius));
  return points.map(([x, y]) => {
    const to = matrix.apply({ x, y });
    return [to.x, to.y] as const;
  });
}

/** Of a circle all of it, of a capsule half of it at each end. */
function arc(corners: readonly Point[], [x, y]: Point, index: number, radius: number): Point[] {
  const other = corners[(index + 1) % corners.length]!;
  const alone = corners.length === 1;
  const from = alone ? 0 : Math.atan2(y - other[1], x - other[0]) - Math.PI / 2;
  const turn = alone ? 2 * Math.PI : Math.PI;
  return Array.from({ length: 2 * ARC + 1 }, (_, k) => {
    const angle = from + (turn * k) / (2 * ARC);
    return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)] as const;
  });
}

/** Whether a point lies inside a polygon (by how often a ray from it crosses the edge). */
export function isInside([x, y]: Point, polygon: readonly Point[]): boolean {
  let inside = false;
  polygon.forEach(([ax, ay], i) => {
    const [bx, by] = polygon[(i + 1) % polygon.length]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  });
  return inside;
}
