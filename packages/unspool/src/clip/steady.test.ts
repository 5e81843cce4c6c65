import { expect, test } from 'vitest';
import { bytesEach } from '../../test/allocation.js';
import { parseReel } from '../index.js';

/** Alone in its file: what other tests have done with the same code would decide how the engine compiles it. */
test('sampling allocates nothing, over a million calls', () => {
  const ways = [
    'linear',
    'ease',
    'elastic-out',
    'steps(3)',
    'linear(0, 0.5 20%, 1)',
    'hold',
    'smooth',
    'curve',
    'curve',
  ];
  const way = [...ways, 'spring(0.3)', 'cubic-in', 'linear'];
  const keys = (value: (i: number) => unknown) => way.map((ease, i) => ({ at: i, value: value(i), ease }));
  const tracks = {
    'a.position': keys((i) => [i, -i]),
    'a.tint': keys((i) => [i / 12, 0, 1, 1]),
    'a.sheen': { kind: 'color', mix: 'oklab', keys: keys((i) => [i / 12, 0.2, 1, 1]) },
    'a.glow': { space: 'offset', keys: keys((i) => i * 90) },
    'a.rotation': keys((i) => ({ euler: [i * 20, i, 0] })),
  };
  const clip = parseReel<unknown>({ unspool: 1, clips: { c: { tracks, loop: 'ping-pong' } } }).clip('c');
  const pose = clip.createPose();
  // A number handed to a function may be put in a box by the caller. In a list with something else in it they have
  // boxes already, so that what is counted is what sampling allocates.
  const times: unknown[] = [{}, ...Array.from({ length: 997 }, (_, i) => (i * 0.37) % 97)];
  const run = (count: number) => {
    for (let i = 0; i < count; i++) clip.sample(times[1 + (i % 997)] as number, pose);
  };
  run(300_000); // the compiler's own work comes first
  expect(bytesEach(() => run(1_000_000), 1_000_000, 0.2)).toBeLessThan(0.2); // one boxed number has 12
});
