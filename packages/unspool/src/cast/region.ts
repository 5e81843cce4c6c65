import { OWN, RIG_SHAPES } from '../shape/rig-shapes.js';
import { edgeOf, type Rounded, type Vec } from '../shape/rounded.js';
import type { Reveal } from '../value/shape.js';
import type { RevealSlot } from './cast.js';

/** A convex polygon: its corners in order, turning from +x toward +y. */
export type Piece = readonly Vec[];

/** What is shown of a role, in its coordinates. */
export interface Region {
  /** Shown is what is inside any of these pieces; `undefined` for everything. */
  readonly shown: readonly Piece[] | undefined;
  /** And of that nothing that is inside any of these. */
  readonly hidden: readonly Piece[];
}

/** Farther than anything that is drawn, and near enough for renderers that count in 16 bits before the point. */
export const FAR = 1e4;
export const EVERYTHING: Piece = [
  [-FAR, -FAR],
  [FAR, -FAR],
  [FAR, FAR],
  [-FAR, FAR],
];

/** A shape in the coordinates of a role, and what it shows of it. */
export interface Revealing {
  readonly shows: Reveal;
  readonly shape: Rounded;
}

/**
 * Returns what the active shapes of a role show: what is inside of any `reveal` (everything, where none is active),
 * without what is inside of any `hide`. For adapters.
 *
 * @param all `binding.reveals`
 * @returns `undefined` while no shape is active: everything is shown
 */
export function regionOf(values: Float64Array, all: readonly RevealSlot[]): Region | undefined {
  const active = all.filter((slot) => isActive(values, slot));
  return regionBy(
    active.map(({ shows, kind, offset }) => ({ shows, shape: RIG_SHAPES[kind].rounded(values, offset, OWN) })),
  );
}

/** Like `regionOf`, for shapes of which all are active. */
export function regionBy(all: readonly Revealing[]): Region | undefined {
  if (all.length === 0) return undefined;
  const of = (what: Reveal) => all.filter(({ shows }) => shows === what);
  const pieces = (shapes: readonly Revealing[]) => shapes.flatMap(({ shape }) => piecesOf(shape));
  const reveals = of('reveal');
  return { shown: reveals.length > 0 ? pieces(reveals) : undefined, hidden: pieces(of('hide')) };
}

/** Returns the same as pieces that are shown, for renderers that cannot cut holes. */
export function piecesAlone({ shown = [EVERYTHING], hidden }: Region): readonly Piece[] {
  return hidden.reduce((region, hole) => region.flatMap((piece) => without(piece, hole)), shown);
}

export const isActive = (values: Float64Array, { offset, width }: RevealSlot) => values[offset + width - 1] === 1;

/** The shape as convex pieces: two where a sector is wider than half a circle. */
function piecesOf({ more, ...first }: Rounded): Piece[] {
  const all: Rounded[] = more ? [first, more] : [first];
  return all.map((part) => inSense(withoutTwins(edgeOf(part)))).filter((piece) => areaOf(piece) > 0);
}

/** What of a convex piece is outside of a convex hole, cut along the edges of the hole. */
function without(piece: Piece, hole: Piece): Piece[] {
  const outside: Piece[] = [];
  let rest = piece;
  for (let i = 0; i < hole.length; i++) {
    const [from, to] = [hole[i]!, hole[(i + 1) % hole.length]!];
    const out = half(rest, to, from);
    if (areaOf(out) > 0) outside.push(out);
    rest = half(rest, from, to);
    // Beside the hole: nothing of it is cut off.
    if (!(areaOf(rest) > 0)) return [piece];
  }
  return outside;
}

/** The half of a convex piece on the side of a line toward which +x turns to +y (Sutherland and Hodgman, 1974). */
function half(piece: Piece, [ax, ay]: Vec, [bx, by]: Vec): Piece {
  const sideOf = ([x, y]: Vec) => (bx - ax) * (y - ay) - (by - ay) * (x - ax);
  const out: Vec[] = [];
  for (let i = 0; i < piece.length; i++) {
    const [one, next] = [piece[i]!, piece[(i + 1) % piece.length]!];
    const [side, other] = [sideOf(one), sideOf(next)];
    if (side >= 0) out.push(one);
    if (side >= 0 === other >= 0) continue;
    const share = side / (side - other);
    out.push([one[0] + share * (next[0] - one[0]), one[1] + share * (next[1] - one[1])]);
  }
  return out;
}

/** Twice the area; 0 for fewer than three corners. */
function areaOf(piece: Piece): number {
  let sum = 0;
  piece.forEach(([x, y], i) => {
    const [nextX, nextY] = piece[(i + 1) % piece.length]!;
    sum += x * nextY - nextX * y;
  });
  return sum;
}

/** Without corners that follow each other in one place: an edge without a length has no side. */
const withoutTwins = (piece: Piece) =>
  piece.filter(([x, y], i) => {
    const [nextX, nextY] = piece[(i + 1) % piece.length]!;
    return Math.abs(nextX - x) > NEAR || Math.abs(nextY - y) > NEAR;
  });
const NEAR = 1e-9;

const inSense = (piece: Piece): Piece => (areaOf(piece) < 0 ? [...piece].reverse() : piece);

/** Remembers the numbers of an object's reveals, so that only a change is worked out again. */
export class LastReveals {
  #numbers: number[] | undefined;

  /** They count as new the next time. */
  forget(): void {
    this.#numbers = undefined;
  }

  /** Whether they differ from the last time. */
  isNew(values: Float64Array, reveals: readonly RevealSlot[]): boolean {
    const last = (this.#numbers ??= []);
    let count = 0;
    let isNew = false;
    for (let i = 0; i < reveals.length; i++) {
      const { offset, width } = reveals[i]!;
      for (let k = 0; k < width; k++) {
        const number = values[offset + k]!;
        if (last[count] !== number) {
          last[count] = number;
          isNew = true;
        }
        count++;
      }
    }
    return isNew;
  }
}
