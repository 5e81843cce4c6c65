import fc from 'fast-check';
import { expect, test } from 'vitest';
import { HitWorld } from '../../hit/index.js';
import { parseReel, Player, type PlayerEvents } from '../../index.js';

/** What is skipped ends as if it had been played, and says so. */
const frames = (n: number) => `${n}f`;
const clipOf = ([length, cues, loop]: readonly [number, readonly number[], unknown], i: number) => ({
  fps: 60,
  duration: frames(length),
  loop,
  tracks: {
    'boat.position': [
      { at: 0, value: [i, 0] },
      { at: frames(length), value: [i * 10 + length, 7], ease: 'quad-in' },
    ],
    'boat.rotation': { keys: [{ at: 0, value: 0 }, { at: frames(length), value: 30 }], accumulate: true }, // prettier-ignore
  },
  cues: [
    ...cues.map((at, k) => ({ at: frames(at % (length + 1)), name: `c${i}-${k}` })),
    { at: frames(Math.floor(length / 3)), until: frames(Math.ceil(length / 2)), name: `lap${i}` },
  ],
});
const loop = fc.oneof(
  fc.constant('once'),
  fc.record({ mode: fc.constantFrom('loop', 'ping-pong'), count: fc.constantFrom(1, 2, 2.5, 3) }),
);
const clip = fc.tuple(fc.integer({ min: 1, max: 40 }), fc.array(fc.nat(60), { maxLength: 3 }), loop);

type Heard = [type: string, name: string | undefined, iteration: number, skipped: boolean];
const TYPES = ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'] as const;

function playerOf(clips: readonly Parameters<typeof clipOf>[0][], rate: number) {
  const sway = clipOf([10, [3], 'loop'], 99);
  const named = Object.fromEntries(clips.map((one, i) => [`p${i}`, clipOf(one, i)]));
  const reel = parseReel<unknown>({ unspool: 1, clips: { ...named, sway } });
  const boat = {};
  const player = new Player(reel, { cast: { boat } });
  const heard: Heard[] = [];
  for (const type of TYPES)
    player.on(type, (event: PlayerEvents[typeof type]) => {
      if (event.clip !== 'sway')
        heard.push([type, 'name' in event ? event.name : event.clip, event.iteration, event.skipped === true]);
    });
  clips.forEach((_, i) => player.enqueue(`p${i}`, { rate }));
  return { player, boat, heard };
}
const close = (a: unknown, b: unknown) => {
  const [x, y] = [a, b].map((one) => JSON.stringify(one, (_, n: unknown) => (typeof n === 'number' ? Math.round(n * 1e6) / 1e6 + 0 : n))); // prettier-ignore
  expect(x).toBe(y);
};
const shown = ({ player, boat }: ReturnType<typeof playerOf>) => ({
  boat,
  pose: [...player.pose.values],
  clip: player.playback?.clip.name,
  time: player.playback?.time,
  iteration: player.playback?.iteration,
  active: player.playback?.active,
  queue: player.queue.length,
});

test('a whole queue that is skipped at any time ends as if it was played, with each cue exactly once', () => {
  const rates = fc.constantFrom(1, 2, 0.5, -1);
  const one = fc.tuple(
    fc.array(clip, { minLength: 1, maxLength: 4 }),
    rates,
    fc.double({ min: 0, max: 2, noNaN: true }),
  );
  fc.assert(
    fc.property(one, ([clips, rate, at]) => {
      const [skipped, played] = [playerOf(clips, rate), playerOf(clips, rate)];
      skipped.player.tick(at);
      const before = skipped.heard.length;
      skipped.player.finish();
      for (let i = 0; i < 2000 && played.player.isPlaying; i++) played.player.tick(1 / 60);
      close(shown(skipped), shown(played));
      close(skipped.heard.map((one) => one.slice(0, 3)), played.heard.map((one) => one.slice(0, 3))); // prettier-ignore
      expect(skipped.heard.map(([, , , isSkipped]) => isSkipped)).toEqual(skipped.heard.map((_, i) => i >= before));
    }),
    { numRuns: Number(process.env.UNSPOOL_CASES ?? 300) },
  );
});

