import fc from 'fast-check';
import { describe, expect, test, vi } from 'vitest';
import { runs } from '../../../test/runs.js';
import { randomReel } from '../../../test/random-reel.js';
import { defineClip, defineReel, parseReel, Player, type LoopMode, type PlayOptions } from '../../index.js';

const snap = defineClip('snap', { duration: 1 })
  .track('claw.rotation', [
    [0, 0],
    [1, 100],
  ])
  .cue(0, 'ready', { data: { sound: 'creak' } })
  .cue(0.25, 'danger', { until: 0.75 })
  .cue(0.5, 'shut')
  .cue(1, 'done');
const blink = defineClip('blink', { duration: 0 })
  .track('claw.visible', [[0, false]])
  .cue(0, 'now');
const bow = defineClip('bow', { duration: 1, after: 'rest' }).track('claw.opacity', [
  [0, 0],
  [1, 3],
]);
const crab = defineReel({ roles: { claw: { rest: { rotation: -5 } } }, clips: [snap, blink, bow] });

const TYPES = ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'] as const;

/** Plays a clip, frame by frame, and writes down every moment: `0.5 cue shut (0)`. */
function moments(frames: Iterable<number>, options: PlayOptions = {}, clip: 'snap' | 'blink' = 'snap'): string[] {
  const player = new Player(parseReel<unknown>(crab));
  const emitted: string[] = [];
  for (const type of TYPES) {
    player.on(type, (event) => {
      expect(event.playback.time).toBe(event.at);
      const name = 'name' in event ? ` ${event.name}` : '';
      emitted.push(`${Number(event.time.toFixed(9))} ${type}${name} (${event.iteration})`);
    });
  }
  player.play(clip, options);
  for (const dt of frames) player.tick(dt);
  return emitted;
}

const ONCE = [
  '0 cue ready (0)',
  '0.25 cue-start danger (0)',
  '0.5 cue shut (0)',
  '0.75 cue-end danger (0)',
  '1 cue done (0)',
];

describe('moments', () => {
  test('once: each cue exactly once, the end last', () => {
    expect(moments([5])).toEqual([...ONCE, '1 end (0)']);
  });

  test('once, backwards: from the end to the start', () => {
    expect(moments([5], { rate: -1 })).toEqual([
      ...[
        '0 cue done (0)',
        '0.25 cue-start danger (0)',
        '0.5 cue shut (0)',
        '0.75 cue-end danger (0)',
        '1 cue ready (0)',
      ],
      '1 end (0)',
    ]);
  });

  test('loop: the cue at the very end, then the loop, then the cue at 0', () => {
    expect(moments([1.6], { loop: 'loop' })).toEqual([
      ...[...ONCE, '1 loop (1)', '1 cue ready (1)', '1.25 cue-start danger (1)', '1.5 cue shut (1)'],
    ]);
  });

  test('ping-pong: a cue at a turn fires once, and intervals are passed both ways', () => {
    expect(moments([2.3], { loop: 'ping-pong' })).toEqual([
      ...[...ONCE, '1 loop (1)', '1.25 cue-start danger (1)', '1.5 cue shut (1)', '1.75 cue-end danger (1)'],
      ...['2 cue ready (1)', '2 loop (2)', '2.25 cue-start danger (2)'],
    ]);
  });

  test('two and a half passes end in the middle, and an open interval ends with them', () => {
    const emitted = moments([9], { loop: { mode: 'loop', count: 2.5 } });
    expect(emitted.slice(-5)).toEqual([
      ...['2 cue ready (2)', '2.25 cue-start danger (2)', '2.5 cue shut (2)', '2.5 cue-end danger (2)', '2.5 end (2)'],
    ]);
  });

  test('a playback that begins inside an interval enters it; the rate scales when things happen', () => {
    expect(moments([1], { from: 0.5, rate: 2 })).toEqual([
      ...['0 cue-start danger (0)', '0 cue shut (0)', '0.125 cue-end danger (0)', '0.25 cue done (0)', '0.25 end (0)'],
    ]);
  });

  test('a clip of no length ends at once; looped, it stays; at rate 0 nothing but the beginning happens', () => {
    expect(moments([0, 1], {}, 'blink')).toEqual(['0 cue now (0)', '0 end (0)']);
    expect(moments([0, 1], { loop: 'loop' }, 'blink')).toEqual(['0 cue now (0)']);
    expect(moments([1, 1], { rate: 0 })).toEqual(['0 cue ready (0)']);
  });

  test('nine frames of a sixtieth reach the ninth frame, exactly', () => {
    const player = new Player(parseReel(crab));
    const playback = player.play('snap');
    for (let i = 0; i < 9; i++) player.tick(1 / 60);
    expect(playback.time).toBe(9 / 60);
    for (let i = 9; i < 15; i++) player.tick(1 / 60);
    expect(playback.time).toBe(0.25);
  });
});

