import { fromMixing } from '../../value/mixing.js';
import { turnTimes } from '../../value/quat.js';
import type { CompactArray } from '../compact-array.js';

/**
 * A clip as cubics in time, for crowds. A channel is one number of the clip's pose. A short clip has a grid, and pieces
 * of the channels that the grid leaves to them somewhere; a long one has pieces of all.
 */
export interface Fitted {
  /** Numbers in a pose. */
  readonly channels: number;
  readonly grid: Grid | undefined;
  readonly pieces: PackedPieces;
  /** Of each color: its first channel, and the place of its space in MIXES. Its pieces are numbers as they are mixed. */
  readonly colors: Int32Array;
  /** What accumulates: a channel and what each lap adds to it, two numbers each. */
  readonly gains: Float64Array;
  /** Quaternions that do: the first channel, the axis and the angle of the turn, five numbers each. */
  readonly turns: Float64Array;
}

/**
 * One cubic for each channel and frame, so that one index serves a whole pose. Where a frame is too steep for one, the
 * channel has several in it, equally long; where it jumps or these do not do either, its pieces are searched.
 */
export interface Grid {
  /** Per cell: its start in seconds. The last but one is the end of the clip, and Infinity follows. */
  readonly starts: Float64Array;
  /** Cells per second. */
  readonly fps: number;
  /** c0 c1 c2 c3 in powers of the share of the stretch: of each channel in each cell, then of parts of cells. */
  readonly cubics: Float64Array;
  /** Per cell, and one more: where its steep channels begin in `steep`. */
  readonly steepFirst: Int32Array;
  /**
   * Three numbers each: the channel; into how many parts the cell is cut; where they begin in `cubics`. With 0 parts it
   * is searched, and the last is its place among the channels that have pieces.
   */
  readonly steep: Int32Array;
}

/** The pieces of channels. Those of one are contiguous; the first starts at 0, and a start of Infinity follows the last. */
export interface PackedPieces {
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
  const { channels, grid, pieces, gains, turns } = fitted;
  if (grid) evaluateGrid(grid, pieces, channels, times, count, out, offset);
  else evaluatePieces(pieces, channels, times, count, out, offset);
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

/** Rounded up, a time just before a cell would be counted to it; one that is rounded down is found to be the next. */
const A_LITTLE_LESS = 1 - 2 ** -50;

/** Instance by instance: poses are written as they lie, and one index serves all channels. */
function evaluateGrid(
  { starts, fps, cubics, steepFirst, steep }: Grid,
  { first, bucket, scales, buckets, knots, slopes }: PackedPieces,
  channels: number,
  times: Float64Array,
  count: number,
  out: Float64Array,
  offset: number,
): void {
  const scale = fps * A_LITTLE_LESS;
  const size = (4 * channels) | 0;
  for (let i = 0, o = offset | 0; i < count; i++) {
    const time = times[i]!;
    let cell = (time * scale) | 0;
    // Adding the comparison itself, where a jump would be guessed wrong.
    cell = (cell + +(starts[(cell + 1) | 0]! <= time)) | 0;
    const v = (time - starts[cell]!) * fps;
    const pose = o;
    let n = Math.imul(cell, size) | 0;
    for (const end = (n + size) | 0; n < end; n = (n + 4) | 0, o = (o + 1) | 0) {
      out[o] = ((cubics[(n + 3) | 0]! * v + cubics[(n + 2) | 0]!) * v + cubics[(n + 1) | 0]!) * v + cubics[n]!;
    }
    for (let s = steepFirst[cell]! | 0, end = steepFirst[(cell + 1) | 0]! | 0; s < end; s = (s + 3) | 0) {
      const channel = steep[s]! | 0;
      const parts = steep[(s + 1) | 0]! | 0;
      if (parts > 0) {
        const along = v * parts;
        // By rounding, a time just before the end of a cell may come out at it.
        const part = Math.min(along | 0, (parts - 1) | 0);
        const w = along - part;
        const m = (steep[(s + 2) | 0]! + (part << 2)) | 0;
        out[(pose + channel) | 0] =
          ((cubics[(m + 3) | 0]! * w + cubics[(m + 2) | 0]!) * w + cubics[(m + 1) | 0]!) * w + cubics[m]!;
        continue;
      }
      const place = steep[(s + 2) | 0]! | 0;
      let piece = (first[place]! + buckets[(bucket[place]! + time * scales[place]!) | 0]!) | 0;
      while (knots[(2 * piece + 2) | 0]! <= time) piece = (piece + 1) | 0;
      const u = time - knots[(2 * piece) | 0]!;
      const m = (3 * piece) | 0;
      out[(pose + channel) | 0] =
        knots[(2 * piece + 1) | 0]! + ((slopes[(m + 2) | 0]! * u + slopes[(m + 1) | 0]!) * u + slopes[m]!) * u;
    }
  }
}

/** Channel by channel: its pieces stay near the processor while all times go through them. */
function evaluatePieces(
  { first, bucket, scales, buckets, knots, slopes }: PackedPieces,
  channels: number,
  times: Float64Array,
  count: number,
  out: Float64Array,
  offset: number,
): void {
  for (let channel = 0; channel < channels; channel++) {
    const scale = scales[channel]!;
    const base = first[channel]! | 0;
    const start = bucket[channel]! | 0;
    for (let i = 0, o = (offset + channel) | 0; i < count; i++, o = (o + channels) | 0) {
      const time = times[i]!;
      let piece = (base + buckets[(start + time * scale) | 0]!) | 0;
      // As above. That more than one piece begins in a bucket is rare, and a jump for that is guessed right.
      piece = (piece + +(knots[(2 * piece + 2) | 0]! <= time)) | 0;
      while (knots[(2 * piece + 2) | 0]! <= time) piece = (piece + 1) | 0;
      const u = time - knots[(2 * piece) | 0]!;
      const n = (3 * piece) | 0;
      out[o] = knots[(2 * piece + 1) | 0]! + ((slopes[(n + 2) | 0]! * u + slopes[(n + 1) | 0]!) * u + slopes[n]!) * u;
    }
  }
}
