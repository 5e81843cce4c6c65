import { expect, test } from 'vitest';
import { changesBetween } from './patch.js';
import { edit, type Operation } from './index.js';
import { checkReel, type ReelDocument } from '../index.js';

/** What a program without types may write at any place of a reel by mistake. */
const WRONG: readonly unknown[] = [
  ...[null, -1, 1e9, '', 'x', true, [], [null], ['x'], [[]], {}, { a: null }, { keys: 1 }, { keys: [null] }],
  ...[{ at: 0 }, { at: 0, value: 0 }],
];

const reel: ReelDocument = {
  unspool: 1,
  roles: { arm: { rest: { position: [1, 2] }, shapes: { tip: { kind: 'circle', tag: 'hits' } } } },
  clips: {
    snap: {
      duration: 1,
      loop: { mode: 'loop', count: 2 },
      tracks: {
        'arm.rotation': [
          { at: 0, value: 0, ease: 'sine-in' },
          { at: '30f', value: 90 },
        ],
        'arm.position': { space: 'offset', keys: [{ at: 0, value: [1, 1] }] },
        'arm.frame': [{ at: 0, frames: [0, 3], each: '2f' }],
        'arm.tip': [{ at: 0, value: { center: [0, 0], radius: 2 } }],
      },
      cues: [{ at: 0.25, until: 0.5, name: 'click', data: { a: 1 } }],
      spans: { open: [0.25, 0.5] },
    },
    bare: { duration: 1 },
    // What is a part of another is checked with it; the first is not.
    nod: { duration: 1, tracks: { 'arm.rotation': [{ at: 0, value: 1 }] } },
    twice: { duration: 2, parts: [{ clip: 'nod', at: 0, roles: { arm: 'arm' } }] },
  },
  chains: { both: ['snap', { clip: 'twice', fade: '2f' }] },
  facings: { way: { right: 'snap', left: { mirror: 'right' } } },
  routines: {
    live: {
      inputs: { wet: { kind: 'flag' } },
      rules: [
        { name: 'open', if: { wet: true }, play: 'snap', free: 'open' },
        { name: 'rest', play: ['snap', { clip: 'twice', share: 2 }], during: { rule: 'open', cue: 'click' } },
      ],
    },
  },
};

/** A copy with another value at a place. */
function withValue(node: unknown, [step, ...rest]: readonly string[], value: unknown): unknown {
  if (step === undefined) return value;
  if (Array.isArray(node))
    return node.map((one, i) => (String(i) === step ? withValue(one, rest, value) : (one as unknown)));
  const members = node as Readonly<Record<string, unknown>>;
  return { ...members, [step]: withValue(members[step], rest, value) };
}

const MEMBERS = ['loop', 'rate', 'fps', 'after', 'about', 'tracks', 'cues', 'spans', 'parts'];

function* placesIn(node: unknown, place: readonly string[] = []): Generator<readonly string[]> {
  if (typeof node !== 'object' || node === null) return;
  for (const [step, value] of Object.entries(node)) {
    yield [...place, step];
    yield* placesIn(value, [...place, step]);
  }
}

const isValid = (document: unknown) => !checkReel(document).some(({ severity }) => severity === 'error');

/** Makes one operation of a document with another value somewhere: as a patch, and as a change of what holds the place. */
function operationsFor(place: readonly string[], after: ReelDocument): Operation[] {
  const patch: Operation = { do: 'patch', said: 'tried', changes: changesBetween(reel, after) };
  const [what, name, ...rest] = place;
  if (name === undefined) return [patch];
  const thing = (what as string).slice(0, -1) as 'clip';
  const to = (after as unknown as Record<string, Record<string, never>>)[what!]![name];
  const list: Operation[] = [patch, { do: 'change', what: thing, name, to }];
  if (rest[0] === 'tracks' && rest[1] !== undefined)
    list.push({ do: 'change', what: 'track', clip: name, name: rest[1], to: after.clips[name]!.tracks![rest[1]] });
  return list;
}

test('an edit that writes anything anywhere is refused, or gives a valid reel, and never throws', () => {
  expect(isValid(reel)).toBe(true);
  const counts = { made: 0, refused: 0 };
  const missing = MEMBERS.map((name) => ['clips', 'bare', name]);
  for (const place of [...placesIn(reel), ...missing]) {
    for (const value of WRONG) {
      const after = withValue(reel, place, value) as ReelDocument;
      for (const operation of operationsFor(place, after)) {
        const says = `${operation.do} /${place.join('/')} ${JSON.stringify(value)}`;
        let made;
        try {
          made = edit(reel, operation);
        } catch (error) {
          throw new Error(says, { cause: error });
        }
        if (made.ok) expect(isValid(made.doc), says).toBe(true);
        // A change keeps members that it does not name.
        else if (operation.do === 'patch' && made.code !== 'edit/no-change') expect(isValid(after), says).toBe(false);
        counts[made.ok ? 'made' : 'refused']++;
      }
    }
  }
  expect(counts.made).toBeGreaterThan(100);
  expect(counts.refused).toBeGreaterThan(2000);
});