describe('the partition law', () => {
  const steps = fc.array(fc.double({ min: 1e-4, max: 0.4, noNaN: true }), { minLength: 1, maxLength: 40 });
  const modes = fc.constantFrom<LoopMode>('once', 'loop', 'ping-pong');
  const rates = fc.constantFrom(1, -1, 0.3, -2.5, 7);

  test('however time is cut, the same moments at the same times, and the same pose', () => {
    fc.assert(
      fc.property(randomReel, steps, modes, rates, (document, cuts, loop, rate) => {
        const reel = parseReel(document);
        const [clip] = Object.keys(reel.clips) as [string];
        const total = cuts.reduce((sum, dt) => sum + dt, 0);
        const play = (frames: readonly number[]) => {
          const player = new Player(reel);
          const emitted: unknown[] = [];
          for (const type of TYPES) {
            player.on(type, ({ at, time, iteration, ...rest }) =>
              emitted.push([type, 'name' in rest && rest.name, at, time, iteration]),
            );
          }
          player.play(clip, { loop, rate });
          for (const dt of frames) player.tick(dt);
          return { told: emitted, pose: player.pose.toObject() };
        };
        const whole = play([total]);
        const cut = play(cuts);
        // A moment within a nanosecond of the very end may fall on either side of it.
        const sure = ({ told: emitted }: typeof whole) =>
          emitted.filter((moment) => (moment as number[])[3]! < total - 1e-8);
        expect(sure(cut)).toEqual(sure(whole));
      }),
      runs(150),
    );
  });

  test('a loop that ran for a month is as precise as one that has just begun', () => {
    const player = new Player(parseReel(crab));
    const playback = player.play('snap', { loop: 'loop' });
    player.tick(30 * 86400);
    player.tick(0.125);
    expect(playback.time).toBe(0.125);
    expect(playback.iteration).toBe(30 * 86400);
  });
});

describe('handlers', () => {
  const ready = () => {
    const player = new Player(parseReel(crab));
    return { player, playback: player.play('snap') };
  };

  test('what they do takes effect at their moment, and the rest of the frame goes to it', () => {
    const { player } = ready();
    player.on('cue', (cue) => cue.name === 'shut' && player.play('bow'));
    player.tick(0.7);
    expect(player.playback).toMatchObject({ clip: { name: 'bow' } });
    expect(player.playback!.time).toBeCloseTo(0.2, 12);
  });

  test('a pause at a cue is exactly on it; resume continues from there', () => {
    const { player, playback } = ready();
    player.on('cue', (cue) => cue.name === 'shut' && cue.playback.pause());
    player.tick(0.9);
    expect([playback.time, playback.paused]).toEqual([0.5, true]);
    playback.resume();
    player.tick(0.1);
    expect(playback.time).toBeCloseTo(0.6, 12);
  });

  test('reversing inside an interval leaves it on the side it came from, and passes the same cues again', () => {
    const { player, playback } = ready();
    const emitted: string[] = [];
    for (const type of TYPES)
      player.on(type, (event) => emitted.push('name' in event ? `${type} ${event.name as string}` : type));
    player.on('cue', (cue) => cue.name === 'shut' && playback.rate > 0 && playback.reverse());
    player.tick(3);
    expect(emitted).toEqual(['cue ready', 'cue-start danger', 'cue shut', 'cue-end danger', 'cue ready', 'end']);
  });

  test('a seek fires no cue, but ends the interval it leaves; stopping does too', async () => {
    const { player, playback } = ready();
    const heard = vi.fn<(text: string) => void>();
    for (const type of TYPES)
      player.on(type, (event) => heard('name' in event ? `${type} ${event.name as string}` : type));
    player.tick(0.3);
    playback.seek(0.9);
    playback.seek(0.3);
    player.tick(0.1);
    player.stop();
    await expect(playback.ended).resolves.toBe('stop');
    expect(heard.mock.calls.flat()).toEqual(['cue ready', 'cue-start danger', 'cue-end danger', 'stop']);
    expect(() => playback.seek(2)).toThrow('outside the clip "snap", which lasts from 0 to 1 s');
  });

  test('an error in one stops neither the others nor the frame, and comes out after it', () => {
    const claw = { rotation: 0 };
    const player = new Player(parseReel(crab), { cast: { claw } });
    const second = vi.fn();
    player
      .on('cue', () => {
        throw new Error('no such sound');
      })
      .on('cue', second);
    player.play('snap');
    expect(() => player.tick(0.6)).toThrow('no such sound');
    expect(second).toHaveBeenCalledTimes(2);
    expect(claw.rotation).toBeCloseTo(60, 9);
  });

  test('going in circles is found, and named', () => {
    const { player } = ready();
    player.on('cue', (cue) => cue.name === 'ready' && player.play('snap'));
    expect(() => player.tick(1)).toThrow(/more than 10000 moments.*clip "snap": cue "ready"/);
  });
});

