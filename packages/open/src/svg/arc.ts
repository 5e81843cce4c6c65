import type { Bezier, Point } from './bezier-path.js';

/** Degrees of an ellipse that one cubic stands for: off by less than a ten millionth of its radius. */
const MOST_DEGREES = 22.5;

/**
 * An elliptical arc as cubics: the conversion to a center of SVG 2, appendix B.2.4
 * (https://www.w3.org/TR/SVG2/implnote.html#ArcImplementationNotes).
 */
export function arcCurves(from: Point, numbers: readonly number[]): Bezier[] {
  const [radiusX = 0, radiusY = 0, degrees = 0, isLarge = 0, isSweep = 0, x = 0, y = 0] = numbers;
  let [rx, ry] = [Math.abs(radiusX), Math.abs(radiusY)];
  const to: Point = [x, y];
  if (from[0] === x && from[1] === y) return [];
  if (rx === 0 || ry === 0) return [[from, between(from, to, 1 / 3), between(from, to, 2 / 3), to]];
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const [dx, dy] = [(from[0] - x) / 2, (from[1] - y) / 2];
  const [px, py] = [cos * dx + sin * dy, cos * dy - sin * dx];
  // Radii that are too small are scaled up until the ellipse reaches.
  const reach = (px / rx) ** 2 + (py / ry) ** 2;
  if (reach > 1) [rx, ry] = [rx * Math.sqrt(reach), ry * Math.sqrt(reach)];
  const below = (rx * py) ** 2 + (ry * px) ** 2;
  const root = Math.sqrt(Math.max(0, (rx * ry) ** 2 / below - 1)) * (isLarge === isSweep ? -1 : 1);
  const [cx, cy] = [(root * rx * py) / ry, (-root * ry * px) / rx];
  const start = Math.atan2((py - cy) / ry, (px - cx) / rx);
  let turn = Math.atan2((-py - cy) / ry, (-px - cx) / rx) - start;
  if (isSweep && turn < 0) turn += 2 * Math.PI;
  if (!isSweep && turn > 0) turn -= 2 * Math.PI;
  const [middleX, middleY] = [(from[0] + x) / 2, (from[1] + y) / 2];
  const place = (u: number, v: number): Point => {
    const [a, b] = [rx * u + cx, ry * v + cy];
    return [cos * a - sin * b + middleX, sin * a + cos * b + middleY];
  };
  const count = Math.max(1, Math.ceil(((Math.abs(turn) / Math.PI) * 180) / MOST_DEGREES));
  const step = turn / count;
  const handle = (4 / 3) * Math.tan(step / 4);
  return Array.from({ length: count }, (_, i): Bezier => {
    const [a, b] = [start + i * step, start + (i + 1) * step];
    const first = i === 0 ? from : place(Math.cos(a), Math.sin(a));
    const last = i + 1 === count ? to : place(Math.cos(b), Math.sin(b));
    const out = place(Math.cos(a) - handle * Math.sin(a), Math.sin(a) + handle * Math.cos(a));
    const into = place(Math.cos(b) + handle * Math.sin(b), Math.sin(b) - handle * Math.cos(b));
    return [first, out, into, last];
  });
}

export const between = (a: Point, b: Point, t: number): Point => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
