/** No number of a reel's values goes further: so what lies between two of them is finite too, and thrice as much. */
export const FARTHEST = 1e100;

export function isNumber(value: unknown): value is number {
  return typeof value === 'number' && Math.abs(value) <= FARTHEST;
}
