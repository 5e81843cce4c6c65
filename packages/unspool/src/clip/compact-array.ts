/** Whole numbers, 0 or more, in as narrow a list as holds them. */
export type CompactArray = Uint16Array | Uint32Array;

export function compactArray(numbers: readonly number[]): CompactArray {
  return numbers.every((n) => n < 65_536) ? new Uint16Array(numbers) : new Uint32Array(numbers);
}
