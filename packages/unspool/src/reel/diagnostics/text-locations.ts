import type { DocumentPath } from './diagnostic-messages.js';

/** A place in a text, counted from 1. Columns count UTF-16 code units, as editors do. */
export interface TextLocation {
  readonly line: number;
  readonly column: number;
}

/** A member that an object of the text has twice. */
export interface Duplicate {
  /** A JSON Pointer. */
  readonly pointer: string;
  readonly name: string;
  readonly place: TextLocation;
}

/** A path as a JSON Pointer (RFC 6901). */
export function pointerOf(path: DocumentPath): string {
  return path.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');
}

/** The place of an offset in a text. */
export function locationIn(text: string, offset: number): TextLocation {
  const before = text.slice(0, offset).split('\n');
  return { line: before.length, column: before.at(-1)!.length + 1 };
}

const STRING = /"(?:[^"\\]|\\.)*"/y;
const SCALAR = /[^\s,\]}]+/y;
const SPACE = /[\s:,]*/y;

/** Signs of JSON. */
const [QUOTE, COLON, OPEN, CLOSE, BEGIN, END, BACKSLASH] = [34, 58, 91, 93, 123, 125, 92];

/** An object or list that the walk is in. */
interface Level {
  /** Of an object, the names that it has so far. */
  readonly names: Set<string> | undefined;
  /** The member or item that the walk is at. */
  step: string | number;
}

/**
 * The places of all values in a JSON text. JSON has no comments, and `JSON.parse` has accepted the text, so this only
 * has to find names and values again, and the members that the parser silently dropped.
 *
 * Most texts are valid and need no places: they are computed on first use.
 */
export class TextLocations {
  readonly duplicates: Duplicate[] = [];
  /** Deepest nesting of objects and lists. */
  depth = 0;
  /** Where that nesting is reached first. */
  deepest = 0;
  #values: Map<string, number> | undefined;
  readonly #names = new Map<string, number>();
  #lines: number[] | undefined;

  /** @param limit nesting depth at which the walk stops: such a text is refused, and needs no places */
  constructor(
    private readonly text: string,
    private readonly limit = 64,
  ) {
    this.#walk();
  }

  /**
   * Returns the place of the value (or of the member's name) at a path; for a missing path, that of the nearest owner.
   */
  place(path: DocumentPath, of: 'name' | 'value' = 'value'): TextLocation {
    const values = (this.#values ??= this.#index());
    for (let length = path.length; ; length--) {
      const pointer = pointerOf(path.slice(0, length));
      const offset = (of === 'name' ? this.#names.get(pointer) : undefined) ?? values.get(pointer);
      if (offset !== undefined || length === 0) return this.locationOf(offset ?? 0);
    }
  }

  locationOf(offset: number): TextLocation {
    const lines = (this.#lines ??= linesOf(this.text));
    let low = 0;
    let high = lines.length;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (lines[middle]! <= offset) low = middle;
      else high = middle;
    }
    return { line: low + 1, column: offset - lines[low]! + 1 };
  }

  /** A walk over the signs with a stack of its own, so that deep nesting cannot overflow the call stack. */
  #walk(): void {
    const { text, limit } = this;
    const stack: Level[] = [];
    for (let at = 0; at < text.length; at++) {
      const sign = text.charCodeAt(at);
      if (sign === QUOTE) {
        const end = endOfString(text, at);
        const level = stack.at(-1);
        if (level?.names && isName(text, end)) this.#meet(level.names, level, text.slice(at + 1, end - 1), at, stack);
        at = end - 1;
      } else if (sign === BEGIN || sign === OPEN) {
        stack.push({ names: sign === BEGIN ? new Set() : undefined, step: 0 });
        if (stack.length > this.depth) [this.depth, this.deepest] = [stack.length, at];
        if (this.depth > limit) return;
      } else if (sign === END || sign === CLOSE) stack.pop();
      else if (sign === 44) {
        const level = stack.at(-1);
        if (level && typeof level.step === 'number') level.step++;
      }
    }
  }

  /** A member's name, which its object may have already. */
  #meet(names: Set<string>, level: Level, quoted: string, at: number, stack: readonly Level[]): void {
    const name = quoted.includes('\\') ? (JSON.parse(`"${quoted}"`) as string) : quoted;
    level.step = name;
    if (names.has(name)) {
      this.duplicates.push({ pointer: pointerOf(stack.map(({ step }) => step)), name, place: this.locationOf(at) });
    }
    names.add(name);
  }

  /** Offsets of values by their pointers, and of their names. */
  #index(): Map<string, number> {
    const { text } = this;
    const values = new Map<string, number>();
    const stack: { readonly isObject: boolean; readonly pointer: string; index: number }[] = [];
    let pointer = '';
    let at = skip(SPACE, text, 0);
    while (at < text.length) {
      const level = stack.at(-1);
      const sign = text[at]!;
      if (sign === '}' || sign === ']') {
        stack.pop();
        at = skip(SPACE, text, at + 1);
        continue;
      }
      if (level) {
        let step: string | number = level.index++;
        if (level.isObject) {
          const end = skip(STRING, text, at);
          step = JSON.parse(text.slice(at, end)) as string;
          pointer = level.pointer + pointerOf([step]);
          this.#names.set(pointer, at);
          at = skip(SPACE, text, end);
        } else pointer = `${level.pointer}/${step}`;
      }
      values.set(pointer, at);
      const opening = text[at]!;
      if (opening === '{' || opening === '[') {
        stack.push({ isObject: opening === '{', pointer, index: 0 });
        at++;
      } else {
        at = skip(opening === '"' ? STRING : SCALAR, text, at);
      }
      at = skip(SPACE, text, at);
    }
    return values;
  }
}

function linesOf(text: string): number[] {
  const lines = [0];
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) lines.push(at + 1);
  return lines;
}

/** The offset behind the string that begins at a quote. */
function endOfString(text: string, start: number): number {
  for (let at = start + 1; at < text.length; at++) {
    const sign = text.charCodeAt(at);
    if (sign === QUOTE) return at + 1;
    if (sign === BACKSLASH) at++;
  }
  return text.length;
}

/** Whether a string that ends here is the name of a member. */
function isName(text: string, end: number): boolean {
  let at = end;
  while (at < text.length && text.charCodeAt(at) <= 32) at++;
  return text.charCodeAt(at) === COLON;
}

/** The offset behind what a sticky pattern matches at `at`. */
function skip(pattern: RegExp, text: string, at: number): number {
  pattern.lastIndex = at;
  return pattern.test(text) ? pattern.lastIndex : Math.max(at, pattern.lastIndex) + (pattern === SPACE ? 0 : 1);
}
