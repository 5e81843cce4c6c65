import type { ReelDocument } from 'unspool';
import { storeText, storedJson } from '../link/stored.js';

/** The keys of a stick, and where to each points. */
export const SIDE_KEYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What a press plays: as the game would call it. */
export interface Binding {
  readonly key: string;
  readonly name: string;
  readonly what: 'clip' | 'chain';
}

/** Assigned keys, by the name of the clip or chain. */
export type ChosenKeys = Readonly<Record<string, string>>;

/** In the order in which they are assigned; all others have other functions in the try-out panel. */
const KEYS = [...'123456789qwertyuiopasdfghjklzxcvbnm'];

export const isTryOutKey = (key: string) => KEYS.includes(key);

/** A key for each clip and chain: the assigned one, or the first free one; none when all are taken. */
export function bindingsOf(doc: ReelDocument | undefined, chosen: ChosenKeys): readonly Binding[] {
  const all = [
    ...Object.keys(doc?.clips ?? {}).map((name) => ({ name, what: 'clip' as const })),
    ...Object.keys(doc?.chains ?? {}).map((name) => ({ name, what: 'chain' as const })),
  ];
  const taken = new Set(all.flatMap(({ name }) => chosen[name] ?? []));
  const free = KEYS.filter((key) => !taken.has(key));
  return all.flatMap((one) => {
    const key = chosen[one.name] ?? free.shift();
    return key === undefined ? [] : [{ ...one, key }];
  });
}

/** With another key for one of them; who had it gets the next that is free. */
export function withKey(chosen: ChosenKeys, name: string, key: string): ChosenKeys {
  const others = Object.entries(chosen).filter(([other, taken]) => other !== name && taken !== key);
  return { ...Object.fromEntries(others), [name]: key };
}

const keptAs = (reel: string) => `unspool-pad-${reel}`;

/** The assigned keys of each reel, stored in the browser: they are not part of the reel. */
export function storedKeys(reel: string): ChosenKeys {
  const entries = Object.entries(Object(storedJson(localStorage, keptAs(reel))) as Record<string, unknown>);
  return Object.fromEntries(
    entries.filter((entry): entry is [string, string] => typeof entry[1] === 'string' && isTryOutKey(entry[1])),
  );
}

export function storeKeys(reel: string, chosen: ChosenKeys): void {
  storeText(localStorage, keptAs(reel), JSON.stringify(chosen));
}
