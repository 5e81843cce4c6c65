import { prepareBase } from './clip.js';
import { describe, expect, test } from 'vitest';
import gltf from '../../fixtures/gltf.json' with { type: 'json' };
import keyframes from '../../fixtures/keyframes.json' with { type: 'json' };
import { color, toReel, Unsayable, type WebCase } from '../../test/web-keyframes.js';
import { parseReel, type Clip, type Pose } from '../index.js';

const cases = keyframes.cases as unknown as readonly WebCase[];

/** The cases that a reel can say, and why not of the others. */
const sayable = new Map<string, { readonly clips: readonly Clip[]; readonly one: WebCase }>();
const unsayable = new Map<string, string>();
for (const one of cases) {
  try {
    sayable.set(one.id, { clips: Object.values(parseReel<unknown>(toReel(one)).clips), one });
  } catch (error) {
    if (!(error instanceof Unsayable)) throw error;
    unsayable.set(one.id, error.message);
  }
}

describe('Web Animations keyframes, against an exact model and Chromium', () => {
  test('what a reel cannot say', () => {
    expect([...unsayable].map(([id, reason]) => `${id}: ${reason}`)).toMatchSnapshot();
  });

  test.each([...sayable.keys()])('%s', (id) => {
    const { clips, one } = sayable.get(id)!;
    let compared = 0;
    one.samples.forEach((sample, i) => {
      const progress = [sample[1]].flat() as (number | null)[];
      // Before its beginning and after its end a clip stands still, where an outer easing that overshoots goes on.
      if (progress.some((p) => p === null || p < 0 || p > 1)) return;
      const values = stack(clips, progress as number[]);
      one.props.forEach((property, k) => {
        const exact = one.exact?.[i]?.[k];
        if (property === '--c') {
          const [found, chromium] = [values['tint'] as number[], color(String(sample[2 + k]))];
          found.forEach((n, c) => expect(Math.abs(n - chromium[c]!), `${c} at ${i}`).toBeLessThanOrEqual(1.01 / 255));
        } else {
          const found = property === 'transform' ? matrix(values) : [values[NAMES[property]!] as number];
          ([exact ?? sample[2 + k]].flat() as number[]).forEach((n, c) => {
            const off = Math.abs(found[c]! - n) / Math.max(1, Math.abs(n));
            expect(off, `${property}[${c}] at sample ${i}: ${found[c]} for ${n}`).toBeLessThanOrEqual(1e-9);
          });
        }
        compared++;
      });
    });
    expect(compared).toBeGreaterThan(0);
  });
});

const NAMES: Readonly<Record<string, string>> = { '--n': 'n', '--a': 'rotation', opacity: 'opacity' };

/** Samples clips one above the other: offsets are counted from what lies below. */
function stack(clips: readonly Clip[], times: readonly number[]): Record<string, unknown> {
  let below: Pose | undefined;
  clips.forEach((clip, i) => {
    const pose = clip.createPose();
    if (below) {
      const values = pose.values.slice();
      for (const slot of clip.layout.slots) {
        const lower = below.layout.find(slot.name);
        if (lower) values.set(below.values.subarray(lower.offset, lower.offset + lower.width), slot.offset);
      }
      pose.base.set(values);
      prepareBase(clip.curves, pose.base);
    }
    below = clip.sampleInside(times[i]!, pose);
  });
  return Object.fromEntries(Object.entries(below!.toObject()).map(([name, value]) => [name.slice(2), value]));
}

/** translate · rotate · scale, as CSS writes it. */
function matrix({ position = [0, 0], rotation = 0, scale = [1, 1] }: Record<string, unknown>): number[] {
  const [[x, y], [sx, sy]] = [position as [number, number], scale as [number, number]];
  const turn = ((rotation as number) * Math.PI) / 180;
  return [sx * Math.cos(turn), sx * Math.sin(turn), -sy * Math.sin(turn), sy * Math.cos(turn), x, y];
}

interface GltfCase {
  readonly id: string;
  readonly interpolation: 'STEP' | 'LINEAR' | 'CUBICSPLINE';
  readonly path: string;
  readonly components: number;
  readonly input: readonly number[];
  readonly output: readonly number[];
  readonly samples: readonly (readonly [number, readonly number[]])[];
  readonly float32?: boolean;
}

describe('glTF 2.0 interpolation, against 60 digits', () => {
  test.each((gltf.cases as unknown as GltfCase[]).map((one) => [one.id, one] as const))('%s', (_, one) => {
    const { input, path, components: width } = one;
    const start = Math.min(0, input[0]!); // a clip begins at 0
    const name = path === 'rotation' ? 'a.rotation' : 'a.value';
    const spline = one.interpolation === 'CUBICSPLINE';
    const per = spline ? 3 * width : width;
    const value = (i: number, part = spline ? 1 : 0) =>
      one.output.slice(i * per + part * width, i * per + (part + 1) * width);
    const ease = { STEP: 'hold', LINEAR: 'linear', CUBICSPLINE: 'curve' }[one.interpolation];
    // Four numbers that are no rotation are keyed channel by channel.
    const single = path === 'rotation' || width < 4 ? [-1] : [0, 1, 2, 3];
    const samplers = single.map((channel) => {
      const pick = (list: readonly number[]) => (channel >= 0 ? list[channel]! : width === 1 ? list[0]! : list);
      const handle = (i: number, part: number, share: number) => {
        const pairs = value(i, part).map((slope) => [share, slope * share]);
        return channel >= 0 ? pairs[channel]! : width === 1 ? pairs[0]! : pairs;
      };
      const keys = input.map((time, i) => ({
        at: time - start,
        value: pick(value(i)),
        ease,
        ...(spline && i > 0 && { in: handle(i, 0, -(time - input[i - 1]!) / 3) }),
        ...(spline && i < input.length - 1 && { out: handle(i, 2, (input[i + 1]! - time) / 3) }),
      }));
      const clip = parseReel<unknown>({ unspool: 1, clips: { c: { tracks: { [name]: keys } } } }).clip('c');
      return (time: number) => [clip.sample(time - start).get(name)].flat() as number[];
    });
    for (const [time, expected] of one.samples) {
      const found = samplers.flatMap((sample) => sample(time));
      // A rotation and its negation are the same.
      const sign = path === 'rotation' && found.reduce((sum, n, k) => sum + n * expected[k]!, 0) < 0 ? -1 : 1;
      const off = Math.max(...expected.map((n, k) => Math.abs(n - sign * found[k]!) / Math.max(1, Math.abs(n))));
      expect(off, `at ${time}: ${found.join()} for ${expected.join()}`).toBeLessThanOrEqual(one.float32 ? 5e-7 : 1e-12);
    }
  });
});
