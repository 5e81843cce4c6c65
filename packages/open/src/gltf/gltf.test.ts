import { Document, WebIO } from '@gltf-transform/core';
import fc from 'fast-check';
import { validateBytes } from 'gltf-validator';
import { describe, expect, test } from 'vitest';
import { formatReel, parseReel } from 'unspool';
import reference from '../../../unspool/fixtures/gltf.json' with { type: 'json' };
import { runs } from '../../../unspool/test/runs.js';
import { DEMO, farthest, inFloats, nearKeys, randomOpenReel } from '../../test/reels.js';
import { fromGltf, toGltf, type ConversionReport, type FromGltfOptions } from '../index.js';

const problems = async (bytes: Uint8Array) => {
  const { issues } = await validateBytes(bytes);
  return issues.messages.filter(({ severity }) => severity < 2);
};

/** The errors that a report admits, by track of a clip. */
function admitted({ approximated }: ConversionReport, clip: string) {
  const errors = new Map<string, number>();
  for (const { at, error } of approximated) {
    const [, , name, , track] = at.split('/');
    if (name === clip) errors.set(track!, Math.max(error ?? Infinity, errors.get(track!) ?? 0));
  }
  return (property: string) =>
    Math.max(...[...errors].map(([track, error]) => (track.startsWith(property) ? error : 0)), 0);
}

