import type { ReelNames } from '../../clip/names.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { randomNumbers } from './random.js';

/** One of several to pick from: a clip or chain, with its share of all picks (above 0; default 1). */
export type Choice<N extends ReelNames = ReelNames> =
  N['clip'] | N['chain'] | { readonly clip: N['clip'] | N['chain']; readonly share?: number };

/** What a player plays: a clip or chain, or a list of them, of which one is picked by its share. */
export type Playable<N extends ReelNames = ReelNames> = N['clip'] | N['chain'] | readonly Choice<N>[];

/** A choice in full. */
interface Share {
  readonly clip: string;
  readonly share: number;
}

/** The choices of a list in full; of a name that one. Throws for anything else. */
export function choicesOf(list: unknown): readonly Share[] {
  if (!Array.isArray(list)) return [{ clip: list as string, share: 1 }];
  const hint = 'use names of clips, or { clip, share } with a share above 0';
  if (list.length === 0) throw new UnspoolError('play/pick', 'the list to pick from is empty', hint);
  return list.map((one: unknown): Share => {
    const { clip, share = 1 } = (typeof one === 'object' && one !== null ? one : { clip: one }) as Partial<Share>;
    if (typeof clip === 'string' && typeof share === 'number' && share > 0 && share < Infinity) return { clip, share };
    throw new UnspoolError('play/pick', `${show(one)} is not a clip to pick`, hint);
  });
}

/**
 * Picks one of several by share, and not the last one again. Only what has more than half of all shares comes again, as
 * often as its share needs: of 5 and 1, five times on average before the other comes once.
 *
 * @param last the name of the one before
 */
export function pick<T extends Share>(list: readonly T[], last: string | undefined, seed: number): T {
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
