import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { reelOf, run } from '../../test/changing-reels.js';
import { runs } from '../../test/runs.js';
import { Crowd, Player } from '../index.js';
import { adopt } from './index.js';

describe('a crowd', () => {
  const values = (crowd: Crowd, ids: readonly number[]) => ids.map((id) => [crowd.timeOf(id), crowd.values[crowd.offsetOf(id, 'crab.glow')]]); // prettier-ignore

  test('goes on, as a player does', () => {
    const [before, after] = [
      { run: run(1), hop: run(2, { loop: 'once' }) },
      { run: run(4), hop: run(1, { loop: 'once' }) },
    ];
    const crowd = new Crowd(reelOf(before));
    const player = new Player(reelOf(before));
    const ids = [crowd.add('run'), crowd.add('hop'), crowd.add('run', { rate: 2, phase: 0.25 })];
    player.play('run');
    for (const one of [crowd, player]) one.tick(0.75);
    adopt(crowd, reelOf(after));
    adopt(player, reelOf(after));
    expect(values(crowd, ids)).toEqual([[0.75, 0.75], [0.75, 0.75], [0.75, 0.75]]); // prettier-ignore
    for (const one of [crowd, player]) one.tick(1);
    expect(crowd.timeOf(ids[0]!)).toBe(player.playback!.time);
    expect(values(crowd, ids)).toEqual([[1.75, 1.75], [1, 1], [2.75, 2.75]]); // prettier-ignore
    expect(crowd.isOver(ids[1]!)).toBe(true);
  });

  test('an equal reel, and others in between at the same moment, change nothing; what is gone goes', () => {
    const times = fc.array(fc.double({ min: 0, max: 3, noNaN: true }), { minLength: 1, maxLength: 4 });
    const loops = fc.constantFrom('once' as const, 'loop' as const, 'ping-pong' as const, { mode: 'loop' as const, count: 2.5 }); // prettier-ignore
    fc.assert(
      fc.property(
        times,
        fc.array(fc.tuple(loops, fc.constantFrom(1, -1, 0.3)), { minLength: 1, maxLength: 5 }),
        fc.constantFrom(0.25, 1, 3),
        loops,
        (steps, all, duration, loop) => {
          const first = { run: run(1), other: run(2) };
          const [one, two] = [new Crowd(reelOf(first)), new Crowd(reelOf(first))];
          const ids = all.map(([mode, rate]) => [one, two].map((crowd) => crowd.add('run', { loop: mode, rate }))[0]!);
          for (const dt of steps) {
            for (const crowd of [one, two]) crowd.tick(dt);
            for (const clips of [{ run: run(duration, { loop, rate: 2 }) }, first]) adopt(two, reelOf(clips));
            expect(values(two, ids)).toEqual(values(one, ids));
          }
          expect([...two.cues].map(({ name, late }) => [name, late])).toEqual([...one.cues].map(({ name, late }) => [name, late])); // prettier-ignore
        },
      ),
      runs(200),
    );
    const crowd = new Crowd(reelOf({ run: run(1), hop: run(2) }));
    const [ran, hopped] = [crowd.add('run'), crowd.add('hop')];
    crowd.tick(0.25);
    expect(adopt(crowd, reelOf({ run: run(1) })).map(({ message }) => message)).toEqual([
      '1 of the clip "hop" in a crowd are gone: the reel no longer has it. Bring it back, or let the game do without it.',
    ]);
    expect([crowd.count, crowd.has(ran), crowd.has(hopped)]).toEqual([1, true, false]);
    crowd.tick(0.25);
    expect(values(crowd, [ran])).toEqual([[0.5, 0.5]]);
  });
});