describe('glTF out and in', () => {
  test.each([...DEMO])('%s: valid, and the same when read back', async (_, reel) => {
    for (const format of ['glb', 'gltf'] as const) {
      const { result, report } = await toGltf(reel, { format });
      expect(await problems(result)).toEqual([]);
      const back = fromGltf(result);
      const text = formatReel(back.result);
      const other = parseReel<unknown>(text);
      expect(other.roles).toEqual(reel.roles);
      for (const [name, clip] of Object.entries(reel.clips)) {
        const dropped = report.dropped.filter(({ at }) => at.startsWith(`/clips/${name}/`));
        if (dropped.length > 0) continue; // a clip of parts, some of which cannot be said: see below
        const error = admitted(report, name);
        const copy = other.clip(name);
        // What is exact is so in 32 bits: a part in ten million.
        expect(farthest(clip, copy, (property) => error(property) * 1.05 + 5e-5, nearKeys(clip))).toBeLessThan(1);
        expect([copy.repeat, copy.after, copy.rate, copy.spans]).toEqual([
          clip.repeat,
          clip.after,
          clip.rate,
          clip.spans,
        ]);
        expect(copy.duration).toBeCloseTo(clip.duration, 6);
        expect(copy.cues).toEqual(clip.cues);
      }
    }
  });

  test('random reels: valid, and the same when read back', { timeout: 600_000 }, async () => {
    await fc.assert(
      fc.asyncProperty(randomOpenReel, async (document) => {
        const reel = parseReel<unknown>(document);
        const { result, report } = await toGltf(reel);
        expect(await problems(result)).toEqual([]);
        const other = parseReel<unknown>(fromGltf(result).result);
        for (const [name, clip] of Object.entries(reel.clips)) {
          const error = admitted(report, name);
          const least = 2e-4 + inFloats(clip);
          expect(farthest(clip, other.clip(name), (property) => error(property) * 1.05 + least, nearKeys(clip))).toBeLessThan(1); // prettier-ignore
        }
      }),
      runs(20),
    );
  });

  test('curves that are cubics of time are exact, with the keys that they have', async () => {
    const keys = [{ at: 0, value: [1, 2], ease: 'smooth' }, { at: 0.5, value: [3, -1], ease: 'quad-in' }, { at: 1, value: [8, 8], ease: 'hold' }, { at: 1.5, value: [0, 0] }]; // prettier-ignore
    const reel = parseReel<unknown>({ unspool: 1, clips: { swim: { tracks: { 'eel.position': keys } } } });
    const { result, report } = await toGltf(reel);
    expect(report.approximated).toEqual([]);
    const document = await new WebIO().readBinary(result);
    const [sampler] = document.getRoot().listAnimations()[0]!.listSamplers();
    expect(sampler!.getInterpolation()).toBe('CUBICSPLINE');
    // A jump takes one key more.
    expect(sampler!.getInput()!.getCount()).toBe(5);
    const back = parseReel<unknown>(fromGltf(result).result);
    expect(farthest(reel.clip('swim'), back.clip('swim'), () => 1e-6, (time) => time === 1.5)).toBeLessThan(1); // prettier-ignore
  });

  test('a turn at constant speed is LINEAR, in steps that go the right way round', async () => {
    const reel = parseReel<unknown>({
      unspool: 1,
      clips: {
        roll: {
          tracks: {
            'pearl.rotation': [
              { at: 0, value: 700 },
              { at: 2, value: -400 },
            ],
          },
        },
      },
    });
    const { result } = await toGltf(reel);
    const document = await new WebIO().readBinary(result);
    expect(document.getRoot().listAnimations()[0]!.listSamplers()[0]!.getInterpolation()).toBe('LINEAR');
    const back = parseReel<unknown>(fromGltf(result).result);
    expect(farthest(reel.clip('roll'), back.clip('roll'), () => 1e-3)).toBeLessThan(1);
  });

  test('up, scale and the screen: what a viewer sees', async () => {
    const tracks = { 'crab.position': [{ at: 0, value: [10, 20] }], 'crab.rotation': [{ at: 0, value: 90 }] };
    const reel = parseReel<unknown>({ unspool: 1, clips: { rest: { duration: 1, tracks } } });
    const seen = async (options: object) => {
      const { result } = await toGltf(reel, options);
      const samplers = (await new WebIO().readBinary(result)).getRoot().listAnimations()[0]!.listSamplers();
      return samplers.map((one) =>
        Array.from(one.getOutput()!.getArray()! as Float32Array)
          .slice(0, 4)
          .map((n) => Math.round(n * 100) / 100 + 0),
      );
    };
    expect(await seen({ scale: 0.1 })).toEqual([[1, -2, 0, 1], [0, 0, -0.71, 0.71]]); // prettier-ignore
    expect(await seen({ up: 'y' })).toEqual([[10, 20, 0, 10], [0, 0, 0.71, 0.71]]); // prettier-ignore
    expect(await seen({ up: 'z' })).toEqual([[10, 0, -20, 10], [0, 0.71, 0, 0.71]]); // prettier-ignore
    for (const up of ['y', '-y', 'z'] as const) {
      const { result } = await toGltf(reel, { up, scale: 0.01 });
      expect(farthest(reel.clip('rest'), parseReel<unknown>(fromGltf(result).result).clip('rest'), () => 1e-5)).toBeLessThan(1); // prettier-ignore
    }
  });

  test('what is approximated, kept in extras and dropped is said', async () => {
    const { report } = await toGltf(DEMO.get('crab.reel.json')!);
    expect(report.kept).toContainEqual({
      at: '/clips/scuttle-right/tracks/body.frame',
      what: 'body.frame in extras: glTF has numbers only',
    });
    expect(report.dropped.map(({ at }) => at)).toContain('/clips/show-off/tracks/claw.pincer');
    const offset = report.approximated.find(({ at }) => at === '/clips/hop/tracks/crab.position');
    expect(offset?.what).toContain('is an offset');
    for (const { error = 0 } of report.approximated) expect(error).toBeLessThanOrEqual(1e-3);
  });

  test('refuses what it cannot do, with what to do', async () => {
    const reel = DEMO.get('crab.reel.json')!;
    await expect(toGltf(reel, { clips: ['snpa'] })).rejects.toThrow('has no clip "snpa". Did you mean "snap"?');
    await expect(toGltf(reel, { scale: 0 })).rejects.toThrow('scale is 0. Use a number greater than 0.');
    await expect(toGltf(reel, { up: 'x' as never })).rejects.toThrow('up is "x". Use y, -y, z.');
  });
});

interface Case {
  readonly id: string;
  readonly interpolation: string;
  readonly path: string;
  readonly components: number;
  readonly input: readonly number[];
  readonly output: readonly number[];
  readonly samples: readonly (readonly [number, readonly number[]])[];
  readonly float32?: boolean;
  readonly samplesOtherSign?: Case['samples'];
}

/** A case as a file, by the package alone. */
async function fileOf(one: Case): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', array: readonly number[]) =>
    document.createAccessor().setType(type).setArray(Float32Array.from(array)).setBuffer(buffer);
  const node = document.createNode('crab');
  document.createScene().addChild(node);
  if (one.path === 'weights') {
    const point = accessor('VEC3', [0, 0, 0]);
    const primitive = document.createPrimitive().setMode(0).setAttribute('POSITION', point);
    for (let k = 0; k < one.components; k++) primitive.addTarget(document.createPrimitiveTarget('abcd'[k]).setAttribute('POSITION', point)); // prettier-ignore
    node.setMesh(document.createMesh().addPrimitive(primitive));
  }
  const type = one.path === 'weights' ? 'SCALAR' : one.components === 3 ? 'VEC3' : 'VEC4';
  const sampler = document
    .createAnimationSampler()
    .setInterpolation(one.interpolation as 'STEP')
    .setInput(accessor('SCALAR', one.input))
    .setOutput(accessor(type, one.output));
  const channel = document.createAnimationChannel().setTargetNode(node).setTargetPath(one.path as 'scale').setSampler(sampler); // prettier-ignore
  document.createAnimation('move').addSampler(sampler).addChannel(channel);
  return new WebIO().writeBinary(document);
}

