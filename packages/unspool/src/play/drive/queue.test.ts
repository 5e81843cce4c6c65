import { getEventListeners } from 'node:events';
import { describe, expect, test } from 'vitest';
import { parseReel, Player, type EventType, type Playback } from '../../index.js';

const clip = (duration: number, more: object = {}) => ({
  duration,
  tracks: {
    'claw.glow': [
      { at: 0, value: 0 },
      { at: duration, value: duration },
    ],
  },
  cues: [{ at: duration / 2, name: 'half' }],
  ...more,
});
const reel = parseReel<unknown>({
  unspool: 1,
  roles: { claw: {} },
  clips: {
    snap: clip(0.3),
    hop: clip(0.5),
    sway: clip(1, { loop: 'loop' }),
    swing: clip(1, { loop: 'ping-pong' }),
    gate: {
      duration: 4,
      tracks: { 'claw.glow': [{ at: 0, value: 0 }, { at: 4, value: 4 }] }, // prettier-ignore
      cues: [{ at: 1, name: 'opened' }, { at: 3, name: 'closing', until: 3.5 }], // prettier-ignore
      spans: { opening: [0, 1], closing: [3, 4] },
    },
  },
  chains: { victory: ['snap', { clip: 'gate', span: 'opening', rate: 2 }, { clip: 'hop', fade: 0.1 }] },
});

const TYPES: readonly EventType[] = ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'];

/** A player that writes down what it tells: `0.3 end snap`. */
function listen(player: Player = new Player(reel)): { player: Player; emitted: string[] } {
  const emitted: string[] = [];
  for (const type of TYPES) {
    player.on(type, (event) => {
      const { time, name } = event as { time: number; name?: string };
      emitted.push(
        [Number(time.toFixed(9)), type, (event as { clip: string }).clip, name]
          .filter((x) => x !== undefined)
          .join(' '),
      );
    });
  }
  return { player, emitted };
}
const names = (queue: readonly Playback[]) => queue.map((one) => one.clip.name);

describe('queues', () => {
  test('the next begins at the very moment at which the one before ended, whatever the frames', () => {
    for (const frames of [[2], [0.1, 0.7, 0.3, 0.9], Array.from({ length: 20 }, () => 0.1)]) {
      const { player, emitted } = listen();
      player.play('snap');
      player.enqueue('hop');
      player.enqueue('sway');
      for (const dt of frames) player.tick(dt);
      expect(emitted).toEqual(
        '0.15 cue snap half|0.3 end snap|0.55 cue hop half|0.8 end hop|1.3 cue sway half|1.8 loop sway'.split('|'),
      );
      expect(player.playback!.time).toBeCloseTo(0.2, 9);
      expect(player.pose.get('claw.glow')).toBeCloseTo(0.2, 9);
    }
  });

  test('nothing is enqueued behind an endless loop, unless it waits for its pass', () => {
    const { player, emitted } = listen();
    player.play('sway');
    expect(() => player.enqueue('snap')).toThrow(
      '"sway" before it loops forever. Give that clip a count, or enqueue this one',
    );
    player.tick(0.25);
    player.enqueue('snap', { wait: 'loop' });
    player.enqueue('swing');
    expect(() => player.enqueue('snap')).toThrow('"swing"');
    player.enqueue('hop', { wait: 'loop' });
    player.tick(4);
    // There and back is one round of the swing.
    expect(emitted.filter((line) => !line.includes('half'))).toEqual([
      '1 end sway',
      '1.3 end snap',
      '2.3 loop swing',
      '3.3 end swing',
      '3.8 end hop',
    ]);
  });

  test('play replaces what plays and waits; stop continues with the next', async () => {
    const { player, emitted } = listen();
    const first = player.play('hop');
    const second = player.enqueue('snap');
    expect([first.active, second.waiting, names(player.queue)]).toEqual([true, true, ['snap']]);
    player.tick(0.1);
    first.stop();
    player.tick(0.1);
    expect(player.playback).toBe(second);
    const third = player.enqueue('hop');
    player.play('sway');
    expect(await Promise.all([first, second, third].map(({ ended }) => ended))).toEqual(['stop', 'stop', 'stop']);
    expect(emitted).toEqual(['0.1 stop hop', '0.2 stop snap']);
    expect(names(player.queue)).toEqual([]);
    const fourth = player.enqueue('snap', { wait: 'loop' });
    fourth.stop();
    player.stop();
    player.tick(1);
    expect(player.isPlaying).toBe(false);
  });

  test('an empty place begins at once', () => {
    const { player, emitted } = listen();
    player.enqueue('snap');
    player.tick(0.4);
    player.enqueue('hop');
    player.tick(0.5);
    expect(emitted.slice(1)).toEqual(['0.3 end snap', '0.65 cue hop half', '0.9 end hop']);
  });

  test('a fallback plays whenever nothing else does', () => {
    const { player, emitted } = listen();
    player.fallback('sway', { fade: 0.1 });
    player.tick(0.5);
    player.play('snap');
    player.tick(0.5);
    expect(player.playback!.clip.name).toBe('sway');
    player.enqueue('hop'); // and does not keep others waiting
    player.tick(0.7);
    player.fallback(undefined);
    player.tick(1);
    expect(emitted.filter((line) => !line.includes('half'))).toEqual([
      '0.5 stop sway',
      '0.8 end snap',
      '1 stop sway',
      '1.5 end hop',
      '1.7 stop sway',
    ]);
    expect(player.isPlaying).toBe(false);
  });

  test('played once, it goes back to what it interrupted, where that was', () => {
    const { player, emitted } = listen();
    player.play('sway', { from: 0.25, rate: 0.5 });
    player.tick(0.5); // at its cue
    player.play('snap', { back: true });
    player.tick(0.5);
    expect(player.playback!.clip.name).toBe('sway');
    expect(player.playback!.time).toBeCloseTo(0.5 + 0.1, 12);
    expect(emitted).toEqual(['0.5 cue sway half', '0.5 stop sway', '0.65 cue snap half', '0.8 end snap']);
  });
});

