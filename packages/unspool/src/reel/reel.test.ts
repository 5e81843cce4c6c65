import { readdirSync, readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { runs } from '../../test/runs.js';
import { randomReel } from '../../test/random-reel.js';
import { checkReel, formatDiagnostic, formatReel, LIMITS, parseReel, ReelError } from '../index.js';
import { reelJsonSchema } from './document/json-schema.js';

const DEMO = new URL('../../../../examples/tidepool/reels/', import.meta.url);
const demos = readdirSync(DEMO).filter((name) => name.endsWith('.reel.json'));
const read = (name: string) => readFileSync(new URL(name, DEMO), 'utf8');

const track = (keys: unknown, rest: object = {}) => ({
  unspool: 1,
  clips: { snap: { tracks: { 'claw.rotation': keys }, ...rest } },
});
const codes = (input: unknown) => checkReel(input).map(({ code, path }) => `${code} ${path}`);

describe('the canonical writer', () => {
  test.each(demos)('%s: writing what was read changes no byte', (name) => {
    expect(formatReel(parseReel(read(name)).document)).toBe(read(name));
  });

  test('on random reels: what was written reads back equal, and is written the same again', () => {
    fc.assert(
      fc.property(randomReel, (reel) => {
        const text = formatReel(reel);
        expect(JSON.parse(text)).toEqual(reel);
        expect(formatReel(parseReel(text).document)).toBe(text);
      }),
    );
  });

  test('whatever could be read, at the limit too, is written so that it can be read again', () => {
    // Numbers in the shortest ways that JSON has, text outside of ASCII, and a name that fills it up to the last byte.
    const numeral = fc
      .tuple(fc.integer({ min: -999, max: 999 }), fc.integer({ min: -320, max: 98 }))
      .map(([a, b]) => `${a}e${b}`);
    const own = fc.array(
      fc.oneof(
        numeral,
        fc.string({ unit: 'grapheme' }).map((text) => JSON.stringify(text)),
      ),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(own, fc.integer({ min: 0, max: 2 }), (list, less) => {
        const around = (fill: string) =>
          `{"unspool":1,"clips":{"a":{"tracks":{"b.n":[{"at":0,"value":1e3},{"at":1e1,"value":25e-9}]}}},"x-data":[${list.join()}],"x-fill":"${fill}"}`;
        const text = around('x'.repeat(LIMITS.bytes - Buffer.byteLength(around('')) - less));
        const { document } = parseReel<unknown>(text);
        const written = formatReel(document);
        expect(Buffer.byteLength(written)).toBeLessThanOrEqual(Buffer.byteLength(text));
        expect(JSON.parse(written)).toEqual(JSON.parse(text));
        const again = parseReel<unknown>(written).document;
        expect(formatReel(again) === written).toBe(true);
      }),
      runs(4),
    );
  }, 600_000);

  test('one key a line, units kept, own members kept, free data in its own order', () => {
    const reel = {
      clips: {
        snap: { cues: [{ data: { z: 1, at: 2, a: [{ y: 0, b: 1 }] }, name: 'shut', at: '9f' }], duration: '300ms' },
      },
      'x-note': { b: 1, a: 2 },
      unspool: 1 as const,
    };
    expect(formatReel(reel as never)).toBe(`{
  "unspool": 1,
  "clips": {
    "snap": {
      "duration": "300ms",
      "cues": [
        { "at": "9f", "name": "shut", "data": { "z": 1, "at": 2, "a": [{ "y": 0, "b": 1 }] } }
      ]
    }
  },
  "x-note": { "b": 1, "a": 2 }
}
`);
  });
});

describe('the check', () => {
  test('random reels have no errors', () => {
    fc.assert(
      fc.property(randomReel, (reel) => checkReel(formatReel(reel)).every(({ severity }) => severity !== 'error')),
    );
  });

  test.each([
    ['no time', { at: 'soon' }, 'reel/time'],
    ['no time at all', {}, 'reel/missing'],
    ['a negative time', { at: -1 }, 'reel/negative-time'],
    ['a time before that of the key before it', { at: 1 }, 'reel/key-order'],
  ])('%s hides nothing else that is wrong with the key', (_, time, code) => {
    const keys = [
      { at: 2, value: 0 },
      { ...time, value: 'much', ease: 'wobly' },
      { at: 3, value: 1 },
    ];
    const found = checkReel({ unspool: 1, clips: { snap: { tracks: { 'claw.rotation': keys } } } }).map(
      (one) => one.code,
    );
    expect(found).toEqual(expect.arrayContaining([code, 'reel/unknown-easing', 'reel/value']));
    expect(found).toHaveLength(3);
  });

  test('never throws, whatever it is given', () => {
    fc.assert(
      fc.property(
        fc.anything({ withBigInt: true, withDate: true, withNullPrototype: true }),
        (input) => void checkReel(input),
      ),
    );
    fc.assert(fc.property(fc.string(), (input) => checkReel(input).length > 0));
    const circle: Record<string, unknown> = { unspool: 1, clips: {} };
    circle['x-self'] = circle;
    expect(codes(circle)).toEqual(['reel/too-deep /x-self']);
  });

  test('a damaged text has a diagnostic inside it, with line and column', () => {
    const text = read('gate.reel.json');
    const lines = text.split('\n');
    fc.assert(
      fc.property(fc.nat(text.length - 1), fc.constantFrom('', ',', '"', '}', '[', '1e', '\\'), (at, put) => {
        const broken = text.slice(0, at) + put + text.slice(at + 1);
        for (const { line, column } of checkReel(broken)) {
          expect(line).toBeGreaterThanOrEqual(1);
          expect(line).toBeLessThanOrEqual(lines.length + 1);
          expect(column).toBeGreaterThanOrEqual(1);
        }
        let isJson = true;
        try {
          JSON.parse(broken);
        } catch {
          isJson = false;
        }
        expect(checkReel(broken).some(({ code }) => code === 'reel/json')).toBe(!isJson);
      }),
      runs(400),
    );
  });

  test.each([
    [
      'a value that is not finite',
      track([{ at: 0, value: Infinity }]),
      'reel/not-finite /clips/snap/tracks/claw.rotation/0/value',
    ],
    ['a function', track([{ at: 0, value: () => 1 }]), 'reel/not-data /clips/snap/tracks/claw.rotation/0/value'],
    [
      'a role of no reel',
      { ...track([{ at: 0, value: 1 }]), roles: { crab: {} } },
      'reel/unknown-role /clips/snap/tracks/claw.rotation',
    ],
    [
      'a key beyond the end',
      track([{ at: 2, value: 1 }], { duration: 1 }),
      'reel/key-after-end /clips/snap/tracks/claw.rotation/0/at',
    ],
    [
      'a property that is all but a known one',
      { unspool: 1, clips: { snap: { tracks: { 'claw.rotaton': [{ at: 0, value: 1 }] } } } },
      'reel/near-property /clips/snap/tracks/claw.rotaton',
    ],
    [
      'a frame outside its sheet',
      {
        ...{
          unspool: 1,
          roles: { claw: { sheet: 's' } },
          sheets: { s: { image: 's.png', columns: 2, rows: 2, cell: [8, 8] } },
        },
        clips: { snap: { tracks: { 'claw.frame': [{ at: 0, frames: [2, 5], each: '1f' }] } } },
      },
      'reel/frame-outside /clips/snap/tracks/claw.frame/0',
    ],
    ['an undefined member is no member', track([{ at: 0, value: 1, ease: undefined }]), undefined],
    ['a member of one’s own', { ...track([{ at: 0, value: 1, 'x-who': 'me' }]), 'x-tool': 1 }, undefined],
  ])('%s', (_, input, expected) => {
    expect(codes(input)).toEqual(expected === undefined ? [] : [expected]);
  });

  test('limits are errors that name their number', () => {
    const deep = JSON.parse('['.repeat(70) + ']'.repeat(70)) as unknown;
    expect(checkReel({ ...track([{ at: 0, value: 0 }]), 'x-a': deep })[0]?.message).toContain(String(LIMITS.depth));
    expect(checkReel(' '.repeat(LIMITS.bytes + 1))[0]?.message).toContain(String(LIMITS.bytes));
    const cues = Array.from({ length: LIMITS.cues + 1 }, () => ({ at: 0, name: 'a' }));
    expect(checkReel(track([{ at: 0, value: 0 }], { cues }))[0]?.message).toContain(String(LIMITS.cues));
    const frames = [{ at: 0, frames: [0, LIMITS.keys], each: '1f' }];
    expect(checkReel({ unspool: 1, clips: { a: { tracks: { 'b.frame': frames } } } })[0]?.message).toContain(
      String(LIMITS.keys),
    );
    const parents = Object.fromEntries(Array.from({ length: 40 }, (_, i) => [`r${i}`, { parent: `r${i + 1}` }]));
    const found = codes({ unspool: 1, roles: { ...parents, r40: {} }, clips: {} });
    expect(found.every((one) => one.startsWith('reel/parent-depth'))).toBe(true);
  });

  test('parseReel throws everything at once, each on a line', () => {
    const broken = JSON.stringify(track([{ at: 0, value: 'far', ease: 'quad-oot' }]));
    const diagnostics = checkReel(broken, { source: 'x.reel.json' });
    expect(diagnostics).toHaveLength(2);
    const failing = () => parseReel(broken, { source: 'x.reel.json' });
    expect(failing).toThrow(ReelError);
    expect(failing).toThrow(diagnostics.map(formatDiagnostic).join('\n'));
  });
});

describe('reel.schema.json', () => {
  const validate = new Ajv2020({ strict: false }).compile(reelJsonSchema());

  test.each(demos)('takes %s', (name) => {
    expect(validate(JSON.parse(read(name))), JSON.stringify(validate.errors)).toBe(true);
  });

  test('takes what the check takes', () => {
    fc.assert(fc.property(randomReel, (reel) => validate(reel)));
  });

  test.each([
    ['a misspelled member', { ...track([{ at: 0, value: 1 }]), rols: {} }],
    ['a member missing', track([{ at: 0 }])],
    ['an odd time', track([{ at: '9 frames', value: 1 }])],
    ['no keys', track([])],
    ['an odd name', { unspool: 1, clips: { 'claw snap': {} } }],
    ['a loop of no mode', track([{ at: 0, value: 1 }], { loop: 'forever' })],
    ['another version', { unspool: 2, clips: {} }],
  ])('refuses %s, as the check does', (_, reel) => {
    expect(validate(reel)).toBe(false);
    expect(checkReel(reel).some(({ severity }) => severity === 'error')).toBe(true);
  });
});