describe('glTF in: the reference values of the specification', () => {
  const cases = (reference.cases as unknown as Case[]).filter(
    // A spline of one key is outside of the specification.
    ({ interpolation, input }) => !(interpolation === 'CUBICSPLINE' && input.length < 2),
  );

  test.each(cases.map((one) => [one.id, one] as const))('%s', async (_, one) => {
    const { result } = fromGltf(await fileOf(one));
    const clip = parseReel<unknown>(result).clip('move');
    const pose = clip.createPose();
    const isFloat = one.output.every((n) => Math.fround(n) === n);
    const property = { translation: 'position', rotation: 'rotation', scale: 'scale' }[one.path];
    for (const [i, [time, expected]] of one.samples.entries()) {
      clip.sampleInside(Math.max(0, time), pose);
      const value = property
        ? (pose.get(`crab.${property}`) as readonly number[])
        : expected.map((_, k) => pose.get(`crab.weights.${'abcd'[k]!}`) as number);
      const off = (other: readonly number[]) => Math.max(...value.map((n, k) => Math.abs(n - other[k]!)));
      const isTurn = one.path === 'rotation';
      const all = [expected, ...(one.samplesOtherSign ? [one.samplesOtherSign[i]![1]] : [])];
      const least = Math.min(...all.flatMap((other) => [off(other), ...(isTurn ? [off(other.map((n) => -n))] : [])]));
      const size = Math.max(1, ...expected.map(Math.abs));
      // Unit quaternions are not numbers of 32 bits: the file rounds them.
      expect(least / size, `at ${time}`).toBeLessThan(isFloat && !isTurn ? 1e-12 : 1e-6);
    }
  });
});

