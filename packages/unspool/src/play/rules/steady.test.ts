import { expect, test } from 'vitest';
import { bytesEach } from '../../../test/allocation.js';
import { parseReel, Player, startRoutine } from '../../index.js';

/** Alone in its file, as other tests of bytes. */
test('a steady frame allocates nothing with a routine, and hardly anything when its inputs change', () => {
  const line = (from: number, to: number) => [{ at: 0, value: from }, { at: 100, value: to }]; // prettier-ignore
  const rules = [
    { name: 'hurt', on: 'hurt', play: 'run' },
    { name: 'fast', if: { speed: { above: 90, until: 80 }, way: { above: 5 } }, play: 'run' },
    { name: 'dry', if: { wet: { equals: false, for: 9 } }, play: 'run' },
    { name: 'run', if: { speed: { above: 1 } }, play: 'run', rate: { input: 'speed', at: 10 } },
    { name: 'aim', layer: 'arm', play: 'aim' },
  ];
  const inputs = { speed: { kind: 'number' }, way: { kind: 'vec2' }, wet: { kind: 'flag' }, hurt: { kind: 'signal' } };
  const reel = parseReel<unknown>({
    unspool: 1,
    clips: {
      run: { loop: 'loop', tracks: { 'crab.glow': line(0.5, 9.5) } },
      aim: { loop: 'loop', tracks: { 'claw.glow': line(0.5, 9.5) } },
    },
    routines: { main: { inputs, rules } },
  });
  const ways = [[1, 2], [3, 4]] as const; // prettier-ignore
  const players = Array.from({ length: 50 }, () => {
    const player = new Player(reel, { cast: { crab: { glow: 0.5 }, claw: { glow: 0.5 } } });
    return { player, act: startRoutine(player, 'main') };
  });
  const feed = (frame: number) => {
    for (let i = 0; i < players.length; i++) {
      const { act } = players[i]!;
      act.set('speed', 10 + (frame % 7));
      act.set('way', ways[frame % 2]!);
      act.set('wet', frame % 2 === 0);
    }
  };
  const tick = () => {
    for (let i = 0; i < players.length; i++) players[i]!.player.tick(1 / 60);
  };
  const run = (frames: number, isFed: boolean) => {
    for (let frame = 0; frame < frames; frame++) {
      if (isFed) feed(frame);
      tick();
    }
  };
  run(400, false); // the compiler's own work
  expect(bytesEach(() => run(300, false), 300 * players.length, 2)).toBeLessThan(2); // one boxed number has 16
  run(2000, true);
  // Whether the engine boxes a number that goes from function to function differs from run to run: four of them at most.
  expect(bytesEach(() => run(300, true), 300 * players.length, 2)).toBeLessThan(80);
  expect(players[0]!.act.rule()).toBe('run');
});
