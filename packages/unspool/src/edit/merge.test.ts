import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkReel, formatReel, parseReel, type ReelDocument } from '../index.js';
import { edit, mergeReels, patchBetween, type Operation } from './index.js';
import { randomOperation } from '../../test/random-operations.js';
import { randomScene } from '../../test/random-reel.js';
import { enough, runs } from '../../test/runs.js';

const base = parseReel({
  unspool: 1,
  clips: {
    snap: {
      duration: '18f',
      tracks: {
        'claw.rotation': [
          { at: 0, value: 0 },
          { at: '6f', value: -40 },
          { at: '9f', value: 12 },
        ],
        'claw.opacity': [{ at: 0, value: 1 }],
      },
      cues: [{ at: '9f', name: 'shut' }],
    },
    sway: { duration: '48f', tracks: { 'claw.rotation': [{ at: 0, value: -8 }] } },
  },
}).document;

const after = (operation: Operation, doc: ReelDocument = base): ReelDocument => {
  const made = edit(doc, operation);
  if (!made.ok) throw new Error(made.said);
  return made.doc;
};
const set = (at: `${number}f`, value: unknown): Operation => ({
  do: 'set-keys',
  clip: 'snap',
  keys: { 'claw.rotation': [at] },
  value,
});
const keysOf = (doc: ReelDocument) => doc.clips['snap']!.tracks!['claw.rotation'];

/** A reel, and what two sides did to it. */
const sides = randomScene.chain((doc) =>
  fc.tuple(randomOperation(doc), randomOperation(doc)).map(([a, b]) => {
    const [ours, theirs] = [edit(doc, a), edit(doc, b)];
    return { doc, ours: ours.ok ? ours.doc : doc, theirs: theirs.ok ? theirs.doc : doc };
  }),
);

describe('merging', () => {
  it('keeps what each side did to keys of one track, cues and clips', () => {
    const ours = after({ do: 'move-keys', clip: 'snap', keys: { 'claw.rotation': ['6f'] }, by: '-1f' });
    const theirs = after(
      { do: 'add', what: 'cue', clip: 'snap', name: 'open', at: '6f' },
      after({ do: 'remove', what: 'clip', name: 'sway' }, after(set('9f', 20))),
    );
    const { doc, conflicts } = mergeReels(base, ours, theirs);
    expect(conflicts).toEqual([]);
    expect(keysOf(doc)).toEqual([
      { at: 0, value: 0 },
      { at: '5f', value: -40 },
      { at: '9f', value: 20 },
    ]);
    expect(doc.clips['snap']!.cues!.map(({ name }) => name)).toEqual(['open', 'shut']);
    expect(Object.keys(doc.clips)).toEqual(['snap']);
  });

  it('names what both changed, and takes it from the side that is preferred', () => {
    const [ours, theirs] = [after(set('6f', -50)), after(set('6f', -60))];
    const merged = mergeReels(base, ours, theirs);
    expect(merged.conflicts).toEqual(['/clips/snap/tracks/claw.rotation/100000000 /value']);
    expect(keysOf(merged.doc)).toEqual(keysOf(ours));
    expect(keysOf(mergeReels(base, ours, theirs, { prefer: 'theirs' }).doc)).toEqual(keysOf(theirs));
  });

  it('does not put together what would be no valid reel', () => {
    const ours = after({ do: 'add', what: 'chain', name: 'both', value: ['snap', 'sway'] });
    const theirs = after({ do: 'remove', what: 'clip', name: 'sway' });
    expect(mergeReels(base, ours, theirs)).toEqual({ doc: ours, conflicts: [''] });
  });

  it('of a side that changed nothing leaves the other; without conflicts both orders have the same bytes in them', () => {
    let merges = 0;
    fc.assert(
      fc.property(sides, ({ doc, ours, theirs }) => {
        expect(formatReel(mergeReels(doc, ours, doc).doc)).toBe(formatReel(ours));
        expect(formatReel(mergeReels(doc, doc, theirs).doc)).toBe(formatReel(theirs));
        const [one, other] = [mergeReels(doc, ours, theirs), mergeReels(doc, theirs, ours)];
        expect(checkReel(one.doc).filter(({ severity }) => severity === 'error')).toEqual([]);
        expect(one.conflicts.length === 0).toBe(other.conflicts.length === 0);
        if (one.conflicts.length > 0) return;
        merges++;
        expect(sorted(one.doc)).toEqual(sorted(other.doc));
      }),
      runs(150),
    );
    expect(merges).toBeGreaterThan(enough(30));
  });

  it('a patch turns one document into another, and is null for equal ones', () => {
    const ours = after(set('6f', -50));
    expect(formatReel(after(patchBetween(base, ours, 'changed outside')!))).toBe(formatReel(ours));
    expect(patchBetween(base, after(set('6f', -40), ours), 'the same')).toBeNull();
  });

  it('reports a key that both sides moved, without duplicating it; a move and a new value are merged', () => {
    const move = (by: `${number}f`) => after({ do: 'move-keys', clip: 'snap', keys: { 'claw.rotation': ['6f'] }, by });
    for (const [prefer, at] of [
      ['ours', '5f'],
      ['theirs', '7f'],
    ] as const) {
      const { doc, conflicts } = mergeReels(base, move('-1f'), move('1f'), { prefer });
      expect(conflicts).toHaveLength(1);
      expect((keysOf(doc) as readonly { at: unknown }[]).map((key) => key.at)).toEqual([0, at, '9f']);
    }
    const { doc, conflicts } = mergeReels(base, move('-1f'), after(set('6f', -20)));
    expect(conflicts).toEqual([]);
    expect(keysOf(doc)).toContainEqual({ at: '5f', value: -20 });
  });

  it('leaves lists of the author’s own in their order, and takes over what one side has put in another order', () => {
    const notes = [{ at: 3 }, { at: 1 }, { at: 2 }];
    const list = { ...base, 'x-notes': notes } as ReelDocument;
    const ours = { ...list, 'x-notes': [...notes, { at: 0 }] } as ReelDocument;
    const theirs = { ...list, clips: { sway: base.clips['sway']!, snap: base.clips['snap']! } };
    for (const [one, other] of [
      [ours, theirs],
      [theirs, ours],
    ] as const) {
      const { doc, conflicts } = mergeReels(list, one, other);
      expect(conflicts).toEqual([]);
      expect(doc).toMatchObject({ 'x-notes': [...notes, { at: 0 }] });
      expect(Object.keys(doc.clips)).toEqual(['sway', 'snap']);
    }
  });
});

/** Without the order of members, and of what stands at one moment: each side's own comes first. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map((one) => JSON.stringify(sorted(one))).sort();
  if (typeof value !== 'object' || value === null) return value;
  const names = Object.keys(value).sort();
  return Object.fromEntries(names.map((name) => [name, sorted((value as Record<string, unknown>)[name])]));
}
