import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ReelDocument } from 'unspool';
import { bindingsOf, isTryOutKey, storeKeys, storedKeys, withKey, type ChosenKeys } from './try-out-keys.js';

const docOf = (clips: number, chains = 0) =>
  ({
    unspool: 1,
    clips: Object.fromEntries(Array.from({ length: clips }, (_, i) => [`clip-${i}`, {}])),
    chains: Object.fromEntries(Array.from({ length: chains }, (_, i) => [`chain-${i}`, ['clip-0']])),
  }) as unknown as ReelDocument;

const KEYS = [...'123456789qwertyuiopasdfghjklzxcvbnm'];

describe('the keys of the try-out panel', () => {
  it('are given out in order, to clips and then to chains, as long as there are some', () => {
    expect(bindingsOf(docOf(2, 1), {})).toEqual([
      { name: 'clip-0', what: 'clip', key: '1' },
      { name: 'clip-1', what: 'clip', key: '2' },
      { name: 'chain-0', what: 'chain', key: '3' },
    ]);
    expect(bindingsOf(docOf(40), {})).toHaveLength(KEYS.length);
    expect(bindingsOf(undefined, {})).toEqual([]);
  });

  it('are unique, whatever was assigned in sequence', () => {
    const choice = fc.tuple(fc.integer({ min: 0, max: 11 }), fc.constantFrom(...KEYS));
    fc.assert(
      fc.property(fc.array(choice, { maxLength: 20 }), (choices) => {
        const chosen = choices.reduce<ChosenKeys>((was, [i, key]) => withKey(was, `clip-${i}`, key), {});
        const bindings = bindingsOf(docOf(12), chosen);
        expect(new Set(bindings.map(({ key }) => key)).size).toBe(12);
        const last = choices.at(-1);
        if (last) expect(bindings).toContainEqual({ name: `clip-${last[0]}`, what: 'clip', key: last[1] });
      }),
    );
  });

  it('of a removed clip are free again', () => {
    expect(bindingsOf(docOf(1), { 'clip-9': '1' })).toEqual([{ name: 'clip-0', what: 'clip', key: '1' }]);
  });

  it('are letters and digits but 0, which stops', () => {
    for (const key of KEYS) expect(isTryOutKey(key)).toBe(true);
    for (const key of ['0', '+', '-', '?', 'K', '', '12']) expect(isTryOutKey(key), key).toBe(false);
  });

  describe('that are kept', () => {
    const store = new Map<string, string>();
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => store.get(key) ?? null,
      setItem: (key: string, value: string) => void store.set(key, value),
    });
    afterEach(() => store.clear());

    it('are restored for the reel that they were assigned for', () => {
      storeKeys('crab', { snap: 'k' });
      expect(storedKeys('crab')).toEqual({ snap: 'k' });
      expect(storedKeys('gate')).toEqual({});
    });

    it.each(['{', 'null', '7', '[]', '{"snap":"??","sway":7}'])('as %j are ignored', (text) => {
      store.set('unspool-pad-crab', text);
      expect(Object.values(storedKeys('crab')).filter((key) => !isTryOutKey(key))).toEqual([]);
    });
  });
});
