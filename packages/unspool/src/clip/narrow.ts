/** Whole numbers, 0 or more, in as narrow a list as holds them. */
export type Narrow = Uint16Array | Uint32Array;

export function narrow(numbers: readonly number[]): Narrow {
  return numbers.every((n) => n < 65_536) ? Uint16Array.from(numbers) : Uint32Array.from(numbers);
}
