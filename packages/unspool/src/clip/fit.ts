import {
  ABSOLUTE,
  ADDED,
  MULTIPLIED,
  CODE,
  type SegmentCode,
  CUBIC,
  CUBIC_SIZE,
  CUT,
  FROZEN,
  HANDLES,
  HEAD_SIZE,
  MIX_COLORS,
  MIX_NUMBERS,
  MIX_QUATS,
  RARE,
  REVERSED,
  sampleCurves,
  type Curves,
  HEAD_FIRST,
  HEAD_GAIN,
  HEAD_MIX,
  HEAD_SPACE,
  HEAD_TARGET,
  HEAD_WIDTH,
} from './curves.js';
import { FAMILY, HOLD, STEPS, STOPS } from '../easing/evaluate.js';
import { NANOSECOND } from '../time/units.js';
import { breaksOf, easingPieces } from './fit-easing.js';
import type { Fitted } from './fitted.js';
import { compactArray } from './compact-array.js';
import { multiplyQuat } from '../value/quat.js';
import { fitPieces, shiftPiece, stretchPiece, type Piece } from './cubic-pieces.js';

const BUCKETS_PER_PIECE = 2;
/** Slopes beyond this are kept in 64 bits: 32 end at 3e38. */
const STEEPEST = 1e30;

/**
 * Fits a clip, one segment per step, so that the caller can stop after any step and continue later.
 *
 * @param base see `sampleCurves`
 * @returns the fitted clip, when it is done
 */
export function* fitClip(
  curves: Curves,
  duration: number,
  rest: Float64Array,
  base: Float64Array,
): Generator<undefined, Fitted> {
  const channels: Piece[][] = Array.from(rest, (value) => [{ start: 0, coefficients: [value, 0, 0, 0] }]);
  /** Equal easings are fitted once. */
  const known = new Map<string, readonly Piece[]>();
  for (let c = 0; c < curves.count; c++) {
    const head = c * HEAD_SIZE;
    const [first, width, target] = [
      curves.heads[head + HEAD_FIRST]!,
      curves.heads[head + HEAD_WIDTH]!,
      curves.heads[head + HEAD_TARGET]!,
    ];
    for (let k = 0; k < width; k++) channels[target + k] = [];
    for (let s = first; curves.starts[s]! < Infinity; s++) {
      const start = curves.starts[s]!;
      if (start > duration && s > first) break;
      const fitted = fitSegment(curves, c, s, duration, base, known);
      for (let k = 0; k < width; k++) channels[target + k]!.push(...fitted[k]!);
      yield;
    }
  }
  const colors = Array.from({ length: curves.count }, (_, c) => c * HEAD_SIZE)
    .filter((head) => curves.heads[head + HEAD_MIX]! >= MIX_COLORS)
    .flatMap((head) => [curves.heads[head + HEAD_TARGET]!, curves.heads[head + HEAD_MIX]! - MIX_COLORS]);
  return { ...pack(channels, duration, colors), ...gainsOf(curves, base) };
}

/** What each lap adds to a channel, and how it turns a quaternion, where offsets are on their base. */
function gainsOf({ count, heads, gains }: Curves, base: Float64Array): Pick<Fitted, 'gains' | 'turns'> {
  const found: Record<'gains' | 'turns', number[]> = { gains: [], turns: [] };
  for (let head = 0; head < count * HEAD_SIZE; head += HEAD_SIZE) {
    const gain = heads[head + HEAD_GAIN]!;
    if (gain < 0) continue;
    const [target, space] = [heads[head + HEAD_TARGET]!, heads[head + HEAD_SPACE]!];
    if (heads[head + HEAD_MIX] !== MIX_QUATS) {
      for (let k = 0; k < heads[head + HEAD_WIDTH]!; k++)
        found.gains.push(target + k, gains[gain + k]! * (space === MULTIPLIED ? base[target + k]! : 1));
      continue;
    }
    const axis = [...gains.subarray(gain, gain + 3)];
    const [x, y, z] = space === ABSOLUTE ? axis : turned(base, target, axis);
    found.turns.push(target, x!, y!, z!, gains[gain + 3]!);
  }
  return { gains: Float64Array.from(found.gains), turns: Float64Array.from(found.turns) };
}

/** A direction as a quaternion turns it: q · v · q⁻¹. */
function turned(quat: Float64Array, at: number, direction: readonly number[]): readonly number[] {
  const inverse = [-quat[at]!, -quat[at + 1]!, -quat[at + 2]!, quat[at + 3]!];
  const out = Float64Array.of(...direction, 0);
  multiplyQuat(quat, at, out, 0, out, 0);
  multiplyQuat(out, 0, inverse, 0, out, 0);
  return [...out];
}

type Head = [first: number, width: number, target: number, mix: number, space: number, bucket: number];

