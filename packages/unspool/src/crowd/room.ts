type List = Float64Array | Float32Array | Int32Array | Uint16Array | Uint8Array;

/** Room for a number of entries: an eighth to spare, so that a growing crowd is seldom moved, and wastes little. */
export function roomFor(count: number): number {
  return Math.max(16, Math.ceil(count * 1.125));
}

export function resized<T extends List>(list: T, length: number): T {
  const larger = new (list.constructor as new (length: number) => T)(length);
  larger.set(list);
  return larger;
}
