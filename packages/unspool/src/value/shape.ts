import { isPair, KINDS, membersOf, SHAPES, type ShapeKind } from './kind.js';
import { isNumber } from './number.js';

/** A shape as in a reel, for example `{ center, size, angle }` for a box; omitted members are 0. */
export type ShapeValue = Readonly<Record<string, number | readonly [x: number, y: number]>>;

/** The tags of shapes that show a part of their role: what is inside (`reveal`), or what is outside (`hide`). */
export type Reveal = 'reveal' | 'hide';

/** Returns what a shape with a tag shows of its role; `undefined` for one that does not: it hits, or is hit. */
export function revealOf(tag: string | undefined): Reveal | undefined {
  return tag === 'reveal' || tag === 'hide' ? tag : undefined;
}

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
  return Object.keys(membersOf(kind));
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
  const members = membersOf(kind);
  for (const [name, given] of Object.entries(value)) {
    if (!Object.hasOwn(members, name)) return undefined;
    const { first, width } = shapePart(kind, name)!;
    const list: unknown[] = width === 1 ? [given] : Array.isArray(given) ? given : [];
    const least = members[name] === 'size' || members[name] === 'length' ? 0 : -Infinity;
    if (list.length !== width || !list.every((n) => isNumber(n) && n >= least)) return undefined;
    numbers.splice(first, width, ...(list as number[]));
  }
  return numbers;
}

/** A shape as reels write it, from its numbers; `null` while it is not active. */
export function writeShape(kind: ShapeKind, values: ArrayLike<number>, offset: number): ShapeValue | null {
  const shape: Record<string, number | readonly [number, number]> = {};
  for (const [name, member] of Object.entries(membersOf(kind))) {
    const number = values[offset++]!;
    shape[name] = isPair(member) ? [number, values[offset++]!] : number;
  }
  return values[offset] === 1 ? shape : null;
}

/** The kind that a value looks like: the one whose members it has. Several have a `radius`; the fewest members count. */
export function shapeLike(value: object): ShapeKind | undefined {
  const given = Object.keys(value);
  const fits = (Object.keys(SHAPES) as ShapeKind[]).filter((kind) => {
    const members = membersOf(kind);
    return given.length > 0 && given.every((name) => Object.hasOwn(members, name));
  });
  return fits.sort((a, b) => Object.keys(membersOf(a)).length - Object.keys(membersOf(b)).length)[0];
}
