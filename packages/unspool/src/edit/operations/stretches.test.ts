import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkReel, parseTime, trustReel, type ReelDocument, type Time } from '../../index.js';
import { edit, type Operation } from '../index.js';
import { runs } from '../../../test/runs.js';

/** Frames of a sheet: single cells, and rows of them; what follows a row stands behind its last frame. */
const frames = fc
  .array(
    fc.record({
      gap: fc.integer({ min: 1, max: 12 }),
      first: fc.integer({ min: 0, max: 7 }),
      last: fc.integer({ min: 0, max: 7 }),
      each: fc.integer({ min: 1, max: 4 }),
      row: fc.boolean(),
    }),
    { minLength: 1, maxLength: 5 },
  )
  .map((list) => {
    let next = 0;
    return list.map(({ gap, first, last, each, row }, i) => {
      const at = i === 0 ? next : next + gap - 1;
      next = at + (row ? (Math.abs(last - first) + 1) * each : 1);
      return row ? { at: `${at}f`, frames: [first, last], each: `${each}f` } : { at: `${at}f`, value: first };
    });
  });

/** A circle that is on and off, its keys leaving out what stays, some with data. */
const circle = fc
  .array(
    fc.record({
      gap: fc.integer({ min: 1, max: 10 }),
      x: fc.option(fc.integer({ min: -20, max: 20 })),
      radius: fc.option(fc.integer({ min: 1, max: 9 })),
      off: fc.boolean(),
      ease: fc.constantFrom(undefined, 'hold', 'quad-in', 'linear'),
      data: fc.constantFrom(undefined, undefined, 1, 2),
    }),
    { minLength: 2, maxLength: 6 },
  )
  .map((list) => {
    let at = 0;
    return list.map(({ gap, x, radius, off, ease, data }, i) => {
      at += gap;
      if (off && i > 0) return { at: `${at}f`, value: null };
      const value = { ...(x !== null && { center: [x, 2 * x] }), ...(radius !== null && { radius }) };
      return { at: `${at}f`, value, ...(ease && { ease }), ...(data !== undefined && { data }) };
    });
  });

const scene = fc
  .record({ frames, circle, more: fc.integer({ min: 1, max: 20 }) })
  .map(({ frames: cells, circle: tip, more }) => {
    const last = Math.max(...[...cells, ...tip].map(({ at }) => parseInt(at)));
    const tracks = { 'crab.frame': cells, 'crab.tip': tip };
    const roles = { crab: { shapes: { tip: { kind: 'circle', tag: 'hits' } } } };
    return {
      unspool: 1,
      fps: 60,
      roles,
      clips: { one: { duration: `${last + more}f`, tracks } },
    } as unknown as ReelDocument;
  });

/** What is shown: the cell, and where the shape is while it is active. */
function shownBy(doc: ReelDocument) {
  const clip = trustReel(doc).clip('one');
  const pose = clip.createPose();
  return {
    duration: clip.duration,
    at: (time: number) => {
      clip.sampleInside(time, pose);
      return { frame: pose.get('crab.frame'), tip: pose.layout.slots.length > 1 ? pose.get('crab.tip') : null };
    },
    activations: clip.activations.filter(({ at, until }) => until > at).map(({ data }) => data),
  };
}

/** Moments between frames, so that none is a key's own. */
const moments = (from: number, until: number) =>
  Array.from({ length: Math.floor((until - from) * 60) }, (_, i) => from + (i + 0.37) / 60);

function expectSame(a: ReturnType<ReturnType<typeof shownBy>['at']>, b: typeof a, summary: string): void {
  expect(a.frame, summary).toBe(b.frame);
  const numbers = (tip: unknown) =>
    tip === null ? null : Object.values(tip as Record<string, number | number[]>).flat();
  const [left, right] = [numbers(a.tip), numbers(b.tip)];
  expect(left === null, summary).toBe(right === null);
  left?.forEach((n, k) => expect(Math.abs(n - right![k]!), summary).toBeLessThan(1e-6));
}

function apply(doc: ReelDocument, operation: Operation): ReelDocument {
  const made = edit(doc, operation);
  expect(made.ok, made.said).toBe(true);
  if (!made.ok) return doc;
  expect(checkReel(made.doc).filter(({ severity }) => severity === 'error')).toEqual([]);
  return made.doc;
}

