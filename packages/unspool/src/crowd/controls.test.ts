import fc from 'fast-check';
import GOLDEN from '../../fixtures/crowd-1.json' with { type: 'json' };
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { Crowd, parseReel, Player, prepareClip, type CrowdState, type Playback } from '../index.js';

const weed = parseReel<unknown>({
  unspool: 1,
  name: 'weed',
  clips: {
    sway: {
      ...{ duration: 1, loop: 'loop' },
      tracks: {
        'weed.rotation': [
          { at: 0, value: -10, ease: 'ease-in-out' },
          { at: 0.6, value: 10, ease: 'cubic-bezier(0.8, 0, 0.2, 1)' },
          { at: 1, value: -10 },
        ],
      },
      cues: [
        { at: 0, name: 'left' },
        { at: 0.3, until: 0.8, name: 'lean' },
        { at: 0.6, name: 'right' },
      ],
      spans: { back: [0.6, 1] },
    },
    wilt: {
      ...{ duration: 0.7, rate: 0.5, after: 'rest' },
      tracks: {
        'weed.scale.y': [
          { at: 0, value: 1 },
          { at: 0.7, value: 0.2 },
        ],
      },
      cues: [{ at: 0.2, until: 0.9, name: 'soft' }],
    },
  },
});
const CLIPS = ['sway', 'wilt'] as const;
const LOOPS = [undefined, 'once', 'loop', 'ping-pong', { mode: 'loop', count: 2.5 }, { mode: 'ping-pong', count: 3 }] as const; // prettier-ignore

/** What is done to a crowd, one after the other: `who` is any whole number, taken among those that are there. */
const amount = fc.nat(10_000).map((n) => n / 10_000);
const act = fc.oneof(
  { weight: 4, arbitrary: fc.record({ does: fc.constant('tick' as const), seconds: fc.double({ min: 0, max: 0.5, noNaN: true }) }) }, // prettier-ignore
  fc.record({
    does: fc.constant('add' as const),
    clip: fc.constantFrom(...CLIPS),
    loop: fc.constantFrom(...LOOPS),
    rate: fc.constantFrom(1, -1, 0.3, 2.1),
  }),
  fc.record({ does: fc.constantFrom('remove' as const, 'pause' as const, 'resume' as const), who: fc.nat(99) }),
  fc.record({ does: fc.constant('setRate' as const), who: fc.nat(99), rate: fc.constantFrom(0, 1, -1, 0.7, -2, 3) }),
  fc.record({ does: fc.constant('seek' as const), who: fc.nat(99), share: fc.oneof(amount, fc.constantFrom(0, 0.3, 0.6, 0.8, 1)) }), // prettier-ignore
  fc.record({ does: fc.constant('rate' as const), rate: fc.constantFrom(0, 0.5, 1, 4) }),
  fc.record({ does: fc.constantFrom('pause all' as const, 'resume all' as const) }),
);
type Act = typeof act extends fc.Arbitrary<infer T> ? T : never;
const acts = fc.array(act, { minLength: 1, maxLength: 40 });

/** Does one thing to a crowd, and returns the id that is new, if one is. */
function perform(crowd: Crowd, one: Act, ids: readonly number[]): number | undefined {
  const id = 'who' in one ? ids[one.who % Math.max(1, ids.length)] : undefined;
  if (one.does === 'tick') crowd.tick(one.seconds);
  else if (one.does === 'add') return crowd.add(one.clip, { rate: one.rate, ...(one.loop && { loop: one.loop }) });
  else if (one.does === 'rate') crowd.rate = one.rate;
  else if (one.does === 'pause all') crowd.pause();
  else if (one.does === 'resume all') crowd.resume();
  else if (id === undefined) return undefined;
  else if (one.does === 'setRate') crowd.setRate(id, one.rate);
  else if (one.does === 'seek') crowd.seek(id, one.share * durationOf(crowd, id));
  else crowd[one.does](id);
  return undefined;
}

const durationOf = (crowd: Crowd, id: number) => crowd.placeOf(id)[0].clip.duration;
const heard = (crowd: Crowd) => [...crowd.cues].map(({ id, type, name, late }) => [id, type, name, late] as const);
const poseOf = (crowd: Crowd, id: number) => crowd.values[crowd.offsetOf(id)];

