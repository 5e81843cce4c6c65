import { expect, test } from 'vitest';
import { parseReel } from 'unspool';
import { DEMO, farthest } from '../../test/reels.js';
import { fromCsv, toCsv, toCss, toGltf } from '../index.js';

test('a demo clip as a table: CRLF, a column for each channel', () => {
  const { result, report } = toCsv(DEMO.get('pearl.reel.json')!, { clip: 'roll', fps: 1 });
  expect(result.split('\r\n').slice(0, 2)).toEqual([
    'time,pearl.position.x,pearl.position.y,pearl.rotation,pearl.scale.x,pearl.scale.y,pearl.opacity',
    '0,0,0,0,0.2,0.2,1',
  ]);
  expect(report.approximated[0]!.what).toBe('pearl.position as 3 samples');
  expect(report.dropped).toEqual([{ at: '/clips/roll/cues', what: '2 cues' }]);
});

test.each(['pearl.reel.json', 'jelly.reel.json', 'plankton.reel.json', 'gate.reel.json'])(
  '%s at 60 Hz and back: within the tolerance at each row',
  (file) => {
    const reel = DEMO.get(file)!;
    for (const clip of Object.values(reel.clips)) {
      const times = Array.from({ length: Math.floor(clip.duration * 60) + 1 }, (_, i) => i / 60);
      const table = toCsv(reel, { clip: clip.name, fps: 60 }).result;
      for (const exact of [true, false]) {
        const { result } = fromCsv(table, { clip: clip.name, exact, tolerance: 0.01 });
        const back = parseReel<unknown>(result).clip(clip.name);
        const [a, b] = [clip.createPose(), back.createPose()];
        for (const time of times) {
          clip.sampleInside(time, a);
          back.sampleInside(time, b);
          for (const { name, kind, offset, width } of clip.layout.slots) {
            if (kind === 'color' && !exact) continue; // fitted by straight ways: counted from 0 to 1, as documented
            const slot = back.layout.slot(name);
            for (let k = 0; k < width; k++)
              expect(Math.abs(a.values[offset + k]! - b.values[slot.offset + k]!), `${name} at ${time}`).toBeLessThan(exact ? 1e-9 : 0.0101); // prettier-ignore
          }
        }
      }
    }
  },
);

/** The fewest keys of a motion made of so many cubics with corners between them: one more than the cubics. */
test('few keys: at most one and a half times the least', () => {
  const keys = [0, 8, -3, 5, 5.5, 20].map((value, i) => ({ at: `${18 * i}f`, value, ease: 'cubic-bezier(0.3333, 1.2, 0.6667, 0.2)' })); // prettier-ignore
  const reel = parseReel<unknown>({ unspool: 1, clips: { hop: { tracks: { 'flea.height': keys } } } });
  const { result, report } = fromCsv(toCsv(reel, { clip: 'hop', fps: 60 }).result, { clip: 'hop' });
  const found = (result.clips['hop']!.tracks!['flea.height'] as readonly unknown[]).length;
  expect(found).toBeLessThanOrEqual(1.5 * keys.length);
  expect(report.approximated[0]!.error).toBeLessThanOrEqual(0.01);
  expect(farthest(reel.clip('hop'), parseReel<unknown>(result).clip('hop'), () => 0.02)).toBeLessThan(1);
});

test('columns: bare channels, colors, flags, texts, frames, names that are not valid', () => {
  const { result, report } = fromCsv(
    '\uFEFFframe,x,y,lamp.tint.r,lamp.tint.g,lamp.tint.b,lamp.visible,crab.mood,große Höhe,claw.position.y\r\n0,1,2,0,0,0,true,calm,5,7\r\n\r\n30,3,4,1,0.5,0,FALSE,"a ""cross"" one",6,8\r\n',
    { role: 'crab', exact: true, fps: 30 },
  );
  expect(result.clips['motion']).toEqual({
    fps: 30,
    duration: '30f',
    tracks: {
      'crab.position': [{ at: '0f', value: [1, 2] }, { at: '30f', value: [3, 4] }],
      'lamp.tint': [{ at: '0f', value: [0, 0, 0, 1] }, { at: '30f', value: [1, 0.5, 0, 1] }],
      'lamp.visible': [{ at: '0f', value: true }, { at: '30f', value: false }],
      'crab.mood': [{ at: '0f', value: 'calm' }, { at: '30f', value: 'a "cross" one' }],
      'crab.gro-e-Hohe': [{ at: '0f', value: 5 }, { at: '30f', value: 6 }],
      'claw.position.y': [{ at: '0f', value: 7 }, { at: '30f', value: 8 }],
    },
  }); // prettier-ignore
  expect(report.renamed).toContainEqual({ what: 'property', from: 'große Höhe', to: 'crab.gro-e-Hohe' });
  parseReel<unknown>(result);
});

test.each([
  ['', 'line 1: the first column is "". Name it "time" or "frame".'],
  ['claw.rotation\n1', 'line 1: the first column is "claw.rotation"'],
  ['time\n0', 'line 1: the first column is the only one'],
  ['time,a.b', 'the table has no rows'],
  ['time,a.b\n0,1\n0,2', 'line 3: 0 s comes after 0 s. Sort the rows by time.'],
  ['time,a.b\n0,1\nsoon,2', 'line 3: "soon" is not a time'],
  ['time,a.b\n0,1\n1,NaN', 'line 3: "NaN" is not a number for a.b'],
  ['time,a.b\n0,1\n1', 'line 3: 1 cells, but 2 columns'],
  ['time,a.b,a.b\n0,1,2', 'line 1: a.b is there twice'],
  ['time,a.b\n0,"1', 'line 2: Quoted field unterminated'],
])('refuses %j with its line', (text, message) => {
  expect(() => fromCsv(text)).toThrow(message);
});

test('an hour of motion with many columns is read, or refused, in a few seconds', () => {
  const rows = Array.from({ length: 20_000 }, (_, i) => `${i / 60},${Math.sin(i / 40)},${Math.cos(i / 15)}`);
  const started = performance.now();
  const { result } = fromCsv(`time,a.x,a.y\n${rows.join('\n')}\n`, { tolerance: 0.01 });
  expect(parseReel<unknown>(result).clip('motion').duration).toBeCloseTo(20_000 / 60, 0);
  expect(performance.now() - started).toBeLessThan(30_000);
  expect(() => fromCsv(`time,${'a.b,'.repeat(1000)}c.d\n${`0${',1'.repeat(1001)}\n`.repeat(3000)}`)).toThrow(
    'the limit is',
  );
});

test('a track that accumulates: every format whose loops start anew says so', async () => {
  const keys = [{ at: 0, value: [0, 0] }, { at: 1, value: [40, 0] }]; // prettier-ignore
  const walk = { loop: 'loop', tracks: { 'crab.position': { accumulate: true, keys } } };
  const reel = parseReel<unknown>({ unspool: 1, clips: { walk } });
  const note = { at: '/clips/walk/tracks/crab.position', what: 'crab.position accumulates: here each iteration starts anew' }; // prettier-ignore
  expect(toCsv(reel).report.dropped).toContainEqual(note);
  expect(toCss(reel, { clips: ['walk'] }).report.dropped).toContainEqual(note);
  expect((await toGltf(reel)).report.dropped).toContainEqual(note);
  // A table of given times goes through as many iterations as they do.
  const { result, report } = toCsv(reel, { times: [0.5, 1.5] });
  expect([result.split('\r\n')[2], report.dropped]).toEqual(['1.5,60,0', []]);
});
