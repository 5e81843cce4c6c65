import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makePlayer, play, program, type Told } from '../../test/programs.js';
import { randomScene } from '../../test/random-reel.js';
import { runs } from '../../test/runs.js';
import { line, read, reelOf, run } from '../../test/changing-reels.js';
import { fitState, Player, startRoutine, travelOf } from '../index.js';
import type { PlayerState, ReelDocument, UnspoolError } from '../index.js';
import { HitWorld } from '../hit/index.js';
import { adopt } from './index.js';

const END = 256;
const shares = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 6 });
const copy = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
const newCast = ({ roles }: ReelDocument) =>
  Object.fromEntries(Object.keys(roles!).map((role) => [role, { position: { x: 0, y: 0 } }]));

/** How a reel is changed whose clips keep their names. */
const change = fc.record({
  // Long enough for the rule that lands at 0.25 s: a reel in which it could not begin is refused.
  duration: fc.constantFrom(undefined, '0.3s', '0.5s', '2.5s'),
  loop: fc.constantFrom(undefined, 'once', 'loop', 'ping-pong', { mode: 'loop', count: 1.5 }),
  rate: fc.constantFrom(undefined, 0.5, 2),
  cues: fc.constantFrom(undefined, [], [{ at: '3f', name: 'new' }, { at: '5f', until: '15f', name: 'newer' }]), // prettier-ignore
  span: fc.constantFrom(['2f', '0.25s'], ['1f', '0.1s']),
  rest: fc.constantFrom(5, 7),
  more: fc.boolean(),
});

function changed(
  document: ReelDocument,
  { rest, more, span, ...clip }: typeof change extends fc.Arbitrary<infer T> ? T : never,
) {
  const roles = Object.keys(document.roles!);
  const added = more ? { [`${roles[0]}.position`]: [{ at: 0, value: [1, 2] }, { at: '9f', value: [3, 4] }] } : {}; // prettier-ignore
  return {
    ...document,
    roles: Object.fromEntries(roles.map((role) => [role, { rest: { rotation: rest } }])),
    clips: Object.fromEntries(
      Object.entries(document.clips).map(([name, { tracks, ...rest }]) => [
        name,
        { ...rest, ...(copy(clip) as object), spans: { 'the-middle-of-it': span }, tracks: { ...added, ...tracks } },
      ]),
    ),
  };
}

test('an equal reel changes nothing, to the bit; nor does another one in between, at the same moment', () => {
  fc.assert(
    fc.property(
      randomScene,
      program,
      shares,
      fc.nat(12),
      fc.array(change, { maxLength: 2 }),
      (document, steps, cuts, when, others) => {
        const reel = read(document);
        const [told, again]: [Told[], Told[]] = [[], []];
        const [cast, other] = [newCast(document), newCast(document)];
        const one = makePlayer(reel, told, cast);
        const two = makePlayer(reel, again, other);
        const acts = [one, two].map((player) => startRoutine(player.layer('rules') && player, 'what-to-do'));
        for (const act of acts) act.signal('jump');
        play(one, reel, steps, END, cuts);
        play(two, reel, steps, END, cuts, (step) => {
          if (step !== when % steps.length) return two;
          const before = copy(two.save());
          const objects = copy(other);
          for (const between of others) adopt(two, read(changed(document, between)));
          if (others.length === 0) expect(copy(other)).toEqual(objects);
          const lost = adopt(two, read(document));
          expect(lost).toEqual([]);
          expect(copy(two.save())).toEqual(before);
          // What was placed at this very moment is written with the first thing that is.
          const isPlacedNow = steps.some(({ at, command }, i) => i < step && at === steps[step]!.at && /place|face/.test(command.call)); // prettier-ignore
          if (!isPlacedNow && others.every(({ rest }) => rest === 5)) expect(copy(other)).toEqual(objects);
          return two;
        });
        expect(again).toEqual(told);
        expect(two.pose.values.every((n, i) => Object.is(n, one.pose.values[i]))).toBe(true);
        expect(acts[1]!.explain()).toEqual(acts[0]!.explain());
      },
    ),
    runs(70),
  );
});

