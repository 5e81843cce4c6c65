import type { Path } from './problems.js';

/** A place in a text, counted from 1. Columns count UTF-16 code units, as editors do. */
export interface Place {
  readonly line: number;
  readonly column: number;
}

/** A member that an object of the text has twice. */
export interface Duplicate {
  readonly path: Path;
  readonly name: string;
  readonly place: Place;
}

/** A path as a JSON Pointer (RFC 6901). */
export function pointerOf(path: Path): string {
  return path.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');
}

/** The place of an offset in a text. */
export function placeIn(text: string, offset: number): Place {
  const before = text.slice(0, offset).split('\n');
  return { line: before.length, column: before.at(-1)!.length + 1 };
}

const STRING = /"(?:[^"\\]|\\.)*"/y;
const SCALAR = /[^\s,\]}]+/y;
const SPACE = /[\s:,]*/y;

/**
 * Where everything stands in a JSON text. JSON has no comments and `JSON.parse` has already taken the text, so that
 * this only has to find the names and values again, and the members that the parser silently dropped.
 */
export class Outline {
  readonly duplicates: Duplicate[] = [];
  /** Deepest nesting of objects and lists. */
  depth = 0;
  /** Where that nesting is reached first. */
  deepest = 0;
  readonly #values = new Map<string, number>();
  readonly #names = new Map<string, number>();
  readonly #lines: number[] = [0];

  /** @param deepest nesting at which the walk stops: the text is refused then, and nobody asks for places in it */
  constructor(
    text: string,
    private readonly limit = 64,
  ) {
    for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) this.#lines.push(at + 1);
    this.#scan(text);
  }

  /** Where the value (or the member's name) at a path stands; of a path that is not there, its nearest owner. */
  place(path: Path, of: 'name' | 'value' = 'value'): Place {
    for (let length = path.length; ; length--) {
      const pointer = pointerOf(path.slice(0, length));
      const offset = (of === 'name' ? this.#names.get(pointer) : undefined) ?? this.#values.get(pointer);
      if (offset !== undefined || length === 0) return this.placeOf(offset ?? 0);
    }
  }

  placeOf(offset: number): Place {
    let low = 0;
    let high = this.#lines.length;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (this.#lines[middle]! <= offset) low = middle;
      else high = middle;
    }
    return { line: low + 1, column: offset - this.#lines[low]! + 1 };
  }

  /** A walk over the tokens with a stack of its own, so that deep nesting cannot overflow the call stack. */
  #scan(text: string): void {
    interface Level {
      readonly names: Set<string> | undefined;
      readonly pointer: string;
      readonly path: Path;
      index: number;
    }
    const stack: Level[] = [];
    let pointer = '';
    let path: Path = [];
    let at = skip(SPACE, text, 0);
    while (at < text.length && this.depth <= this.limit) {
      const level = stack.at(-1);
      const sign = text[at]!;
      if (sign === '}' || sign === ']') {
        stack.pop();
        at = skip(SPACE, text, at + 1);
        continue;
      }
      if (level) {
        let step: string | number = level.index++;
        if (level.names) {
          const end = skip(STRING, text, at);
          step = JSON.parse(text.slice(at, end)) as string;
          if (level.names.has(step)) {
            this.duplicates.push({ path: [...level.path, step], name: step, place: this.placeOf(at) });
          }
          level.names.add(step);
        }
        pointer = level.pointer + pointerOf([step]);
        path = [...level.path, step];
        if (level.names) {
          this.#names.set(pointer, at);
          at = skip(SPACE, text, skip(STRING, text, at));
        }
      }
      this.#values.set(pointer, at);
      const opening = text[at]!;
      if (opening === '{' || opening === '[') {
        stack.push({ names: opening === '{' ? new Set() : undefined, pointer, path, index: 0 });
        if (stack.length > this.depth) [this.depth, this.deepest] = [stack.length, at];
        at++;
      } else {
        at = skip(opening === '"' ? STRING : SCALAR, text, at);
      }
      at = skip(SPACE, text, at);
    }
  }
}

/** The offset behind what a sticky pattern matches at `at`. */
function skip(pattern: RegExp, text: string, at: number): number {
  pattern.lastIndex = at;
  return pattern.test(text) ? pattern.lastIndex : Math.max(at, pattern.lastIndex) + (pattern === SPACE ? 0 : 1);
}
