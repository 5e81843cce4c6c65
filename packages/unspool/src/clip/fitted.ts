import { fromMixing } from '../value/mixing.js';
import { turnTimes } from '../value/quat.js';
import type { CompactArray } from './compact-array.js';

/**
 * A clip as cubics in time, for crowds. A channel is one number of the clip's pose. Its pieces are contiguous; the
 * first starts at 0, and a start of Infinity follows the last.
 */
export interface Fitted {
  /** Numbers in a pose. */
  readonly channels: number;
  /** Per channel: its first piece, and its first bucket. */
  readonly first: Int32Array;
  readonly bucket: Int32Array;
  /** Per channel: buckets per second. */
  readonly scales: Float64Array;
  /** Per bucket: the last piece that begins in an earlier one, counted from the channel's first. */
  readonly buckets: CompactArray;
  /** Two numbers per piece: its start in seconds and its value there, adjacent because they are read together. */
  readonly knots: Float64Array;
  /**
   * Per piece c1 c2 c3, in powers of the seconds since its start. They add a fraction of a segment, for which seven
   * digits suffice; pieces that are too short and steep for 32 bits use 64.
   */
  readonly slopes: Float32Array | Float64Array;
  /** Of each color: its first channel, and the place of its space in MIXES. Its pieces are numbers as they are mixed. */
  readonly colors: Int32Array;
  /** What accumulates: a channel and what each lap adds to it, two numbers each. */
  readonly gains: Float64Array;
  /** Quaternions that do: the first channel, the axis and the angle of the turn, five numbers each. */
  readonly turns: Float64Array;
}

/**
 * Evaluates one clip at many times. Allocates nothing, never throws.
 *
 * @param times seconds inside the clip, 0 … duration
 * @param laps  of each, see `lapOf`; read where something accumulates
 * @param count how many of them
 * @param out   receives the poses one after the other from `offset` on, `channels` numbers each
 */
export function evaluateFitted(
  fitted: Fitted,
  times: Float64Array,
  laps: Float64Array,
  count: number,
  out: Float64Array,
  offset: number,
): void {
  const { channels, first, bucket, scales, buckets, knots, slopes } = fitted;
  // Channel by channel: its pieces stay near the processor while all times go through them.
  for (let channel = 0; channel < channels; channel++) {
    const scale = scales[channel]!;
    const base = first[channel]! | 0;
    const start = bucket[channel]! | 0;
    for (let i = 0, o = (offset + channel) | 0; i < count; i++, o = (o + channels) | 0) {
      const time = times[i]!;
      let piece = (base + buckets[(start + time * scale) | 0]!) | 0;
      // Adding the comparison itself, where a jump would be guessed wrong half of the time. That more than one piece
      // begins in a bucket is rare, and a jump for that is guessed right.
      piece = (piece + +(knots[(2 * piece + 2) | 0]! <= time)) | 0;
      while (knots[(2 * piece + 2) | 0]! <= time) piece = (piece + 1) | 0;
      const u = time - knots[(2 * piece) | 0]!;
      const n = (3 * piece) | 0;
      out[o] = knots[(2 * piece + 1) | 0]! + ((slopes[(n + 2) | 0]! * u + slopes[(n + 1) | 0]!) * u + slopes[n]!) * u;
    }
  }
  const { gains, turns } = fitted;
  for (let n = 0; n < gains.length; n += 2) {
    const gain = gains[n + 1]!;
    for (let i = 0, o = (offset + gains[n]!) | 0; i < count; i++, o = (o + channels) | 0)
      out[o] = out[o]! + laps[i]! * gain;
  }
  for (let n = 0; n < turns.length; n += 5) {
    for (let i = 0, o = (offset + turns[n]!) | 0; i < count; i++, o = (o + channels) | 0)
      if (laps[i] !== 0) turnTimes(turns, n + 1, laps[i]!, out, o);
  }
  for (let color = 0; color < fitted.colors.length; color += 2) {
    const mix = fitted.colors[color + 1]! | 0;
    for (let i = 0, o = (offset + fitted.colors[color]!) | 0; i < count; i++, o = (o + channels) | 0) {
      fromMixing(mix, out, o);
    }
  }
}
