/** How many cases a random test draws: a few in `npm test`, many in `npm run test:nightly`. */
export function runs(count: number): { readonly numRuns: number } {
  const many = typeof process === 'undefined' ? 0 : Number(process.env.UNSPOOL_CASES ?? 0);
  return { numRuns: Math.max(count, many) };
}