/** The pieces of one segment, for each channel of its curve. */
function fitSegment(
  curves: Curves,
  c: number,
  s: number,
  duration: number,
  base: Float64Array,
  known: Map<string, readonly Piece[]>,
): Piece[][] {
  const { starts, codes, heads } = curves;
  const head = c * HEAD_SIZE;
  const [, width, target, mix, space] = [...heads.subarray(head, head + HEAD_SIZE)] as Head;
  const start = starts[s]!;
  const end = Math.min(starts[s + 1]!, duration);
  const code = codes[s]! & ~RARE;
  const still = code === HOLD || (code & FROZEN) === FROZEN || end <= start;
  if (still) return fitSampled(curves, c, s, [start, start], base);
  const sampled = () => fitSampled(curves, c, s, timesOfBreaks(curves, s, start, end), base);
  if (mix === MIX_QUATS) return sampled();
  const lists: Piece[][] = [];
  for (let k = 0; k < width; k++) {
    const pieces = plainPieces(curves, s, k, mix < MIX_COLORS ? width : 8, known);
    if (!pieces) return sampled();
    const by = base[target + k]!;
    // An offset adds to the value of each piece, or multiplies all of it.
    const placed = space === ABSOLUTE ? pieces : pieces.map((piece) => offsetPiece(piece, space === ADDED, by));
    lists.push(cut(placed, start, end));
  }
  return lists;
}

/** Where the easing of a segment begins, and how long it runs, in seconds. */
function stretchOf({ starts, codes, tables, table }: Curves, s: number): readonly [origin: number, length: number] {
  const numbers = tables[s]!;
  if ((codes[s]! & CUT) !== 0) return [table[numbers - 2]!, table[numbers - 1]!];
  return [starts[s]!, starts[s + 1]! - starts[s]!];
}

/** The times between which a segment can be fitted as one. */
function timesOfBreaks(curves: Curves, s: number, start: number, end: number): readonly number[] {
  const code = curves.codes[s]! & ~RARE;
  const [origin, length] = stretchOf(curves, s);
  const kind = (code & CODE) as SegmentCode;
  const breaks = kind !== CUBIC && kind !== HANDLES ? breaksOf(kind, curves.table, curves.tables[s]!) : [];
  const inside = breaks
    .map((x) => origin + ((code & REVERSED) !== 0 ? 1 - x : x) * length)
    .filter((time) => time > start && time < end);
  return [start, ...inside.sort((a, b) => a - b), end];
}

/**
 * The pieces of one channel of a segment, in seconds; `undefined` where it has to be sampled.
 *
 * @param ahead how far behind its value the one that it goes to is stored
 */
function plainPieces(
  curves: Curves,
  s: number,
  k: number,
  ahead: number,
  known: Map<string, readonly Piece[]>,
): readonly Piece[] | undefined {
  const { codes, tables, from, values, table } = curves;
  const code = codes[s]! & ~RARE;
  const numbers = tables[s]!;
  if ((code & REVERSED) !== 0) return undefined;
  const [origin, length] = stretchOf(curves, s);
  const value = values[from[s]! + k]!;
  const way = values[from[s]! + ahead + k]! - value;
  const kind = (code & CODE) as SegmentCode;
  if (kind !== CUBIC && kind !== HANDLES) {
    const key = `${kind} ${numbers}`;
    let pieces = known.get(key);
    if (!pieces) known.set(key, (pieces = easingPieces(kind, table, numbers)));
    return apart(pieces.map((piece) => stretchPiece(piece, origin, length, value, way)));
  }
  if (kind !== CUBIC) return undefined;
  const n = numbers + k * CUBIC_SIZE;
  const cubic: Piece = { start: 0, coefficients: [0, table[n]!, table[n + 1]!, table[n + 2]!] };
  return [stretchPiece(cubic, origin, length, value, 1)];
}

/** A value that jumps at its very start holds there for one double: in seconds, the next piece must begin just behind. */
function apart(pieces: readonly Piece[]): readonly Piece[] {
  const [first, second, ...others] = pieces;
  if (!first || !second || second.start > first.start) return pieces;
  return [first, { ...second, start: nextDouble(first.start) }, ...others];
}

/** The next larger double of one ≥ 0: as whole numbers their bits are in the same order. */
function nextDouble(value: number): number {
  const bits = new BigInt64Array(new Float64Array([value]).buffer);
  bits[0]!++;
  return new Float64Array(bits.buffer)[0]!;
}

function offsetPiece({ start, coefficients: [c0, c1, c2, c3] }: Piece, added: boolean, by: number): Piece {
  return { start, coefficients: added ? [c0 + by, c1, c2, c3] : [c0 * by, c1 * by, c2 * by, c3 * by] };
}

/** The pieces that are shown from `start` on, the first of them from just there. */
function cut(pieces: readonly Piece[], start: number, end: number): Piece[] {
  return pieces.flatMap((piece, i): Piece[] => {
    const next = pieces[i + 1]?.start ?? Infinity;
    if (next <= start || piece.start >= end) return [];
    return [piece.start < start ? shiftPiece(piece, start) : piece];
  });
}

