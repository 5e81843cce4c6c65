import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { defineClip, defineReel, parseReel, Player } from '../index.js';
import { runScript, type Script } from './index.js';

const crab = parseReel(
  defineReel({
    name: 'crab',
    roles: { claw: {} },
    clips: [
      defineClip('sway', { loop: 'loop' }).track('claw.rotation', [
        [0, 0],
        [1, 10],
      ]),
      defineClip('snap')
        .track('claw.rotation', [
          [0, 0],
          [0.5, -40],
        ])
        .cue(0.25, 'shut', { data: { sound: 'click' } })
        .span('recovery', 0.25, 0.5),
    ],
    routines: {
      main: {
        inputs: { attack: { kind: 'signal', keep: 0.2 }, calm: { kind: 'flag', value: true } },
        rules: [
          { name: 'snap', on: 'attack', play: 'snap', free: 'recovery' },
          { name: 'idle', if: { calm: true }, play: 'sway' },
        ],
      },
    },
  }),
);
const gate = parseReel(
  defineReel({
    name: 'gate',
    clips: [
      defineClip('open')
        .track('gate.rotation', [
          [0, 0],
          [1, 90],
        ])
        .cue(0.3, 'creak'),
    ],
  }),
);
const fight: Script = {
  for: 1.2,
  steps: [
    { at: 0, routine: 'main' },
    { at: 0, player: 'gate', play: 'open' },
    { at: 0.25, signal: 'attack' },
    { at: 0.35, signal: 'attack' },
    { at: 0.4, read: ['claw.rotation'] },
    { at: 0.4, player: 'gate', read: ['gate.rotation'] },
    { at: 0.9, set: { calm: false }, about: 'nothing is left to play' },
    { at: 1.1, explain: true },
  ],
};

test('a playback is finished: what was passed over is marked', () => {
  const steps = [
    { at: 0, play: 'snap' },
    { at: 0.1, finish: 'base' },
  ];
  const lines = runScript(crab, { for: 0.2, steps });
  expect(lines.map(({ time, event, name, skipped }) => [time, event, name, skipped])).toEqual([
    [0.1, 'cue', 'shut', true],
    [0.1, 'end', undefined, true],
  ]);
});

describe('runScript', () => {
  test('tells of all players in order of time, with data and answers', () => {
    const lines = runScript({ crab, gate }, fight);
    expect(lines.map(({ time, player, event, name }) => [time, player, event, name])).toEqual([
      [0, 'crab', 'rule', 'idle'],
      [0.25, 'crab', 'stop', undefined],
      [0.25, 'crab', 'rule', 'snap'],
      [0.3, 'gate', 'cue', 'creak'],
      [0.4, 'crab', 'read', undefined],
      [0.4, 'gate', 'read', undefined],
      [0.5, 'crab', 'cue', 'shut'],
      [0.5, 'crab', 'stop', undefined],
      [0.5, 'crab', 'rule', 'snap'],
      [0.75, 'crab', 'cue', 'shut'],
      [0.75, 'crab', 'stop', undefined],
      [0.75, 'crab', 'rule', 'idle'],
      [0.9, 'crab', 'stop', undefined],
      [0.9, 'crab', 'rule', undefined],
      [1, 'gate', 'end', undefined],
      [1.1, 'crab', 'explain', undefined],
    ]);
    expect(lines.find(({ name }) => name === 'shut')).toMatchObject({ data: { sound: 'click' }, clip: 'snap' });
    expect(lines[4]!.values!['claw.rotation']).toBeCloseTo(-12, 9);
    expect(lines.at(-1)!.rules!.map(({ text }) => text)).toEqual(['waits for the signal "attack"', 'calm is false']);
    expect(lines.find(({ event, before }) => event === 'rule' && before)).toMatchObject({
      before: 'idle',
      layer: 'base',
    });
  });

  test('is the same at any length of frames', () => {
    const lines = runScript({ crab, gate }, fight);
    for (const step of ['2f', 1, '3ms'] as const) expect(runScript({ crab, gate }, fight, { step })).toEqual(lines);
    fc.assert(
      fc.property(fc.infiniteStream(fc.double({ min: 0.001, max: 0.3, noNaN: true })), (frames) => {
        expect(runScript({ crab, gate }, fight, { frames: () => frames })).toEqual(lines);
      }),
      runs(30),
    );
  });

  test('plays on with players of the game, and leaves no handlers', () => {
    const player = new Player(crab);
    player.play('sway');
    player.tick(0.5);
    const heard: object[] = [];
    const steps = [{ at: 0.1, play: 'snap' }];
    const lines = runScript(player, { steps, for: 0.4 }, { tell: (line) => heard.push(line) });
    expect(lines).toEqual([
      { time: 0.1, event: 'stop', clip: 'sway', iteration: 0 },
      { time: 0.35, event: 'cue', clip: 'snap', name: 'shut', data: { sound: 'click' }, iteration: 0 },
    ]);
    expect(heard).toEqual(lines);
    expect(player.time).toBeCloseTo(0.9, 12);
    player.tick(1);
    expect(lines.length).toBe(2);
  });

  test.each([
    [{}, 'the script has no "steps"'],
    [{ steps: [{ at: 0, paly: 'snap' }] }, '/steps/0: has no command. Did you mean "play"?'],
    [
      { steps: [{ at: 0, player: 'carb', play: 'snap' }] },
      '/steps/0/player: unknown player "carb". Did you mean "crab"?',
    ],
    [{ steps: [{ at: 0, signal: 'attack' }] }, '/steps/0/signal: no routine runs'],
    [
      { steps: [{ at: 0, routine: 'mian' }] },
      '/steps/0/routine: the reel "crab" has no routine "mian". Did you mean "main"?',
    ],
    [
      {
        steps: [
          { at: 0, routine: 'main' },
          { at: 0, set: { clam: true } },
        ],
      },
      'Did you mean "calm"?',
    ],
    [{ steps: [{ at: -1, play: 'snap' }] }, '/steps/0/at: invalid time -1'],
  ])('refuses %j with the place', (script, message) => {
    expect(() => runScript({ crab }, script as Script)).toThrow(message);
  });

  test('refuses no players', () => {
    expect(() => runScript({}, fight)).toThrow('no players were given');
  });
});
