import type { Value } from 'unspool';

/** The numbers of a value, in the order of its channels. */
export function numbersOf(value: Value): readonly number[] {
  if (typeof value === 'number') return [value];
  if (Array.isArray(value)) return value;
  if (typeof value !== 'object' || value === null) return [];
  return Object.values(value).flatMap((one: unknown) =>
    Array.isArray(one) ? (one as number[]) : typeof one === 'number' ? [one] : [],
  );
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

/** The data of a cue as it is typed: any JSON, or nothing. */
export function readData(text: string): { readonly ok: boolean; readonly data?: unknown } {
  if (text.trim() === '') return { ok: true };
  try {
    return { ok: true, data: JSON.parse(text) as unknown };
  } catch {
    return { ok: false };
  }
}