describe('an instance that is paused, slowed and sought', () => {
  test('law: is where a playback is to which the same is done, and passes the same points', () => {
    fc.assert(
      fc.property(acts, (all) => {
        const crowd = new Crowd(weed);
        const alone = new Map<number, { player: Player; playback: Playback; points: string[] }>();
        let [rate, isPaused] = [1, false];
        for (const one of all) {
          const ids = [...alone.keys()];
          const who = 'who' in one ? alone.get(ids[one.who % Math.max(1, ids.length)]!) : undefined;
          // A playback that has ended is gone; an instance plays on when it is sought.
          if (who && one.does !== 'remove' && !who.playback.active) continue;
          const id = perform(crowd, one, ids);
          if (one.does === 'add') {
            const player = new Player(weed);
            const points: string[] = [];
            player.on('cue', ({ name }) => points.push(name));
            const playback = player.play(one.clip, { rate: one.rate, ...(one.loop && { loop: one.loop }) });
            alone.set(id!, { player, playback, points });
          } else if (one.does === 'rate') rate = one.rate;
          else if (one.does === 'pause all' || one.does === 'resume all') isPaused = one.does === 'pause all';
          else if (one.does === 'tick') {
            for (const { player } of alone.values()) player.tick(isPaused ? 0 : one.seconds * rate);
            for (const [id, { playback, points }] of alone) {
              const found = [...crowd.cues].filter((cue) => cue.id === id && cue.type === 'cue');
              expect(found.map(({ name }) => name)).toEqual(points.splice(0));
              expect(crowd.timeOf(id)).toBeCloseTo(playback.time, 7);
              expect(crowd.isOver(id)).toBe(!playback.active);
              if (playback.active) expect(crowd.rateOf(id)).toBeCloseTo(playback.rate, 12);
            }
          } else if (who) {
            const { playback } = who;
            if (one.does === 'pause') playback.pause();
            if (one.does === 'resume') playback.resume();
            if (one.does === 'setRate') playback.rate = one.rate;
            if (one.does === 'seek') playback.seek(one.share * playback.clip.duration);
            if (one.does === 'remove') alone.delete(ids[one.who % ids.length]!);
          }
        }
      }),
      runs(300),
    );
  });

  test('law: intervals start and end in turn, whatever is done', () => {
    fc.assert(
      fc.property(acts, (all) => {
        const crowd = new Crowd(weed);
        const there: number[] = [];
        const open = new Set<string>();
        const look = () => {
          for (const { id, type, name } of crowd.cues) {
            if (type === 'cue-start') expect(open.has(`${id} ${name}`)).toBe(false);
            if (type === 'cue-start') open.add(`${id} ${name}`);
            if (type === 'cue-end') expect(open.delete(`${id} ${name}`)).toBe(true);
          }
        };
        for (const one of all) {
          const id = perform(crowd, one, there);
          if (id !== undefined) there.push(id);
          if (one.does === 'remove' && there.length > 0) there.splice(one.who % there.length, 1);
          if (one.does === 'tick') look();
        }
        for (const id of there) crowd.remove(id);
        crowd.tick(0);
        look();
        expect([...open]).toEqual([]);
      }),
      runs(300),
    );
  });

  test('law: is, once sought as a whole, where it would be had it just begun', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...CLIPS), fc.constantFrom(...LOOPS), fc.constantFrom(1, -1, 0.3, 2.1), amount), { minLength: 1, maxLength: 6 }), // prettier-ignore
        fc.array(amount, { maxLength: 5 }),
        fc.double({ min: 0, max: 200, noNaN: true }),
        (all, steps, seconds) => {
          const [sought, begun] = [new Crowd(weed), new Crowd(weed)];
          const ids = all.map(([clip, loop, rate, phase]) => [sought, begun].map((crowd) => crowd.add(clip, { rate, phase, ...(loop && { loop }) }))[0]!); // prettier-ignore
          for (const dt of steps) sought.tick(dt);
          sought.seekAll(seconds);
          begun.tick(seconds);
          const look = () => ids.map((id) => [sought, begun].map((crowd) => [crowd.timeOf(id), crowd.isOver(id)]));
          for (const [one, other] of look()) expect(one).toEqual(other);
          sought.tick(0.1);
          begun.tick(0.1);
          for (const [one, other] of look()) expect(one).toEqual(other);
          const points = (crowd: Crowd) => heard(crowd).filter(([, type]) => type === 'cue');
          expect(points(sought)).toEqual(points(begun));
        },
      ),
      runs(200),
    );
  });

  test('is told what it leaves and comes into, by the next tick', () => {
    const crowd = new Crowd(weed);
    const id = crowd.add('sway');
    crowd.tick(0.4);
    expect(heard(crowd).map(([, type, name]) => `${type} ${name}`)).toEqual(['cue left', 'cue-start lean']);
    crowd.seek(id, 'right');
    expect(crowd.timeOf(id)).toBe(0.6);
    crowd.seek(id, '54f');
    crowd.tick(0);
    expect(heard(crowd)).toEqual([[id, 'cue-end', 'lean', 0]]);
    crowd.seek(id, 'back');
    crowd.setRate(id, -1);
    crowd.tick(0.2);
    expect(heard(crowd).map(([, type, name, late]) => [type, name, +late.toFixed(9)])).toEqual([
      ['cue-start', 'lean', 0],
      ['cue-end', 'lean', 0],
    ].slice(0, 1)); // prettier-ignore
    expect(crowd.timeOf(id)).toBeCloseTo(0.4, 12);
  });

  test('a whole crowd at half the rate is late in seconds of the game, and paused as a whole nothing moves', () => {
    const crowd = new Crowd(weed);
    const [a, b] = [crowd.add('sway'), crowd.add('sway', { phase: 0.5 })];
    crowd.rate = 0.5;
    crowd.tick(0.4);
    expect(heard(crowd).map(([id, type, name, late]) => [id, type, name, +late.toFixed(9)])).toEqual([
      [a, 'cue', 'left', 0.4],
      [b, 'cue-start', 'lean', 0.4],
      [b, 'cue', 'right', 0.2],
    ]);
    crowd.pause();
    crowd.pause(b);
    crowd.tick(5);
    expect([crowd.timeOf(a), crowd.isPaused(), crowd.isPaused(a), crowd.isPaused(b)]).toEqual([0.2, true, false, true]);
    crowd.resume();
    crowd.tick(0.2);
    expect([crowd.timeOf(a), crowd.timeOf(b)].map((time) => +time.toFixed(9))).toEqual([0.3, 0.7]);
  });
});

