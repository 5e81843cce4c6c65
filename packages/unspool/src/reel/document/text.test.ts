import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkReel, parseReel } from '../../index.js';
import { findJsonError } from '../diagnostics/json-error.js';
import { TextLocations, pointerOf } from '../diagnostics/text-locations.js';

describe('errors in invalid JSON', () => {
  test.each([
    ['{"a": 1,}', 7, 'trailing comma before a closing bracket'],
    ['[1, 2,\n]', 5, 'trailing comma before a closing bracket'],
    ['{"a" 1}', 5, 'missing colon'],
    ['{"a": 1 "b": 2}', 8, 'missing comma'],
    ['[1 2]', 3, 'missing comma'],
    ["{'a': 1}", 1, 'double quotes'],
    ['{a: 1}', 1, 'name in double quotes'],
    ['{"a": .5}', 6, 'unexpected .5'],
    ['{"a": +1}', 6, 'unexpected +1'],
    ['{"a": 01}', 6, 'unexpected 01'],
    ['{"a": 12px}', 6, 'unexpected 12px'],
    ['{"a": True}', 6, 'unexpected True'],
    ['{"a": undefined}', 6, 'unexpected undefined'],
    ['[1}', 2, 'unexpected closing bracket'],
    ['{"a": 1}}', 8, 'unexpected closing bracket'],
    ['{"a": 1} x', 9, 'unexpected text after the end'],
    ['{"a": "b\n"}', 6, 'unclosed string'],
    ['{"a": "b\\x"}', 6, 'needs a backslash'],
    ['/* a */ {}', 0, 'comment'],
    ['{"a": [', 7, 'unexpected end'],
    ['"half', 0, 'unclosed string'],
    ['{"a": @}', 6, '"@" is not allowed here'],
  ])('%j at %d: %s', (text, offset, message) => {
    expect(() => JSON.parse(text) as unknown).toThrow();
    expect(findJsonError(text)).toEqual({ offset, message: expect.stringContaining(message) as string });
  });

  test('lies where a text was cut', () => {
    fc.assert(
      fc.property(fc.json(), fc.nat(), (json, cut) => {
        const text = json.slice(0, cut % json.length);
        let parses = true;
        try {
          JSON.parse(text);
        } catch {
          parses = false;
        }
        fc.pre(!parses);
        expect(findJsonError(text).offset).toBeLessThanOrEqual(text.length);
      }),
    );
  });
});

describe('the outline of a text', () => {
  /** Every pointer of a value, with what is there: what the outline has to find again. */
  function* places(value: unknown, path: (string | number)[] = []): Generator<[(string | number)[], unknown]> {
    yield [path, value];
    if (typeof value !== 'object' || value === null) return;
    const steps = Array.isArray(value) ? value.map((item, i) => [i, item] as const) : Object.entries(value);
    for (const [step, member] of steps) yield* places(member, [...path, step]);
  }

  test('finds every value of every JSON text, however it is laid out', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 5 }), fc.constantFrom(0, 1, '\t'), (value, indent) => {
        const text = JSON.stringify(value, null, indent);
        const lines = text.split('\n');
        const outline = new TextLocations(text);
        for (const [path, found] of places(JSON.parse(text))) {
          const { line, column } = outline.place(path);
          const rest = [lines[line - 1]!.slice(column - 1), ...lines.slice(line)].join('\n');
          const start = JSON.stringify(found, null, indent)[0]!;
          expect(rest.startsWith(start), `${pointerOf(path)} at ${line}:${column}`).toBe(true);
          if (typeof path.at(-1) !== 'string') continue;
          const name = outline.place(path, 'name');
          expect(lines[name.line - 1]!.slice(name.column - 1).startsWith(JSON.stringify(path.at(-1)))).toBe(true);
        }
        expect(outline.duplicates).toEqual([]);
      }),
    );
  });

  test('finds members given twice, and how deep it goes', () => {
    const outline = new TextLocations('{"a": {"b": 1,\n "b": 2}, "c": [{"d": [], "d": 1}]}');
    expect(outline.duplicates.map(({ pointer, place }) => [pointer, place])).toEqual([
      ['/a/b', { line: 2, column: 2 }],
      ['/c/0/d', { line: 2, column: 27 }],
    ]);
    expect(outline.depth).toBe(4);
    expect(new TextLocations('['.repeat(100_000) + ']'.repeat(100_000)).depth).toBe(65); // goes no deeper than it has to
  });

  test('a missing path is placed at its nearest owner; names are escaped in pointers', () => {
    const outline = new TextLocations('{ "a": { "b": 1 } }');
    expect(outline.place(['a', 'x', 0])).toEqual({ line: 1, column: 8 });
    expect(pointerOf(['a/b', '~', 3])).toBe('/a~1b/~0/3');
  });
});

