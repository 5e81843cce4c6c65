import { readColor } from './color.js';
import { isShape, widthOf, type Kind, type ShapeKind, type SHAPES } from './kind.js';
import { isNumber } from './number.js';
import { readQuat } from './quat.js';
import { readShape, writeShape, type ShapeValue } from './shape.js';

/** Texts that a pose refers to by number: the place of each in the list. */
export class TextTable {
  readonly texts: string[] = [];
  readonly #places = new Map<string, number>();

  place(text: string): number {
    let place = this.#places.get(text);
    if (place === undefined) {
      place = this.texts.push(text) - 1;
      this.#places.set(text, place);
    }
    return place;
  }
}

type Reader = (value: unknown, texts: TextTable, kind: Kind) => number[] | undefined;

const readNumber: Reader = (value) => (isNumber(value) ? [value] : undefined);
const readVector: Reader = (value, _, kind) =>
  Array.isArray(value) && value.length === widthOf(kind) && value.every(isNumber) ? value.slice() : undefined;
const readActiveShape: Reader = (value, _, kind) => {
  const numbers = readShape(kind as ShapeKind, value, Array<number>(widthOf(kind) - 1).fill(0));
  return numbers && [...numbers, 1];
};

const READERS: { readonly [K in Exclude<Kind, ShapeKind>]: Reader } = {
  number: readNumber,
  angle: readNumber,
  integer: (value) => (Number.isSafeInteger(value) ? [value as number] : undefined),
  flag: (value) => (typeof value === 'boolean' ? [value ? 1 : 0] : undefined),
  text: (value, texts) => (typeof value === 'string' ? [texts.place(value)] : undefined),
  color: readColor,
  quat: readQuat,
  vec2: readVector,
  vec3: readVector,
};

/** Reads a JSON value of a kind into its numbers, or returns `undefined` when it does not fit. */
export function readValue(kind: Kind, value: unknown, texts: TextTable): number[] | undefined {
  return (isShape(kind) ? readActiveShape : READERS[kind])(value, texts, kind);
}

/** The values of shapes, by kind, as a game reads them; `null` while a shape is not active. */
export type ShapeValues = {
  readonly [K in ShapeKind]: { readonly [M in keyof (typeof SHAPES)[K]]: MemberValue<(typeof SHAPES)[K][M]> } | null;
};
type MemberValue<M> = M extends 'point' | 'size' ? readonly [x: number, y: number] : number;

/** The type of a value of each kind, as a game reads it. */
export interface KindValues extends ShapeValues {
  readonly number: number;
  readonly angle: number;
  readonly integer: number;
  readonly flag: boolean;
  readonly text: string;
  readonly vec2: [x: number, y: number];
  readonly vec3: [x: number, y: number, z: number];
  readonly quat: [x: number, y: number, z: number, w: number];
  readonly color: [r: number, g: number, b: number, a: number];
}

/**
 * A value as a game reads it. Vectors, quaternions and colors are arrays of their channels; a shape is as reels write
 * it, and `null` while it is not active.
 */
export type Value = number | boolean | string | number[] | ShapeValue | null;

/** Reads a value of a pose back from its numbers. Numbers, flags and texts allocate nothing. */
export function writeValue(
  kind: Kind,
  width: number,
  values: Float64Array,
  offset: number,
  texts: readonly string[],
): Value {
  const value = values[offset]!;
  if (kind === 'flag') return value !== 0;
  if (kind === 'text') return texts[value] ?? '';
  if (isShape(kind)) return writeShape(kind, values, offset);
  return width === 1 ? value : [...values.subarray(offset, offset + width)];
}