describe('a crowd that was saved', () => {
  test('law: goes on as one that was not, to the bit, with the same ids, in another crowd too', () => {
    fc.assert(
      fc.property(acts, acts, fc.boolean(), (before, after, isOther) => {
        for (const clip of CLIPS) prepareClip(weed.clip(clip));
        const one = new Crowd(weed);
        const there: number[] = [];
        const remember = (id: number | undefined, each: Act) => {
          if (id !== undefined) there.push(id);
          if (each.does === 'remove' && there.length > 0) there.splice(each.who % there.length, 1);
        };
        for (const each of before) remember(perform(one, each, there), each);
        const state = JSON.parse(JSON.stringify(one.save())) as CrowdState;
        const other = isOther ? new Crowd(weed) : one;
        const twin = new Crowd(weed);
        twin.restore(state);
        if (isOther) {
          other.add('wilt', { rate: 3 });
          other.tick(0.3);
          other.restore(state);
        }
        for (const each of after) {
          const ids = [other, twin].map((crowd) => perform(crowd, each, there));
          expect(ids[0]).toBe(ids[1]);
          remember(ids[0], each);
          expect(other.count).toBe(there.length);
          if (each.does !== 'tick') continue;
          expect(heard(other)).toEqual(heard(twin));
          for (const id of there) expect([other.timeOf(id), poseOf(other, id)]).toEqual([twin.timeOf(id), poseOf(twin, id)]); // prettier-ignore
        }
      }),
      runs(200),
    );
  });

  test('an instance takes on the state of one, whatever it played', () => {
    const crowd = new Crowd(weed);
    const [a, b] = [crowd.add('sway', { rate: 2, loop: 'ping-pong' }), crowd.add('wilt')];
    crowd.tick(0.7);
    crowd.pause(a);
    const state = crowd.save(a);
    crowd.restore(state, b);
    expect([crowd.count, crowd.timeOf(b), crowd.rateOf(b), crowd.isPaused(b)]).toEqual([2, crowd.timeOf(a), 2, true]);
    crowd.resume(a);
    crowd.resume(b);
    crowd.tick(0.7);
    expect([crowd.timeOf(b), poseOf(crowd, b)]).toEqual([crowd.timeOf(a), poseOf(crowd, a)]);
    crowd.remove(a);
    expect(crowd.has(b)).toBe(true);
  });

  test('in this form before, is read as it was then', () => {
    const { reel, state, after } = GOLDEN as unknown as { reel: object; state: CrowdState; after: object };
    const crowd = new Crowd(parseReel<unknown>(reel));
    crowd.restore(state);
    expect(JSON.parse(JSON.stringify(crowd.save()))).toEqual(state);
    const ids = state.groups.flatMap((group) => group.ids).sort((a, b) => a - b);
    crowd.tick(0.25);
    crowd.tick(2);
    const cues = heard(crowd).map((cue) => cue.join(' '));
    expect({ times: ids.map((id) => crowd.timeOf(id)), cues, next: crowd.add('wilt') }).toEqual(after);
  });

  test('is put at the ends of clips that are shorter now', () => {
    const reel = (duration: number) => parseReel<unknown>({ unspool: 1, clips: { c: { duration, tracks: {} } } });
    const crowd = new Crowd(reel(2));
    const id = crowd.add('c');
    crowd.tick(1.5);
    const other = new Crowd(reel(1));
    other.restore(crowd.save());
    expect(other.timeOf(id)).toBe(1);
  });

  test('refuses what is no state of it, and what makes no sense, and is as before', () => {
    const crowd = new Crowd(weed);
    const id = crowd.add('sway');
    crowd.tick(0.5);
    const state = crowd.save();
    const of = (call: () => void) => {
      expect(call).toThrow(/./);
      expect(call).not.toThrow(TypeError);
      expect(crowd.save()).toEqual(state);
    };
    for (const wrong of [null, undefined, 3, 'a', [], {}, { ...state, reel: 'other' }, { ...state, crowd: 99 }])
      of(() => crowd.restore(wrong as never));
    for (const wrong of [NaN, -1, Infinity, 1e7, '1', null]) of(() => (crowd.rate = wrong as never));
    for (const wrong of [NaN, 2, -1, 'rihgt', '99f', null, {}]) of(() => crowd.seek(id, wrong as never));
    for (const wrong of [NaN, 1e7, '1', null]) of(() => crowd.setRate(id, wrong as never));
    for (const wrong of [NaN, -1, Infinity, '1', null]) of(() => crowd.seekAll(wrong as never));
    for (const wrong of [NaN, -1, 0.5, 7, Infinity, 2 ** 24, '0', null]) {
      for (const call of ['pause', 'resume', 'isPaused', 'rateOf', 'save', 'remove', 'isOver', 'timeOf'] as const)
        of(() => crowd[call](wrong as never));
      of(() => crowd.seek(wrong as never, 0));
      of(() => crowd.restore(crowd.save(id), wrong as never));
    }
    of(() => crowd.restore(crowd.save(id)));
    of(() => crowd.restore(crowd.save(), id));
    expect(() => crowd.seek(id, 'rihgt')).toThrow('Did you mean "right"?');
    const other = new Crowd(parseReel<unknown>({ unspool: 1, name: 'weed', clips: {} }));
    expect(() => other.restore(state)).toThrow('the state has the clip "sway", which the reel "weed" no longer has');
    expect(other.count).toBe(0);
  });
});