test('a chain plays its links with their options, and ends with the last', async () => {
  const { player, emitted } = listen();
  const first = player.play('victory');
  const { chain } = first;
  expect(chain!.links.map((link) => [link.clip.name, link.rate])).toEqual([['snap', 1], ['gate', 2], ['hop', 1]]); // prettier-ignore
  const all = chain!.ended;
  player.tick(1.3);
  expect(emitted.filter((line) => line.includes('end'))).toEqual(['0.3 end snap', '0.8 end gate', '1.3 end hop']);
  expect(await all).toBe('end');
  const again = player.play('victory');
  player.play('snap');
  expect(await again.chain!.ended).toBe('stop');
  expect(player.play('victory', { rate: 2 }).chain!.links.map(({ rate }) => rate)).toEqual([2, 4, 2]);
  expect(() => player.play('victori')).toThrow('no clip "victori". Did you mean "victory"?');
});

describe('landing', () => {
  test('on a cue: exactly there, fired, paused; continues from exactly there', () => {
    for (const frames of [[5], [0.3, 0.9, 0.1], Array.from({ length: 90 }, () => 1 / 60)]) {
      const { player, emitted } = listen();
      const gate = player.play('gate', { until: 'opened' });
      for (const dt of frames) player.tick(dt);
      expect([gate.time, gate.paused, gate.active]).toEqual([1, true, true]);
      expect(emitted).toEqual(['1 cue gate opened']);
      gate.resume({ until: 'closing' });
      player.tick(2.5);
      expect([gate.time, gate.paused]).toEqual([3, true]);
      gate.resume();
      gate.reverse(); // turned back half way
      player.tick(1);
      expect(gate.time).toBe(2);
      expect(emitted.slice(1).map((line) => line.replace(/^\S+ /, ''))).toEqual([
        'cue-start gate closing',
        'cue-end gate closing',
      ]);
    }
  });

  test('asked for while it runs: from there on, also where it has just passed a stop', () => {
    for (const frames of [[5], [0.4, 0.05, 4], Array.from({ length: 90 }, () => 1 / 20)]) {
      const { player, emitted } = listen();
      const gate = player.play('gate', { loop: 'loop' });
      player.tick(0.5);
      gate.resume({ until: 0.75 });
      for (const dt of frames) player.tick(dt);
      expect([gate.time, gate.paused, gate.iteration]).toEqual([0.75, true, 0]);
      expect(emitted).toEqual([]);
      // What lies behind comes in the next pass.
      gate.resume();
      player.tick(0.5);
      gate.resume({ until: 'opened' });
      player.tick(9);
      expect([gate.time, gate.paused, gate.iteration]).toEqual([1, true, 1]);
    }
  });

  test('at the end of a span, at a time, at the end of the clip, in a later pass, and where it begins', () => {
    const at = (options: object, dt = 9) => {
      const { player } = listen();
      const gate = player.play('gate', options);
      player.tick(dt);
      return [gate.time, gate.paused, gate.iteration];
    };
    expect(at({ until: 'opening' })).toEqual([1, true, 0]);
    expect(at({ until: '90f' })).toEqual([1.5, true, 0]);
    expect(at({ until: 4 })).toEqual([4, true, 0]);
    expect(at({ from: 2, until: 1, loop: 'loop' })).toEqual([1, true, 1]);
    expect(at({ from: 'opened', until: 'opened' })).toEqual([1, true, 0]);
    expect(at({ span: 'closing', rate: -1, until: 3.25 })).toEqual([3.25, true, 0]);
    expect(at({ span: 'closing', loop: 'loop' }, 2.5)).toEqual([3.5, false, 2]);
    const { player } = listen();
    const closing = player.play('gate', { span: 'closing' });
    expect(() => closing.seek(1)).toThrow('3 to 4 s');
    expect(() => closing.resume({ until: 'opened' })).toThrow('3 to 4 s');
    expect(() => at({ until: 'opend' })).toThrow('no cue or span "opend" for until. Did you mean "opened"?');
    expect(() => at({ span: 'closing', from: 1 })).toThrow('outside the played range of "gate", 3 to 4 s');
  });
});

