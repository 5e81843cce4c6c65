const NUMBER = new Float64Array(1);
const BITS = new Int32Array(NUMBER.buffer);

/** Deeper than this nothing is looked at: no state or packed reel is, and what goes in circles ends. */
const DEEPEST = 32;

/**
 * A 32-bit digest of plain JSON, by which what was damaged since it was written is told. It does not depend on the order
 * of members, which databases change. (The mixing is that of MurmurHash3, which is public domain.)
 */
export function digest(value: unknown, depth = 0): number {
  let sum = 0;
  if (typeof value === 'number') {
    NUMBER[0] = value + 0; // JSON has no −0
    sum = BITS[0]! ^ Math.imul(BITS[1]!, 0x9e3779b1);
  } else if (typeof value !== 'object' || value === null) {
    const text = `${typeof value} ${String(value)}`;
    sum = 0x811c9dc5;
    for (let i = 0; i < text.length; i++) sum = Math.imul(sum ^ text.charCodeAt(i), 0x01000193);
  } else if (depth < DEEPEST) {
    const isList = Array.isArray(value);
    for (const [name, member] of Object.entries(value)) {
      sum = (sum + Math.imul(digest(name), digest(member, depth + 1) | 1)) | 0;
    }
    sum += isList ? value.length : 7;
  }
  sum = Math.imul(sum ^ (sum >>> 16), 0x85ebca6b);
  return sum ^ (sum >>> 13);
}

/** An object without members that are undefined, which JSON drops. */
export function defined<T extends object>(object: T): T {
  return Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as T;
}
