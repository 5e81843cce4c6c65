import { cosine, sine } from '../easing/sine.js';
import { isPair, membersOf, type ShapeKind } from '../value/kind.js';
import type { ShapeValue } from '../value/shape.js';
import { lengthOf, sectorAround, type Rounded, type Vec } from './rounded.js';
import type { HitShape } from './shapes.js';

/** What hits know of a shape of a role, by kind: where its numbers are, and what shape they make in the world. */
export interface RigShape {
  /** Offsets of the points among its numbers: its core moves with them. */
  readonly points: readonly number[];
  /** Offset of the radius around the core. */
  readonly radius?: number;
  /** Of a core that extends beyond its points: how far at most, and how far what extends moves by itself. */
  readonly extent?: {
    readonly reach: (bounds: Bounds, at: number) => number;
    readonly way: (bounds: Bounds, at: number) => number;
  };
  /** Whether it keeps its form under uneven scales, which then move its edge up to three times as far as its points. */
  readonly isStiff?: true;
  /** Of a core that has corners alone: writes them, in the coordinates of its role, and returns how many. */
  readonly write?: Write;
  /**
   * Returns the shape in the world.
   *
   * @param at offset of its numbers
   */
  readonly rounded: (values: Float64Array, at: number, world: World) => Rounded;
  /** Returns it as a shape of the public interface. */
  readonly shape: (rounded: Rounded) => HitShape;
}

/** Bounds of the numbers of a rig, and what they are at the time that bounds are counted from. */
export interface Bounds {
  readonly values: Float64Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
}

/** How far a number goes at most, and what it may be at most. */
export const off = ({ values, low, high }: Bounds, k: number) => Math.max(high[k]! - values[k]!, values[k]! - low[k]!);
export const most = ({ low, high }: Bounds, k: number) => Math.max(Math.abs(low[k]!), Math.abs(high[k]!));

/** The same of two numbers that are a vector. */
export const offs = (of: Bounds, k: number) => lengthOf(off(of, k), off(of, k + 1));
export const mosts = (of: Bounds, k: number) => lengthOf(most(of, k), most(of, k + 1));

/** The transform of a role. */
export interface World {
  /** Where it puts a point. */
  readonly put: (x: number, y: number) => Vec;
  /** By how much it lengthens at most. */
  readonly stretch: () => number;
  /** Where it turns a unit vector: under uneven scales, as the rotation or mirror that is nearest to it. */
  readonly turn: (x: number, y: number) => Vec;
}

/** A shape in the coordinates of its role. */
export const OWN: World = { put: (x, y) => [x, y], stretch: () => 1, turn: (x, y) => [x, y] };

const RADIANS = Math.PI / 180;

/** How far a unit vector moves at most when it is rotated by an angle. */
export const turn = (degrees: number) => Math.min(2, degrees * RADIANS);

/** Overshoot makes no length negative. */
export const lengthAt = (values: Float64Array, k: number) => Math.max(0, values[k]!);

type Write = (values: Float64Array, at: number, out: Float64Array) => number;

/** Up to four corners. */
const CORNERS = new Float64Array(8);

/** A shape whose core has corners alone. */
function byCorners(write: Write, radius?: number): Pick<RigShape, 'write' | 'rounded'> {
  return {
    write,
    rounded: (values, at, { put, stretch }) => ({
      corners: Array.from({ length: write(values, at, CORNERS) }, (_, i) => put(CORNERS[2 * i]!, CORNERS[2 * i + 1]!)),
      radius: radius === undefined ? 0 : lengthAt(values, at + radius) * stretch(),
    }),
  };
}

/** Corners that are the first numbers. */
const firstCorners =
  (count: number): Write =>
  (values, at, out) => {
    for (let k = 0; k < 2 * count; k++) out[k] = values[at + k]!;
    return count;
  };

const boxCorners: Write = (values, at, out) => {
  const x = values[at]!;
  const y = values[at + 1]!;
  const w = lengthAt(values, at + 2) / 2;
  const h = lengthAt(values, at + 3) / 2;
  const angle = (values[at + 4]! % 360) * RADIANS;
  const cos = cosine(angle);
  const sin = sine(angle);
  for (let i = 0; i < 4; i++) {
    const u = i === 0 || i === 3 ? w : -w;
    const v = i < 2 ? h : -h;
    out[2 * i] = x + u * cos - v * sin;
    out[2 * i + 1] = y + u * sin + v * cos;
  }
  return 4;
};

/** A polygon with so many corners: the convex hull of its points. */
function polygon(count: number): RigShape {
  const points = Array.from({ length: count }, (_, i) => 2 * i);
  return {
    points,
    rounded: (values, at, { put }) => ({
      corners: hullOf(points.map((k) => put(values[at + k]!, values[at + k + 1]!))),
      radius: 0,
    }),
    // Corners that are on one line, or in one place, make no polygon.
    shape: ({ corners }) => {
      if (corners.length > 2) return { kind: 'polygon', corners };
      return { kind: 'capsule', from: corners[0]!, to: corners[1] ?? corners[0]!, radius: 0 };
    },
  };
}

