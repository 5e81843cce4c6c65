import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { randomReel } from '../../unspool/test/random-reel.js';
import { parseReel, type Clip, type Reel, type ReelDocument } from 'unspool';

const FOLDER = new URL('../../../examples/tidepool/reels/', import.meta.url);

/** The reels of the example game, by file name. */
export const DEMO: ReadonlyMap<string, Reel> = new Map(
  readdirSync(FOLDER)
    .filter((file) => file.endsWith('.reel.json'))
    .map((file) => [file, parseReel<unknown>(readFileSync(new URL(file, FOLDER), 'utf8'))]),
);

const KINDS_OF_3D = fc.record({
  position: fc.tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 })),
  turns: fc.array(fc.tuple(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -90, max: 90 }), fc.integer({ min: -180, max: 180 })), { minLength: 1, maxLength: 4 }), // prettier-ignore
  eases: fc.array(fc.constantFrom('linear', 'hold', 'smooth', 'sine-in-out', 'ease'), { minLength: 4, maxLength: 4 }),
});

/** Random reels, some with a role in three dimensions, a camera and morph targets. */
export const randomOpenReel: fc.Arbitrary<ReelDocument> = fc
  .tuple(randomReel, fc.option(KINDS_OF_3D))
  .map(([document, space]) => {
    if (!space) return document;
    const { position, turns, eases } = space;
    const [first] = Object.keys(document.clips);
    const keys = (values: readonly unknown[]) =>
      values.map((value, i) => ({ at: `${7 * i}f`, value, ease: eases[i]! }));
    const tracks = {
      'lantern-3d.position': keys([position, [1, 2, 3]]),
      'lantern-3d.rotation': keys(turns.map((euler) => ({ euler, order: 'xyz' }))),
      'lantern-3d.weights.bulge': keys([0, 1, 0.5]),
      'lantern-3d.weights.lean': [
        { at: '3f', value: 0.2, ease: 'quad-out' },
        { at: '9f', value: 1 },
      ],
      'lantern-3d.fov': keys([40, 60]),
    };
    const clip = document.clips[first!]!;
    return {
      ...document,
      roles: { ...document.roles, 'lantern-3d': {} },
      clips: { ...document.clips, [first!]: { ...clip, tracks: { ...clip.tracks, ...tracks } } },
    } as ReelDocument;
  });

/** How far apart two rotations are, in degrees. */
function degreesBetween(a: readonly number[], b: readonly number[]): number {
  const [near, far] = [Math.hypot(...a.map((n, k) => n - b[k]!)), Math.hypot(...a.map((n, k) => n + b[k]!))];
  return (Math.min(near, far) * 360) / Math.PI;
}

/** What a color looks like: nothing can be seen of one without alpha. */
const seen = ([r, g, b, alpha]: Float64Array) => Float64Array.of(r! * alpha!, g! * alpha!, b! * alpha!, alpha!);

/** What is left of a difference of angles, as a picture shows it. */
const wholeTurns = (degrees: number) => Math.abs(degrees - 360 * Math.round(degrees / 360));

/**
 * The largest difference of two clips over all properties that both have, each as a share of what it may be.
 *
 * @param isLeftOut times that are not compared
 * @param within    the error that a property may have
 */
export function farthest(
  one: Clip,
  other: Clip,
  within: (property: string) => number,
  isLeftOut: (time: number) => boolean = () => false,
): number {
  const [a, b] = [one.createPose(), other.createPose()];
  let most = 0;
  for (let i = 0; i <= 200; i++) {
    const time = (one.duration * i) / 200;
    if (isLeftOut(time)) continue;
    one.sampleInside(time, a);
    other.sampleInside(time, b);
    for (const { name, kind, offset, width } of one.layout.slots) {
      const slot = other.layout.find(name);
      if (!slot) return Infinity;
      if (kind === 'text') {
        if (a.get(name) !== b.get(name)) return Infinity;
        continue;
      }
      const [from, to] = [
        a.values.subarray(offset, offset + width),
        b.values.subarray(slot.offset, slot.offset + width),
      ];
      const shown = (numbers: Float64Array) => (kind === 'color' ? seen(numbers) : numbers);
      const difference =
        kind === 'quat'
          ? degreesBetween([...from], [...to])
          : Math.max(
              ...Array.from(shown(from), (n, k) =>
                kind === 'angle' ? wholeTurns(n - to[k]!) : Math.abs(n - shown(to)[k]!),
              ),
            );
      const isOff = difference >= within(name);
      // Where a curve is as good as vertical, a rounded time is enough to be anywhere on it.
      const isSteep = isOff && kind !== 'quat' && Array.from(from).every((_, k) => isPassed(one, offset + k, time, to[k]!, within(name))); // prettier-ignore
      if (!isSteep) most = Math.max(most, difference / within(name));
    }
  }
  return most;
}

/** Whether a clip passes a value within a few microseconds of a time. */
function isPassed(clip: Clip, index: number, time: number, value: number, within: number): boolean {
  const around = [-2e-6, 0, 2e-6].map(
    (d) => clip.sampleInside(Math.max(0, time + d), clip.createPose()).values[index]!,
  );
  return value >= Math.min(...around) - within && value <= Math.max(...around) + within;
}

/** Whether a time lies at a key, or where its easing steps: a jump may take some microseconds in other formats. */
export function nearKeys(clip: Clip): (time: number) => boolean {
  const times = clip.tracks.flatMap(({ keys }) =>
    keys.flatMap(({ at, easing }, i) => {
      const steps = easing.kind === 'steps' ? easing.n : 1;
      const length = (keys[i + 1]?.at ?? at) - at;
      return Array.from({ length: steps }, (_, k) => at + (length * k) / steps);
    }),
  );
  return (time) => time > 0 && times.some((at) => Math.abs(at - time) < 2e-5 + 1e-6 * at);
}

/** What 32-bit numbers may change of a clip: its largest value and its fastest change, in the steps of such numbers. */
export function inFloats(clip: Clip): number {
  const pose = clip.createPose();
  let most = 0;
  let fastest = 0;
  const before = Float64Array.from(clip.sampleInside(0, pose).values);
  for (let i = 1; i <= 3000; i++) {
    clip.sampleInside((clip.duration * i) / 3000, pose).values.forEach((n, k) => {
      most = Math.max(most, Math.abs(n));
      fastest = Math.max(fastest, (Math.abs(n - before[k]!) * 3000) / clip.duration);
      before[k] = n;
    });
  }
  return 1e-6 * most + 5e-7 * fastest;
}
