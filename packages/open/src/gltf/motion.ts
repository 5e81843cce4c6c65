import { evenPlaces, type Arc } from '../motion/arcs.js';
import { angleAboutZ, slerp } from '../motion/quaternion.js';
import type { WrittenKey } from '../motion/keys.js';
import type { Accessors } from './accessors.js';
import type { Place } from './places.js';

/** Seconds: a segment that is shorter is a jump. */
const INSTANT = 1e-4;

/** A sampler as it was read, each number as a double. */
export interface Sampled {
  readonly interpolation: 'STEP' | 'LINEAR' | 'CUBICSPLINE';
  /** Seconds, ascending. */
  readonly times: Float64Array;
  /** By key. */
  readonly values: readonly (readonly number[])[];
  /** Tangents by key, of CUBICSPLINE: units a second. */
  readonly into: readonly (readonly number[])[];
  readonly out: readonly (readonly number[])[];
}

/** @param width numbers of a value; `isList` when each is an element of its own, as weights are */
export function readSampler(sampler: Place, accessors: Accessors, width: number, isList: boolean): Sampled {
  const written: Place = sampler.at('interpolation');
  const named = written.text() ?? 'LINEAR';
  if (named !== 'STEP' && named !== 'LINEAR' && named !== 'CUBICSPLINE')
    return written.refuse(`unknown interpolation "${named}"`);
  const times = accessors.read(sampler.at('input'), 1);
  if (times.length === 0) sampler.at('input').refuse('it has no keys');
  times.forEach((time, i) => {
    const before = i === 0 ? 0 : times[i - 1]!;
    if (time < before || (i > 0 && time === before))
      sampler.at('input').refuse(`the time ${time} comes after ${before}: times have to ascend from 0`);
  });
  const numbers = accessors.read(sampler.at('output'), isList ? 1 : width);
  const per = named === 'CUBICSPLINE' ? 3 : 1;
  if (numbers.length !== times.length * per * width)
    sampler.at('output').refuse(`${numbers.length} numbers for ${times.length} keys of ${per * width}`);
  const row = (k: number, part: number) => Array.from(numbers.subarray((k * per + part) * width, (k * per + part + 1) * width)); // prettier-ignore
  const all = (part: number) => Array.from(times, (_, k) => row(k, part));
  return {
    ...{ interpolation: named, times },
    values: all(per === 3 ? 1 : 0),
    into: per === 3 ? all(0) : [],
    out: per === 3 ? all(2) : [],
  };
}

/** The same sampler with other numbers: values and tangents are changed alike, as the change is linear. */
export function changed(sampled: Sampled, change: (numbers: readonly number[]) => readonly number[]): Sampled {
  const each = (list: readonly (readonly number[])[]) => list.map(change);
  return { ...sampled, values: each(sampled.values), into: each(sampled.into), out: each(sampled.out) };
}

/** The keys of a sampler, exactly: STEP as `hold`, LINEAR as `linear`, CUBICSPLINE as `curve`. */
export function exactKeys({ interpolation, times, values, into, out }: Sampled): WrittenKey[] {
  const one = (list: readonly unknown[]) => (list.length === 1 ? list[0] : list);
  const last = times.length - 1;
  return values.map((value, k): WrittenKey => {
    const key: WrittenKey = { at: times[k]!, value: one(value) };
    if (k > 0 && interpolation === 'CUBICSPLINE') {
      const third = (times[k]! - times[k - 1]!) / 3;
      key.in = one(into[k]!.map((slope) => [-third, -slope * third]));
    }
    if (k < last && interpolation === 'STEP') key.ease = 'hold';
    if (k < last && interpolation === 'CUBICSPLINE') {
      const third = (times[k + 1]! - times[k]!) / 3;
      key.ease = 'curve';
      key.out = one(out[k]!.map((slope) => [third, slope * third]));
    }
    return key;
  });
}

/** The arcs between the keys of a sampler of rotations, as angles about z that go on from one to the next. */
export function angleArcs(sampled: Sampled, first: number | undefined): { arcs: Arc[]; off: number } {
  const { interpolation, times, values, into, out } = sampled;
  let off = 0;
  let before = first;
  const follow = (turn: readonly number[]): number => {
    const { degrees, off: tilt } = angleAboutZ(turn);
    off = Math.max(off, tilt);
    const near = before ?? (degrees > 180 ? degrees - 360 : degrees <= -180 ? degrees + 360 : degrees);
    return degrees + 360 * Math.round((near - degrees) / 360);
  };
  const arcs: Arc[] = [];
  const start = follow(values[0]!);
  before = start;
  if (times.length === 1 || times[0]! > 0) {
    const at = () => [start];
    arcs.push({ start: 0, end: Math.max(times[0]!, 1e-3), form: 'still', at, places: () => [0, 1] });
  }
  for (let k = 0; k + 1 < times.length; k++) {
    const [t0, length] = [times[k]!, times[k + 1]! - times[k]!];
    const from = before;
    if (interpolation === 'STEP') {
      arcs.push({ start: t0, end: times[k + 1]!, form: 'still', at: () => [from], places: () => [0, 1] });
      before = follow(values[k + 1]!);
      continue;
    }
    const [a, b] = [values[k]!, values[k + 1]!];
    const near = a.reduce((sum, n, c) => sum + n * b[c]!, 0) < 0 ? b.map((n) => -n) : b;
    const turnAt = (u: number): readonly number[] => {
      if (interpolation === 'LINEAR') return slerp(a, near, u);
      const [u2, u3] = [u * u, u * u * u];
      return a.map((n, c) => (2 * u3 - 3 * u2 + 1) * n + length * (u3 - 2 * u2 + u) * out[k]![c]! + (3 * u2 - 2 * u3) * b[c]! + length * (u3 - u2) * into[k + 1]![c]!); // prettier-ignore
    };
    // Followed in small steps, so that turns are counted as they go.
    const steps = interpolation === 'LINEAR' ? 4 : 64;
    const angles = [from];
    for (let i = 1; i <= steps; i++) angles.push((before = follow(turnAt(i / steps))));
    const at = (seconds: number) => {
      const u = (seconds - t0) / length;
      const { degrees } = angleAboutZ(turnAt(u));
      const about = angles[Math.min(steps, Math.max(0, Math.round(u * steps)))]!;
      return [degrees + 360 * Math.round((about - degrees) / 360)];
    };
    arcs.push({
      start: t0,
      end: times[k + 1]!,
      form: interpolation === 'LINEAR' || length < INSTANT ? 'line' : 'other',
      at,
      places: evenPlaces,
    });
  }
  if (interpolation === 'STEP' && times.length > 1) {
    const value = [before];
    const end = times.at(-1)!;
    arcs.push({ start: end, end: end + 1e-3, form: 'still', at: () => value, places: () => [0, 1] });
  }
  return { arcs, off };
}
