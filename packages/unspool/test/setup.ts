import fc from 'fast-check';

/**
 * Random tests draw the same cases at every run of `npm test`, so that a red run is always about a change.
 * `npm run test:nightly` draws others each time, and at least `UNSPOOL_CASES` of each; a failure prints its seed.
 */
const cases = Number(process.env.UNSPOOL_CASES ?? 0);
fc.configureGlobal(cases > 0 ? { numRuns: cases } : { seed: 20_260_914 });
