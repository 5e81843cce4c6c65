import { performance } from 'node:perf_hooks';

export const sorted = (list) => [...list].sort((a, b) => a - b);
export const median = (list) => sorted(list)[list.length >> 1];

/** `--quick`: a third of the rounds. */
const share = process.argv.includes('--quick') ? 1 / 3 : 1;

/**
 * Times contenders in turns, in one run, so that whatever else the machine does meets all of them.
 *
 * @param contenders functions by name
 * @param units  how many units of work one call does: times come as nanoseconds for each
 * @returns by name the times of all rounds, the first few left out (those are the compiler's)
 */
export function interleave(contenders, units, { rounds = 25, warm = 6 } = {}) {
  const timings = Object.fromEntries(Object.keys(contenders).map((name) => [name, []]));
  const [kept, left] = [Math.ceil(rounds * share), Math.ceil(warm * share)];
  for (let round = 0; round < kept + left; round++) {
    for (const [name, work] of Object.entries(contenders)) {
      const start = performance.now();
      const own = work(); // one that runs elsewhere says itself how long it took, in nanoseconds for each unit
      const each = own ?? ((performance.now() - start) * 1e6) / units;
      if (round >= left) timings[name].push(each);
    }
  }
  return timings;
}

const digits = (n) => (n < 10 ? n.toFixed(2) : n < 100 ? n.toFixed(1) : n.toFixed(0));
export const spread = (list) => `${digits(median(list))} (${digits(sorted(list)[0])} – ${digits(sorted(list).at(-1))})`;

/** Ratios round by round: each contender's time by that of ours. */
export const ratios = (timings, name, ours = 'unspool') => timings[name].map((each, i) => each / timings[ours][i]);

/** A table of times and ratios, in Markdown. */
export function timesTable(timings, unit) {
  const rows = Object.entries(timings).map(([name, list]) => {
    const times = name === 'unspool' ? '1' : spread(ratios(timings, name));
    return `| ${name} | ${spread(list)} | ${times} |`;
  });
  return [`| | ${unit} | × unspool |`, '| --- | ---: | ---: |', ...rows].join('\n');
}
