import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makePlayer, play, program, run, type Step, type Told } from '../../../test/programs.js';
import { randomScene } from '../../../test/random-reel.js';
import { runs } from '../../../test/runs.js';
import { parseReel, Player, startRoutine, type PlayerState, type Reel } from '../../index.js';

/** Promises of docs/reference/laws.md, tried on random reels and random programs of what a game may call. */
const END = 256;
const shares = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 6 });
const read = (document: unknown) => parseReel<unknown>(document);

test('at any frame rate the same events fire at the same times, and the final pose is the same', () => {
  fc.assert(
    fc.property(randomScene, program, shares, shares, (document, steps, some, others) => {
      const reel = read(document);
      const of = (cuts: readonly number[]) => {
        const emitted: Told[] = [];
        const player = makePlayer(reel, emitted);
        play(player, reel, steps, END, cuts);
        // A moment within a nanosecond of the end may fall on either side of it, and a pose there jump.
        player.tick(0.0031416);
        return { emitted, values: [...player.pose.values] };
      };
      const [one, two] = [of(some), of(others)];
      const plain = ({ emitted }: typeof one) =>
        emitted.map(([type, clip, name, , iteration]) => [type, clip, name, iteration]);
      expect(plain(one)).toEqual(plain(two));
      one.emitted.forEach(([, , , time], i) => expect(time).toBeCloseTo(two.emitted[i]![3], 9));
      one.values.forEach((n, i) => expect(Math.abs(n - two.values[i]!)).toBeLessThan(1e-6 * (1 + Math.abs(n))));
    }),
    runs(300),
  );
});

test('every started interval ends once; nothing ends that has not started', () => {
  fc.assert(
    fc.property(randomScene, program, shares, (document, steps, cuts) => {
      const reel = read(document);
      const player = makePlayer(reel, []);
      const open = new Map<object, string[]>();
      const names = (playback: object) => open.get(playback) ?? [];
      player.on('cue-start', ({ playback, name }) => open.set(playback, [...names(playback), name]));
      player.on('cue-end', ({ playback, name }) => {
        const place = names(playback).indexOf(name);
        expect(place).toBeGreaterThanOrEqual(0);
        open.set(
          playback,
          names(playback).filter((_, i) => i !== place),
        );
      });
      for (const type of ['end', 'stop'] as const)
        player.on(type, ({ playback }) => expect(names(playback)).toEqual([]));
      play(player, reel, steps, END, cuts);
      player.dispose();
      expect([...open.values()].flat()).toEqual([]);
    }),
    runs(300),
  );
});

test('saved at any time and restored into another player, it continues to the bit', () => {
  fc.assert(
    fc.property(randomScene, program, shares, fc.nat(12), fc.boolean(), (document, steps, cuts, when, isRuled) => {
      const reel = read(document);
      const emitted: Told[] = [];
      const make = (from: Reel, told: Told[]) => {
        const player = makePlayer(from, told);
        if (isRuled) startRoutine(player, 'what-to-do').signal('jump');
        return player;
      };
      const one = make(reel, emitted);
      play(one, reel, steps, END, cuts);
      one.tick(0.1);
      const again: Told[] = [];
      const first = make(reel, again);
      let second: Player | undefined;
      play(first, reel, steps, END, cuts, (step) => {
        if (step < when % steps.length) return first;
        if (!second) {
          const state = JSON.parse(JSON.stringify(first.save())) as PlayerState;
          second = make(read(document), again);
          second.restore(state);
          expect(JSON.parse(JSON.stringify(second.save()))).toEqual(state);
        }
        return second;
      });
      second!.tick(0.1);
      expect(again).toEqual(emitted);
      expect(second!.pose.values.every((n, i) => Object.is(n, one.pose.values[i]))).toBe(true);
      expect(second!.time).toBe(one.time);
    }),
    runs(300),
  );
});