test('a seek fires none, unless it is asked to', () => {
  const { player, emitted } = listen();
  const gate = player.play('gate');
  player.tick(0.5);
  gate.seek(3.2);
  expect(emitted).toEqual([]);
  gate.seek(0.5);
  gate.seek('closing', { cues: true });
  expect(emitted).toEqual(['0.5 cue gate opened', '0.5 cue-start gate closing']);
  gate.seek(0, { cues: true });
  expect(emitted.slice(2)).toEqual(['0.5 cue-end gate closing', '0.5 cue gate opened']);
});

test('on twos: a new pose every second frame of the clip, its cues when they are', () => {
  const { player, emitted } = listen();
  player.play('hop', { every: '6f' });
  const shown = Array.from({ length: 10 }, () => (player.tick(0.05), player.pose.get('claw.glow') as number));
  expect(shown.map((n) => Math.round(n * 100))).toEqual([0, 10, 10, 20, 20, 30, 30, 40, 40, 50]);
  expect(emitted).toEqual(['0.25 cue hop half', '0.5 end hop']);
});

test('a signal stops it, and is released when it is over', async () => {
  const { player, emitted } = listen();
  const control = new AbortController();
  const sway = player.play('sway', { signal: control.signal });
  player.enqueue('snap', { wait: 'loop' });
  player.tick(0.1);
  control.abort();
  player.tick(0.1);
  expect(await sway.ended).toBe('stop');
  expect(emitted).toEqual(['0.1 stop sway']);
  expect(player.playback!.clip.name).toBe('snap');
  expect(await player.play('hop', { signal: control.signal }).ended).toBe('stop');
  expect(player.playback!.clip.name).toBe('snap'); // aborted before it began, it disturbs nothing
});

