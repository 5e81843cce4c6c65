import { readColor } from './color.js';
import { isShape, KINDS, type Kind } from './kind.js';
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

/** Reads a JSON value of a kind into its numbers, or returns `undefined` when it does not fit. */
export function readValue(kind: Kind, value: unknown, texts: TextTable): number[] | undefined {
  switch (kind) {
    case 'number':
    case 'angle':
      return isNumber(value) ? [value] : undefined;
    case 'integer':
      return Number.isSafeInteger(value) ? [value as number] : undefined;
    case 'flag':
      return typeof value === 'boolean' ? [value ? 1 : 0] : undefined;
    case 'text':
      return typeof value === 'string' ? [texts.place(value)] : undefined;
    case 'color':
      return readColor(value);
    case 'quat':
      return readQuat(value);
    case 'box':
    case 'circle':
    case 'capsule': {
      const numbers = readShape(kind, value, Array<number>(KINDS[kind].channels.length - 1).fill(0));
      return numbers && [...numbers, 1];
    }
    case 'vec2':
    case 'vec3': {
      const width = KINDS[kind].channels.length;
      return Array.isArray(value) && value.length === width && value.every(isNumber) ? value.slice() : undefined;
    }
  }
}

/** The type of a value of each kind, as a game reads it. A shape is `null` while it is not active. */
export interface KindValues {
  readonly number: number;
  readonly angle: number;
  readonly integer: number;
  readonly flag: boolean;
  readonly text: string;
  readonly vec2: [x: number, y: number];
  readonly vec3: [x: number, y: number, z: number];
  readonly quat: [x: number, y: number, z: number, w: number];
  readonly color: [r: number, g: number, b: number, a: number];
  readonly box: {
    readonly center: readonly [x: number, y: number];
    readonly size: readonly [x: number, y: number];
    readonly angle: number;
  } | null;
  readonly circle: { readonly center: readonly [x: number, y: number]; readonly radius: number } | null;
  readonly capsule: {
    readonly from: readonly [x: number, y: number];
    readonly to: readonly [x: number, y: number];
    readonly radius: number;
  } | null;
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
