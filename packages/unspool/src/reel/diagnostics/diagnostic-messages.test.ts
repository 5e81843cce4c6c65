import { describe, expect, test } from 'vitest';
import { checkReel, LIMITS } from '../../index.js';
import { messages } from './diagnostic-messages.js';

/** For each problem a reel that has it and nothing else, and where possible one that is just right. */
const key = (value: unknown = 0, more: object = {}) => ({ at: 0, value, ...more });
const tracks = (all: object, more: object = {}) => ({ unspool: 1, clips: { snap: { tracks: all, ...more } } });
const track = (...keys: object[]) => tracks({ 'claw.rotation': keys });
const clip = (members: object) => tracks({ 'claw.rotation': [key()] }, members);
const sheet = { image: 's.png', columns: 2, rows: 2, cell: [8, 8] };
const framed = (keys: unknown[]) => ({
  ...tracks({ 'claw.frame': keys }),
  roles: { claw: { sheet: 's' } },
  sheets: { s: sheet },
});
const roles = (all: object) => ({ ...tracks({}), roles: all });
const nested = (levels: number) => JSON.parse('['.repeat(levels) + ']'.repeat(levels)) as unknown;
const cues = (count: number) => Array.from({ length: count }, () => ({ at: 0, name: 'a' }));
const parents = (count: number) =>
  Object.fromEntries(Array.from({ length: count + 1 }, (_, i) => [`r${i}`, i < count ? { parent: `r${i + 1}` } : {}]));
/** A second of a turning claw, and clips with parts. */
const parts = (all: Readonly<Record<string, object[]>>, more: object = {}) => ({
  unspool: 1,
  roles: { claw: {}, ...more },
  clips: {
    snap: { tracks: { 'claw.rotation': [key(), { at: 1, value: 1 }] } },
    ...Object.fromEntries(Object.entries(all).map(([name, list]) => [name, { parts: list }])),
  },
});
/** A scene of a scene of a scene … */
const scenes = (levels: number) =>
  parts(
    Object.fromEntries(
      Array.from({ length: levels }, (_, i) => [`s${i}`, [{ clip: i === 0 ? 'snap' : `s${i - 1}`, at: 0 }]]),
    ),
  );
const free = (...cells: object[]) => ({ ...track(key()), sheets: { s: { image: 's.png', cells } } });
const row = (last: number, each: unknown = '1f') => [{ at: 0, frames: [0, last], each }];

/** A reel with a routine of these inputs and rules. */
const routine = (inputs: object, list: object[] = []) => ({
  ...clip({ duration: 1, cues: [{ at: 0, name: 'shut' }], spans: { opening: [0, 1] } }),
  facings: { walk: { right: 'snap' } },
  routines: { main: { inputs, rules: list } },
});
const INPUTS = { speed: { kind: 'number' }, way: { kind: 'vec2' }, wet: { kind: 'flag' }, jump: { kind: 'signal' } };
const rules = (...list: object[]) =>
  routine(
    INPUTS,
    list.map((rule, i) => ({ name: `rule${i}`, play: 'snap', ...rule })),
  );

