/**
 * Bytes that `run` allocates for each of its `units`: the least of many rounds. Whatever else the process allocates
 * meanwhile (the compiler, other tests) is in some rounds only; what each call allocates is in all of them. The young
 * generation is large enough in these tests (vitest.config.ts) that nothing is swept while it is measured.
 *
 * @param enough rounds end as soon as one has less
 */
export function bytesEach(run: () => void, units: number, enough: number): number {
  let least = Infinity;
  for (let round = 0; round < 40 && least >= enough; round++) {
    gc!();
    const before = process.memoryUsage().heapUsed;
    run();
    least = Math.min(least, (process.memoryUsage().heapUsed - before) / units);
  }
  return least;
}
