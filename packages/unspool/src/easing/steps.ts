/** Where `steps()` jumps, as in CSS: before or after each step, at both ends, or at neither. */
export type JumpTerm = 'jump-start' | 'jump-end' | 'jump-none' | 'jump-both' | 'start' | 'end';

export const JUMP_TERMS: readonly JumpTerm[] = ['jump-start', 'jump-end', 'jump-none', 'jump-both', 'start', 'end'];

/** Steps counted before the first interval, and jumps in all, for `n` intervals. */
export function jumpsOf(n: number, jump: JumpTerm): { first: number; jumps: number } {
  switch (jump) {
    case 'jump-start':
    case 'start':
      return { first: 1, jumps: n };
    case 'jump-both':
      return { first: 1, jumps: n + 1 };
    case 'jump-none':
      return { first: 0, jumps: n - 1 };
    case 'jump-end':
    case 'end':
      return { first: 0, jumps: n };
  }
}

/**
 * `steps()` by CSS Easing Functions Level 2 (https://www.w3.org/TR/css-easing-2/#step-easing-algo).
 *
 * @param table  n, first, jumps from `offset` on
 * @param before the "before flag" of CSS: true during a delay, when a jump at the very start has not happened yet
 * @param cell   x; receives one of the steps, 0–1 for x in 0–1; the staircase continues outside. Allocates nothing
 */
export function steps(table: ArrayLike<number>, offset: number, before: boolean, cell: Float64Array): void {
  const x = cell[0]!;
  const jumps = table[offset + 2]!;
  const at = x * table[offset]!;
  let step = Math.floor(at) + table[offset + 1]!;
  if (before && Math.floor(at) === at) step--;
  if (x >= 0 && step < 0) step = 0;
  if (x <= 1 && step > jumps) step = jumps;
  cell[0] = step / jumps;
}
