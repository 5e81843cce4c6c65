import { pointerOf } from '../reel/diagnostics/text-locations.js';
import type { DocumentPath } from '../reel/diagnostics/diagnostic-messages.js';
import { formatValue } from './format-values.js';
import { isSame } from './patch.js';

/** One difference between two reels. */
export interface Difference {
  /** The clip, or `undefined` for the whole reel. */
  readonly clip?: string;
  /** `role.property` of a track. */
  readonly track?: string;
  /** JSON Pointer in the second reel, or in the first for what was removed. */
  readonly path: string;
  /** The change in words: `3 keys from 12f on moved by +2f`. */
  readonly summary: string;
}

export type Members = Readonly<Record<string, unknown>>;

/** Members that were added, removed or changed. */
export function compareMaps(
  what: string,
  a: Members,
  b: Members,
  path: DocumentPath = [],
  skip: readonly string[] = [],
): Difference[] {
  const one = what.replace(/s$/, '');
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((name): Difference[] => {
    const [was, is] = [a[name], b[name]];
    if (isSame(was, is) || skip.includes(name)) return [];
    const here = pointerOf([...path, what, name]);
    if (was === undefined) return [{ path: here, summary: `new ${one} ${name}` }];
    if (is === undefined) return [{ path: here, summary: `removed ${one} ${name}` }];
    const members = membersOf(was, is);
    return [{ path: here, summary: `${one} ${name}: ${members ?? `${formatValue(was)} → ${formatValue(is)}`}` }];
  });
}

/** `rest.position: [0, 0] → [1, 0]; sheet: none → "crab"` */
export function membersOf(was: unknown, is: unknown): string | undefined {
  const isPlain = (value: unknown): value is Members =>
    typeof value === 'object' && value !== null && !Array.isArray(value);
  if (!isPlain(was) || !isPlain(is)) return undefined;
  const names = [...new Set([...Object.keys(was), ...Object.keys(is)])].filter((name) => !isSame(was[name], is[name]));
  return names
    .map((name) => {
      const inner = membersOf(was[name], is[name]);
      return inner === undefined ? `${name}: ${shown(was[name])} → ${shown(is[name])}` : `${name}.${inner}`;
    })
    .join('; ');
}

export const shown = (value: unknown): string =>
  value === undefined ? 'none' : typeof value === 'string' ? value : formatValue(value);
