import { nearerQuat } from '../../value/quat.js';
import { mixingNumbers, type ResolvedTrack } from './track.js';

export interface Tangents {
  /** By channel, then key: units per second. */
  readonly slopes: readonly (readonly number[])[];
  /** Per key: −1 where the slopes are those of the negated value, which is the same rotation of a quaternion. */
  readonly signs: readonly number[];
}

/**
 * The slopes of `smooth` at each key.
 *
 * Between two segments it is their weighted harmonic mean when both have the same sign, and 0 at a turn (Fritsch and
 * Butland, "A method for constructing local monotone piecewise cubic interpolants", 1984): the curve never overshoots
 * its keys. At an end, and next to a segment that holds, it follows the three nearest keys, within the same bounds.
 *
 * @param period see `segmentsOf`
 */
export function tangentsOf(track: ResolvedTrack, period?: number): Tangents {
  const { keys } = track;
  const values = continuous(track);
  const last = keys.length - 1;
  const gaps = keys.slice(1).map((key, i) => key.at - keys[i]!.at);
  const first = keys[0]!;
  const meets = last > 1 && (track.accumulate || first.value.every((n, k) => n === keys[last]!.value[k]));
  const closed = period !== undefined && first.at === 0 && keys[last]!.at === period && meets;
  const slopesOf = (k: number) => {
    const slopes = gaps.map((gap, i) => (values[i + 1]![k]! - values[i]![k]!) / gap);
    /** The slope of segment i, where it moves. */
    const slope = (i: number) => (keys[i]?.easing.kind === 'hold' ? undefined : slopes[i]);
    return keys.map((_, i) => {
      const before = i > 0 ? i - 1 : closed ? last - 1 : -1;
      const after = i < last ? i : closed ? 0 : last;
      const [left, right] = [slope(before), slope(after)];
      if (left !== undefined && right !== undefined) return between(left, gaps[before]!, right, gaps[after]!);
      if (right !== undefined) return atEnd(right, gaps[after]!, slope(after + 1), gaps[after + 1]);
      if (left !== undefined) return atEnd(left, gaps[before]!, slope(before - 1), gaps[before - 1]);
      return 0;
    });
  };
  const sign = (i: number) => (keys[i]!.value.some((n, k) => n * values[i]![k]! < 0) ? -1 : 1);
  return {
    slopes: first.value.map((_, k) => slopesOf(k)),
    signs: keys.map((_, i) => (track.kind === 'quat' ? sign(i) : 1)),
  };
}

/** The values as numbers that continue from key to key without a jump of a whole turn. */
function continuous(track: ResolvedTrack): readonly (readonly number[])[] {
  const values: (readonly number[])[] = [];
  for (const { value } of track.keys) {
    const before = values.at(-1);
    if (before && track.kind === 'quat') values.push(nearerQuat(before, value));
    else if (before && track.kind === 'angle' && track.turn === 'shortest') {
      values.push([value[0]! - 360 * Math.round((value[0]! - before[0]!) / 360)]);
    } else values.push(mixingNumbers(track, value));
  }
  return values;
}

function between(left: number, leftGap: number, right: number, rightGap: number): number {
  if (left * right <= 0) return 0;
  const w1 = 2 * rightGap + leftGap;
  const w2 = rightGap + 2 * leftGap;
  return (w1 + w2) / (w1 / left + w2 / right);
}

/** One-sided, with the segment after the nearest where there is one. */
function atEnd(near: number, gap: number, far: number | undefined, farGap: number | undefined): number {
  if (far === undefined || farGap === undefined) return near;
  const slope = ((2 * gap + farGap) * near - gap * far) / (gap + farGap);
  if (slope * near <= 0) return 0;
  return near * far <= 0 && Math.abs(slope) > 3 * Math.abs(near) ? 3 * near : slope;
}