test('one playback that is skipped ends as if it was played, at this very moment', () => {
  const rates = fc.constantFrom(1, 3, -1, -0.5);
  const one = fc.tuple(clip, rates, fc.double({ min: 0, max: 0.5, noNaN: true }), fc.boolean());
  fc.assert(
    fc.property(one, ([made, rate, at, pauses]) => {
      const [skipped, played] = [playerOf([made], rate), playerOf([made], rate)];
      skipped.player.tick(at);
      if (pauses) skipped.player.playback!.pause();
      const { time } = skipped.player;
      const times: number[] = [];
      for (const type of TYPES) skipped.player.on(type, (event) => times.push(event.time));
      skipped.player.playback!.finish();
      expect(times.every((when) => when === time)).toBe(true);
      expect(skipped.player.time).toBe(time);
      skipped.player.tick(0);
      for (let i = 0; i < 2000 && played.player.isPlaying; i++) played.player.tick(1 / 60);
      close(shown(skipped), shown(played));
      close(skipped.heard.map((one) => one.slice(0, 3)), played.heard.map((one) => one.slice(0, 3))); // prettier-ignore
    }),
    { numRuns: Number(process.env.UNSPOOL_CASES ?? 300) },
  );
});

test('without cues, only the ends of intervals that had begun are emitted, and the end', () => {
  const { player, heard } = playerOf([[30, [5, 20], { mode: 'loop', count: 3 }]], 1);
  player.tick(12 / 60);
  heard.length = 0;
  player.playback!.finish({ cues: false });
  expect(heard).toEqual([['cue-end', 'lap0', 0, true], ['end', 'p0', 2, true]]); // prettier-ignore
});

test('it lands where it was to land, and says where there is no end', () => {
  const { player } = playerOf([[30, [], 'once']], 1);
  player.play('p0', { until: frames(20) });
  player.playback!.finish();
  expect([player.playback!.time, player.playback!.paused]).toEqual([20 / 60, true]);
  player.play('sway');
  expect(() => player.playback!.finish()).toThrow(/"sway" has no end to go to: it loops forever/);
  player.play('p0', { rate: 0 });
  expect(() => player.playback!.finish()).toThrow(/stands still at rate 0/);
  player.finish(); // nothing to do
  expect(player.time).toBe(0);
});

test('what loops forever is handed over, or goes on; a fallback is not skipped', () => {
  const { player } = playerOf([[30, [], 'once']], 1);
  player.fallback('sway');
  player.play('sway');
  player.enqueue('p0', { wait: 'loop' });
  player.tick(0.1);
  player.finish();
  expect([player.playback?.clip.name, player.isPlaying]).toEqual(['sway', true]);
  expect(player.time).toBeGreaterThan(10 / 60 + 30 / 60 - 1e-9);
});

test('of a million iterations the last ones are told, and handlers in a circle end', () => {
  const { player, heard } = playerOf([[30, [5], { mode: 'ping-pong', count: 1e6 }]], 1);
  player.tick(0.1);
  player.playback!.finish();
  expect(heard.length).toBeLessThan(20_000);
  expect(heard.at(-1)).toEqual(['end', 'p0', 999_999, true]);
  expect(player.playback!.time).toBe(0);
  const circle = playerOf([[30, [5], 'once']], 1).player;
  circle.on('cue', ({ playback }) => playback.seek(0));
  circle.play('p0');
  circle.playback!.finish();
  circle.on('end', () => circle.play('p0'));
  circle.play('p0');
  circle.finish();
  expect(circle.playback!.clip.name).toBe('p0');
});

test('inside a handler one playback is skipped, the player is not; and a world goes on without hits of what was skipped', () => {
  const document = {
    unspool: 1,
    roles: { fist: { shapes: { tip: { kind: 'circle', tag: 'hits' } } } },
    clips: {
      throw: {
        duration: 1,
        tracks: {
          'fist.position': [{ at: 0, value: [0, 0] }, { at: 1, value: [100, 0] }],
          'fist.tip': [{ at: 0, value: { center: [0, 0], radius: 2 } }, { at: 1, value: {} }],
        },
        cues: [{ at: 0.25, name: 'go' }],
      },
    },
  }; // prettier-ignore
  const player = new Player(parseReel<unknown>(document), { cast: { fist: {} } });
  const world = new HitWorld();
  world.add('thrower', player);
  world.add('wall', { position: [50, 0], shapes: { all: { shape: { kind: 'circle', center: [0, 0], radius: 5 }, tag: 'hurt' } } } as never); // prettier-ignore
  player.play('throw');
  world.tick(0.1);
  player.finish();
  expect(world.tick(0.1)).toEqual([]);
  const errors: unknown[] = [];
  player.on('cue', ({ playback }) => {
    try {
      player.finish();
    } catch (error) {
      errors.push((error as Error).message);
    }
    playback.finish();
  });
  player.play('throw');
  world.tick(0.3);
  expect(errors).toEqual([expect.stringContaining('finish was called inside an event handler')]);
  expect(player.playback!.active).toBe(false);
  player.play('throw', { from: 0.3 });
  expect(world.tick(0.4).length).toBe(1);
});
