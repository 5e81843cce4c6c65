import type { FreeEasing } from '../../easing/easing.js';
import { nearerQuat } from '../../value/quat.js';
import type { Activation, Handle, ResolvedKey, ResolvedTrack } from './track.js';
import { tangentsOf } from './tangents.js';

/**
 * The inner control points of one channel's curve: x1 and x2 are shares of the segment, 0–1; dv1 is counted from its
 * first value and dv2 from its last, in the numbers that the kind is mixed as.
 */
export type Bend = readonly [x1: number, dv1: number, x2: number, dv2: number];

/**
 * What a track does from one moment to the next: everything that compiling reads. Keys give one segment each; parts
 * may cut segments short, scale and reverse them.
 */
export interface Segment {
  /** Seconds: it is shown from here to the start of the next one. */
  readonly start: number;
  /** The interval that its easing covers, in seconds: it may start before the segment is shown. */
  readonly origin: number;
  readonly length: number;
  readonly from: readonly number[];
  readonly to: readonly number[];
  readonly easing: FreeEasing;
  /** Per channel; takes the place of the easing. */
  readonly bends?: readonly Bend[];
  /** Played from its end to its beginning. */
  readonly reversed: boolean;
  /** Constant, at this progress. */
  readonly frozen?: number;
  /** Of a shape that is active in it. */
  readonly activation?: Activation;
}

export const HELD: FreeEasing = { kind: 'hold' };

/**
 * The segments of a track's keys, one for each; the last holds forever.
 *
 * @param period duration of a looping clip in seconds: a curve that ends as it begins
 *               continues smoothly through the loop
 */
export function segmentsOf(track: ResolvedTrack, period?: number): Segment[] {
  const { keys } = track;
  const smooth = keys.some(({ easing }) => easing.kind === 'smooth') ? tangentsOf(track, period) : undefined;
  return keys.map((key, i): Segment => {
    const { at, value: from, easing } = key;
    const next = keys[i + 1];
    if (!next || easing.kind === 'hold') {
      const held = { start: at, origin: at, length: 1, from, to: from, easing: HELD, reversed: false };
      return key.activation ? { ...held, activation: key.activation } : held;
    }
    const length = next.at - at;
    const to = aimOf(track, key, next);
    if (easing.kind !== 'smooth' && easing.kind !== 'curve')
      return { start: at, origin: at, length, from, to, easing, reversed: false };
    // A third of the way along the tangents: x(t) is t then, and the curve a Hermite spline.
    const third = smooth ? (length * smooth.signs[i]!) / 3 : 0;
    const bends =
      easing.kind === 'smooth'
        ? smooth!.slopes.map((slope): Bend => [1 / 3, slope[i]! * third, 2 / 3, -slope[i + 1]! * third])
        : from.map((_, k) => bendOf(key.out?.[k], next.in?.[k], length));
    return { start: at, origin: at, length, from, to, easing: { kind: 'linear' }, bends, reversed: false };
  });
}

/** What a segment goes to: the next key's value, or what shows the same and is nearer. */
function aimOf(track: ResolvedTrack, key: ResolvedKey, next: ResolvedKey): readonly number[] {
  if (track.kind === 'quat' && key.easing.kind !== 'curve') return nearerQuat(key.value, next.value);
  if (track.kind !== 'angle' || track.turn !== 'shortest') return next.value;
  const [from, to] = [key.value[0]!, next.value[0]!];
  return [to - 360 * Math.round((to - from) / 360)];
}

/**
 * The control points of a segment of this length. A handle that would fold time is shortened; a missing one is zero.
 */
function bendOf(out: Handle | undefined, into: Handle | undefined, length: number): Bend {
  const [x1, dv1] = out ? within(out[0] / length, out[1]) : [0, 0];
  const [x2, dv2] = into ? within(-into[0] / length, into[1]) : [0, 0];
  return [x1, dv1, 1 - x2, dv2];
}

/** A handle that goes as far as the other key at most, in its own direction, and never the wrong way. */
function within(share: number, dv: number): readonly [share: number, dv: number] {
  if (share <= 0) return [0, dv];
  return share > 1 ? [1, dv / share] : [share, dv];
}