describe('a crowd that nobody prepares', () => {
  test('prepares itself, a little in each tick, and shows the same', () => {
    const reel = () => parseReel<unknown>(JSON.parse(JSON.stringify(source)));
    const source = { unspool: 1, clips: { c: { duration: 2, loop: 'loop', tracks: tracks() } } };
    const [itself, never] = [new Crowd(reel()), new Crowd(reel())];
    const ids = [itself, never].map((crowd) => crowd.add('c'));
    let ticks = 0;
    for (; ticks < 500 && !isReady(itself); ticks++) {
      itself.tick(1 / 60);
      never.seekAll((ticks + 1) / 60);
      const pose = never.reel.clip('c').sample((ticks + 1) / 60);
      expect(poseOf(itself, ids[0]!)).toBeCloseTo(pose.values[0]!, 2);
    }
    // Some hundred steps, of which one tick takes only a few.
    expect(ticks).toBeGreaterThan(10);
    expect(isReady(itself)).toBe(true);
  });

  const isReady = (crowd: Crowd) => crowd.prepare([], () => true);
  const tracks = () =>
    Object.fromEntries(
      Array.from({ length: 4 }, (_, track) => [
        `a.p${track}`,
        Array.from({ length: 20 }, (_, i) => ({ at: i / 10, value: (i * 7 + track) % 5, ease: 'ease-in-out' })),
      ]),
    );
});
