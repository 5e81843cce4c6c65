import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../../test/runs.js';
import { defineClip, defineReel, parseReel, Player } from '../../index.js';

const glow = [
  [0, 0],
  [1, 1],
] as const;
const reel = parseReel(
  defineReel({
    name: 'crab',
    roles: { crab: {} },
    clips: [
      defineClip('sway', { loop: 'loop' })
        .track('crab.glow', glow)
        .span('rise', 0.25, 0.5)
        .cue(0.5, 'lit', { until: 0.75 }),
      defineClip('blink').track('crab.glow', glow).cue(0.5, 'shut'),
      defineClip('look', { loop: 'ping-pong' })
        .track('crab.glow', glow)
        .span('end', 0.5, 1)
        .cue(0, 'low', { until: 0.5 }),
    ],
    chains: { both: ['blink', 'blink'] },
  }),
);

describe('picking', () => {
  const choice = fc.constantFrom('sway' as const, 'blink' as const, 'look' as const, 'both' as const);
  const list = fc
    .uniqueArray(choice, { minLength: 1, maxLength: 4 })
    .chain((names) => fc.tuple(...names.map((clip) => fc.record({ clip: fc.constant(clip), share: fc.integer({ min: 1, max: 9 }) })))); // prettier-ignore

  test('follows the shares, and repeats only what has more than half of them', () => {
    fc.assert(
      fc.property(list, fc.nat(1000), (choices, seed) => {
        const player = new Player(reel, { cast: { crab: {} }, seed });
        const again = new Player(reel, { cast: { crab: {} }, seed });
        const picks = Array.from({ length: 400 }, () => {
          const playback = player.play(choices);
          again.play(choices);
          return playback.chain?.name ?? playback.clip.name;
        });
        expect(again.playback!.clip.name).toBe(player.playback!.clip.name);
        const sum = choices.reduce((all, { share }) => all + share, 0);
        const most = choices.find(({ share }) => share * 2 > sum);
        picks.forEach((one, i) => {
          if (choices.length > 1 && one === picks[i - 1]) expect(one).toBe(most?.clip);
        });
        // Of two, the larger share is met exactly in the long run.
        if (choices.length !== 2 || !most) return;
        const count = picks.filter((one) => one === most.clip).length;
        expect(Math.abs(count / 400 - most.share / sum)).toBeLessThan(0.12);
      }),
      runs(100),
    );
  });

  test('a fallback picks each time, a queue when it is filled', () => {
    const player = new Player(reel, { cast: { crab: {} }, seed: 7 });
    player.fallback(['blink', 'both']);
    const first = player.playback!.chain?.name ?? player.playback!.clip.name;
    player.tick(first === 'both' ? 2 : 1);
    expect(player.playback!.chain?.name ?? player.playback!.clip.name).not.toBe(first);
    player.enqueue(['blink', 'blink']);
    expect(player.playback!.clip.name).toBe('blink');
    const state = JSON.parse(JSON.stringify(player.save())) as ReturnType<typeof player.save>;
    const other = new Player(reel, { cast: { crab: {} } });
    other.restore(state);
    for (const one of [player, other]) one.tick(1.5);
    expect(other.playback!.chain?.name).toBe(player.playback!.chain?.name);
  });

  test('what cannot be picked is refused, and nothing has changed', () => {
    const player = new Player(reel, { cast: { crab: {} } });
    const before = player.play('sway');
    for (const [what, message] of [
      [[], 'the list to pick from is empty'],
      [[{ clip: 'sway', share: 0 }], '"share":0} is not a clip to pick'],
      [[null], 'null is not a clip to pick'],
      [['swya'], 'Did you mean "sway"?'],
    ] as const)
      expect(() => player.play(what as never)).toThrow(message);
    expect(() => player.fallback(['sway', 'x'] as never)).toThrow('has no clip "x"');
    expect(player.playback).toBe(before);
  });
});

describe('unless it plays', () => {
  test('a call in every frame does not start it again', () => {
    const player = new Player(reel, { cast: { crab: {} } });
    for (let i = 0; i < 10; i++) {
      player.play('sway', { unless: 'playing' });
      player.tick(0.07);
    }
    expect(player.playback!.time).toBeCloseTo(0.7, 12);
    const chain = player.play('both');
    player.tick(1.5);
    expect(player.play('both', { unless: 'playing' })).toBe(player.playback);
    expect(player.play(['look', 'both'], { unless: 'playing' }).chain).toBe(chain.chain);
    // Only one of its links plays: that clip alone does not.
    expect(player.play('blink', { unless: 'playing' }).chain).toBeUndefined();
    player.tick(1);
    expect(player.play('blink', { unless: 'playing' }).time).toBe(0);
  });

  test('only play knows it', () => {
    const player = new Player(reel, { cast: { crab: {} } });
    expect(() => player.play('sway', { unless: 'plays' as never })).toThrow('unknown value of unless "plays"');
    expect(() => player.enqueue('sway', { unless: 'playing' } as never)).toThrow('unknown option "unless" of enqueue');
  });
});

describe('isInside', () => {
  test('agrees with the events of intervals, in both directions and where it turns', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.001, max: 0.4, noNaN: true }), { minLength: 1 }),
        fc.boolean(),
        (frames, back) => {
          const player = new Player(reel, { cast: { crab: {} } });
          for (const name of ['sway', 'look'] as const) {
            const playback = player.play(name, { rate: back ? -1 : 1 });
            const open = new Set<string>();
            player.on('cue-start', (cue) => open.add(cue.name));
            player.on('cue-end', (cue) => open.delete(cue.name));
            for (const dt of frames) {
              player.tick(dt);
              const cue = name === 'sway' ? 'lit' : 'low';
              expect(playback.isInside(cue)).toBe(open.has(cue));
              expect(player.isInside(cue)).toBe(open.has(cue));
            }
          }
        },
      ),
      runs(100),
    );
  });

  test('of a span: a start belongs to it, an end does not', () => {
    const player = new Player(reel, { cast: { crab: {} } });
    const playback = player.play('sway');
    expect(playback.isInside('rise')).toBe(false);
    for (const [dt, inside] of [
      [0.2, false],
      [0.05, true],
      [0.2, true],
      [0.05, false],
      [0.8, true],
    ] as const) {
      // prettier-ignore
      player.tick(dt);
      expect([player.time, player.isInside('rise')]).toEqual([player.time, inside]);
    }
    playback.rate = -1;
    player.tick(0.8);
    expect([playback.time, player.isInside('rise')]).toEqual([0.5, true]);
    player.tick(0.25);
    expect([playback.time, player.isInside('rise')]).toEqual([0.25, false]);
  });

  test('other clips have other names, and a misspelled one is refused', () => {
    const player = new Player(reel, { cast: { crab: {} } });
    const playback = player.play('sway');
    expect(player.isInside('low')).toBe(false);
    expect(() => playback.isInside('low')).toThrow('the clip "sway" has no interval or span "low"');
    expect(() => player.isInside('rsie' as never)).toThrow('has no interval or span "rsie". Did you mean "rise"?');
    expect(() => player.isInside('shut')).toThrow('has no interval or span "shut"');
  });
});