test('a saved state that is fitted to a changed reel is what a player becomes that adopts it', () => {
  fc.assert(
    fc.property(randomScene, program, shares, change, (document, steps, cuts, other) => {
      const reel = read(document);
      const next = read(changed(document, other));
      const one = makePlayer(reel, []);
      play(one, reel, steps, END, cuts);
      const { state, lost } = fitState(copy(one.save()) as PlayerState, next);
      const two = makePlayer(next, []);
      two.restore(state);
      adopt(one, next);
      expect(lost).toEqual([]);
      expect(copy(two.save())).toEqual(copy(one.save()));
      for (const player of [one, two]) for (let frame = 0; frame < 30; frame++) player.tick(1 / 30);
      expect(copy(two.save())).toEqual(copy(one.save()));
    }),
    runs(100),
  );
});

test('a saved state of a reel that has lost clips, spans, facings and rules: what is left goes on, and each loss is told', () => {
  const clip = { duration: 2, loop: 'loop', tracks: { 'crab.glow': [{ at: 0, value: 0 }, { at: 2, value: 2 }] } }; // prettier-ignore
  const text = { tracks: { 'crab.mood': [{ at: 0, value: 'calm' }, { at: 1, value: 'cross' }] } }; // prettier-ignore
  const before = read({
    unspool: 1,
    name: 'crab',
    clips: { run: { ...clip, spans: { middle: [0.5, 1.5] } }, hop: clip, text },
    facings: { go: { left: 'run', right: 'hop' } },
    routines: { main: { inputs: {}, rules: [{ name: 'arm', layer: 'arm', play: 'hop' }] } },
  });
  const player = new Player(before);
  startRoutine(player, 'main');
  player.face('go', [-1, 0]);
  player.layer('mid').play('run', { span: 'middle' });
  player.layer('said').play('text');
  player.enqueue('text', { wait: 'loop' });
  player.enqueue('hop');
  player.tick(1.25);
  const state = player.save();
  const moods = { 'crab.mood': [{ at: 0, value: 'merry' }, { at: 1, value: 'calm' }, { at: 2, value: 'cross' }] }; // prettier-ignore
  const after = read({ unspool: 1, name: 'crab', clips: { run: clip, text: { tracks: moods } } });
  const fitted = fitState(state, after);
  expect(fitted.lost.map(({ message }) => message.replace(/: the reel.*/, ''))).toEqual([
    'the routine "main" is gone',
    'the clip "hop", which waited on the layer "base", is gone',
    'the span "middle" of "run", which played on the layer "mid", is gone',
    'the facing "go" is gone',
  ]);
  const two = new Player(after);
  two.restore(fitted.state);
  expect(two.layers.map(({ name, playback }) => [name, playback?.clip.name])).toEqual([
    ['base', 'run'],
    ['arm', undefined],
    ['mid', undefined],
    ['said', 'text'],
  ]);
  expect([two.queue.map((next) => next.clip.name), two.pose.get('crab.glow'), two.pose.get('crab.mood')]).toEqual([
    ['text'],
    1.25,
    'cross', // it has ended, and is at the end of what it is now
  ]);
  expect(fitState(fitted.state, after)).toEqual({ state: fitted.state, lost: [] });
  expect(() => fitState({ ...state, seed: 9 }, after)).toThrow('was modified');
  expect(() => fitState(state, read({ unspool: 1, name: 'jelly', clips: { run: clip } }))).toThrow('belongs to the reel "crab"'); // prettier-ignore
  expect(() => two.restore(state)).toThrow('Fit it first: fitState(state, reel)');
});

