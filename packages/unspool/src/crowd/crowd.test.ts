import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { randomReel } from '../../test/random-reel.js';
import { school } from '../../test/school.js';
import { Crowd, parseReel, Player, type Clip } from '../index.js';

describe('a crowd', () => {
  test('has the poses of its instances at offsetOf, also after others were removed', () => {
    const reel = parseReel(school);
    const crowd = new Crowd(reel);
    crowd.prepare(['swim']);
    const ids = Array.from({ length: 40 }, (_, i) =>
      crowd.add(i % 4 === 3 ? 'rest' : 'swim', { phase: (i % 10) / 10 }),
    );
    const expectPoses = (time: number, of: readonly number[]) => {
      for (const id of of) {
        const i = ids.indexOf(id);
        if (i % 4 === 3) continue;
        const pose = reel.clips.swim.sample(time + (i % 10) / 10);
        const at = crowd.offsetOf(id, 'fish.position');
        const found = [0, 1].map((k) => crowd.values[at + k * crowd.stride]!);
        expect(found[0]).toBeCloseTo((pose.get('fish.position') as number[])[0]!, 3);
        const tint = crowd.offsetOf(id, 'fish.tint');
        expect(crowd.values[tint + 3]).toBeCloseTo((pose.get('fish.tint') as number[])[3]!, 4);
        expect(crowd.timeOf(id)).toBeCloseTo((time + (i % 10) / 10) % 1, 9);
      }
    };
    crowd.tick(0.3);
    expectPoses(0.3, ids);
    const gone = ids.filter((_, i) => i % 3 === 0);
    for (const id of gone) crowd.remove(id);
    expect([crowd.count, crowd.has(gone[0]!), crowd.has(ids[1]!)]).toEqual([40 - gone.length, false, true]);
    const left = ids.filter((_, i) => i % 3 !== 0);
    expectPoses(0.3, left);
    crowd.tick(0.15);
    expectPoses(0.45, left);
    expect(() => crowd.offsetOf(gone[0]!, 'fish.position')).toThrow('unknown instance id');
    expect(crowd.add('swim')).not.toBe(gone.at(-1)); // the place is taken again, the id is another
  });

  test('knows which ids are there, however they come and go', () => {
    const clips = ['swim', 'rest'] as const;
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat(9)), { maxLength: 40 }), (steps) => {
        const crowd = new Crowd(parseReel(school));
        const [there, ever] = [new Set<number>(), new Set<number>()];
        for (const [isNew, n] of steps) {
          const id = [...ever][n % Math.max(1, ever.size)];
          if (isNew || id === undefined) {
            const added = crowd.add(clips[n % 2]!);
            there.add(added);
            ever.add(added);
          } else if (there.delete(id)) crowd.remove(id);
          else expect(() => crowd.remove(id)).toThrow('unknown instance id');
          expect([crowd.count, [...ever].filter((one) => crowd.has(one))]).toEqual([there.size, [...there]]);
        }
      }),
      runs(100),
    );
  });

  test('reports cues with id, name and lateness; an interval ends when its instance is removed', () => {
    const crowd = new Crowd(parseReel(school));
    const [a, b] = [crowd.add('swim'), crowd.add('swim', { phase: 0.3 })];
    crowd.tick(0.3);
    const emitted = () =>
      [...crowd.cues].map(({ id, type, name, late }) => [id === a ? 'a' : 'b', type, name, +late.toFixed(9)]);
    expect(emitted()).toEqual([
      ['a', 'cue', 'flick', 0.05],
      ['b', 'cue-start', 'glide', 0.1],
    ]);
    expect(crowd.cues.at(0)).toMatchObject({ clip: 'swim', data: { side: 'left' } });
    crowd.remove(b);
    expect(emitted()).toHaveLength(2); // who goes through the list may remove as it goes
    crowd.tick(0);
    expect(emitted()).toEqual([['b', 'cue-end', 'glide', 0]]);
    crowd.tick(0);
    expect(emitted()).toEqual([]);
  });

  test('addresses channels, keeps its indices while it grows, and reuses ids', () => {
    const crowd = new Crowd(parseReel(school));
    const first = crowd.add('swim', { phase: 0.5 });
    crowd.tick(0);
    const y = crowd.values[crowd.offsetOf(first, 'fish.position.y')];
    expect(y).toBe(crowd.values[crowd.offsetOf(first, 'fish.position') + crowd.stride]);
    const ids = new Set([first]);
    for (let i = 0; i < 5000; i++) ids.add(crowd.add(i % 2 ? 'swim' : 'rest'));
    expect(crowd.values[crowd.offsetOf(first, 'fish.position.y')]).toBe(y); // moved, and still the same
    expect([ids.size, crowd.count]).toEqual([5001, 5001]);
    for (const id of ids) crowd.remove(id);
    expect(crowd.count).toBe(0);
    for (let i = 0; i < 5001; i++) expect(ids.has(crowd.add('swim'))).toBe(false);
    expect(() => crowd.offsetOf(first, 'fish.position')).toThrow('unknown instance id');
  });

  test('an ended instance stays, and shows what its clip says', () => {
    const crowd = new Crowd(parseReel(school));
    const id = crowd.add('rest');
    crowd.tick(0.4);
    expect([crowd.isOver(id), crowd.values[crowd.offsetOf(id, 'fish.rotation')]]).toEqual([false, 90]);
    crowd.tick(0.2);
    expect([crowd.isOver(id), crowd.values[crowd.offsetOf(id, 'fish.rotation')]]).toEqual([true, 0]);
  });

  test('refuses what makes no sense', () => {
    const crowd = new Crowd(parseReel<unknown>(school));
    expect(() => crowd.add('swmi')).toThrow('Did you mean "swim"?');
    expect(() => crowd.add('swim', { phase: 2 })).toThrow('the phase 2 is not from 0 to 1');
    expect(() => crowd.add('swim', { rate: NaN })).toThrow('NaN is not a valid rate');
    expect(() => crowd.tick(-1)).toThrow('a finite number of 0 or more');
    expect(() => crowd.remove(5)).toThrow('unknown instance id 5');
  });

  test('law: every instance passes the cues, and has the poses, of a player that plays the same alone', () => {
    const step = fc.double({ min: 0, max: 0.4, noNaN: true });
    fc.assert(
      fc.property(
        randomReel,
        fc.array(step, { maxLength: 12 }),
        fc.constantFrom(1, -1, 0.7, -2.3, 0),
        fc.constantFrom(
          ...[undefined, 'once' as const, 'loop' as const, 'ping-pong' as const],
          ...[0, 0.5, 2, 2.5, 3].flatMap((count) => [
            { mode: 'loop' as const, count },
            { mode: 'ping-pong' as const, count },
          ]),
        ),
        fc.boolean(),
        (document, steps, rate, loop, prepared) => {
          const reel = parseReel<unknown>(document);
          for (const { name } of Object.values<Clip>(reel.clips)) {
            const options = { rate, ...(loop && { loop }) };
            const crowd = new Crowd(reel);
            if (prepared) crowd.prepare([name]);
            const id = crowd.add(name, options);
            const player = new Player(reel);
            let alone: (readonly [what: string, late: number])[] = [];
            for (const type of ['cue', 'cue-start', 'cue-end'] as const) {
              player.on(type, (event) => alone.push([`${type} ${event.name}`, event.late]));
            }
            const playback = player.play(name, options);
            for (const dt of steps) {
              crowd.tick(dt);
              player.tick(dt);
              // In the same order too, also of what happens at one moment.
              const found = [...crowd.cues].map(({ type, name, late }) => [`${type} ${name}`, late] as const);
              const expected = alone;
              expect(found.map(([what]) => what)).toEqual(expected.map(([what]) => what));
              found.forEach(([, late], i) => expect(rate && Math.abs(late - expected[i]![1])).toBeLessThan(1e-7));
              alone = [];
              expect(crowd.timeOf(id)).toBeCloseTo(playback.time, 7);
              expect(crowd.isOver(id)).toBe(!playback.active);
            }
          }
        },
      ),
      runs(60),
    );
  });
});