/** The time of the first key of the shape from a frame on; of none, far away. */
function tipKeyFrom(doc: ReelDocument, frame: number): number {
  const keys = doc.clips['one']!.tracks!['crab.tip'] as readonly { readonly at: Time }[];
  return keys.map(({ at }) => parseTime(at, 60)!).find((time) => time * 60 > frame - 1e-6) ?? 1e3;
}

describe('rows of frames and shapes', () => {
  it('reversed show at a time what they showed that long before the end; reversed twice, what they showed', () => {
    fc.assert(
      fc.property(scene, (doc) => {
        const once = apply(doc, { do: 'reverse', clip: 'one' });
        const twice = apply(once, { do: 'reverse', clip: 'one' });
        const [was, is, again] = [shownBy(doc), shownBy(once), shownBy(twice)];
        expect(is.duration).toBeCloseTo(was.duration, 9);
        for (const time of moments(0, was.duration)) {
          expectSame(is.at(was.duration - time), was.at(time), `${time}`);
          expectSame(again.at(time), was.at(time), `${time}, twice`);
        }
      }),
      { ...runs(150), endOnFailure: true },
    );
  }, 600_000);

  it('trimmed show what they showed in the range', () => {
    const stretch = fc.record({ doc: scene, a: fc.integer({ min: 0, max: 30 }), b: fc.integer({ min: 1, max: 30 }) });
    fc.assert(
      fc.property(stretch, ({ doc, a, b }) => {
        const was = shownBy(doc);
        const frames = Math.round(was.duration * 60);
        const from = Math.min(a, frames - 1);
        const until = Math.min(from + b, frames);
        const made = edit(doc, { do: 'trim', clip: 'one', from: `${from}f`, until: `${until}f` });
        if (!made.ok) {
          expect(made.code).toBe('edit/no-change');
          return;
        }
        const is = shownBy(made.doc);
        expect(is.duration).toBeCloseTo((until - from) / 60, 9);
        for (const time of moments(0, is.duration)) expectSame(is.at(time), was.at(from / 60 + time), `${time}`);
      }),
      { ...runs(150), endOnFailure: true },
    );
  }, 600_000);

  const stretch = fc.record({ doc: scene, a: fc.nat(60), b: fc.integer({ min: 1, max: 30 }) });

  it('show the same before inserted time and after it; removed again, all is as it was', () => {
    fc.assert(
      fc.property(stretch, ({ doc, a, b }) => {
        const was = shownBy(doc);
        const at = Math.min(a, Math.round(was.duration * 60));
        const more = apply(doc, { do: 'insert-time', clip: 'one', at: `${at}f`, by: `${b}f` });
        const is = shownBy(more);
        expect(is.duration).toBeCloseTo(was.duration + b / 60, 9);
        for (const time of moments(0, was.duration)) {
          const later = time + (time * 60 < at ? 0 : b / 60);
          expect(is.at(later).frame, `${time}`).toBe(was.at(time).frame);
        }
        for (const time of moments(tipKeyFrom(doc, at), was.duration))
          expectSame(is.at(time + b / 60), was.at(time), `${time}`);
        const back = shownBy(apply(more, { do: 'remove-time', clip: 'one', from: `${at}f`, until: `${at + b}f` }));
        for (const time of moments(0, was.duration)) expectSame(back.at(time), was.at(time), `${time}, back`);
      }),
      { ...runs(150), endOnFailure: true },
    );
  }, 600_000);

  it('show after removed time what they showed, and the same frames before it', () => {
    fc.assert(
      fc.property(stretch, ({ doc, a, b }) => {
        const was = shownBy(doc);
        const frames = Math.round(was.duration * 60);
        const from = Math.min(a, frames - 1);
        const until = Math.min(from + b, frames);
        if (until - from === frames) return;
        const operation = { do: 'remove-time', clip: 'one', from: `${from}f`, until: `${until}f` } as const;
        const is = shownBy(apply(doc, operation));
        expect(is.duration).toBeCloseTo(was.duration - (until - from) / 60, 9);
        for (const time of moments(0, from / 60)) expect(is.at(time).frame, `${time}`).toBe(was.at(time).frame);
        const length = (until - from) / 60;
        for (const time of moments(until / 60, was.duration))
          expect(is.at(time - length).frame).toBe(was.at(time).frame);
        // A segment over the range without a key in it is shorter now.
        const isOver = tipKeyFrom(doc, from) * 60 >= until - 1e-6;
        for (const time of moments(isOver ? tipKeyFrom(doc, until) : until / 60, was.duration))
          expectSame(is.at(time - length), was.at(time), `${time}`);
      }),
      { ...runs(150), endOnFailure: true },
    );
  }, 600_000);

  it('scaled and moved as a whole, show the same at other times', () => {
    fc.assert(
      fc.property(scene, fc.constantFrom(2, 0.5, 3), (doc, factor) => {
        const [was, is] = [shownBy(doc), shownBy(apply(doc, { do: 'scale-times', clip: 'one', factor }))];
        expect(is.activations).toEqual(was.activations);
        for (const time of moments(0, was.duration)) expectSame(is.at(time * factor), was.at(time), `${time}`);
      }),
      { ...runs(200), endOnFailure: true },
    );
  }, 600_000);
});

