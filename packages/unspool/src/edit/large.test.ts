import { expect, it } from 'vitest';
import { isFast } from '../../test/runs.js';
import type { ReelDocument } from '../index.js';
import { advise, capture, compareReels, copyKeys, edit, mergeReels, type Operation } from './index.js';

/** A reel with more keys in a track than a call may have arguments; and a smaller one, to see how times grow. */
const reel = (count: number) =>
  ({
    unspool: 1,
    clips: {
      one: {
        duration: `${count * 2}f`,
        tracks: { 'crab.rotation': Array.from({ length: count }, (_, k) => ({ at: `${k * 2}f`, value: k % 7 })) },
      },
    },
  }) as unknown as ReelDocument;
const [small, large] = [reel(20_000), reel(160_000)];

const OPERATIONS: readonly Operation[] = [
  { do: 'move-keys', clip: 'one', tracks: ['*'], by: '1f' },
  { do: 'scale-times', clip: 'one', tracks: ['*'], factor: 1.5 },
  { do: 'fit', clip: 'one', duration: '100s' },
  { do: 'snap', clip: 'one', tracks: ['*'], grid: '3f' },
  { do: 'trim', clip: 'one', from: '11f', until: '30000f' },
  { do: 'reverse', clip: 'one' },
  { do: 'insert-key', clip: 'one', track: 'crab.rotation', at: '1f' },
  { do: 'put-key', clip: 'one', track: 'crab.rotation', at: '1f', value: 4 },
  { do: 'set-keys', clip: 'one', tracks: ['*'], ease: 'quad-out' },
  { do: 'add-values', clip: 'one', tracks: ['*'], by: 1 },
  { do: 'remove-keys', clip: 'one', tracks: ['*'], from: '9f' },
  { do: 'match-ends', clip: 'one' },
];

it.skipIf(isFast).each(OPERATIONS)(
  '$do: with very many keys, in a time that grows with them',
  (operation) => {
    const seconds = (doc: ReelDocument) => {
      const begun = performance.now();
      const made = edit(doc, operation);
      expect(made.ok || made.code.startsWith('edit/'), made.said).toBe(true);
      return performance.now() - begun;
    };
    seconds(small);
    // Eight times the keys: 64 times as long would be the square, each time. A busy machine may be slow once.
    let [before, after] = [0, Infinity];
    for (let i = 0; i < 4 && after >= 30 * before + 200; i++) [before, after] = [seconds(small), seconds(large)];
    expect(after).toBeLessThan(30 * before + 200);
  },
  60_000,
);

/** Smooth motions, as they are recorded: a curve fits for long, a line does not. */
it.each([
  [150, (i: number) => [Math.sin(i / 10), i / 60, 0]],
  [150, (i: number) => [Math.sin(i / 40), i / 60, 0]],
  [2000, (i: number) => [Math.sin(i / 40), i / 60, 0]],
  [2000, (i: number) => [Math.sin(i / 10), Math.cos(i / 8) * 2, Math.sin(i / 5)]],
] as const)('%i keys of a smooth motion are simplified while one waits', (count, at) => {
  const keys = Array.from({ length: count }, (_, i) => ({ at: `${i}f`, value: at(i) }));
  const begun = performance.now();
  const made = edit({ unspool: 1, clips: { one: { tracks: { 'jelly.position': keys } } } } as unknown as ReelDocument, {
    ...{ do: 'simplify-keys', clip: 'one', tolerance: 0.02 },
  });
  expect(made.ok && (made.doc.clips['one']!.tracks!['jelly.position'] as readonly unknown[]).length).toBeLessThan(count / 10); // prettier-ignore
  // Some 0.2 s: where every pair of keys is tried, and each curve cut from a polygon, it takes minutes.
  expect(performance.now() - begun).toBeLessThan(3000);
});

it('sixteen seconds of a slow motion are captured while one waits', () => {
  const samples = Array.from({ length: 960 }, (_, i) => ({
    time: i / 60,
    values: { 'jelly.position': [Math.sin(i / 40) * 40, i / 4] },
  }));
  const begun = performance.now();
  expect(capture(samples, { tolerance: 0.5, fps: 60 }).keys).toBeLessThan(20);
  expect(performance.now() - begun).toBeLessThan(3000);
});

it.skipIf(isFast)(
  'what compares, merges, copies and advises takes as many',
  () => {
    const [ours, theirs] = [OPERATIONS[0]!, OPERATIONS[9]!].map((operation) => {
      const made = edit(large, operation);
      return made.ok ? made.doc : large;
    });
    expect(compareReels(large, ours!).length).toBeGreaterThan(0);
    expect(compareReels(large, theirs!).length).toBeGreaterThan(0);
    expect(mergeReels(large, ours!, theirs!).conflicts).toEqual([]);
    expect(copyKeys(large, { clip: 'one', tracks: ['*'] }).tracks['crab.rotation']).toHaveLength(160_000);
    expect(advise(large)).toHaveLength(1); // it ends one frame late
  },
  60_000,
);
