import { readColor } from './color.js';
import { KINDS, type PlayableKind } from './kind.js';
import { readQuat } from './quat.js';

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
export function readValue(kind: PlayableKind, value: unknown, texts: TextTable): number[] | undefined {
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
    case 'vec2':
    case 'vec3': {
      const width = KINDS[kind].channels.length;
      return Array.isArray(value) && value.length === width && value.every(isNumber) ? value.slice() : undefined;
    }
  }
}

function isNumber(value: unknown): value is number {
  return typeof value === 'number' && Number.isFinite(value);
}

/** A value as a game reads it. Vectors, quaternions and colours are arrays of their channels. */
export type Value = number | boolean | string | number[];

/** Reads a value of a pose back from its numbers. Numbers, flags and texts allocate nothing. */
export function writeValue(
  kind: PlayableKind,
  values: ArrayLike<number>,
  offset: number,
  texts: readonly string[],
): Value {
  switch (kind) {
    case 'flag':
      return values[offset] !== 0;
    case 'text':
      return texts[values[offset]!] ?? '';
    case 'color':
    case 'quat':
    case 'vec2':
    case 'vec3':
      return Array.from({ length: KINDS[kind].channels.length }, (_, k) => values[offset + k]!);
    default:
      return values[offset]!;
  }
}
