import { parseReel, UnspoolError } from 'unspool';
import { expect, test } from 'vitest';
import { expectClear, refusalOf, WRONG_VALUES, type Call } from '../../unspool/test/wrong-values.js';
import {
  formatOf,
  fromCss,
  fromCsv,
  fromGltf,
  fromSvgPath,
  fromVtt,
  fromWebAnimations,
  readFormat,
  toCss,
  toCsv,
  toGltf,
  toSvgPath,
  toVtt,
  toWebAnimations,
  writeFormat,
  type ReadOptions,
  type ToGltfOptions,
  type WriteOptions,
} from './index.js';

const reel = parseReel<unknown>({
  unspool: 1,
  roles: { arm: {} },
  clips: { snap: { duration: 1, tracks: { 'arm.position': [{ at: 0, value: [0, 0] }, { at: 1, value: [1, 2] }] } } },
}); // prettier-ignore
const bytes = (text: string) => new TextEncoder().encode(text);
const CSV = 'time,arm.rotation\n0,0\n1,90\n';
const glb = (await toGltf(reel)).result;
const readers: Readonly<Record<string, (options: never) => unknown>> = {
  fromCss: (options) => fromCss('@keyframes snap { from { opacity: 0 } to { opacity: 1 } }', options),
  fromCsv: (options) => fromCsv(CSV, options),
  fromGltf: (options) => fromGltf(glb, options),
  fromSvgPath: (options) => fromSvgPath('M0 0 L10 0', options),
  fromVtt: (options) => fromVtt('WEBVTT\n\n00:00.000 --> 00:01.000\nclick', options),
  readFormat: (options) => readFormat('csv', bytes(CSV), options),
};
const writers: Readonly<Record<string, (options: never) => unknown>> = {
  toCss: (options) => toCss(reel, options),
  toCsv: (options) => toCsv(reel, options),
  toGltf: (options) => toGltf(reel, options),
  toSvgPath: (options) => toSvgPath(reel, options),
  toVtt: (options) => toVtt(reel, options),
  toWebAnimations: (options) => toWebAnimations(reel, options),
  writeFormat: (options) => writeFormat('csv', reel, options),
};
// All that there are: one that is missing here does not compile.
const READ = Object.keys({
  ...{ by: 1, clip: 1, duration: 1, exact: 1, extras: 1, flat: 1, fps: 1, path: 1, reduce: 1, resource: 1, role: 1 },
  ...{ scale: 1, tolerance: 1, turn: 1, up: 1 },
} satisfies Readonly<Record<keyof ReadOptions, 1>>);
const WRITE = Object.keys({
  ...{ clip: 1, clips: 1, format: 1, fps: 1, properties: 1, role: 1, scale: 1, times: 1, tolerance: 1, up: 1 },
} satisfies Readonly<Record<keyof WriteOptions | keyof ToGltfOptions, 1>>);
const withEach = (group: typeof readers, options: readonly string[]) =>
  Object.entries(group).flatMap(([name, call]): [string, Call][] => [
    [`${name}, options`, call],
    ...options.map((option): [string, Call] => [`${name}, ${option}`, (value) => call({ [option]: value } as never)]),
  ]);
const calls: Readonly<Record<string, Call>> = {
  fromCss: (value) => fromCss(value),
  fromCsv: (value) => fromCsv(value),
  fromGltf: (value) => fromGltf(value),
  fromSvgPath: (value) => fromSvgPath(value),
  fromVtt: (value) => fromVtt(value),
  fromWebAnimations: (value) => fromWebAnimations(value),
  toCss: (value) => toCss(value),
  toCsv: (value) => toCsv(value),
  toGltf: (value) => toGltf(value),
  toSvgPath: (value) => toSvgPath(value),
  toVtt: (value) => toVtt(value),
  toWebAnimations: (value) => toWebAnimations(value),
  formatOf: (value) => formatOf(value),
  readFormat: (value) => readFormat(value, bytes(CSV)),
  'readFormat, bytes': (value) => readFormat('csv', value),
  writeFormat: (value) => writeFormat(value, reel),
  'writeFormat, reel': (value) => writeFormat('csv', value),
  ...Object.fromEntries([...withEach(readers, READ), ...withEach(writers, WRITE)]),
};

test('each call takes what it is given, or says what is wrong with it', async () => {
  for (const [name, call] of Object.entries(calls)) {
    try {
      await expectClear(call, [...WRONG_VALUES, reel], (error) => error instanceof UnspoolError);
    } catch (error) {
      throw new Error(name, { cause: error });
    }
  }
});

test('no option is unknown', async () => {
  for (const [group, options] of [[readers, READ], [writers, WRITE]] as const) {
    for (const [name, call] of withEach(group, options))
      expect(String(await refusalOf(call, undefined)), name).not.toContain('unknown option');
  }
}); // prettier-ignore

test.each<[name: string, value: unknown, message: string]>([
  ['fromCsv, options', { tolerence: 1 }, 'unknown option "tolerence". Did you mean "tolerance"?'],
  ['fromCsv, exact', 'yes', 'exact is "yes". Use true or false.'],
  ['fromGltf', 'x', 'the file is "x", not a Uint8Array. Pass the bytes'],
  ['fromVtt', null, 'the file is null, not a string. Pass its text.'],
  ['toCss', {}, 'expected a reel, found an object. Parse the document first'],
  ['toCsv, times', 0.5, 'times is 0.5. Use a list of numbers.'],
  ['toGltf, format', 'glbb', 'format is "glbb". Use glb or gltf.'],
  ['readFormat', 'gltff', 'unknown format "gltff". Use one of: glb, gltf, css'],
])('%s(%j): %s', async (name, value, message) => {
  expect(String(((await refusalOf(calls[name]!, value)) as Error | undefined)?.message)).toContain(message);
});