describe('glTF in: what it makes of others’ files', () => {
  async function strange(change: (json: GltfJson) => void, options?: FromGltfOptions) {
    const { result } = await toGltf(DEMO.get('pearl.reel.json')!, { format: 'gltf' });
    const json = JSON.parse(new TextDecoder().decode(result)) as GltfJson;
    change(json);
    return fromGltf(new TextEncoder().encode(JSON.stringify(json)), options);
  }

  test('names become valid and unique, and the report says how', async () => {
    const { result, report } = await strange(
      (json) => {
        json.nodes[0]!.name = 'große Perle.001';
        json.nodes[1]!.name = 'große Perle 001';
        json.animations[0]!.name = 'roll/über den Sand';
      },
      { extras: false },
    );
    expect(Object.keys(result.roles!)).toEqual(['gro-e-Perle-001', 'gro-e-Perle-001-2']);
    expect(report.renamed).toContainEqual({ what: 'clip', from: 'roll/über den Sand', to: 'roll-uber-den-Sand' });
    parseReel<unknown>(result);
  });

  test('without its extras, a file is what any program wrote: three dimensions, or two when asked', async () => {
    const { result } = await strange(() => {}, { extras: false });
    const clip = parseReel<unknown>(result).clip('roll');
    expect(clip.layout.slot('pearl.position').kind).toBe('vec3');
    expect(clip.layout.slot('pearl.rotation').kind).toBe('quat');
    const flat = await strange(() => {}, { extras: false, flat: true });
    const own = DEMO.get('pearl.reel.json')!.clip('roll');
    const read = parseReel<unknown>(flat.result).clip('roll');
    const position = (one: typeof own, time: number) => one.sampleInside(time, one.createPose()).get('pearl.position');
    expect(position(read, 1)).toEqual((position(own, 1) as number[]).map((n) => expect.closeTo(n, 2) as number));
  });

  test('fewer keys within a tolerance', async () => {
    const keys = Array.from({ length: 61 }, (_, i) => ({ at: `${i}f`, value: [Math.sin(i / 10), i / 60, 0] }));
    const turns = Array.from({ length: 61 }, (_, i) => ({ at: `${i}f`, value: { euler: [0, i, 0], order: 'xyz' } }));
    const document = { unspool: 1, clips: { sway: { tracks: { 'jelly.position': keys, 'jelly.rotation': turns } } } };
    const reel = parseReel<unknown>(document);
    const { result } = await toGltf(reel);
    const fewer = fromGltf(result, { reduce: 0.01 });
    const clip = parseReel<unknown>(fewer.result).clip('sway');
    expect(clip.tracks.map(({ keys }) => keys.length)).toEqual([expect.closeTo(6, -1), 2]);
    expect(farthest(reel.clip('sway'), clip, () => 0.0101)).toBeLessThan(1);
    expect(fewer.report.approximated[0]).toMatchObject({ at: '/clips/sway', error: 0.01 });
  });

  test('what a reel cannot say is one note each', async () => {
    const { report } = await strange((json) => {
      json.animations[0]!.channels[0]!.target = { path: 'pointer', extensions: { KHR_animation_pointer: { pointer: '/materials/0/alphaCutoff' } } }; // prettier-ignore
      json.animations[0]!.channels[1]!.target.path = 'weights';
    });
    expect(report.dropped).toEqual([
      {
        at: '/animations/0/channels/0',
        what: 'it animates /materials/0/alphaCutoff, which is not a property of a role',
      },
      { at: '/animations/0/channels/1', what: 'its node has no morph targets' },
    ]);
  });

  const hostile: readonly [string, (json: GltfJson) => void, string][] = [
    ['a circle of nodes', (json) => (json.nodes[1]!.children = [1]), '/nodes/1: it is above itself'],
    ['two parents', (json) => json.nodes.push({ children: [1] }, { children: [1] }), 'node 1 has two parents'],
    ['a billion keys', (json) => (json.accessors[0]!.count = 1e9), '/accessors/0/count: 1000000000 elements'],
    ['bounds that lie', (json) => (json.accessors[0]!.count = 1e5), '/accessors/0: it needs'],
    ['an offset beyond the end', (json) => (json.accessors[0]!.byteOffset = 1e6), '/accessors/0: it needs'],
    ['a view beyond its buffer', (json) => (json.bufferViews[0]!.byteLength = 1e6), 'of a buffer of'],
    ['an index of nothing', (json) => (json.animations[0]!.samplers[0]!.input = 99), '99 is not a whole number'],
    ['a path that escapes', (json) => (json.buffers[0]!.uri = 'a/..%2f../secret.bin'), 'is not in the folder of the file'], // prettier-ignore
    ['another place', (json) => (json.buffers[0]!.uri = 'https://reef.example/a.bin'), 'is not in the folder of the file'], // prettier-ignore
    ['an absolute path', (json) => (json.buffers[0]!.uri = '/etc/passwd'), 'is not in the folder of the file'],
    ['a list that is none', (json) => (json.nodes = 5 as never), '/nodes: not a list'],
    ['another version', (json) => (json.asset.version = '1.0'), 'asset.version is "1.0". Export it as glTF 2.0.'],
  ];
  test.each(hostile)('refuses %s with its place', async (_, change, message) => {
    await expect(strange(change)).rejects.toThrow(message);
  });

  test('extras that are not its own are not read', async () => {
    const odd: readonly unknown[] = [5, [], {}, { version: 1 }, { version: 1, up: 'y', scale: 1, reel: { roles: [] }, kinds: {}, clips: {}, order: [] }]; // prettier-ignore
    for (const unspool of odd) {
      const { report } = await strange((json) => Object.assign(json, { extras: { unspool } }));
      expect(report.dropped[0]).toEqual({ at: '/extras/unspool', what: 'it is not what toGltf writes, and is not read' }); // prettier-ignore
    }
  });

  test('refuses what is cut short or damaged, at once and with one error', async () => {
    const { result } = await toGltf(DEMO.get('jelly.reel.json')!);
    const cases = runs(100);
    const started = performance.now();
    fc.assert(
      fc.property(fc.nat(result.length - 1), fc.uint8Array({ maxLength: 4 }), (at, bytes) => {
        expectSound(() => fromGltf(result.subarray(0, at)));
        const damaged = result.slice();
        damaged.set(bytes.subarray(0, result.length - at), at);
        expectSound(() => fromGltf(damaged));
      }),
      cases,
    );
    expect((performance.now() - started) / cases.numRuns / 2).toBeLessThan(100);
  });
});

/** Either a document, or an error of ours. */
function expectSound(call: () => unknown): void {
  try {
    call();
  } catch (error) {
    expect((error as Error).name).toBe('ConversionError');
  }
}

interface GltfJson {
  asset: { version: string };
  nodes: { name?: string; children?: number[] }[];
  accessors: { count: number; byteOffset?: number }[];
  bufferViews: { byteLength: number }[];
  buffers: { uri: string }[];
  animations: {
    name: string;
    samplers: { input: number }[];
    channels: { target: { path: string; extensions?: object } }[];
  }[];
}
