import fc from 'fast-check';
import { expect, test } from 'vitest';
import { parseReel } from 'unspool';
import { runs } from '../../../unspool/test/runs.js';
import { DEMO } from '../../test/reels.js';
import { fromVtt, toVtt } from '../index.js';

test('cues of a demo clip, as text', () => {
  const { result, report } = toVtt(DEMO.get('crab.reel.json')!, { clip: 'snap' });
  expect(result).toBe(
    'WEBVTT\n\nNOTE unspool cues of snap, 0.5 s\n\ndanger\n00:00:00.200 --> 00:00:00.267\n\n\nshut\n00:00:00.250 --> 00:00:00.251\n{"sound":"click","strength":0.8}\n',
  );
  expect(report.approximated).toEqual([
    { at: '/clips/snap/cues/0', what: 'danger in milliseconds', error: expect.closeTo(1 / 3000, 9) as number, unit: 'seconds' }, // prettier-ignore
  ]);
});

const line = fc.oneof(
  fc.record({ text: fc.string(), voice: fc.string() }, { requiredKeys: ['text'] }),
  fc.constantFrom({ text: 'Mind the <tide> & run -->\nnow' }, { text: 'Hi', voice: 'Old <Crab> & Co' }, { text: '{' }),
);
const data = fc.oneof(
  fc.jsonValue().filter((value) => !JSON.stringify(value).includes('__proto__')),
  line,
);
const cues = fc.array(fc.tuple(fc.nat(90_000), fc.nat(5000), fc.option(data, { nil: undefined })), { maxLength: 8 });

test('what was written comes back the same', () => {
  fc.assert(
    fc.property(cues, (list) => {
      const written = list
        .map(([at, length, value], i) => ({
          at: at / 1000,
          // An interval of one millisecond is how a moment is written.
          ...(length > 1 && { until: (at + length) / 1000 }),
          name: `cue-${i % 3}`,
          ...(value !== undefined && { data: JSON.parse(JSON.stringify(value)) as unknown }),
        }))
        .sort((a, b) => a.at - b.at);
      const document = { unspool: 1, clips: { talk: { duration: 100, cues: written } } };
      const reel = parseReel<unknown>(document);
      const back = parseReel<unknown>(fromVtt(toVtt(reel).result).result).clip('talk');
      expect(back.duration).toBe(100);
      expect(back.cues).toEqual(reel.clip('talk').cues);
    }),
    runs(500),
  );
});

test('subtitles: each line an interval with its text and voice', () => {
  const { result, report } = fromVtt(
    '\uFEFFWEBVTT - a talk\r\n\r\nSTYLE\r\n::cue { color: red }\r\n\r\n00:01.000 --> 00:02.500 align:start\r\n<v.loud Old Crab>Mind the <b>tide</b>!\r\n\r\nsecond line\r\n01:00:00.000 --> 01:00:01.000\r\n{ not data }\r\nand more\r\n',
    { clip: 'scene 1' },
  );
  expect(result.clips['scene-1']).toEqual({
    duration: 3601,
    cues: [
      { at: 1, until: 2.5, name: 'line', data: { text: 'Mind the tide!', voice: 'Old Crab' } },
      { at: 3600, until: 3601, name: 'second-line', data: { text: '{ not data }\nand more' } },
    ],
  });
  expect(report.dropped).toEqual([
    { at: 'STYLE', what: '1 style block' },
    { at: 'text', what: 'the markup of 1 cue' },
  ]);
  expect(report.renamed).toEqual([{ what: 'cue', from: 'second line', to: 'second-line' }]);
  parseReel<unknown>(result);
});

test('what is no WebVTT is refused, what is damaged is dropped with its line', () => {
  expect(() => fromVtt('1\n00:00:01,000 --> 00:00:02,000\nHi')).toThrow('the text begins with "1\\n00:00:01,');
  expect(() => fromVtt('WEBVTT\n\n'.padEnd(2 ** 24 + 1, 'x'))).toThrow('the limit is 16777216');
  const { result, report } = fromVtt('WEBVTT\n\n00:01.000 -> 00:02.000\nlost\n\n00:03.000 --> 00:04.000\nkept');
  expect(result.clips['talk']!.cues).toHaveLength(1);
  expect(report.dropped.length).toBeGreaterThan(0);
  expect(report.dropped[0]!.at).toMatch(/^line \d$/);
});

test('16 MB of text take a few seconds, or are refused', () => {
  const started = performance.now();
  expect(() => fromVtt(`WEBVTT\n\n00:01.000 --> 00:02.000\n${'<b>'.repeat(3_300_000)}`)).toThrow('line 4: a cue has more than 500 tags'); // prettier-ignore
  fromVtt(`WEBVTT\n\n${'00:01.000 --> 00:02.000\nahoy\n\n'.repeat(10_000)}`);
  expect(() => fromVtt(`WEBVTT\n\n${'-->'.repeat(5_000_000)}`)).toThrow(
    'the file has 5000000 cues, the limit is 10000',
  );
  expect(performance.now() - started).toBeLessThan(20_000);
});