test('players of one reel are independent, even when one ticks in a handler of another', () => {
  /** What one does that has only one layer and no gauge. */
  const simple = (steps: readonly Step[]) =>
    steps.flatMap(({ at, command }): Step[] => {
      if (command.call !== 'play') return [];
      return [{ at, command: { ...command, options: { ...command.options, fade: 0, layer: 'base' } } }];
    });
  fc.assert(
    fc.property(randomScene, program, program, shares, fc.boolean(), (document, some, others, cuts, isSimple) => {
      const reel = read(document);
      const steps = isSimple ? simple(some) : some;
      const newCast = () => Object.fromEntries(reel.roles.map((role) => [role, {}]));
      const shown = (isAlone: boolean) => {
        const cast = newCast();
        const player = isSimple ? new Player(reel, { cast }) : makePlayer(reel, [], cast);
        const other = makePlayer(reel, [], newCast());
        const goOn = (step: number) => {
          if (isAlone) return;
          run(other, reel, others[step % others.length]!.command);
          other.tick(0.03);
        };
        for (const type of ['cue', 'loop'] as const) player.on(type, () => goOn(0));
        play(player, reel, steps, END, cuts, (step) => {
          goOn(step);
          return player;
        });
        return cast;
      };
      expect(shown(false)).toEqual(shown(true));
    }),
    runs(300),
  );
});

describe('frames', () => {
  /** Everything that may be written into the objects of a cast. */
  const wrong = (value: unknown): boolean =>
    typeof value === 'number'
      ? !Number.isFinite(value)
      : typeof value === 'object' && value !== null
        ? Object.values(value).some(wrong)
        : value === undefined;

  test('only valid values are written, and no call is left half done, whatever handlers throw or call', () => {
    fc.assert(
      fc.property(randomScene, program, program, shares, (document, steps, inside, cuts) => {
        const reel = read(document);
        const cast = Object.fromEntries(reel.roles.map((role) => [role, {}]));
        const errors: unknown[] = [];
        const player = new Player(reel, { cast, onError: (error) => errors.push(error) });
        player.gauge('bar', { clip: Object.keys(reel.clips)[0]!, speed: 0.8 });
        let calls = 0;
        for (const type of ['cue', 'cue-start', 'cue-end', 'loop', 'end', 'stop'] as const) {
          player.on(type, () => {
            throw new Error('thrown');
          });
          player.on(type, () => {
            // A few calls only: handlers that call forever go in circles, which is another test's.
            if (calls < 2 * inside.length) run(player, reel, inside[calls++ % inside.length]!.command);
          });
        }
        play(player, reel, steps, END, cuts);
        expect(errors.filter((error) => (error as Error).message !== 'thrown')).toEqual([]);
        expect(player.time).toBe(END / 64);
        for (const object of Object.values(cast)) {
          expect(wrong(object)).toBe(false);
          const { opacity = 1, frame = 0 } = object as { opacity?: number; frame?: number };
          expect(opacity >= 0 && opacity <= 1 && frame >= 0).toBe(true);
        }
        for (const slot of reel.layout.slots) expect(wrong(player.pose.get(slot.name))).toBe(false);
      }),
      runs(300),
    );
  });
});

test('a queue emits the events that each playback would emit alone, at its own time', () => {
  fc.assert(
    fc.property(
      randomScene,
      fc.array(fc.tuple(fc.nat(9), fc.constantFrom(1, 2, 0.5, -1), fc.integer({ min: 1, max: 3 })), {
        minLength: 1,
        maxLength: 5,
      }),
      shares,
      (document, list, cuts) => {
        const reel = read(document);
        const names = Object.keys(reel.clips);
        const all = list.map(([clip, rate, count]) => ({
          name: names[clip % names.length]!,
          options: { rate, loop: { mode: 'loop' as const, count } },
        }));
        let from = 0;
        const expected = all.flatMap(({ name, options }) => {
          const emitted: Told[] = [];
          const player = makePlayer(reel, emitted);
          const playback = player.play(name, options);
          const length = (playback.clip.duration * options.loop.count) / Math.abs(playback.rate);
          player.tick(length + 1e-6);
          expect(playback.active).toBe(false);
          const moved = emitted.map(([type, clip, cue, time, pass]): Told => [type, clip, cue, from + time, pass]);
          from += length;
          return moved;
        });
        const emitted: Told[] = [];
        const player = makePlayer(reel, emitted);
        for (const { name, options } of all) player.enqueue(name, options);
        let last = 0;
        for (const cut of [...cuts.map((cut) => cut * from).sort((a, b) => a - b), from + 1e-6]) {
          player.tick(cut - last);
          last = cut;
        }
        expect(emitted.map(([type, clip, cue, , pass]) => [type, clip, cue, pass])).toEqual(
          expected.map(([type, clip, cue, , pass]) => [type, clip, cue, pass]),
        );
        emitted.forEach(([, , , time], i) => expect(time).toBeCloseTo(expected[i]![3], 9));
      },
    ),
    runs(300),
  );
});
