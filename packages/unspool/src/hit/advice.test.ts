import { expect, test } from 'vitest';
import { parseReel } from '../index.js';
import { adviseShapes } from './index.js';

/** Codes of what is said of a clip of half a second with these tracks; shapes are a hitting box and a circle. */
function codes(tracks: object, more: object = {}): string[] {
  const shapes = { pincer: { kind: 'box', tag: 'hits' }, tip: { kind: 'circle', tag: 'hurt' } };
  const clips = { snap: { duration: '30f', tracks, ...more } };
  return adviseShapes(parseReel({ unspool: 1, roles: { claw: { shapes } }, clips })).map(({ code }) => code);
}
const box = (from: string, until: string, size = [6, 2], more: object = {}) => [
  { at: from, value: { size }, ...more },
  { at: until, value: null },
];
const data = { data: { damage: 1 } };

test.each([
  ['no size', { 'claw.pincer': box('6f', '9f', [6, 0], data) }, {}, ['shape/no-size']],
  [
    'a size that grows from nothing',
    {
      'claw.tip.radius': [
        { at: 0, value: 0 },
        { at: '9f', value: 5 },
      ],
    },
    {},
    [],
  ],
  ['less than a frame', { 'claw.pincer': box('6f', '6.5f', [6, 2], data) }, {}, ['shape/short']],
  ['exactly a frame', { 'claw.pincer': box('6f', '7f', [6, 2], data) }, {}, []],
  ['no cue or data', { 'claw.pincer': box('6f', '9f') }, {}, ['shape/silent']],
  ['a cue in it', { 'claw.pincer': box('6f', '9f') }, { cues: [{ at: '8f', name: 'hit' }] }, []],
  ['a cue beside it', { 'claw.pincer': box('6f', '9f') }, { cues: [{ at: '12f', name: 'hit' }] }, ['shape/silent']],
  [
    'a jump',
    {
      'claw.pincer': box('6f', '9f', [6, 2], data),
      'claw.position': [
        { at: '6f', value: [0, 0] },
        { at: '9f', value: [60, 0] },
      ],
    },
    {},
    ['shape/jump'],
  ],
  [
    'a way as long as itself',
    {
      'claw.pincer': box('6f', '9f', [6, 2], data),
      'claw.position': [
        { at: '6f', value: [0, 0] },
        { at: '9f', value: [18, 0] },
      ],
    },
    {},
    [],
  ],
])('%s', (_, tracks, more, expected) => {
  expect(codes(tracks, more)).toEqual(expected);
});

test('it has its place and what to do; a part is checked where it is written', () => {
  const text = `{
  "unspool": 1,
  "roles": { "claw": { "shapes": { "pincer": { "kind": "box", "tag": "hits" } } } },
  "clips": {
    "snap": { "tracks": {
      "claw.pincer": [{ "at": 0, "value": { "size": [6, 2] } }, { "at": 1, "value": {} }]
    } },
    "scene": { "duration": 2, "parts": [{ "clip": "snap", "at": 0.5 }] }
  }
}`;
  expect(adviseShapes(parseReel(text), { text, source: 'claw.reel.json' })).toEqual([
    {
      code: 'shape/silent',
      severity: 'advice',
      path: '/clips/snap/tracks/claw.pincer',
      line: 6,
      column: 7,
      source: 'claw.reel.json',
      message: 'claw.pincer hits from 0f to 60f without data or a cue',
      hint: 'add "data" to the shape or its key, or add a cue',
    },
  ]);
});
