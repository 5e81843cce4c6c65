/** The limit of values in a reel: so what lies between two of them is finite, and three times as much. */
export const FARTHEST = 1e100;

export function isNumber(value: unknown): value is number {
  return typeof value === 'number' && Math.abs(value) <= FARTHEST;
}

/** The least of numbers, however many: arguments of a call are limited. Infinity for none. */
export function least(numbers: readonly number[]): number {
  return numbers.reduce((a, b) => Math.min(a, b), Infinity);
}

/** The greatest of numbers, however many. -Infinity for none. */
export function most(numbers: readonly number[]): number {
  return numbers.reduce((a, b) => Math.max(a, b), -Infinity);
}
