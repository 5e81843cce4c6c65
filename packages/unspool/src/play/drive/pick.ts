import { randomNumbers } from '../time/random.js';

/**
 * Picks one of several by share, and not the last one again. Only what has more than half of all shares comes again, as
 * often as its share needs: of 5 and 1, five times on average before the other comes once.
 *
 * @param last the name of the one before
 */
export function pick<T extends { readonly clip: string; readonly share: number }>(
  list: readonly T[],
  last: string | undefined,
  seed: number,
): T {
  const random = randomNumbers(seed);
  const before = list.find(({ clip }) => clip === last);
  const others = list.filter((one) => one !== before);
  const rest = others.reduce((sum, { share }) => sum + share, 0);
  if (before && (others.length === 0 || random() * before.share >= rest)) return before;
  let left = random() * rest;
  for (const one of others) {
    left -= one.share;
    if (left < 0) return one;
  }
  return others.at(-1)!;
}
