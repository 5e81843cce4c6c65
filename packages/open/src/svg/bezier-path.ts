import { cubicAt } from 'unspool/edit';

/** A point in the plane. */
export type Point = readonly [x: number, y: number];
/** A cubic Bézier curve by its four points. */
export type Bezier = readonly [Point, Point, Point, Point];

export function pointAt([a, b, c, d]: Bezier, t: number): Point {
  return [cubicAt(a[0], b[0], c[0], d[0], t), cubicAt(a[1], b[1], c[1], d[1], t)];
}

function velocityAt([a, b, c, d]: Bezier, t: number): Point {
  const u = 1 - t;
  const of = (k: 0 | 1) => 3 * (u * u * (b[k] - a[k]) + 2 * u * t * (c[k] - b[k]) + t * t * (d[k] - c[k]));
  return [of(0), of(1)];
}

/** The direction of travel in degrees, from +x toward +y; where a curve stands still, that a little further on. */
export function directionAt(curve: Bezier, t: number): number {
  for (const nudge of [0, 1e-6, -1e-6, 1e-3, -1e-3]) {
    const [x, y] = velocityAt(curve, Math.min(1, Math.max(0, t + nudge)));
    if (Math.hypot(x, y) > 1e-9) return (Math.atan2(y, x) * 180) / Math.PI;
  }
  return (Math.atan2(curve[3][1] - curve[0][1], curve[3][0] - curve[0][0]) * 180) / Math.PI;
}

/** Abscissas and weights of Gauss and Legendre with five places, on −1 to 1 (DLMF 3.5). */
const GAUSS: readonly Point[] = [
  [0, 128 / 225],
  ...[5 - 2 * Math.sqrt(10 / 7), 5 + 2 * Math.sqrt(10 / 7)].flatMap((inside, k): Point[] => {
    const place = Math.sqrt(inside) / 3;
    const weight = (322 + (k === 0 ? 13 : -13) * Math.sqrt(70)) / 900;
    return [
      [place, weight],
      [-place, weight],
    ];
  }),
];

/** Units per parameter at a place. */
function speedAt([a, b, c, d]: Bezier, t: number): number {
  const u = 1 - t;
  const [first, second, third] = [u * u, 2 * u * t, t * t];
  const x = first * (b[0] - a[0]) + second * (c[0] - b[0]) + third * (d[0] - c[0]);
  const y = first * (b[1] - a[1]) + second * (c[1] - b[1]) + third * (d[1] - c[1]);
  return 3 * Math.sqrt(x * x + y * y);
}

function lengthBetween(curve: Bezier, from: number, to: number): number {
  const middle = (from + to) / 2;
  const half = (to - from) / 2;
  let sum = 0;
  for (let i = 0; i < GAUSS.length; i++) sum += GAUSS[i]![1] * speedAt(curve, middle + half * GAUSS[i]![0]);
  return sum * half;
}

const PARTS = 64;

/** Lengths along a curve: how long it is, and the parameter at a length. */
export class ArcLength {
  readonly #sums: readonly number[];

  constructor(private readonly curve: Bezier) {
    const sums = [0];
    for (let i = 0; i < PARTS; i++) sums.push(sums[i]! + lengthBetween(curve, i / PARTS, (i + 1) / PARTS));
    this.#sums = sums;
  }

  get total(): number {
    return this.#sums[PARTS]!;
  }

  /**
   * The parameter, 0–1, at a length along the curve: Newton's steps in the part where it lies, and halves where one
   * would leave what is left of that part.
   */
  parameterAt(length: number): number {
    if (length <= 0) return 0;
    if (length >= this.total) return 1;
    let part = this.#sums.findIndex((sum) => sum > length) - 1;
    if (part < 0) part = PARTS - 1;
    const rest = length - this.#sums[part]!;
    const from = part / PARTS;
    let [low, high] = [from, (part + 1) / PARTS];
    let at = low + ((high - low) * rest) / (this.#sums[part + 1]! - this.#sums[part]!);
    for (let i = 0; i < 64 && high - low > 1e-16; i++) {
      const off = lengthBetween(this.curve, from, at) - rest;
      if (off < 0) low = at;
      else high = at;
      const next = at - off / speedAt(this.curve, at);
      const isInside = next > low && next < high;
      if (isInside && Math.abs(next - at) < 1e-15) return next;
      at = isInside ? next : (low + high) / 2;
    }
    return at;
  }
}