const cases: Readonly<Record<string, readonly [wrong: unknown, right?: unknown]>> = {
  'reel/json': ['{ "unspool": 1, "clips": {}', '{ "unspool": 1, "clips": {} }'],
  'reel/empty': [' \n\t', '\uFEFF{ "unspool": 1, "clips": {} }'],
  'reel/too-large': [' '.repeat(LIMITS.bytes + 1)],
  'reel/too-deep': [
    { ...track(key()), 'x-a': nested(LIMITS.depth) },
    { ...track(key()), 'x-a': nested(LIMITS.depth - 1) },
  ],
  'reel/too-long': [clip({ duration: 99999999999 }), clip({ duration: 86_400 })],
  'reel/too-many-keys': [tracks({ 'claw.frame': row(LIMITS.keys) })],
  'reel/duplicate-member': [
    '{ "unspool": 1, "clips": { "a": {}, "a": {} } }',
    '{ "unspool": 1, "clips": { "a": { "about": "a" }, "b": { "about": "a" } } }',
  ],
  'reel/not-data': [track(key(() => 1)), track(key(1, { ease: undefined }))],
  'reel/not-finite': [track(key(-Infinity)), track(key(-1e100))],
  'reel/forbidden-name': [tracks({ 'claw.constructor': [key()] }), tracks({ 'claw.construct': [key()] })],
  'reel/type': [clip({ tracks: [] }), clip({ tracks: {} })],
  'reel/choice': [clip({ after: 'rset' }), clip({ after: 'rest' })],
  'reel/missing': [clip({ cues: [{ at: 0 }] }), clip({ cues: [{ at: 0, name: 'shut' }] })],
  'reel/unknown-member': [clip({ durration: 1 }), clip({ 'x-durration': 1 })],
  'reel/version': [
    { unspool: '1', clips: {} },
    { unspool: 1, clips: {} },
  ],
  'reel/name': [roles({ 'big claw': {} }), roles({ 'big-claw_2': {} })],
  'reel/time': [clip({ duration: '1 s' }), clip({ duration: '1s' })],
  'reel/negative-time': [track({ at: '-1f', value: 0 }), track({ at: '-0f', value: 0 })],
  'reel/positive': [clip({ fps: 0 }), clip({ fps: 0.5 })],
  'reel/negative': [clip({ loop: { mode: 'loop', count: -1 } }), clip({ loop: { mode: 'loop', count: 0 } })],
  'reel/whole': [
    { ...roles({}), sheets: { s: { ...sheet, rows: 1.5 } } },
    { ...roles({}), sheets: { s: sheet } },
  ],
  'reel/unknown-role': [roles({ claw: { parent: 'crab' } }), roles({ claw: { parent: 'crab' }, crab: {} })],
  'reel/unknown-sheet': [roles({ claw: { sheet: 's' } }), framed([key(3)])],
  'reel/unknown-clip': [{ ...roles({}), chains: { all: ['snpa'] } }],
  'reel/parent-circle': [roles({ claw: { parent: 'claw' } }), roles({ claw: { parent: 'crab' }, crab: {} })],
  'reel/parent-depth': [roles(parents(LIMITS.parents)), roles(parents(LIMITS.parents - 1))],
  'reel/track-name': [tracks({ rotation: [key()] }), tracks({ 'claw.rotation': [key()] })],
  'reel/near-property': [
    tracks({ 'claw.roation': [key()] }),
    tracks({ 'claw.roation': { kind: 'number', keys: [key()] } }),
  ],
  'reel/no-kind': [
    tracks({ 'claw.glow': [key([1, 2, 3, 4])] }),
    tracks({ 'claw.glow': { kind: 'color', keys: [key([1, 1, 0, 1])] } }),
  ],
  'reel/kind-conflict': [
    {
      ...tracks({ 'claw.glow': [key(1)] }),
      roles: { claw: { rest: { glow: 'on' } } },
    },
    { ...tracks({ 'claw.glow': [key(1)] }), roles: { claw: { rest: { glow: 0 } } } },
  ],
  'reel/kind-not-allowed': [
    tracks({ 'claw.opacity': { kind: 'text', keys: [key()] } }),
    tracks({ 'claw.opacity': { kind: 'number', keys: [key()] } }),
  ],
  'reel/value': [tracks({ 'claw.tint': [key([2, 0, 0, 1])] }), tracks({ 'claw.tint': [key([1, 0, 0, 1])] })],
  'reel/whole-and-channel': [
    tracks({ 'claw.position.x': [key()], 'claw.position': [key([0, 0])] }),
    tracks({ 'claw.position.x': [key()], 'claw.position.y': [key()] }),
  ],
  'reel/no-keys': [track(), track(key())],
  'reel/no-cells': [free(), free({ x: 0, y: 0, width: 8, height: 8 })],
  'reel/unknown-easing': [track(key(0, { ease: 'steps(0)' })), track(key(0, { ease: 'steps(1)' }))],
  'reel/key-order': [track(key(0, { at: 1 }), key(0, { at: 0.5 })), track(key(0, { at: 0.5 }), key(0, { at: 1 }))],
  'reel/same-time': [
    track(key(0, { at: 0.5 }), key(0, { at: '500ms' })),
    track(key(0, { at: 0.5 }), key(0, { at: '501ms' })),
  ],
  'reel/frames': [tracks({ 'claw.opacity': row(1) })],
  'reel/frames-each': [tracks({ 'claw.frame': row(3, '-1f') }), tracks({ 'claw.frame': row(3, '0.5f') })],
  'reel/frame-outside': [framed([key(4)]), framed([key(3)])],
  'reel/key-after-end': [
    tracks({ 'claw.rotation': [key(), key(1, { at: 2 })] }, { duration: 1 }),
    tracks({ 'claw.rotation': [key(1, { at: 1 })] }, { duration: 1 }),
  ],
  'reel/unseen-key': [
    tracks({ 'claw.frame': [key(), { at: '1f', value: 1 }, { at: '2f', value: 2 }] }, { loop: 'loop' }),
    tracks(
      {
        'claw.frame': [key(), { at: '1f', value: 1 }, { at: '2f', value: 0 }],
        'tail.frame': [key()],
      },
      { loop: 'loop' },
    ),
  ],
  'reel/cue-after-end': [
    clip({ duration: 1, cues: [{ at: 1.1, name: 'a' }] }),
    clip({ duration: 1, cues: [{ at: 1, name: 'a' }] }),
  ],
  'reel/interval-order': [clip({ spans: { a: [1, 0.5] } }), clip({ spans: { a: [0.5, 1] } })],
  'reel/too-many-cues': [clip({ cues: cues(LIMITS.cues + 1) }), clip({ cues: cues(LIMITS.cues) })],
  'reel/no-channel': [
    tracks({ 'claw.rotation.x': [key()] }),
    tracks({ 'claw.tint.a': [key()], 'claw.position.z': [key()] }),
  ],
  'reel/no-effect': [
    tracks({ 'claw.opacity': { turn: 'shortest', mix: 'oklab', keys: [key()] } }),
    tracks({
      'claw.rotation': { turn: 'shortest', keys: [key()] },
      'claw.tint': { mix: 'oklab', keys: [key('#fff')] },
    }),
  ],
  'reel/offset-kind': [
    tracks({ 'claw.visible': { space: 'offset', keys: [key(true)] } }),
    tracks({ 'claw.rotation': { space: 'offset', keys: [key([0, 0, 0, 1])] } }),
  ],
  'reel/accumulate-kind': [
    tracks({ 'claw.visible': { accumulate: true, keys: [key(true)] } }),
    tracks({
      'claw.visible': { accumulate: false, keys: [key(true)] },
      'claw.rotation': { accumulate: true, keys: [key(1)] },
    }),
  ],
  'reel/handle': [
    tracks({ 'claw.position': [key([0, 0], { ease: 'curve', out: [0.1, 0.1] }), { at: 1, value: [1, 1] }] }),
    tracks({
      'claw.position': [
        key([0, 0], {
          ease: 'curve',
          out: [
            ['1f', 2],
            [0.1, 0.1],
          ],
        }),
        { at: 1, value: [1, 1] },
      ],
      'claw.scale': [key(1, { ease: 'curve', out: [0.1, 0.1] }), { at: 1, value: [1, 1] }],
    }),
  ],
  'reel/handle-unused': [
    track(key(0, { out: [0.1, 2] }), { at: 1, value: 1 }),
    track(key(0, { ease: 'curve', out: [0.1, 2] }), { at: 1, value: 1, in: [-0.1, 0] }),
  ],
  'reel/handle-folds': [
    track(key(0, { ease: 'curve', out: [1.1, 2] }), { at: 1, value: 1, in: [0.1, 0] }),
    track(key(0, { ease: 'curve', out: [1, 2] }), { at: 1, value: 1, in: [-1, 0] }),
  ],
  'reel/part-circle': [parts({ a: [{ clip: 'b', at: 0 }], b: [{ clip: 'a', at: 0 }] }), parts({ a: [], b: [] })],
  'reel/part-depth': [scenes(LIMITS.parts + 1), scenes(LIMITS.parts)],
  'reel/part-rate': [
    parts({ a: [{ clip: 'snap', at: 0, rate: 0 }] }),
    parts({ a: [{ clip: 'snap', at: 0, rate: -2 }] }),
  ],
  'reel/part-endless': [
    parts({ a: [{ clip: 'snap', at: 0, loop: 'loop' }] }),
    parts({ a: [{ clip: 'snap', at: 0, loop: 'loop', until: 2 }] }),
  ],
  'reel/part-overlap': [
    parts({
      a: [
        { clip: 'snap', at: 0 },
        { clip: 'snap', at: 0.5 },
      ],
    }),
    parts({
      a: [
        { clip: 'snap', at: 0 },
        { clip: 'snap', at: 1 },
      ],
    }),
  ],
  'reel/part-differs': [
    {
      ...parts({
        scene: [
          { clip: 'snap', at: 0 },
          { clip: 'over', at: 1 },
        ],
      }),
      clips: {
        ...parts({}).clips,
        over: { tracks: { 'claw.rotation': { space: 'offset', keys: [key(), { at: 1, value: 2 }] } } },
        scene: {
          parts: [
            { clip: 'snap', at: 0 },
            { clip: 'over', at: 1 },
          ],
        },
      },
    },
    parts({
      scene: [
        { clip: 'snap', at: 0 },
        { clip: 'snap', at: 1 },
      ],
    }),
  ],
  'reel/part-kind': [
    parts({ a: [{ clip: 'snap', at: 0, roles: { claw: 'lamp' } }] }, { lamp: { rest: { rotation: [0, 0, 0, 1] } } }),
    parts({ a: [{ clip: 'snap', at: 0, roles: { claw: 'lamp' } }] }, { lamp: {} }),
  ],
  'reel/unknown-span': [
    { ...tracks({}), chains: { all: [{ clip: 'snap', span: 'opening' }] } },
    { ...tracks({}, { spans: { opening: [0, 1] } }), chains: { all: [{ clip: 'snap', span: 'opening' }] } },
  ],
  'reel/chain-endless': [
    { ...tracks({}, { duration: 1, loop: 'loop' }), chains: { all: ['snap', 'snap'] } },
    { ...tracks({}, { duration: 1, loop: 'loop' }), chains: { all: [{ clip: 'snap', loop: 'once' }, 'snap'] } },
  ],
  'reel/chain-name': [
    { ...tracks({}), chains: { snap: ['snap'] } },
    { ...tracks({}), chains: { snaps: ['snap'] } },
  ],
  'reel/unknown-side': [
    { ...tracks({}), facings: { aim: { rigth: 'snap' } } },
    { ...tracks({}), facings: { aim: { right: 'snap', 'down-left': 'snap' } } },
  ],
  'reel/unknown-mirror': [
    { ...tracks({}), facings: { aim: { right: { mirror: 'left' }, left: { mirror: 'right' } } } },
    { ...tracks({}), facings: { aim: { right: 'snap', left: { mirror: 'right' } } } },
  ],
  'reel/no-direction': [
    { ...tracks({}), facings: { aim: [{ toward: [0, 0], clip: 'snap' }] } },
    { ...tracks({}), facings: { aim: [{ toward: [0, 1], clip: 'snap' }] } },
  ],
  'reel/undeclared-shape': [
    tracks({ 'claw.pincer': [key({ center: [0, 0], size: [1, 1] })] }),
    { ...tracks({ 'claw.pincer': [key({ size: [1, 1] })] }), roles: { claw: { shapes: { pincer: { kind: 'box' } } } } },
  ],
  'reel/shape-name': [
    roles({ claw: { shapes: { scale: { kind: 'box' } } } }),
    roles({ claw: { shapes: { pincer: { kind: 'box' } } } }),
  ],
  'reel/key-data': [track(key(0, { data: 1 }))],
  'reel/no-clips': [rules({ play: [] }), rules({ play: ['snap'] })],
  'reel/input-value': [
    routine({
      speed: { kind: 'number', value: [1, 2] },
      way: { kind: 'vec2', value: 1 },
      on: { kind: 'flag', value: 1 },
    }),
    routine({ speed: { kind: 'number', value: 1 }, way: { kind: 'vec2', value: [1, 2] } }),
  ],
  'reel/input-keep': [routine({ speed: { kind: 'number', keep: 1 } }), routine({ jump: { kind: 'signal', keep: 1 } })],
  'reel/unknown-input': [
    rules(
      { on: 'jmup' },
      { on: 'speed' },
      { if: { sped: 1 } },
      { if: { jump: true } },
      { rate: { input: 'wet', at: 1 } },
    ),
    rules({ on: 'jump' }, { if: { speed: 1 } }, { rate: { input: 'way', at: 1 } }),
  ],
  'reel/condition': [
    rules({ if: { speed: true } }, { if: { wet: 1 } }, { if: { speed: {} } }, { if: { way: 1 } }, { if: { speed: { above: 1, below: 2 } } }, { if: { speed: { equals: 1, until: 2 } } }), // prettier-ignore
    rules({ if: { speed: { equals: 1 } } }, { if: { wet: { equals: true, for: 1 } } }, { if: { way: { above: 1 } } }),
  ],
  'reel/thresholds': [
    rules({ if: { speed: { above: 3, until: 6 } } }, { if: { speed: { below: 6, until: 3 } } }),
    rules({ if: { speed: { above: 6, until: 3 } } }, { if: { speed: { below: 3, until: 3 } } }),
  ],
  'reel/rule-name': [rules({ name: 'a' }, { name: 'a' }), rules({ name: 'a' }, { name: 'b' })],
  'reel/rule-plays': [
    rules({ play: undefined }, { face: 'walk', toward: 'way' }),
    rules({}, { play: undefined, face: 'walk', toward: 'way' }),
  ],
  'reel/rule-toward': [
    rules({ play: undefined, face: 'walk' }, { toward: 'way' }),
    rules({ play: undefined, face: 'walk', toward: 'way' }),
  ],
  'reel/rule-rate': [rules({ rate: { input: 'speed', at: 0 } }), rules({ rate: { input: 'speed', at: -1 } })],
  'reel/rule-time': [
    rules({ from: 1.5 }, { until: '61f' }, { from: -0.5 }),
    rules({ from: 0 }, { until: 1 }, { from: 'shut', until: 'opening' }),
  ],
  'reel/rule-lands': [rules({ from: 1, until: 0 }), rules({ from: 1, until: 0, rate: -1 }, { from: 1, until: 0, loop: 'loop' })], // prettier-ignore
  'reel/rate': [
    { ...rules({ rate: -2e6 }), chains: { all: [{ clip: 'snap', rate: 2e6 }] } },
    { ...rules({ rate: -1e6 }), chains: { all: [{ clip: 'snap', rate: 1e6 }] } },
  ],
  'reel/unknown-rule': [
    rules({ name: 'hop' }, { during: { rule: 'hpo' } }),
    rules({ name: 'hop' }, { during: { rule: 'hop' } }),
  ],
  'reel/rule-layer': [
    rules({ during: { rule: 'arm' } }, { name: 'arm', layer: 'arm' }),
    rules({ name: 'leg' }, { during: { rule: 'leg' }, layer: 'arm' }),
  ],
  'reel/unknown-facing': [
    rules({ play: undefined, face: 'wlak', toward: 'way' }),
    rules({ play: undefined, face: 'walk', toward: 'way' }),
  ],
  'reel/unknown-moment': [
    rules(
      { free: 'shutt' },
      { span: 'shut' },
      { name: 'a' },
      { during: { rule: 'a', span: 'hold' } },
      { from: 'nowhere' },
    ),
    rules({ free: 'shut' }, { span: 'opening' }, { name: 'a' }, { during: { rule: 'a', cue: 'shut' } }, { from: '2f' }),
  ],
};

