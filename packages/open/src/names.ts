import type { Notes, RenamedItem } from './report.js';

const LONGEST = 64;

/** Names that a reel may not have, because JavaScript objects have them. */
const FORBIDDEN = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * Gives names of other formats a valid and unique form: letters, digits, `-` and `_`, 1 to 64 of them. What cannot stay
 * becomes `-`; a number makes equal names different.
 */
export class Names {
  readonly #taken = new Set<string>();

  constructor(
    private readonly what: RenamedItem['what'],
    private readonly notes: Notes,
  ) {}

  /** @param otherwise the name of what has none */
  of(given: string | undefined, otherwise: string): string {
    const wanted = validName(given ?? '', otherwise);
    let name = wanted;
    for (let n = 2; this.#taken.has(name); n++) name = `${wanted.slice(0, LONGEST - 8)}-${n}`;
    this.#taken.add(name);
    if (given !== undefined && given !== name) this.notes.renamed(this.what, given, name);
    return name;
  }
}

/** A valid name that is like another. */
export function validName(given: string, otherwise: string): string {
  if (/^[A-Za-z0-9_-]{1,64}$/.test(given) && !FORBIDDEN.has(given)) return given;
  const name = given
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9_-]+/g, '-')
    .slice(0, LONGEST)
    .replace(/^-+|-+$/g, '');
  return name === '' || FORBIDDEN.has(name) ? otherwise : name;
}