test('what varies comes from a seed', () => {
  const play = (seed: number, own?: number) => {
    const player = new Player(reel, { seed });
    const vary = { rate: 0.2, offset: 1, start: 0.5, ...(own !== undefined && { seed: own }) };
    const list = Array.from({ length: 40 }, () => player.play('sway', { vary }));
    return list.map(({ rate, time, head }) => [rate, time, head.needed]);
  };
  expect(play(7)).toEqual(play(7));
  expect(play(7)).not.toEqual(play(8));
  expect(new Set(play(1, 3).map(String)).size).toBe(1);
  const [rates, times, waits] = [0, 1, 2].map((k) => play(5).map((one) => one[k]!)) as [number[], number[], number[]];
  for (const [list, low, high] of [
    [rates, 0.8, 1.2],
    [times, 0, 1],
    [waits, 0, 0.5],
  ] as const) {
    // prettier-ignore
    expect(Math.min(...list)).toBeGreaterThanOrEqual(low);
    expect(Math.max(...list)).toBeLessThanOrEqual(high);
    expect(Math.max(...list) - Math.min(...list)).toBeGreaterThan(0.7 * (high - low));
  }
  const player = new Player(reel);
  const late = player.play('snap', { vary: { seed: 1, start: 2 } });
  const wait = late.head.needed;
  const { emitted } = listen(player);
  for (let i = 0; i < 60; i++) player.tick(0.05);
  expect(emitted[0]).toBe(`${Number((wait + 0.15).toFixed(9))} cue snap half`);

  // While it waits it stands where it will begin, whatever happens beside it.
  const waiting = new Player(reel).on('cue', () => {});
  waiting.play('snap');
  const still = waiting.play('sway', { layer: 'top', rate: -1, from: 0.25, vary: { seed: 1, start: 9 } });
  waiting.on('cue', () => expect(still.time).toBe(0.25));
  waiting.tick(0.2);
  expect(still.time).toBe(0.25);
});

test('an hour in the background: skipped quickly, and what was left out is reported', () => {
  const { player, emitted } = listen(new Player(reel, { cueLimit: 20 }));
  const skips: object[] = [];
  player.on('skip', (event) => skips.push(event));
  const sway = player.play('sway', { from: 0.25 });
  player.tick(3600);
  expect(emitted).toHaveLength(20);
  expect(skips).toEqual([{ type: 'skip', cues: 3590, loops: 3590, time: 3600 }]);
  expect([sway.time, sway.iteration]).toEqual([0.25, 3600]);
  emitted.length = 0;
  player.tick(1);
  expect(emitted).toEqual(['3600.25 cue sway half', '3600.75 loop sway']);
});

test('disposed of, it holds nothing and does nothing', async () => {
  const claw = {};
  const { player, emitted } = listen(new Player(reel, { cast: { claw } }));
  const gate = player.play('gate', { from: 3.1 });
  const waiting = player.enqueue('snap');
  player.fallback('sway');
  player.tick(0.1);
  player.dispose();
  expect(emitted).toEqual(['0 cue-start gate closing', '0.1 cue-end gate closing', '0.1 stop gate']);
  expect(await Promise.all([gate.ended, waiting.ended])).toEqual(['stop', 'stop']);
  const before = { ...claw };
  player.tick(1);
  expect(claw).toEqual(before);
  expect(() => player.play('snap')).toThrow('is disposed');
});

test('nothing is left behind: no listener on a signal, no object, no handler, while the player itself is still held', async () => {
  const control = new AbortController();
  const listeners = () => getEventListeners(control.signal, 'abort').length;
  const made = () => {
    const claw = { glow: 1 };
    const handler = () => claw.glow;
    const player = new Player(reel, { cast: { claw } }).on('cue', handler);
    player.play('snap', { signal: control.signal });
    player.tick(0.5);
    expect(listeners()).toBe(0); // over
    player.play('sway', { signal: control.signal });
    player.enqueue('hop', { wait: 'loop', signal: control.signal });
    player.follow({ position: { x: 1, y: 2 } });
    expect(listeners()).toBe(2);
    player.dispose();
    return { player, refs: [new WeakRef(claw), new WeakRef(handler)] };
  };
  const { player, refs } = made();
  expect(listeners()).toBe(0);
  await new Promise((next) => setTimeout(next)); // a WeakRef holds what it was made of until the turn is over
  gc!();
  expect(refs.map((ref) => ref.deref())).toEqual([undefined, undefined]);
  expect(player.isPlaying).toBe(false);
});
