import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkReel, formatReel, parseTime, trustReel, type Clip, type Pose, type ReelDocument } from '../index.js';
import { keysOf } from '../reel/resolve/properties.js';
import { edit, type Edited, type Operation } from './index.js';
import { randomOperation } from '../../test/random-operations.js';
import { randomScene } from '../../test/random-reel.js';
import { enough, runs } from '../../test/runs.js';

/** Easings that can be cut in two. */
const EXACT = [
  'linear',
  'hold',
  'quad-in',
  'cubic-in-out',
  'back-out',
  'bounce-out',
  'ease',
  'steps(3)',
  'smooth',
  'curve',
];
const share = fc.double({ min: 0, max: 1, noNaN: true });
const point = fc.double({ min: -1, max: 2, noNaN: true });

/** A reel and an operation on it; the reel cannot be written to. */
const pair = randomScene.chain((doc) => randomOperation(doc).map((operation) => ({ doc: frozen(doc), operation })));

function frozen<T>(value: T): T {
  if (typeof value === 'object' && value !== null && !Object.isFrozen(value)) {
    Object.freeze(value);
    Object.values(value).forEach(frozen);
  }
  return value;
}

const errors = (doc: ReelDocument) => checkReel(doc).filter(({ severity }) => severity === 'error');

describe('an operation', () => {
  it('leaves a valid reel or is refused; its inverse gives the same bytes', () => {
    const seen = new Map<string, number>();
    fc.assert(
      fc.property(pair, ({ doc, operation }) => {
        const done = edit(doc, operation);
        if (!done.ok) {
          expect(done.code).toMatch(/^(edit|reel)\//);
          expect(done.said.length).toBeGreaterThan(enough(10));
          return;
        }
        seen.set(operation.do, (seen.get(operation.do) ?? 0) + 1);
        expect(errors(done.doc), JSON.stringify(operation)).toEqual([]);
        expect(formatReel(done.doc), JSON.stringify(operation)).not.toBe(formatReel(doc));
        const back = edit(done.doc, done.inverse);
        expect(back.ok && formatReel(back.doc)).toBe(formatReel(doc));
        const again = back.ok && edit(back.doc, back.inverse);
        expect(again && again.ok && formatReel(again.doc)).toBe(formatReel(done.doc));
      }),
      { ...runs(500), endOnFailure: true },
    );
    if (process.env.UNSPOOL_SEEN) console.log(Object.fromEntries(seen));
    expect(seen.size).toBeGreaterThan(enough(20));
  }, 600_000);

  it('commutes with one on something else', () => {
    let tried = 0;
    fc.assert(
      fc.property(twoEdits, ({ doc, a, b }) => {
        const [first, second] = [edit(doc, a), edit(doc, b)];
        if (!first.ok || !second.ok) return;
        const [ab, ba] = [edit(first.doc, b), edit(second.doc, a)];
        expect(ab.ok && formatReel(ab.doc), JSON.stringify([a, b])).toBe(ba.ok && formatReel(ba.doc));
        // What takes the first back still does so after the second; a track that comes back may stand elsewhere.
        const back = ab.ok && edit(ab.doc, first.inverse);
        expect(back && back.ok).toBe(true);
        const tracks = (made: Edited) =>
          Object.values(made.doc.clips).map((clip) => Object.keys(clip.tracks ?? {}).join());
        if (back && back.ok && tracks(first).join() === tracks(back).join())
          expect(formatReel(back.doc)).toBe(formatReel(second.doc));
        tried++;
      }),
      { ...runs(300), endOnFailure: true },
    );
    expect(tried).toBeGreaterThan(enough(50));
  }, 600_000);
});

/** A reel with two tracks or more, and an edit for each of two of them. */
const twoEdits = randomScene
  .map((doc) => ({
    doc: frozen(doc),
    tracks: Object.entries(doc.clips).flatMap(([clip, { tracks = {} }]) =>
      Object.keys(tracks).map((track) => [clip, track] as const),
    ),
  }))
  .filter(({ tracks }) => tracks.length > 1)
  .chain(({ doc, tracks }) =>
    fc
      .shuffledSubarray(tracks, { minLength: 2, maxLength: 2 })
      .chain(([one, two]) =>
        fc.record({ doc: fc.constant(doc), a: randomTrackEdit(...one!), b: randomTrackEdit(...two!) }),
      ),
  );

function randomTrackEdit(clip: string, track: string): fc.Arbitrary<Operation> {
  const of = { clip, tracks: [track] };
  const amount = fc.integer({ min: 1, max: 9 });
  return fc.oneof(
    amount.map((n): Operation => ({ do: 'move-keys', ...of, by: `${n}f`, ...(n % 2 === 0 && { ripple: 'track' }) })),
    amount.map((n): Operation => ({ do: 'scale-times', ...of, factor: 1 + n / 4 })),
    amount.map((n): Operation => ({ do: 'add-values', ...of, by: n })),
    amount.map((n): Operation => ({ do: 'insert-key', clip, track, at: n / 7, tolerance: 1 })),
    amount.map((n): Operation => ({ do: 'set-keys', ...of, ease: n % 2 === 0 ? 'hold' : 'smooth' })),
    amount.map((n): Operation => ({ do: 'remove-keys', ...of, until: `${n}f` })),
    fc.constant<Operation>({ do: 'remove', what: 'track', clip, name: track }),
    fc.constant<Operation>({ do: 'split-channels', clip, track }),
  );
}

/** A clip of one track: a kind, some keys with any easing, handles where they are curves, and how it loops. */
const oneTrack = fc
  .record({
    property: fc.constantFrom('rotation', 'position', 'position.x', 'glow', 'tint', 'frame', 'mood'),
    loop: fc.constantFrom('once', 'loop'),
    turn: fc.constantFrom(undefined, 'shortest'),
    keys: fc.array(
      fc.record({
        gap: fc.integer({ min: 1, max: 20 }),
        numbers: fc.array(fc.double({ min: -100, max: 100, noNaN: true }), { minLength: 4, maxLength: 4 }),
        ease: fc.oneof(
          fc.constantFrom(...EXACT, ...EXACT, 'sine-out', 'spring(0.4)', 'elastic-in', 'expo-in-out'),
          fc.tuple(share, point, share, point).map((four) => `cubic-bezier(${four.join(', ')})`),
        ),
        handles: fc.array(fc.tuple(share, fc.double({ min: -50, max: 50, noNaN: true })), {
          minLength: 4,
          maxLength: 4,
        }),
      }),
      { minLength: 1, maxLength: 6 },
    ),
    first: fc.integer({ min: 0, max: 5 }),
  })
  .map(({ property, loop, turn, keys, first }) => {
    let frame = first - keys[0]!.gap;
    const held = property === 'frame' || property === 'mood';
    const width = property === 'position' ? 2 : 1;
    const written = keys.map(({ gap, numbers, ease, handles }, i) => {
      frame += gap;
      const next = keys[i + 1]?.gap ?? 1;
      const pairs = (sign: number, length: number, from: number) =>
        Array.from({ length: width }, (_, k) => [(sign * handles[from + k]![0] * length) / 60, handles[from + k]![1]]);
      return {
        at: `${frame}f`,
        value: valueOf(property, numbers),
        ...(!held && { ease }),
        ...(ease === 'curve' && property !== 'tint' && !held && { out: pairs(1, next, 0) }),
        ...(keys[i - 1]?.ease === 'curve' && property !== 'tint' && !held && { in: pairs(-1, gap, 2) }),
      };
    });
    const track = turn && property === 'rotation' ? { turn, keys: written } : written;
    const clip = { duration: `${frame + 3}f`, loop, tracks: { [`crab.${property}`]: track } };
    return { unspool: 1, fps: 60, clips: { one: clip } } as unknown as ReelDocument;
  });

function valueOf(property: string, numbers: readonly number[]): unknown {
  if (property === 'position') return numbers.slice(0, 2).map((n) => n + 0);
  if (property === 'tint') return numbers.map((n) => Math.abs(n) / 100);
  if (property === 'frame') return Math.trunc(numbers[0]!) + 0;
  return property === 'mood' ? (numbers[0]! > 0 ? 'calm' : 'cross') : numbers[0]! + 0;
}

/** The greatest difference of two reels' only tracks, between frames and on them. */
function difference(a: ReelDocument, b: ReelDocument, clip = 'one'): number {
  const [one, two] = [trustReel(a).clip(clip), trustReel(b).clip(clip)];
  let most = Math.abs(one.duration - two.duration);
  const track = propertyOf(a);
  for (let i = 0; i <= 400; i++) {
    const time = (one.duration * i) / 400.5;
    const far = apart(seen(one.sample(time), track), seen(two.sample(time), track));
    if (far > most) most = Math.max(most, far - steepness(one, time, track));
  }
  return most;
}

/** How far a property goes in two nanoseconds: where a curve is all but vertical, that is a way. */
function steepness(clip: Clip, time: number, property: string): number {
  const [early, late] = [time - 1e-9, time + 1e-9].map((at) => seen(clip.sample(at), property));
  return apart(early, late);
}

/** What is seen of a property. Of a color that is all but clear, next to nothing is: whatever its hue. */
function seen(pose: Pose, property: string): unknown {
  const value = pose.get(property);
  if (!property.endsWith('.tint')) return value;
  const [red, green, blue, alpha] = value as [number, number, number, number];
  return [red * alpha, green * alpha, blue * alpha, alpha];
}

/** How far two values are from each other. */
function apart(a: unknown, b: unknown): number {
  const [left, right] = [[a].flat(), [b].flat()] as [unknown[], unknown[]];
  const far = (x: unknown, y: unknown) => (typeof x === 'number' ? Math.abs(x - (y as number)) : x === y ? 0 : 1e3);
  return Math.max(...left.map((one, k) => far(one, right[k])));
}

/** The property of its only track, whole. */
const propertyOf = (doc: ReelDocument) => trackOf(doc).split('.').slice(0, 2).join('.');
const trackOf = (doc: ReelDocument) => Object.keys(doc.clips['one']!.tracks!)[0]!;

describe('laws of their own', () => {
  it('simplified keys show the same within the tolerance, and are fewer', () => {
    let fewer = 0;
    fc.assert(
      fc.property(oneTrack, fc.constantFrom(0.01, 1, 20), (doc, tolerance) => {
        const track = trackOf(doc);
        const count = (one: ReelDocument) => keysOf(one.clips['one']!.tracks![track]!).length;
        const done = edit(doc, { do: 'simplify-keys', clip: 'one', tolerance });
        if (!done.ok) {
          expect(done.code, done.said).toBe('edit/no-change');
          return;
        }
        fewer++;
        expect(count(done.doc)).toBeLessThan(count(doc));
        // Between the samples that it is held to a steep curve may go a little farther.
        expect(difference(doc, done.doc), done.said).toBeLessThan(tolerance * 1.5);
      }),
      { ...runs(400), endOnFailure: true },
    );
    expect(fewer).toBeGreaterThan(enough(20));
  }, 600_000);

  it('a key on the curve changes nothing that is shown', () => {
    let cut = 0;
    const place = fc.record({ doc: oneTrack, at: fc.double({ min: 0, max: 1, noNaN: true }) });
    fc.assert(
      fc.property(place, ({ doc, at }) => {
        const time = at * parseTime(doc.clips['one']!.duration!, 60)!;
        const track = trackOf(doc);
        const done = edit(doc, { do: 'insert-key', clip: 'one', track, at: time });
        if (!done.ok) {
          expect(done.code, done.said).toMatch(/no-exact-cut|time-taken/);
          const fitted = edit(doc, { do: 'insert-key', clip: 'one', track, at: time, tolerance: 0.5 });
          if (fitted.ok) expect(difference(doc, fitted.doc)).toBeLessThan(0.55);
          return;
        }
        cut++;
        expect(difference(doc, done.doc), done.said).toBeLessThan(1e-9);
      }),
      { ...runs(600), endOnFailure: true },
    );
    expect(cut).toBeGreaterThan(enough(300));
  }, 600_000);

  it.each([
    ['reverse', { do: 'reverse', clip: 'one' }],
    ['mirror', { do: 'mirror', clip: 'one' }],
  ] as const)(
    '%s twice is the identity',
    (_, operation) => {
      let turned = 0;
      fc.assert(
        fc.property(oneTrack, (doc) => {
          const once = edit(doc, operation);
          if (!once.ok) {
            expect(once.code, once.said).toMatch(/no-way-back|no-change/);
            return;
          }
          turned++;
          const twice = edit(once.doc, operation);
          // One key that held from its time on holds from 0 on: turned again, that is the same.
          if (!twice.ok) expect(twice.code).toBe('edit/no-change');
          expect(difference(doc, twice.ok ? twice.doc : once.doc), once.said).toBeLessThan(1e-9);
        }),
        { ...runs(300), endOnFailure: true },
      );
      expect(turned).toBeGreaterThan(enough(30));
    },
    600_000,
  );

  it('a reversed clip shows at a time what it showed as long before its end', () => {
    fc.assert(
      fc.property(oneTrack, (doc) => {
        const done = edit(doc, { do: 'reverse', clip: 'one' });
        if (!done.ok) return;
        const [one, two] = [trustReel(doc).clip('one'), trustReel(done.doc).clip('one')];
        for (let i = 1; i < 400; i++) {
          const time = (one.duration * i) / 400.37;
          const [left, right] = [one.sample(time), two.sample(one.duration - time)];
          const far = apart(seen(left, propertyOf(doc)), seen(right, propertyOf(doc)));
          // The shorter way round may show the same turn by another number.
          const turns = 'turn' in doc.clips['one']!.tracks![trackOf(doc)]! ? 360 * Math.round(far / 360) : 0;
          expect(Math.abs(far - turns), `${time}`).toBeLessThan(1e-6 + steepness(one, time, propertyOf(doc)));
        }
      }),
      { ...runs(200), endOnFailure: true },
    );
  }, 600_000);
});
