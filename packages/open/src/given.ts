import { LIMITS, suggest, type Reel } from 'unspool';
import { refuse } from './errors.js';

/** What calls are given: checked where a call begins, so that what is wrong is said in its words. */

type Type = 'number' | 'string' | 'boolean' | 'function' | 'numbers' | 'strings';

/** All options of reading, with their types: a call takes those of other formats too, and leaves them. */
const READ: Readonly<Record<string, Type>> = {
  by: 'string',
  clip: 'string',
  duration: 'number',
  exact: 'boolean',
  extras: 'boolean',
  flat: 'boolean',
  fps: 'number',
  path: 'string',
  reduce: 'number',
  resource: 'function',
  role: 'string',
  scale: 'number',
  tolerance: 'number',
  turn: 'boolean',
  up: 'string',
};

const WRITE: Readonly<Record<string, Type>> = {
  clip: 'string',
  clips: 'strings',
  format: 'string',
  fps: 'number',
  properties: 'strings',
  role: 'string',
  scale: 'number',
  times: 'numbers',
  tolerance: 'number',
  up: 'string',
};

const NAMED: Readonly<Record<Type, string>> = {
  number: 'a number',
  string: 'a string',
  boolean: 'true or false',
  function: 'a function',
  numbers: 'a list of numbers',
  strings: 'a list of strings',
};

/** A value as a message quotes it; of objects only what they are. */
export function quoted(value: unknown): string {
  if (Array.isArray(value)) return 'a list';
  if (value === null) return 'null';
  if (typeof value === 'string') return JSON.stringify(value.length > 60 ? `${value.slice(0, 59)}…` : value);
  if (typeof value === 'object') return 'an object';
  return typeof value === 'function' || typeof value === 'symbol' ? `a ${typeof value}` : `${value as number}`;
}

function isOf(value: unknown, type: Type): boolean {
  if (type === 'numbers' || type === 'strings')
    return Array.isArray(value) && value.every((one) => typeof one === type.slice(0, -1));
  return typeof value === type;
}

function checkOptions(options: unknown, known: Readonly<Record<string, Type>>): void {
  if (typeof options !== 'object' || options === null || Array.isArray(options))
    refuse('option', `the options are ${quoted(options)}, not an object`, 'pass an object such as {}');
  for (const [name, value] of Object.entries(options)) {
    if (!Object.hasOwn(known, name))
      refuse('option', `unknown option ${quoted(name)}`, suggest(name, Object.keys(known)));
    const type = known[name]!;
    if (value !== undefined && !isOf(value, type))
      refuse('option', `${name} is ${quoted(value)}`, `use ${NAMED[type]}`);
  }
}

/** Refuses options of reading that nothing knows, and those of another type. Ranges are checked where they are used. */
export const checkReading = (options: unknown): void => checkOptions(options, READ);

/** Refuses anything but a reel, and options of writing like `checkReading`. */
export function checkWriting(reel: unknown, options: unknown): void {
  const { clips, clip } = (reel ?? {}) as Partial<Reel>;
  if (typeof clips !== 'object' || typeof clip !== 'function')
    refuse('reel', `expected a reel, found ${quoted(reel)}`, 'parse the document first: parseReel(document)');
  checkOptions(options, WRITE);
}

/** Refuses what is no text, and a text that is longer than a reel may be. */
export function checkText(text: unknown, what: string): void {
  if (typeof text !== 'string') refuse('text', `the ${what} is ${quoted(text)}, not a string`, 'pass its text');
  if (text.length > LIMITS.bytes)
    refuse('size', `the ${what} has ${text.length} characters, the limit is ${LIMITS.bytes}`, 'use a part of it');
}

/** Refuses what are no bytes. */
export function checkBytes(bytes: unknown): void {
  if (!(bytes instanceof Uint8Array))
    refuse('bytes', `the file is ${quoted(bytes)}, not a Uint8Array`, 'pass the bytes that were read of it');
}