describe.each(Object.keys(messages))('%s', (code) => {
  const [wrong, right] = cases[code]!;

  test('is found, alone, with what to do', () => {
    const found = checkReel(wrong);
    expect([...new Set(found.map((one) => one.code))]).toEqual([code]);
    for (const { message, hint, path } of found) {
      expect(message).toMatch(/\S/);
      expect(message).not.toMatch(/undefined|\[object/);
      expect(hint).toMatch(/\S/);
      expect(path).toMatch(/^(\/|$)/);
    }
  });

  test.runIf(right !== undefined)('is not said of what is just right', () => {
    expect(checkReel(right)).toEqual([]);
  });
});

test('times are written as one reads them', () => {
  const thirds = { 'claw.rotation': [key(), key(1, { at: '20f' })] };
  const found = [
    tracks(thirds, { duration: '10f' }),
    tracks(thirds, { duration: '40f', cues: [{ at: '50f', name: 'a' }] }),
    clip({ duration: 1e5 / 3 + 9e4 }),
    track(key(0, { at: 1 / 3 }), key(0, { at: 1 / 7 })),
    track(key(0, { at: 1 / 3 }), key(0, { at: 1 / 3 })),
    tracks({ 'claw.frame': [key(), key(1, { at: '20f' })] }, { loop: 'loop' }),
    track(key(0, { ease: 'curve', out: [1, 0] }), key(0, { at: 1 / 3 })),
    { ...rules({ from: '40f' }, { from: 5 }), clips: { snap: { tracks: thirds } } },
    { ...rules({ from: '10f', until: '5f' }), clips: { snap: { tracks: thirds } } },
  ].flatMap((reel) => checkReel(reel));
  const codes = ['key-after-end', 'cue-after-end', 'too-long', 'key-order', 'same-time', 'unseen-key'];
  const expected = [...codes, 'handle-folds', 'rule-time', 'rule-lands'].map((code) => `reel/${code}`);
  expect([...new Set(found.map(({ code }) => code))].sort()).toEqual(expected.sort());
  for (const { message, hint } of found) expect(`${message} ${hint}`).not.toMatch(/\d\.\d{9}/);
});
