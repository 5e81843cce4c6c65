import type { KindValues, ShapeKind } from 'unspool';
import type { Point } from './outline.js';

/** A point to drag: its label, its place in the coordinates of the role, and the members that a place gives. */
type PointHandle = readonly [label: string, at: Point, drag: (to: Point) => object];

const DEGREES = 180 / Math.PI;
const round = (n: number, digits = 2) => Number(n.toFixed(digits));
const distance = (a: Point, b: Point) => round(Math.hypot(a[0] - b[0], a[1] - b[1]));

/**
 * A drag that turns about a point: from one position of the pointer to the next the shorter way, through any number of
 * turns.
 */
function turning(center: Point, angle: number, members: (turned: number) => object): PointHandle[2] {
  let turned = angle;
  return ([x, y]) => {
    const next = Math.atan2(y - center[1], x - center[0]) * DEGREES;
    turned = next + 360 * Math.round((turned - next) / 360);
    return members(round(turned, 1));
  };
}

/** One for each corner; `corner2` is labeled "corner 2". */
const corners = (value: Readonly<Record<string, Point>>): readonly PointHandle[] =>
  Object.entries(value).map(([name, at]) => [name.replace(/(\d)/, ' $1'), at, (end) => ({ [name]: end })]);

/** The handles of each kind of shape. */
export const SHAPE_HANDLES: {
  readonly [K in ShapeKind]: (value: NonNullable<KindValues[K]>) => readonly PointHandle[];
} = {
  circle: ({ center, radius }) => [
    ['center', center, (end) => ({ center: end })],
    ['radius', [center[0] + radius, center[1]], (end) => ({ radius: distance(end, center) })],
  ],
  capsule: ({ from, to, radius }) => {
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    const long = Math.hypot(dx, dy) || 1;
    return [
      ['start', from, (end) => ({ from: end })],
      ['end', to, (end) => ({ to: end })],
      [
        'radius',
        [from[0] - (dy / long) * radius, from[1] + (dx / long) * radius],
        (end) => ({ radius: distance(end, from) }),
      ],
    ];
  },
  box: ({ center, size, angle }) => {
    const [cos, sin] = [Math.cos(angle / DEGREES), Math.sin(angle / DEGREES)];
    const off = (x: number, y: number): Point => [center[0] + x * cos - y * sin, center[1] + x * sin + y * cos];
    return [
      ['center', center, (end) => ({ center: end })],
      [
        'size',
        off(size[0] / 2, size[1] / 2),
        ([x, y]) => {
          const [dx, dy] = [x - center[0], y - center[1]];
          return { size: [round(2 * Math.abs(dx * cos + dy * sin)), round(2 * Math.abs(dy * cos - dx * sin))] };
        },
      ],
      ['rotation', off(size[0] / 2 + 8, 0), turning(center, angle, (turned) => ({ angle: turned }))],
    ];
  },
  sector: ({ center, radius, from, to }) => {
    const at = (angle: number): Point => [
      center[0] + radius * Math.cos(angle / DEGREES),
      center[1] + radius * Math.sin(angle / DEGREES),
    ];
    return [
      ['center', center, (end) => ({ center: end })],
      ['radius', at((from + to) / 2), (end) => ({ radius: distance(end, center) })],
      ['from', at(from), turning(center, from, (turned) => ({ from: turned }))],
      ['to', at(to), turning(center, to, (turned) => ({ to: turned }))],
    ];
  },
  polygon3: corners,
  polygon4: corners,
  polygon5: corners,
  polygon6: corners,
  polygon7: corners,
  polygon8: corners,
};