describe('a reversed clip', () => {
  const euler = (z: number) => ({ euler: [0, 0, z] });
  const roles = { crab: { shapes: { claw: { kind: 'circle' } } } };
  const of = (tracks: object, more: object = {}) =>
    ({ unspool: 1, roles, clips: { one: { tracks, ...more } } }) as unknown as ReelDocument;

  it.each<[string, ReelDocument]>([
    [
      'keeps its length where its keys say that',
      of({
        'crab.x': [
          { at: 0.5, value: 1 },
          { at: 1, value: 3 },
        ],
      }),
    ],
    [
      'keeps smooth quaternions, whichever sign they have',
      of({
        'crab.rotation': [
          { at: 0, value: euler(0), ease: 'hold' },
          { at: 0.25, value: euler(170), ease: 'smooth' },
          { at: 0.5, value: euler(350), ease: 'smooth' },
          { at: 0.75, value: euler(500), ease: 'smooth' },
          { at: 1, value: euler(200) },
        ],
      }),
    ],
    [
      'keeps the tangents of smooth shapes',
      of({
        'crab.claw': [
          { at: 0, value: { center: [0, 0], radius: 1 }, ease: 'hold' },
          { at: 0.25, value: { center: [10, 0] }, ease: 'smooth' },
          { at: 0.75, value: { center: [20, 0] }, ease: 'smooth' },
          { at: 1, value: { center: [0, 0] } },
        ],
      }),
    ],
    [
      'keeps a shape that is never on',
      of({
        'crab.claw': [{ at: 0, value: null }],
        'crab.x': [
          { at: 0, value: 0 },
          { at: 1, value: 1 },
        ],
      }),
    ],
    [
      'cuts an interval where the clip ends',
      of(
        {
          'crab.x': [
            { at: 0, value: 0 },
            { at: 1, value: 1 },
          ],
        },
        { duration: 1, cues: [{ at: 0.5, until: 1.5, name: 'on' }] },
      ),
    ],
  ])('%s; twice it is what it was', (_, doc) => {
    const turn = (one: ReelDocument) => {
      const made = edit(one, { do: 'reverse', clip: 'one' });
      if (!made.ok) throw new Error(made.said);
      expect(checkReel(made.doc).filter(({ severity }) => severity === 'error')).toEqual([]);
      return made.doc;
    };
    const [was, once] = [trustReel(doc).clip('one'), trustReel(turn(doc)).clip('one')];
    const twice = trustReel(turn(turn(doc))).clip('one');
    expect([once.duration, twice.duration]).toEqual([was.duration, was.duration]);
    // Not just at a jump, which belongs to its later side in both directions.
    for (let i = 1; i < 200; i++) {
      const at = (i * was.duration) / 200 + 1e-4;
      const near = (values: Float64Array) => Array.from(values, (n) => expect.closeTo(n, 9) as number);
      // A quaternion and its negative are one rotation.
      const plain = (values: Float64Array) => (values.length === 4 && values[2]! < 0 ? values.map((n) => -n) : values);
      expect([...plain(once.sample(was.duration - at).values)]).toEqual(near(plain(was.sample(at).values)));
      expect([...plain(twice.sample(at).values)]).toEqual(near(plain(was.sample(at).values)));
    }
    expect(once.cues.map(({ at, until }) => [at, until])).toEqual(was.cues.map(() => [0, 0.5]));
  });
});