/** Fits all channels of a segment between some times: for values that are not plain numbers. */
function fitSampled(curves: Curves, c: number, s: number, times: readonly number[], base: Float64Array): Piece[][] {
  const { heads, starts, codes, tables, from, values } = curves;
  const [, width, target, mix, space] = [...heads.subarray(c * HEAD_SIZE, (c + 1) * HEAD_SIZE)] as Head;
  const code = codes[s]! & ~RARE;
  const start = from[s]!;
  const to = start + (mix < MIX_COLORS ? width : 8);
  // The segment alone, followed by its end value: so its very end is still evaluated as this segment.
  const alone: Curves = {
    ...curves,
    count: 1,
    heads: Int32Array.of(0, width, target, mix === MIX_QUATS ? mix : MIX_NUMBERS, space, 0, 0, -1),
    scales: Float64Array.of(0),
    buckets: Uint16Array.of(0, 1),
    starts: Float64Array.of(starts[s]!, (code & CUT) === 0 ? starts[s + 1]! : Infinity, Infinity, Infinity),
    codes: Uint8Array.of(code | RARE, HOLD | RARE),
    tables: Int32Array.of(tables[s]!, 0),
    from: Int32Array.of(0, width),
    values: Float64Array.of(...values.subarray(start, start + width), ...values.subarray(to, to + width)),
  };
  const at = new Float64Array(1);
  const hints = new Int32Array(1);
  const out = new Float64Array(base.length);
  const value = (time: number, k: number): number => {
    at[0] = time;
    sampleCurves(alone, at, hints, base, out);
    return out[target + k]!;
  };
  const jumps = [FAMILY, STEPS, STOPS].includes(code & CODE);
  const last = times.length - 2;
  return Array.from({ length: width }, (_, k) =>
    times.slice(1).flatMap((end, i): Piece[] => {
      const begin = times[i]!;
      if (end <= begin) return [{ start: begin, coefficients: [value(begin, k), 0, 0, 0] }];
      // Where an easing may jump, what lies between is followed up to there.
      const hair = (end - begin) * 1e-12;
      const low = i === 0 ? begin : begin + hair;
      const high = i === last && !jumps ? end : end - hair;
      const inside = (time: number) => value(Math.min(high, Math.max(low, time)), k);
      const range =
        mix === MIX_NUMBERS ? rangeOf(Math.abs(values[to + k]! - values[start + k]!), inside, begin, end) : 1;
      return fitPieces(inside, begin, end, range);
    }),
  );
}

/** What errors are measured by: how far a segment goes; where it comes back to its start, how far it went between. */
function rangeOf(way: number, at: (time: number) => number, from: number, to: number): number {
  if (way > 0) return way;
  const seen = Array.from({ length: 33 }, (_, i) => at(from + ((to - from) * i) / 32));
  const [low, high] = [Math.min(...seen), Math.max(...seen)];
  return Math.max(high - low, 1e-9 * Math.max(1, Math.abs(low), Math.abs(high)));
}

function pack(
  channels: readonly Piece[][],
  duration: number,
  colors: readonly number[],
): Omit<Fitted, 'gains' | 'turns'> {
  const pieces = channels.flatMap((list) => [...list, { start: Infinity, coefficients: [0, 0, 0, 0] }]);
  const buckets: number[] = [];
  const first: number[] = [];
  const bucket: number[] = [];
  const scales: number[] = [];
  let count = 0;
  for (const list of channels) {
    first.push(count);
    count += list.length + 1;
    bucket.push(buckets.length);
    const scale = scaleOf(list, duration);
    scales.push(scale);
    // One more than the last: added to where the channel's buckets begin, the end of the clip may be rounded up to it.
    const last = Math.floor(duration * scale) + 1;
    for (let b = 0, p = 0; b <= last; b++) {
      while (p + 1 < list.length && Math.floor(list[p + 1]!.start * scale) < b) p++;
      buckets.push(p);
    }
  }
  const slopes = pieces.flatMap(({ coefficients: [, c1, c2, c3] }) => [c1, c2, c3]);
  const steep = slopes.some((slope) => Math.abs(slope) > STEEPEST);
  return {
    channels: channels.length,
    first: Int32Array.from(first),
    bucket: Int32Array.from(bucket),
    scales: Float64Array.from(scales),
    buckets: compactArray(buckets),
    knots: Float64Array.from(pieces.flatMap(({ start, coefficients: [value] }) => [start, value])),
    slopes: steep ? new Float64Array(slopes) : new Float32Array(slopes),
    colors: Int32Array.from(colors),
  };
}

/** Buckets per second: so many that two pieces rarely start in one. */
function scaleOf(list: readonly Piece[], duration: number): number {
  return list.length < 2 || duration <= NANOSECOND ? 0 : (BUCKETS_PER_PIECE * list.length) / duration;
}
