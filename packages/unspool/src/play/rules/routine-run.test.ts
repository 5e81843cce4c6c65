import { expect, test } from 'vitest';
import { parseReel, Player, startRoutine } from '../../index.js';

const line = [
  { at: 0, value: 0 },
  { at: 0.05, value: 5 },
];
const clips = {
  idle: { loop: 'loop', tracks: { 'crab.glow': line } },
  swim: { loop: 'loop', tracks: { 'crab.glow': line }, spans: { stroke: [0.01, 0.02] } },
  snap: { duration: 0.5, tracks: { 'crab.glow': line } },
  point: { loop: 'loop', tracks: { 'claw.glow': line } },
};
const go = { go: { kind: 'signal' }, wet: { kind: 'flag', value: true } };
const reel = parseReel<unknown>({
  unspool: 1,
  clips,
  routines: {
    land: {
      inputs: go,
      rules: [
        { name: 'snap', on: 'go', play: 'snap' },
        { name: 'idle', play: 'idle' },
        { name: 'point', layer: 'arm', play: 'point' },
      ],
    },
    water: {
      inputs: { ...go, wet: { kind: 'flag' } },
      rules: [
        { name: 'dry', if: { wet: { equals: true, for: 100 } }, play: 'idle' },
        { name: 'swim', play: 'swim', fade: 0.1 },
      ],
    },
  },
});
const make = () => {
  const player = new Player(reel, { cast: { crab: { glow: 0 }, claw: { glow: 0 } } });
  const heard: string[] = [];
  player.on('rule', ({ before, name, layer, time }) => heard.push(`${time} ${layer} ${before} ${name}`));
  return { player, heard };
};

test('another routine takes over what the first has begun, and ends what it does not use', () => {
  const { player, heard } = make();
  const land = startRoutine(player, 'land');
  player.tick(0.5);
  const water = startRoutine(player, 'water');
  expect([land.isRunning, water.isRunning]).toEqual([false, true]);
  land.set({ wet: false });
  land.signal('go');
  player.tick(0.5);
  expect(heard).toEqual(['0 base undefined idle', '0 arm undefined point', '0.5 base undefined swim']);
  expect(player.layers.map(({ playback }) => playback?.active)).toEqual([true, false]);
  expect(player.playback!.clip.name).toBe('swim');
});

test('a routine that is stopped gives way, and can be started anew', () => {
  const { player, heard } = make();
  const act = startRoutine(player, 'land');
  player.tick(0.5);
  act.signal('go');
  player.tick(0.1);
  act.stop();
  act.stop();
  player.tick(0.1);
  // The snap, which a signal has begun, goes on; the arm, which always pointed, does not.
  expect(player.layers.map(({ playback }) => playback?.active)).toEqual([true, false]);
  const again = startRoutine(player, 'land');
  player.tick(0.1);
  expect([again.rule(), again.rule('arm'), again.explain()[1]!.why]).toEqual([undefined, 'point', 'game']);
  player.tick(0.3);
  expect(again.rule()).toBe('idle');
  expect(heard.slice(2)).toEqual([
    '0.5 base idle snap',
    '0.6 base snap undefined',
    '0.6 arm point undefined',
    '0.7 arm undefined point',
    '1 base undefined idle',
  ]);
});

test('handlers may end the routine, start another, or dispose of the player', () => {
  for (const end of ['stop', 'other', 'dispose'] as const) {
    const { player, heard } = make();
    const act = startRoutine(player, 'land');
    player.on('rule', ({ name }) => {
      if (name !== 'idle') return;
      if (end === 'stop') act.stop();
      else if (end === 'other') startRoutine(player, 'water');
      else player.dispose();
    });
    player.tick(0.1);
    expect(heard[0]).toBe('0 base undefined idle');
    expect(act.isRunning).toBe(false);
    expect(heard.some((rule) => rule.includes('point'))).toBe(false);
    if (end === 'other') expect(heard.at(-1)).toBe('0 base undefined swim');
  }
});

test('a page that was away for a day comes back, also where a condition has a time', () => {
  for (const name of ['land', 'water'] as const) {
    const { player, heard } = make();
    const act = startRoutine(player, name);
    player.tick(0.1);
    act.set('wet', name === 'water');
    player.tick(86_400);
    expect(heard.at(-1)).toMatch(name === 'land' ? '0 arm undefined point' : /^100\.1\d* base swim dry$/);
    expect(player.time).toBe(86_400.1);
  }
});

test('what the cast follows is over: nothing plays, and no rule begins again', () => {
  const { player } = make();
  const other = new Player(reel);
  const act = startRoutine(player.follow(other), 'land');
  player.tick(0.1);
  other.dispose();
  player.tick(0.1);
  player.tick(0.1);
  expect([player.isPlaying, act.isRunning]).toEqual([false, false]);
});

test('what the game does with a playback by hand counts from the next tick', () => {
  const cut = { name: 'cut', if: { speed: { above: 1 } }, during: { rule: 'snap', cue: 'open' }, play: 'run' };
  const line = [{ at: 0, value: 0 }, { at: 1, value: 1 }]; // prettier-ignore
  const clip = { tracks: { 'crab.glow': line } };
  const reel = parseReel<unknown>({
    unspool: 1,
    clips: { run: clip, snap: { ...clip, cues: [{ at: 0.5, name: 'open', until: 0.6 }] } },
    routines: { main: { inputs: { speed: { kind: 'number' } }, rules: [cut, { name: 'snap', play: 'snap' }] } },
  });
  const player = new Player(reel);
  const act = startRoutine(player, 'main');
  act.set('speed', 2);
  player.tick(0.1);
  player.playback!.seek(0.55);
  player.tick(0);
  expect(act.rule()).toBe('cut');
});