describe('playheads', () => {
  /** Plays a loop, changes it, and writes down the times of cues and loops, from the change on. */
  const heardOf = (before: object, after: object, at: number, options: object = {}) => {
    const player = new Player(reelOf({ run: before }));
    player.play('run', options);
    player.tick(at);
    const heard: [string, number][] = [];
    for (const type of ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'] as const)
      player.on(type, ({ time }) => heard.push([type, Number(time.toFixed(9))]));
    adopt(player, reelOf({ run: after }));
    const to = player.playback!.time;
    for (let frame = 0; frame < 240; frame++) player.tick(1 / 60);
    return { heard, to, player };
  };

  test('stay at their time: a loop of 1 s that is 2 s long now, or half a second', () => {
    const times = (until: number) => heardOf(run(1), run(until), 0.75).heard.flatMap(([type, time]) => (type === 'loop' ? [time] : [])); // prettier-ignore
    expect(times(2).slice(0, 2)).toEqual([2, 4]);
    // It has no 0.75 s any longer: it is at its end, and wraps at once.
    expect(times(0.5).slice(0, 3)).toEqual([0.75, 1.25, 1.75]);
  });

  test.each([
    ['the mode of the clip', run(1, { loop: 'once' }), {}, ['end']],
    ['not the mode of the call', run(1, { loop: 'once' }), { loop: 'loop' }, ['loop', 'loop', 'loop', 'loop']],
    ['the rate of the clip', run(1, { rate: 2 }), {}, ['loop', 'loop', 'loop', 'loop', 'loop', 'loop', 'loop', 'loop']],
  ])('follow %s', (_, after, options, types) => {
    const { heard } = heardOf(run(1, { rate: 1 }), { ...after, cues: [] }, 0.75, options);
    expect(heard.map(([type]) => type).slice(0, 8)).toEqual(types);
  });

  test('a cue ahead of the playhead fires, one that lies behind it does not, and nothing twice', () => {
    const cues = (...list: readonly number[]) => run(1, { cues: list.map((at) => ({ at, name: 'c' })) });
    const fired = (before: object, after: object) =>
      heardOf(before, after, 0.5).heard.flatMap(([type, time]) => (type === 'cue' && time < 1.25 ? [time] : []));
    expect(fired(cues(0.25, 0.75), cues(0.25, 0.625))).toEqual([0.625]);
    expect(fired(cues(0.25, 0.75), cues(0.4))).toEqual([]);
    expect(fired(cues(0.25), cues(0.25, 0.4, 0.9))).toEqual([0.9]);
    expect(fired(cues(0.25), cues(0.75))).toEqual([0.75]); // moved ahead of it, it comes once more
  });

  test('an interval that it is still inside of ends; one that is gone ends without a word', () => {
    const open = (at: number, until: number) => run(1, { loop: 'once', cues: [{ at, until, name: 'open' }] });
    const { heard } = heardOf(open(0.25, 0.75), open(0.25, 0.875), 0.5);
    expect(heard).toEqual([['cue-end', 0.875], ['end', 1]]); // prettier-ignore
    expect(heardOf(open(0.25, 0.75), open(0.625, 0.75), 0.5).heard[0]).toEqual(['cue-start', 0.625]);
    expect(heardOf(open(0.25, 0.75), run(1, { loop: 'once', cues: [] }), 0.5).heard).toEqual([['end', 1]]);
  });

  test('land where a named moment is now; a clip that has ended holds its new end', () => {
    const until = (at: number) => run(1, { cues: [{ at, name: 'shut' }] });
    const landing = heardOf(until(0.5), until(0.75), 0.25, { until: 'shut' });
    expect(landing.player.playback).toMatchObject({ paused: true, time: 0.75 });
    const once = (duration: number, to: number) => ({ duration, tracks: { 'crab.glow': line(duration, to) } });
    const { to, player } = heardOf(once(1, 5), once(2, 8), 3);
    expect([to, player.pose.get('crab.glow'), player.playback!.active]).toEqual([2, 8, false]);
  });
});

describe('a player', () => {
  const clips = { idle: run(1), hop: run(2, { loop: 'once' }), bar: { tracks: { 'bar.level': line(1) } } };

  test('keeps its queue, layers, gauges, handlers and promises: the same objects', async () => {
    const cast = { crab: { glow: 0 }, bar: { level: 0 } };
    const player = new Player(reelOf(clips), { cast });
    const top = player.layer('top', { mask: ['bar'] });
    const first = player.play('hop');
    const next = player.enqueue('idle');
    const ends = first.ended;
    const bar = player.gauge('level', { clip: 'bar', max: 10, value: 5 });
    let ended = 0;
    player.on('end', () => ended++);
    player.tick(0.5);
    adopt(player, reelOf({ ...clips, hop: run(1, { loop: 'once' }), bar: { tracks: { 'bar.level': line(1, 4) } } }));
    expect([player.playback, player.queue[0], player.layer('top'), player.gauge('level')]).toEqual([
      first,
      next,
      top,
      bar,
    ]);
    expect([cast.crab.glow, cast.bar.level, bar.value]).toEqual([0.5, 2, 5]);
    player.tick(1);
    expect([ended, await ends, player.playback === next, next.time]).toEqual([1, 'end', true, 0.5]);
    bar.value = 10;
    player.tick(0);
    expect(cast.bar.level).toBe(4);
  });

  test('stops what is gone, says so once, and goes on with what waits', () => {
    const problems: string[] = [];
    const cast = { crab: { glow: 0 }, bar: { level: 0 } };
    const player = new Player(reelOf(clips), { cast, onWarning: ({ message }) => problems.push(message) });
    let told = 0;
    for (const type of ['stop', 'end'] as const) player.on(type, () => told++);
    player.play('hop');
    player.enqueue('idle');
    player.layer('top').fallback(['hop', 'idle']);
    player.gauge('level', { clip: 'bar', value: 0.5 });
    player.tick(0.25);
    const lost = adopt(player, reelOf({ idle: run(1) }, { roles: { crab: {}, bar: { rest: { level: 9 } } } }));
    expect(told).toBe(0);
    expect(lost.map(({ code }) => code)).toEqual(['play/lost', 'play/lost', 'play/lost']);
    expect(problems).toEqual(lost.map(({ message }) => message));
    expect(problems).toEqual([
      'the gauge "level" is gone: the reel no longer has its clip. Bring it back, or let the game do without it.',
      'the clip "hop", which played on the layer "base", is gone: the reel no longer has it. Bring it back, or let the game do without it.',
      '"hop", the fallback of the layer "top", is gone: the reel no longer has it. Bring it back, or let the game do without it.',
    ]);
    expect([player.playback!.clip.name, player.queue, player.layer('top').playback?.clip.name]).toEqual([
      'idle',
      [],
      'idle',
    ]);
    player.tick(0.5);
    // What the gauge has left holds, also against a rest value that is new.
    expect(cast).toEqual({ crab: { glow: 0.75 }, bar: { level: 0.5 } });
    adopt(player, reelOf(clips));
    player.play('hop');
    player.tick(0.25);
    expect(player.playback).toMatchObject({ time: 0.25, active: true });
  });

  test('writes what looks different at once, also while it is paused, and what the game has moved not', () => {
    const rest = (glow: number, shade: number) => ({ roles: { bar: {}, crab: { rest: { glow, shade } } } });
    const cast = { crab: { glow: 0, shade: 0, girth: 3 } };
    const player = new Player(reelOf(clips, rest(1, 1)), { cast });
    player.play('idle').pause();
    player.tick(0.1);
    expect(cast.crab).toEqual({ glow: 0, shade: 1, girth: 3 });
    const size = { 'crab.girth': [{ at: 0, value: 7 }] };
    adopt(player, reelOf({ idle: run(1, { tracks: { 'crab.glow': [{ at: 0, value: 2 }], ...size } }) }, rest(1, 4)));
    expect(cast.crab).toEqual({ glow: 2, shade: 4, girth: 7 });
    cast.crab.shade = 6;
    adopt(player, reelOf(clips, rest(1, 5)));
    // The track of the size is gone: it is what it was. The shade is the game's since.
    expect(cast.crab).toEqual({ glow: 0, shade: 6, girth: 3 });
  });

  test('goes on in its routine: what it knows stays, and the new rules decide', () => {
    const routine = (...rules: readonly object[]) => ({
      routines: { main: { inputs: { speed: { kind: 'number' }, go: { kind: 'signal', keep: 5 } }, rules } },
    });
    const idle = { name: 'idle', play: 'idle' };
    const options = { onWarning: () => undefined };
    const player = new Player(
      reelOf(clips, routine({ name: 'fast', if: { speed: { above: 5 } }, play: 'hop' }, idle)),
      options,
    );
    const act = startRoutine(player, 'main');
    act.set('speed', 4);
    act.signal('go');
    player.tick(0.25);
    const idling = player.playback;
    adopt(player, reelOf(clips, routine({ name: 'fast', if: { speed: { above: 5 } }, play: 'hop' }, { name: 'new', on: 'go', if: { speed: { above: 3 } }, play: 'hop' }, idle))); // prettier-ignore
    expect([act.rule(), act.get('speed'), player.playback]).toEqual(['idle', 4, idling]);
    player.tick(0.25);
    expect(act.rule()).toBe('new');
    // Its rule is gone, and so is what it plays.
    adopt(player, reelOf(clips, routine({ name: 'fast', if: { speed: { above: 5 } }, play: 'hop' }, idle)));
    player.tick(0);
    expect([act.rule(), act.isRunning, player.playback!.clip.name]).toEqual(['idle', true, 'idle']);
    adopt(player, reelOf(clips));
    player.tick(0);
    expect([act.isRunning, player.isPlaying]).toEqual([false, false]);
  });

  test('does not adopt a reel with a rule that could not begin', () => {
    const routine = { main: { inputs: {}, rules: [{ name: 'hop', play: 'hop', until: 1.5 }] } };
    const player = new Player(reelOf(clips, { routines: routine }));
    startRoutine(player, 'main');
    player.tick(0.5);
    const before = copy(player.save());
    expect(() => adopt(player, reelOf({ ...clips, hop: run(1) }, { routines: routine }))).toThrow(
      'until 1.5 is outside',
    );
    expect(copy(player.save())).toEqual(before);
  });

  test('hits with the shapes of now, and each target once', () => {
    const claw = (x: number, size: number) => {
      const pincer = { tag: 'hits', kind: 'circle' };
      const keys = [{ at: 0, value: { center: [x, 0], radius: size } }];
      return {
        roles: { claw: { shapes: { pincer } } },
        clips: { snap: { duration: 4, tracks: { 'claw.pincer': keys } } },
      };
    };
    const player = new Player(read({ unspool: 1, ...claw(0, 1) }));
    const world = new HitWorld();
    world.add('crab', player);
    const targets = { near: 5, far: 20 };
    for (const [name, x] of Object.entries(targets))
      world.add(name, { position: [x, 0], shapes: { body: { tag: 'hurt', shape: { kind: 'circle', center: [0, 0], radius: 1 } } } }); // prettier-ignore
    player.play('snap');
    const hits = () => world.tick(0.125).map(({ to }) => to.owner);
    expect(hits()).toEqual([]);
    adopt(player, read({ unspool: 1, ...claw(5, 1) }));
    expect(hits()).toEqual(['near']);
    adopt(player, read({ unspool: 1, ...claw(12, 8) }));
    expect(hits()).toEqual(['far']);
    expect(hits()).toEqual([]);
  });

  test('counts no way for the change itself', () => {
    const walk = (to: number) => ({ walk: { duration: 1, loop: 'loop', tracks: { 'crab.position.x': { accumulate: true, keys: line(1, to) } } } }); // prettier-ignore
    const player = new Player(reelOf(walk(10)));
    const way = travelOf(player, 'crab.position');
    player.play('walk');
    player.tick(0.5);
    adopt(player, reelOf(walk(20)));
    player.tick(0.25);
    expect([...way.take()]).toEqual([10, 0]);
  });

  test('refuses what it cannot do, and nothing has changed', () => {
    const reel = reelOf(clips);
    const crab = Object.defineProperty({ glow: 1 }, 'girth', { value: 1 });
    const player = new Player(reel, { cast: { crab } });
    const errors: unknown[] = [];
    player.on('cue', () => {
      try {
        adopt(player, reelOf(clips));
      } catch (error) {
        errors.push((error as UnspoolError).code);
      }
    });
    player.play('idle');
    expect(() => adopt(player, {} as never)).toThrow('expected a reel');
    const grows = { ...clips, idle: run(1, { tracks: { 'crab.girth': line(1) } }) };
    expect(() => adopt(player, reelOf(grows))).toThrow('cannot take the property girth');
    player.tick(0.75);
    expect([errors, player.reel]).toEqual([['play/adopt'], reel]);
    player.dispose();
    expect(() => adopt(player, reel)).toThrow('is disposed');
  });
});
