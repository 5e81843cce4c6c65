import fc from 'fast-check';
import { expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { randomReel } from '../../test/random-reel.js';
import { compileReel, loadReel, easing, parseReel, Player, type Clip } from '../index.js';

test('a reel that was compiled ahead of time gives the same poses and moments, to the bit', () => {
  fc.assert(
    fc.property(
      randomReel,
      fc.array(fc.double({ min: -1, max: 3, noNaN: true }), { maxLength: 6 }),
      (document, times) => {
        const reel = parseReel<unknown>(document);
        const loaded = loadReel<unknown>(JSON.parse(JSON.stringify(compileReel(reel))));
        expect([loaded.name, loaded.roles]).toEqual([reel.name, reel.roles]);
        expect(loaded.layout.slots).toEqual(reel.layout.slots);
        const heard = (player: Player) => {
          const reported: string[] = [];
          for (const type of ['cue', 'cue-start', 'cue-end', 'loop', 'end'] as const) {
            player.on(type, (event) => reported.push(`${event.time} ${type} ${event.clip}`));
          }
          for (const name of Object.keys(loaded.clips)) {
            player.play(name);
            for (let i = 0; i < 5; i++) player.tick(0.3);
          }
          return [reported, [...player.pose.values]];
        };
        expect(heard(new Player(loaded))).toEqual(heard(new Player(reel)));
        for (const clip of Object.values<Clip>(reel.clips)) {
          for (const time of times)
            expect(loaded.clip(clip.name).sample(time).values).toEqual(clip.sample(time).values);
          const { duration, repeat, cues, spans, after, rate } = loaded.clip(clip.name);
          expect([duration, repeat, spans, after, rate]).toEqual([
            ...[clip.duration, clip.repeat, clip.spans],
            ...[clip.after, clip.rate],
          ]);
          expect(JSON.stringify(cues)).toBe(JSON.stringify(clip.cues)); // JSON has no member that is undefined
        }
      },
    ),
    runs(50),
  );
});

test('so does one whose curves are steeper than a number can say', () => {
  for (const ease of [
    'cubic-bezier(5e-324, -1, 0, 0)',
    'cubic-bezier(1e-310, 100, 1, 1)',
    'cubic-bezier(0, 0, 1, 1)',
  ]) {
    const keys = [{ at: 0, value: 0, ease }, { at: 1, value: 1 }]; // prettier-ignore
    const reel = parseReel<unknown>({ unspool: 1, clips: { pop: { tracks: { 'crab.n': keys } } } });
    const loaded = loadReel<unknown>(JSON.parse(JSON.stringify(compileReel(reel))));
    for (const time of [0, 1e-9, 0.5, 1]) {
      expect(loaded.clip('pop').sample(time).values).toEqual(reel.clip('pop').sample(time).values);
      expect(reel.clip('pop').sample(time).get('crab.n')).toSatisfy(Number.isFinite);
    }
    for (const x of [-2, -1e-9, 0, 1, 3]) expect(easing(ease)(x)).toSatisfy(Number.isFinite);
  }
});

test('an invalid compiled reel is refused, with what to do', () => {
  expect(() => loadReel({ unspool: 1, clips: {} })).toThrow('undefined, expected 8. Compile the reel again');
  const loaded = loadReel(compileReel(parseReel({ unspool: 1, name: 'r', clips: { snap: {} } })));
  expect(() => loaded.clip('snpa' as 'snap')).toThrow('Did you mean "snap"?');
  expect(() => loaded.document).toThrow('the reel "r" was compiled ahead of time and has no document');
});
