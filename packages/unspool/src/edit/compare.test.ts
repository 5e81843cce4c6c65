import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatReel, type ReelDocument } from '../index.js';
import { compareReels, edit, record, type Operation } from './index.js';
import { randomOperation } from '../../test/random-operations.js';
import { randomScene } from '../../test/random-reel.js';
import { runs } from '../../test/runs.js';

const keyed = (keys: unknown, more: object = {}) =>
  ({
    unspool: 1,
    fps: 60,
    clips: { wave: { duration: '40f', tracks: { 'claw.rotation': keys }, ...more } },
  }) as unknown as ReelDocument;
const wave = keyed([
  { at: 0, value: 0, ease: 'quad-out' },
  { at: '6f', value: -40 },
  { at: '12f', value: 10, ease: 'curve', out: ['2f', 3] },
  { at: '20f', value: 0 },
]);
const summary = (a: ReelDocument, b: ReelDocument) =>
  compareReels(a, b).filter(({ summary }) => !summary.startsWith('differs by')).map((one) => one.summary); // prettier-ignore

/** Some reel, and what an operation makes of it. */
const pair = randomScene
  .chain((doc) => randomOperation(doc).map((operation) => ({ doc, made: edit(doc, operation) })))
  .filter(({ made }) => made.ok);

describe('comparing', () => {
  it('finds nothing in equal reels, and something in changed ones, in both directions', () => {
    fc.assert(
      fc.property(pair, ({ doc, made }) => {
        if (!made.ok) return;
        expect(compareReels(doc, structuredClone(doc))).toEqual([]);
        const [there, back] = [compareReels(doc, made.doc), compareReels(made.doc, doc)];
        // Names in another order are told by the file alone.
        const sorted = (reel: ReelDocument) => formatReel(reel).split('\n').map((line) => line.replace(/,$/, '')).sort().join(); // prettier-ignore
        if (sorted(doc) !== sorted(made.doc)) expect(Math.min(there.length, back.length), made.said).toBeGreaterThan(0);
        for (const { path, summary } of [...there, ...back]) {
          expect(path).toMatch(/^\//);
          expect(summary).not.toMatch(/undefined|NaN|\[object/);
        }
      }),
      { ...runs(120), endOnFailure: true },
    );
  }, 600_000);

  it.each<[Operation | ReelDocument, readonly string[]]>([
    [{ do: 'move-keys', clip: 'wave', tracks: ['*'], from: '6f', by: '2f' }, ['3 keys from 6f on moved by +2f']],
    [{ do: 'move-keys', clip: 'wave', tracks: ['*'], at: ['12f'], by: '-50ms' }, ['1 key at 12f moved by −3f']],
    [{ do: 'scale-times', clip: 'wave', tracks: ['*'], factor: 1.5, about: 0 }, ['3 keys scaled to 150 % of their times', 'at 18f: out ["2f", 3] → ["3f", 3]']],
    [{ do: 'set-keys', clip: 'wave', tracks: ['*'], at: ['6f'], value: -30, ease: 'hold' }, ['at 6f: -40 → -30, eased linear → hold']],
    [{ do: 'remove-keys', clip: 'wave', tracks: ['*'], from: '12f' }, ['2 keys removed, at 12f, 20f']],
    [{ do: 'put-key', clip: 'wave', track: 'claw.rotation', at: '3f', value: 1, ease: 'linear' }, ['1 key added, at 3f (1)']],
    [{ do: 'extend', clip: 'wave', until: '50f' }, ['duration: 40f → 50f']],
    [{ do: 'rename', what: 'clip', name: 'wave', to: 'greet' }, ['renamed from wave to greet']],
    [{ do: 'copy-clip', clip: 'wave', to: 'greet' }, ['new, a copy of wave']],
    [{ do: 'change', what: 'track', clip: 'wave', name: 'claw.rotation', to: { turn: 'shortest' } }, ['turn: none → shortest']],
    [{ do: 'remove', what: 'track', clip: 'wave', name: 'claw.rotation' }, ['removed, with its 4 keys']],
    [keyed((wave.clips['wave']!.tracks!['claw.rotation'] as object[]).map((key, i) => ({ ...key, at: [1e-300, 0.1, '12f', '20f'][i] }))), ['2 keys with the same time in another unit: 0 → 1e-300, "6f" → 0.1']],
    [keyed([{ at: '1f', value: 7 }]), ['4 keys removed, at 0, 6f, 12f, 20f', '1 key added, at 1f (7)']],
    [keyed((wave.clips['wave']!.tracks!['claw.rotation'] as object[]).map((key, i) => ({ ...key, at: `${[0, 7, 15, 22][i]}f` }))), ['1 key at 6f moved by +1f', '1 key at 12f moved by +3f', '1 key at 20f moved by +2f', '1 key with the same time in another unit: 0 → "0f"']],
    [{ ...wave, roles: { claw: { about: 'the big one' } } }, ['new role claw']],
  ])('%j', (change, expected) => {
    const made = 'do' in change ? edit(wave, change) : { ok: true as const, doc: change, said: '' };
    expect(made.ok && summary(wave, made.doc), made.said).toEqual(expected);
  }); // prettier-ignore

  it('reports the largest difference on screen, and its time', () => {
    const made = edit(wave, { do: 'add-values', clip: 'wave', tracks: ['*'], at: ['6f'], by: 8 });
    const far = made.ok && compareReels(wave, made.doc, 'wave').at(-1);
    expect(far).toMatchObject({ clip: 'wave', track: 'claw.rotation', summary: 'differs by up to 8 on screen, at 6f' });
  });
});

describe('recording', () => {
  it('shows what was recorded at the playhead, and what was shown at 0', () => {
    const values = fc.record({
      rotation: fc.double({ min: -90, max: 90, noNaN: true }),
      frame: fc.integer({ min: 1, max: 59 }),
    });
    fc.assert(
      fc.property(randomScene, values, (doc, { rotation, frame }) => {
        const [name] = Object.keys(doc.clips);
        const [role] = Object.keys(doc.roles!);
        const property = `${role}.rotation`;
        const operation = record(doc, {
          clip: name!,
          at: `${frame}f`,
          shown: { [property]: 5 },
          values: { [property]: rotation + 0 },
        });
        fc.pre(operation !== null);
        const made = edit(doc, operation);
        expect(made.ok, made.said).toBe(true);
        if (!made.ok) return;
        const keys = [made.doc.clips[name!]!.tracks![property]!].flat() as { at: unknown; value: unknown }[];
        expect(keys.find(({ at }) => at === `${frame}f` || at === (frame * 16) / 1000)?.value ?? rotation + 0).toBe(
          rotation + 0,
        );
        // A track that is new does not begin with what was recorded: it has a key at 0 with what was shown.
        if (!Object.hasOwn(doc.clips[name!]!.tracks!, property)) expect(keys[0]).toMatchObject({ at: 0, value: 5 });
      }),
      { ...runs(150), endOnFailure: true },
    );
  }, 600_000);
});