describe('an instance', () => {
  const cued = parseReel({
    unspool: 1,
    clips: {
      c: {
        ...{
          duration: 1,
          cues: [
            { at: 0, until: 2, name: 'on' },
            { at: 0.5, name: 'half' },
          ],
        },
        tracks: {
          'a.p': [
            { at: 0, value: 0 },
            { at: 1, value: 1 },
          ],
        },
      },
      short: {
        duration: 0.09,
        tracks: {
          'a.p': [{ at: 0, value: 42 }],
          'a.frame': [
            { at: 0, value: 1 },
            { at: 0.05, value: 2 },
            { at: 0.12, value: 3 },
          ],
        },
      },
      beat: {
        ...{ duration: 0.75, loop: 'loop' },
        cues: [{ at: 0.5, name: 'beat' }],
        tracks: { 'a.p': [{ at: 0, value: 0 }] },
      },
    },
  });
  const cues = (crowd: Crowd) => [...crowd.cues].map(({ type, name }) => `${type} ${name}`);

  test('ends inside an iteration when its count is fractional, and at once when it is 0', () => {
    const crowd = new Crowd(cued);
    const id = crowd.add('c', { loop: { mode: 'loop', count: 2.5 } });
    for (let i = 0; i < 10; i++) crowd.tick(0.3);
    expect([crowd.isOver(id), crowd.timeOf(id)]).toEqual([true, 0.5]);
    const none = new Crowd(cued);
    none.add('c', { loop: { mode: 'loop', count: 0 } });
    none.tick(0.1);
    expect(cues(none)).toEqual(['cue-start on', 'cue-end on']);
  });

  test('shows its own numbers at the end of its clip, prepared or not', () => {
    for (const prepared of [false, true]) {
      const crowd = new Crowd(cued);
      const id = crowd.add('short');
      if (prepared) crowd.prepare();
      crowd.tick(1);
      expect(crowd.values[crowd.offsetOf(id, 'a.frame')]).toBe(2);
      expect(crowd.values[crowd.offsetOf(id, 'a.p')]).toBe(42);
    }
  });

  test('hears its cues in the tick of a player after half an hour, and any rate ends', () => {
    const crowd = new Crowd(cued);
    const player = new Player(cued);
    const [found, alone]: number[][] = [[], []];
    crowd.add('beat', { rate: 0.7 });
    player.play('beat', { rate: 0.7 });
    let tick = 0;
    player.on('cue', () => alone!.push(tick));
    for (; tick < 120_000; tick++) {
      crowd.tick(1 / 60);
      player.tick(1 / 60);
      if (crowd.cues.count > 0) found!.push(tick);
    }
    expect(found).toEqual(alone);
    const start = performance.now();
    for (const loop of ['loop', 'ping-pong', { mode: 'loop', count: 1e12 }] as const)
      crowd.add('beat', { rate: 1e6, loop });
    crowd.tick(3600);
    expect(performance.now() - start).toBeLessThan(1000);
    expect(() => crowd.add('beat', { rate: 1e24 })).toThrow('1e+24 is not a valid rate');
  });
});