/**
 * The convex hull of some points, in order, without those inside or on an edge (Andrew's monotone chain, "Another
 * efficient algorithm for convex hulls in two dimensions", 1979).
 */
function hullOf(points: readonly Vec[]): readonly Vec[] {
  const sorted = [...points].sort(([ax, ay], [bx, by]) => ax - bx || ay - by);
  const half = (list: readonly Vec[]) => {
    const chain: Vec[] = [];
    for (const point of list) {
      while (chain.length > 1 && isRight(chain.at(-2)!, chain.at(-1)!, point)) chain.pop();
      chain.push(point);
    }
    return chain.slice(0, -1);
  };
  const hull = [...half(sorted), ...half([...sorted].reverse())];
  const isPoint = hull.every(([x, y]) => x === hull[0]![0] && y === hull[0]![1]);
  return isPoint ? sorted.slice(0, 1) : hull;
}

/** Whether a path from a over b to c turns right, or not at all. */
const isRight = ([ax, ay]: Vec, [bx, by]: Vec, [cx, cy]: Vec) => (bx - ax) * (cy - ay) - (by - ay) * (cx - ax) <= 0;

export const RIG_SHAPES: { readonly [K in ShapeKind]: RigShape } = {
  circle: {
    points: [0],
    radius: 2,
    ...byCorners(firstCorners(1), 2),
    shape: ({ corners: [center], radius }) => ({ kind: 'circle', center: center!, radius }),
  },
  capsule: {
    points: [0, 2],
    radius: 4,
    ...byCorners(firstCorners(2), 4),
    shape: ({ corners: [from, to], radius }) => ({ kind: 'capsule', from: from!, to: to!, radius }),
  },
  box: {
    points: [0],
    extent: {
      reach: (of, at) => mosts(of, at + 2) / 2,
      way: (of, at) => offs(of, at + 2) / 2 + (turn(off(of, at + 4)) * mosts(of, at + 2)) / 2,
    },
    ...byCorners(boxCorners),
    // A box that is rotated under uneven scales is a parallelogram.
    shape: ({ corners }) => {
      const [p, q, r] = corners as [Vec, Vec, Vec];
      const across: Vec = [p[0] - q[0], p[1] - q[1]];
      const down: Vec = [q[0] - r[0], q[1] - r[1]];
      const size: Vec = [lengthOf(...across), lengthOf(...down)];
      const slant = across[0] * down[0] + across[1] * down[1];
      if (Math.abs(slant) > 1e-9 * size[0] * size[1]) return { kind: 'polygon', corners };
      // One without a width has its angle from its height.
      const [x, y] = size[0] > 0 ? across : [down[1], -down[0]];
      const angle = Math.atan2(y, x) / RADIANS;
      return { kind: 'box', center: [(p[0] + r[0]) / 2, (p[1] + r[1]) / 2], size, angle };
    },
  },
  sector: {
    points: [0],
    isStiff: true,
    extent: {
      reach: (of, at) => most(of, at + 2),
      way: (of, at) => off(of, at + 2) + turn(Math.max(off(of, at + 3), off(of, at + 4))) * most(of, at + 2),
    },
    rounded: (values, at, { put, stretch, turn }) => {
      const radius = lengthAt(values, at + 2) * stretch();
      return sectorAround(put(values[at]!, values[at + 1]!), radius, values[at + 3]!, values[at + 4]!, turn);
    },
    // A whole circle, or one without a width or a radius, is no sector.
    shape: ({ corners: [center, start], radius, arc, more }) => {
      if (!start) return { kind: 'circle', center: center!, radius };
      if (!arc) return { kind: 'capsule', from: center!, to: start, radius };
      const [x, y] = [start[0] - center![0], start[1] - center![1]];
      const sense = x * arc.toward[1] - y * arc.toward[0] < 0 ? -1 : 1;
      const halves = Math.acos(Math.min(1, arc.cos)) + (more?.arc ? Math.acos(Math.min(1, more.arc.cos)) : 0);
      const from = Math.atan2(y, x) / RADIANS;
      return { kind: 'sector', center: center!, radius: arc.radius, from, to: from + (sense * 2 * halves) / RADIANS };
    },
  },
  polygon3: polygon(3),
  polygon4: polygon(4),
  polygon5: polygon(5),
  polygon6: polygon(6),
  polygon7: polygon(7),
  polygon8: polygon(8),
};

/**
 * Returns a value of a shape, as a pose or a key has it, as a shape in the coordinates of its role. Omitted members
 * and negative lengths count as 0.
 */
export function shapeOfValue(kind: ShapeKind, value: ShapeValue): HitShape {
  const numbers = Object.entries(membersOf(kind)).flatMap(([name, member]) => {
    const given = value[name] ?? 0;
    return typeof given === 'number' ? (isPair(member) ? [given, given] : [given]) : given;
  });
  const values = Float64Array.from(numbers);
  const { rounded, shape } = RIG_SHAPES[kind];
  return shape(rounded(values, 0, OWN));
}
