import { compileEasing } from '../../easing/compile.js';
import { formatEasing, type FreeEasing } from '../../easing/easing.js';
import { ease } from '../../easing/evaluate.js';
import { FAMILY_EASINGS, familyBreaks, isFamilyCubic } from '../../easing/families.js';
import { jumpsOf } from '../../easing/steps.js';
import type { Bend } from '../../reel/resolve/segments.js';

/** A cubic in time and value: the inner control points, all as shares of the whole segment. */
export interface Cubic {
  readonly from: readonly [x: number, y: number];
  readonly out: readonly [x: number, y: number];
  readonly in: readonly [x: number, y: number];
  readonly to: readonly [x: number, y: number];
}

/** What an easing is made of, as far as that can be said exactly. */
export type Pieces =
  | { readonly kind: 'cubics'; readonly cubics: readonly Cubic[] }
  /** Lines and jumps: x, y of each corner, ascending. */
  | { readonly kind: 'lines'; readonly corners: readonly (readonly [x: number, y: number])[] };

/** An easing as a function, evaluated as a compiled clip does. */
export function easingFunction(easing: FreeEasing): (x: number) => number {
  const table: number[] = [];
  const code = compileEasing(easing, table);
  const cell = new Float64Array(1);
  return (x) => {
    cell[0] = x;
    ease(code, table, 0, false, cell);
    return cell[0];
  };
}

/** Returns the lines or cubics that an easing consists of, from 0 to 1; `undefined` for one that is neither. */
export function piecesOf(easing: FreeEasing): Pieces | undefined {
  switch (easing.kind) {
    case 'linear':
      return { kind: 'lines', corners: [[0, 0], [1, 1]] }; // prettier-ignore
    case 'bezier': {
      const [x1, y1, x2, y2] = easing.points;
      return { kind: 'cubics', cubics: [{ from: [0, 0], out: [x1, y1], in: [x2, y2], to: [1, 1] }] };
    }
    case 'steps': {
      const { first, jumps } = jumpsOf(easing.n, easing.jump);
      const level = (k: number) => Math.min(k + first, jumps) / jumps;
      const corners = Array.from({ length: easing.n }, (_, k) => [
        [k / easing.n, level(k)] as const,
        [(k + 1) / easing.n, level(k)] as const,
      ]).flat();
      return { kind: 'lines', corners };
    }
    case 'stops': {
      const { stops } = easing;
      const corners = stops.flatMap((x, i) => (i % 2 === 0 ? [[x / 100, stops[i + 1]!] as const] : []));
      return { kind: 'lines', corners };
    }
    case 'family': {
      const index = FAMILY_EASINGS.indexOf(easing.name);
      if (!isFamilyCubic(index)) return undefined;
      const breaks = familyBreaks(index);
      const y = easingFunction(easing);
      return { kind: 'cubics', cubics: breaks.slice(1).map((end, i) => cubicThrough(y, breaks[i]!, end)) };
    }
    case 'hold':
    case 'spring':
      return undefined;
    default:
      return easing satisfies never;
  }
}

/** The cubic that meets a function at four places, evenly apart: of a polynomial, that polynomial. */
export function cubicThrough(y: (x: number) => number, start: number, end: number): Cubic {
  const at = (k: number) => start + ((end - start) * k) / 3;
  // At the ends of a piece the function is that of the piece: evaluated slightly inside.
  const [y0, y1, y2, y3] = [y(at(0)), y(at(1)), y(at(2)), y(end)];
  const out = (-5 * y0 + 18 * y1 - 9 * y2 + 2 * y3) / 6;
  const into = (2 * y0 - 9 * y1 + 18 * y2 - 5 * y3) / 6;
  return { from: [start, y0], out: [at(1), out], in: [at(2), into], to: [end, y3] };
}

/** A cubic Bezier curve at its parameter, by the four numbers of one coordinate. */
export function cubicAt(p0: number, p1: number, p2: number, p3: number, t: number): number {
  const u = 1 - t;
  return u * u * u * p0 + 3 * u * u * t * p1 + 3 * u * t * t * p2 + t * t * t * p3;
}

/** A cubic cut in two at x, which lies inside it (de Casteljau). */
export function cutCubic({ from, out, in: into, to }: Cubic, x: number): readonly [Cubic, Cubic] {
  const t = parameterAt(from[0], out[0], into[0], to[0], x);
  const between = (a: Cubic['from'], b: Cubic['from']): Cubic['from'] => [
    a[0] + (b[0] - a[0]) * t,
    a[1] + (b[1] - a[1]) * t,
  ];
  const [a, b, c] = [between(from, out), between(out, into), between(into, to)];
  const [d, e] = [between(a, b), between(b, c)];
  const cut: Cubic['from'] = [x, between(d, e)[1]];
  return [
    { from, out: a, in: d, to: cut },
    { from: cut, out: e, in: c, to },
  ];
}

/** The t at which a non-decreasing cubic reaches x, by bisection: needed once, and to the last bit. */
export function parameterAt(x0: number, x1: number, x2: number, x3: number, x: number): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < 100 && high - low > 0; i++) {
    const t = (low + high) / 2;
    if (t === low || t === high) break;
    if (cubicAt(x0, x1, x2, x3, t) < x) low = t;
    else high = t;
  }
  return (low + high) / 2;
}

/** The bend of one channel, as a cubic from 0 to its change. */
export function cubicOf([x1, dv1, x2, dv2]: Bend, way: number): Cubic {
  return { from: [0, 0], out: [x1, dv1], in: [x2, way + dv2], to: [1, way] };
}

/** A piece of an easing as an easing of its own, from 0 to 1. Nothing where it comes back to where it began. */
export function cubicText({ from, out, in: into, to }: Cubic): string | undefined {
  const [wide, high] = [to[0] - from[0], to[1] - from[1]];
  if (Math.abs(high) < 0.02) return undefined;
  const x = (point: Cubic['from']) => Math.min(1, Math.max(0, (point[0] - from[0]) / wide));
  const y = (point: Cubic['from']) => (point[1] - from[1]) / high;
  // Fifteen digits are all that a double has for certain, and the last ones here are rounding.
  const points = [x(out), y(out), x(into), y(into)].map((n) => Number(n.toPrecision(15)) + 0);
  return formatEasing({ kind: 'bezier', points: points as [number, number, number, number] });
}

type Corner = readonly [x: number, y: number];

/**
 * Lines and jumps between two x as an easing; `undefined` when they move between two equal values.
 *
 * @param y      the easing itself
 * @param values the progress at the value of the first key, and at that of the second
 */
export function linesText(
  corners: readonly Corner[],
  y: (x: number) => number,
  [x0, x1]: readonly [number, number],
  [v0, v1]: readonly [number, number],
): string | undefined {
  // What a jump at the very end comes from: the jump itself is the next key's.
  const last = corners.find(([x]) => x === x1)?.[1] ?? y(x1);
  const all: Corner[] = [[x0, y(x0)], ...corners.filter(([x]) => x > x0 && x < x1), [x1, last]];
  if (Math.abs(v1 - v0) < 1e-12) return all.every((one) => Math.abs(one[1] - v0) < 1e-12) ? 'linear' : undefined;
  const shares = all.map((one): Corner => [(one[0] - x0) / (x1 - x0), (one[1] - v0) / (v1 - v0)]);
  if (shares.every(([x, share]) => Math.abs(x - share) < 1e-15)) return 'linear';
  return formatEasing({ kind: 'stops', stops: shares.flatMap(([x, share]) => [100 * x, share]) });
}