describe('what must not be read further', () => {
  test.each([
    [
      '{"unspool":1,"clips":{"a":{"tracks":{"__proto__":[{"at":0}]}}}}',
      'reel/forbidden-name',
      '/clips/a/tracks/__proto__',
    ],
    ['{"unspool":1,"clips":{"__proto__":null,"a":{}}}', 'reel/forbidden-name', '/clips/__proto__'],
    [
      '{"unspool":1,"clips":{"a":{"tracks":{"constructor":[{"at":0,"value":1}]}}}}',
      'reel/forbidden-name',
      '/clips/a/tracks/constructor',
    ],
    [
      '{"unspool":1,"roles":{"__proto__":{"rest":{"x":1}}},"clips":{"a":{}}}',
      'reel/forbidden-name',
      '/roles/__proto__',
    ],
    ['{"unspool":1,"clips":{"a":{"cues":[{"at":0,"name":"__proto__"}]}}}', 'reel/name', '/clips/a/cues/0/name'],
    // A name that begins as data of the author's own does.
    [
      '{"unspool":1,"clips":{"x-":{"tracks":{"constructor":[{"at":0,"value":1}]}}}}',
      'reel/forbidden-name',
      '/clips/x-/tracks/constructor',
    ],
    [
      '{"unspool":1,"roles":{"x-":{"rest":{"constructor":1}}},"clips":{"a":{}}}',
      'reel/forbidden-name',
      '/roles/x-/rest/constructor',
    ],
  ])('%s', (text, code, path) => {
    expect(checkReel(text).map((one) => [one.code, one.path])).toEqual([[code, path]]);
  });

  test('a track that a program left undefined, of a clip called x-', () => {
    const [first] = checkReel({ unspool: 1, clips: { 'x-': { tracks: { constructor: undefined } } } });
    expect([first!.code, first!.path]).toEqual(['reel/forbidden-name', '/clips/x-/tracks/constructor']);
  });

  test('circular data under a refused name', () => {
    const round: unknown[] = [];
    round.push(round);
    const doc = { unspool: 1, ['__proto__']: round, clips: { a: {} } };
    expect(checkReel(doc).map((one) => one.code)).toEqual(['reel/forbidden-name']);
  });

  test('a list with a hole in it', () => {
    const tracks = { 'a.position': [{ at: 0, value: [, 1] }] };
    const [first] = checkReel({ unspool: 1, clips: { c: { tracks } } });
    expect([first!.code, first!.path]).toEqual(['reel/not-data', '/clips/c/tracks/a.position/0/value/0']);
  });

  test('angles as large as values may be are read, and end', () => {
    const value = { euler: [1e30, -1e100, 720 * 1e9] };
    const tracks = { 'a.rotation': [{ at: 0, value }] };
    const reel = parseReel<unknown>({ unspool: 1, clips: { c: { tracks } } });
    expect(Math.hypot(...(reel.clip('c').sample(0).get('a.rotation') as number[]))).toBeCloseTo(1, 9);
  });
});
