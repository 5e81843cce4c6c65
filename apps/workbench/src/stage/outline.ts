import type { Matrix } from 'pixi.js';
import type { ShapeKind, ShapeValue } from 'unspool';
import { outlineOf as edgeOf, shapeOfValue } from 'unspool/hit';

export type Point = readonly [x: number, y: number];

/** The edge of a shape in the coordinates that a matrix leads to, as points. */
export function outlineOf(kind: ShapeKind, value: ShapeValue, matrix: Matrix): Point[] {
  return edgeOf(shapeOfValue(kind, value)).map(([x, y]) => {
    const to = matrix.apply({ x, y });
    return [to.x, to.y] as const;
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
