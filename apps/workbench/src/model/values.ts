import { eulerOf, KINDS, quatOf, type Kind, type Value } from 'unspool';

/** The numbers of a value, in the order of its channels. */
export function numbersOf(value: Value): readonly number[] {
  if (typeof value === 'number') return [value];
  if (Array.isArray(value)) return value;
  if (typeof value !== 'object' || value === null) return [];
  return Object.values(value).flatMap((one: unknown) =>
    Array.isArray(one) ? (one as number[]) : typeof one === 'number' ? [one] : [],
  );
}

/** Numbers of a value that belong together, and what they are called. */
export interface Part {
  /** Of a shape's or a turn's members; empty where the value is nothing else. */
  readonly caption: string;
  readonly names: readonly string[];
  /** Which number of the value is its first. */
  readonly first: number;
}

/** How the numbers of a value are shown: each member of a shape by itself, of which a key may leave some out. */
export function partsOfValue(value: Value, kind: Kind): readonly Part[] {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    // One number may stand for all channels.
    const names: readonly string[] = Array.isArray(value) ? KINDS[kind].channels.slice(0, value.length) : [''];
    return [{ caption: '', names, first: 0 }];
  }
  let first = 0;
  return Object.entries(value).flatMap(([caption, one]: [string, unknown]): Part[] => {
    const names = Array.isArray(one) ? one.map((_, i) => 'xyz'[i]!) : typeof one === 'number' ? [''] : [];
    first += names.length;
    return names.length > 0 ? [{ caption, names, first: first - names.length }] : [];
  });
}

/** Decimals of a quaternion that are kept: a rotation of a millionth of a degree. */
const DECIMALS = 9;

/** A value as it is typed, and as it is stored: a quaternion is typed as three rotations in degrees. */
export function typedOf(value: Value, kind: Kind): readonly [typed: Value, keep: (typed: Value) => Value] {
  if (kind !== 'quat' || !Array.isArray(value)) return [value, (typed) => typed];
  // No −0.
  const keep = (turns: Value) => quatOf(numbersOf(turns)).map((n) => Number(n.toFixed(DECIMALS)) + 0);
  return [eulerOf(value), keep];
}

/** The value with another number in place of one of its own. */
export function withNumber(value: Value, index: number, next: number): Value {
  if (typeof value === 'number') return next;
  if (Array.isArray(value)) return value.with(index, next);
  let at = 0;
  const entries = Object.entries(value as object).map(([name, one]: [string, unknown]) => {
    if (Array.isArray(one)) {
      const numbers = one.map((n: number) => (at++ === index ? next : n));
      return [name, numbers] as const;
    }
    return [name, typeof one === 'number' && at++ === index ? next : one] as const;
  });
  return Object.fromEntries(entries) as Value;
}

/** Data of a cue, or a value, as it is typed: any JSON, or nothing. */
export function readData(text: string): { readonly ok: boolean; readonly data?: unknown } {
  if (text.trim() === '') return { ok: true };
  try {
    return { ok: true, data: JSON.parse(text) as unknown };
  } catch {
    return { ok: false };
  }
}
