const setting = (name: string) => (typeof process === 'undefined' ? undefined : process.env[name]);

/** Whether tests of large amounts are left out. */
export const isFast = setting('UNSPOOL_FAST') !== undefined;

/**
 * How many cases a random test draws: a few in `npm test`, many in `npm run test:nightly` (`UNSPOOL_CASES`), a tenth in
 * `npm run test:fast` (`UNSPOOL_FAST`).
 */
export function runs(count: number): { readonly numRuns: number } {
  const many = Number(setting('UNSPOOL_CASES') ?? 0);
  return { numRuns: Math.max(isFast ? Math.ceil(count / 10) : count, many) };
}

/** How often something must have happened over all cases of a test: with few cases, once is not asked for. */
export const enough = (count: number): number => (isFast ? -1 : count);
