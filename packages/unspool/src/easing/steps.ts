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
    default:
      return { first: 0, jumps: n };
  }
}

/**
 * `steps()` by CSS Easing Functions Level 2 (https://www.w3.org/TR/css-easing-2/#step-easing-algo).
 *
 * @param before CSS's "before flag": true while a delay runs, when a jump at the very start has not happened yet
 * @returns one of the steps, 0–1 for x in 0–1; outside the staircase goes on. Allocates nothing.
 */
export function steps(n: number, first: number, jumps: number, x: number, before: boolean): number {
  let step = Math.floor(x * n) + first;
  if (before && Number.isInteger(x * n)) step--;
  if (x >= 0 && step < 0) step = 0;
  if (x <= 1 && step > jumps) step = jumps;
  return step / jumps;
}
