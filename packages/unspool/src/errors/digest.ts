/**
 * A 32-bit digest of a value as JSON (FNV-1a, http://www.isthe.com/chongo/tech/comp/fnv/), to detect damaged data. It
 * does not depend on the order of members, which databases change. Values that JSON cannot hold, or writes as null,
 * contribute nothing; undefined members do not count.
 */
export function digest(value: unknown): number {
  let sum = 0x811c9dc5;
  for (const letter of textOf(value)) sum = Math.imul(sum ^ letter.codePointAt(0)!, 0x01000193);
  return sum;
}

function textOf(value: unknown): string {
  try {
    return JSON.stringify(value, inOrder) ?? '';
  } catch {
    return '';
  }
}

function inOrder(this: unknown, _: string, value: unknown): unknown {
  const isLost =
    typeof value === 'function' || typeof value === 'symbol' || (value === undefined && Array.isArray(this));
  if (isLost || (typeof value === 'number' && !Number.isFinite(value))) throw new TypeError('not JSON');
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)));
}
