import { KINDS, SHAPES, type ShapeKind } from './kind.js';
import { isNumber } from './number.js';

/** A shape as in a reel, for example `{ center, size, angle }` for a box; omitted members are 0. */
export type ShapeValue = Readonly<Record<string, number | readonly [x: number, y: number]>>;

/** The numbers that a property of a shape takes among its channels: `center` two, `center.x` one. */
export interface ShapePart {
  readonly first: number;
  readonly width: number;
}

/** The channels of a shape's property. `undefined` for an unknown property. */
export function shapePart(kind: ShapeKind, name: string): ShapePart | undefined {
  const channels: readonly string[] = KINDS[kind].channels;
  const first = channels.findIndex((channel) => channel === name || channel.startsWith(`${name}.`));
  if (first < 0 || name === '') return undefined;
  return { first, width: channels.filter((channel) => channel === name || channel.startsWith(`${name}.`)).length };
}

/** The properties that a value of a kind may have, without `active`. */
export function shapeProperties(kind: ShapeKind): string[] {
  return [...new Set(SHAPES[kind].split(' ').map((channel) => channel.replace(/\.[xy]$/, '')))];
}

/**
 * Reads a value of a shape over the previous one. Returns `undefined` for an invalid value, unknown members and
 * negative lengths.
 *
 * @param before the numbers of all channels but `active`
 */
export function readShape(kind: ShapeKind, value: unknown, before: readonly number[]): number[] | undefined {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return undefined;
  const numbers = before.slice();
  for (const [name, member] of Object.entries(value)) {
    if (!shapeProperties(kind).includes(name)) return undefined;
    const { first, width } = shapePart(kind, name)!;
    const given: unknown[] = width === 1 ? [member] : Array.isArray(member) ? member : [];
    const least = name === 'size' || name === 'radius' ? 0 : -Infinity;
    if (given.length !== width || !given.every((n) => isNumber(n) && n >= least)) return undefined;
    numbers.splice(first, width, ...(given as number[]));
  }
  return numbers;
}

/** A shape as reels write it, from its numbers; `null` while it is not active. */
export function writeShape(kind: ShapeKind, values: ArrayLike<number>, offset: number): ShapeValue | null {
  const shape: Record<string, number | readonly [number, number]> = {};
  for (const channel of SHAPES[kind].split(' ')) {
    const [name, axis] = channel.split('.') as [string, string?];
    const number = values[offset++]!;
    if (!axis) shape[name] = number;
    else if (axis === 'x') shape[name] = [number, values[offset]!];
  }
  return values[offset] === 1 ? shape : null;
}

/** The kind that a value looks like, by the members it has. */
export function shapeLike(value: object): ShapeKind | undefined {
  if ('size' in value) return 'box';
  if ('from' in value && 'to' in value) return 'capsule';
  return 'radius' in value ? 'circle' : undefined;
}