describe('the cast', () => {
  test('is written once per frame, in bounds, and rests when a clip says so', () => {
    const claw = { rotation: 0, opacity: 0.7 };
    const player = new Player(parseReel(crab), { cast: { claw } });
    player.play('snap');
    player.tick(0.5);
    expect(claw).toEqual({ rotation: 50, opacity: 0.7 });
    player.play('bow');
    player.tick(0.5);
    expect(claw).toEqual({ rotation: 50, opacity: 1 }); // what "snap" leaves behind
    player.tick(1);
    expect(claw).toEqual({ rotation: 50, opacity: 0.7 });
    claw.rotation = 33; // nothing plays: the game may move it
    player.tick(1);
    expect(claw.rotation).toBe(33);
  });

  test('mistakes in a call say what to do, and change nothing', () => {
    const player = new Player(parseReel(crab as unknown));
    expect(() => player.play('snpa')).toThrow('has no clip "snpa". Did you mean "snap"?');
    expect(() => player.play('snap', { form: 1 } as never)).toThrow(
      'unknown option "form" of play. Did you mean "from"?',
    );
    expect(() => player.play('snap', { loop: 'pingpong' as never })).toThrow('Did you mean "ping-pong"?');
    expect(() => player.on('cues' as never, () => {})).toThrow('Did you mean "cue"?');
    expect(() => player.tick(NaN)).toThrow('tick expects the elapsed seconds, found NaN');
    expect(() => new Player(parseReel(crab as unknown), { cast: { clow: {} } })).toThrow('Did you mean "claw"?');
  });
});

test('an adapter that throws while it writes does not leave the player in its frame', () => {
  const still = parseReel<unknown>({
    unspool: 1,
    clips: { c: { tracks: { 'claw.glow': [{ at: 0, value: 1 }] }, loop: 'loop' } },
  });
  const claw = {};
  const player = new Player(still, { cast: { claw } });
  Object.freeze(claw);
  player.play('c');
  expect(() => player.tick(0.1)).toThrow(TypeError);
  expect(() => player.tick(0.1)).toThrow(TypeError); // the same again, and not that tick was nested
  expect(player.time).toBeCloseTo(0.2, 12);
});

describe('a player that stands still', () => {
  const still = (stop: 'paused' | 'ended' | 'never played') => {
    const claw = { rotation: 0, opacity: 1, visible: true };
    const player = new Player(parseReel<unknown>(crab), { cast: { claw } });
    if (stop !== 'never played') player.play('snap', { from: 0.5 });
    if (stop === 'paused') player.playback!.pause();
    for (let i = 0; i < 60; i++) player.tick(1 / 60);
    return { player, claw };
  };

  test.each(['paused', 'ended', 'never played'] as const)(
    '(%s) counts its time, and is woken by every call',
    (stop) => {
      const wakes: Record<string, (player: Player) => void> = {
        play: (player) => player.play('snap'),
        gauge: (player) => (player.gauge('bar', { clip: 'snap', time: 0.2 }).value = 0.3),
        place: (player) => player.place({ rotation: 30 }),
        layer: (player) => player.play('snap', { layer: 'top', from: 0.1 }),
      };
      // A fallback waits for what is paused.
      if (stop !== 'paused') wakes['fallback'] = (player) => player.fallback('snap');
      if (stop === 'paused') wakes['resume'] = (player) => player.playback!.resume();
      if (stop !== 'never played') wakes['seek'] = (player) => player.playback!.seek(0.25);
      for (const [name, wake] of Object.entries(wakes)) {
        const { player, claw } = still(stop);
        expect(player.time, name).toBeCloseTo(1, 12);
        const before = { ...claw };
        wake(player);
        player.tick(0.1);
        expect(player.time, name).toBeCloseTo(1.1, 12);
        // What has ended takes no seek.
        if (name === 'seek' && stop === 'ended') continue;
        expect({ ...claw }, name).not.toEqual(before);
      }
    },
  );

  test('keeps its own time, whatever others of its kind do', () => {
    const stops = ['paused', 'ended', 'never played'] as const;
    // More than have their clocks in one list.
    const players = Array.from({ length: 150 }, (_, i) => ({ ...still(stops[i % 3]!), sum: 1 }));
    for (let frame = 0; frame < 40; frame++) {
      players.forEach((one, i) => {
        const dt = ((i * 7 + frame * 3) % 11) / 8;
        if ((i + frame) % 13 === 0) one.player.place({ rotation: frame });
        if ((i * frame) % 17 === 5) one.player.restore(one.player.save());
        one.player.tick(dt);
        one.sum += dt;
      });
    }
    players.forEach(({ player, sum }, i) => expect(player.time, `player ${i}`).toBeCloseTo(sum, 12));
  });

  test('follows, and refuses what is no time, as ever', () => {
    const { player, claw } = still('ended');
    const hero = { position: { x: 7, y: 8 } };
    player.follow(hero);
    player.tick(0.1);
    hero.position.x = 9;
    player.tick(0.1);
    expect(claw).toMatchObject({ position: { x: 9, y: 8 } });
    player.follow(undefined);
    for (let i = 0; i < 3; i++) player.tick(0.1);
    expect(() => player.tick(NaN)).toThrow(RangeError);
    expect(() => player.tick(-1)).toThrow(RangeError);
    player.tick(-0.05);
    expect(player.time).toBeCloseTo(1.5, 12);
    player.dispose();
    expect(() => player.tick(0.1)).not.toThrow();
    expect(() => player.play('snap')).toThrow('disposed');
  });
});
