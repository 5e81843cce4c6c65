import { compileEasing } from '../easing/compile.js';
import type { FreeEasing } from '../easing/easing.js';
import { writeSolver } from '../easing/cubic.js';
import { HOLD, LINEAR, POWERS } from '../easing/evaluate.js';
import type { FlatTrack } from '../reel/resolve/flatten.js';
import { mixingNumbers } from '../reel/resolve/track.js';
import type { Bend, Segment } from '../reel/resolve/segments.js';
import { NANOSECOND } from '../time/units.js';
import { MIXES } from '../value/mixing.js';
import { isMultiplied } from '../value/property.js';
import {
  ABSOLUTE,
  ADDED,
  CODE,
  CUBIC,
  CUT,
  FROZEN,
  HANDLES,
  HEAD_BUCKET,
  HEAD_FIRST,
  HEAD_GAIN,
  HEAD_MIX,
  HEAD_SHORTEST,
  HEAD_SIZE,
  HEAD_SPACE,
  HEAD_TARGET,
  HEAD_WIDTH,
  MIX_COLORS,
  MIX_NUMBERS,
  MIX_QUATS,
  MULTIPLIED,
  RARE,
  REVERSED,
  type Curves,
} from './curves.js';
import { compactArray } from './compact-array.js';

/**
 * Linear and constant segments as polynomials, the form that sampling reads: one unpredictable branch less. They are
 * at the start of every table.
 */
const EVEN = [0, 0, 1];
const STILL = [0, 0, 0];

/** What has been written so far; lists grow, and the typed ones have been made as long as they must be. */
class Writer {
  readonly starts: Float64Array;
  readonly codes: Uint8Array;
  readonly tables: Int32Array;
  readonly from: Int32Array;
  readonly buckets: number[] = [];
  readonly values: number[] = [];
  readonly table: number[] = [...EVEN, ...STILL];
  /** Segments so far. */
  count = 0;
  /** Equal easings share their numbers: where these are, after their code. */
  readonly #easings = new Map<FreeEasing, number>();

  constructor(segments: number) {
    this.starts = new Float64Array(segments).fill(Infinity);
    this.codes = new Uint8Array(segments).fill(HOLD);
    this.tables = new Int32Array(segments);
    this.from = new Int32Array(segments);
  }

  /**
   * The segments of a track, and one after them that never begins. A clip is compiled when it is first played, most
   * often by code that has not run before: hence one loop, and no list or closure for each segment.
   */
  segments(track: FlatTrack, rare: number): void {
    const { segments } = track;
    const { starts, codes, tables, from, values, table } = this;
    let last: readonly number[] | undefined;
    let lastAt = 0;
    for (let i = 0; i < segments.length; i++) {
      const segment = segments[i]!;
      const { start, easing, bends } = segment;
      const n = this.count++;
      if (segment.from !== last) {
        lastAt = values.length;
        this.#store(track, segment.from);
      }
      starts[n] = start;
      from[n] = lastAt;
      last = segment.from;
      if (easing.kind === 'hold' && !bends) {
        codes[n] = HOLD | rare;
        tables[n] = EVEN.length;
        continue;
      }
      lastAt = values.length;
      this.#store(track, segment.to);
      last = segment.to;
      const { length, frozen } = segment;
      let flags = segment.reversed ? rare | REVERSED : rare;
      const whole = i + 1 < segments.length && Math.abs(segments[i + 1]!.start - start - length) <= 1e-12 * length;
      const natural = whole && frozen === undefined && segment.origin === start;
      if (!natural) {
        flags |= frozen === undefined ? CUT : CUT | FROZEN;
        table.push(frozen ?? segment.origin, length);
      } else if (easing.kind === 'linear' && !bends) {
        codes[n] = LINEAR | flags;
        continue;
      }
      tables[n] = table.length;
      codes[n] = flags | (bends ? this.#bends(track, segment, bends) : this.#easing(easing, natural, n));
    }
    this.count++;
  }

  /** As many buckets as segments. See `Curves.buckets`. */
  lookUp(segments: readonly Segment[], duration: number): number {
    // Where a clip is as good as without length, one bucket is all there can be.
    const scale = duration > NANOSECOND ? segments.length / duration : 0;
    const count = Math.floor(duration * scale) + 1;
    for (let bucket = 0, s = 0; bucket <= count; bucket++) {
      while (s + 1 < segments.length && Math.floor(segments[s + 1]!.start * scale) < bucket) s++;
      this.buckets.push(this.count + s);
    }
    return scale;
  }

  /** Stores a value that segments come from or go to. One that is both is stored once. */
  #store(track: FlatTrack, value: readonly number[]): void {
    const mixed = mixingNumbers(track, value);
    for (let k = 0; k < mixed.length; k++) this.values.push(mixed[k]!);
    if (mixed !== value) this.values.push(...value);
  }

  /** Only a whole easing can share its numbers; others have their range before them. */
  #easing(easing: FreeEasing, natural: boolean, n: number): number {
    const known = natural ? this.#easings.get(easing) : undefined;
    if (known !== undefined) {
      this.tables[n] = this.tables[known]!;
      return this.codes[known]! & CODE;
    }
    if (natural) this.#easings.set(easing, n);
    return compileEasing(easing, this.table);
  }

  #bends(track: FlatTrack, { from, to }: Segment, bends: readonly Bend[]): number {
    const { table } = this;
    const start = mixingNumbers(track, from);
    const end = mixingNumbers(track, to);
    // Handles at a third of the segment make time linear, up to rounding.
    let even = true;
    for (let k = 0; k < bends.length; k++) {
      even &&= Math.abs(bends[k]![0] - 1 / 3) < 1e-15 && Math.abs(bends[k]![2] - 2 / 3) < 1e-15;
    }
    for (let k = 0; k < bends.length; k++) {
      const way = end[k]! - start[k]!;
      const bend = bends[k]!;
      const v1 = bend[1];
      const v2 = way + bend[3];
      if (!even) {
        const steepest = 3 * Math.max(Math.abs(v1), Math.abs(v2 - v1), Math.abs(bend[3]));
        writeSolver(bend[0], bend[2], steepest / (Math.abs(way) || 1), table);
      }
      const [c1, c2, c3] = [3 * v1, 3 * (v2 - 2 * v1), way + 3 * (v1 - v2)];
      // A single number that gets somewhere is an easing like others.
      if (even && bends.length === 1 && Math.abs(way) * 1e9 > Math.abs(v1) + Math.abs(v2)) {
        table.push(c3 / way, c2 / way, c1 / way);
        return POWERS;
      }
      table.push(c1, c2, c3);
    }
    return even ? CUBIC : HANDLES;
  }
}

/** How the numbers of a track are mixed. */
function mixOf({ kind, channel, mix }: FlatTrack): number {
  if (channel >= 0 || (kind !== 'quat' && kind !== 'color')) return MIX_NUMBERS;
  return kind === 'quat' ? MIX_QUATS : MIX_COLORS + MIXES.indexOf(mix);
}

/**
 * Writes flattened tracks as the numbers that sampling reads.
 *
 * @param offsets index of each property (`role.property`) in a pose
 */
export function compileTracks(
  tracks: readonly FlatTrack[],
  offsets: ReadonlyMap<string, number>,
  duration: number,
): Curves {
  let count = 1; // the look at the segment after next may go one further
  for (const { segments } of tracks) count += segments.length + 1;
  const writer = new Writer(count);
  const heads = new Int32Array(tracks.length * HEAD_SIZE);
  const scales = new Float64Array(tracks.length);
  const gains: number[] = [];
  let widest = 0;
  for (let i = 0; i < tracks.length; i++) {
    const track = tracks[i]!;
    const { role, property, channel, segments } = track;
    const mix = mixOf(track);
    const space = track.space === 'absolute' ? ABSOLUTE : isMultiplied(property) ? MULTIPLIED : ADDED;
    const width = segments[0]!.from.length;
    if (width > widest) widest = width;
    const head = i * HEAD_SIZE;
    heads[head + HEAD_FIRST] = writer.count;
    heads[head + HEAD_WIDTH] = width;
    heads[head + HEAD_TARGET] = offsets.get(`${role}.${property}`)! + Math.max(0, channel);
    heads[head + HEAD_MIX] = mix;
    heads[head + HEAD_SPACE] = space;
    heads[head + HEAD_BUCKET] = writer.buckets.length;
    heads[head + HEAD_SHORTEST] = track.kind === 'angle' && track.turn === 'shortest' ? 1 : 0;
    heads[head + HEAD_GAIN] = track.gain ? gains.length : -1;
    if (track.gain) gains.push(...track.gain);
    scales[i] = writer.lookUp(segments, duration);
    writer.segments(track, mix === MIX_NUMBERS && space === ABSOLUTE && !track.gain ? 0 : RARE);
  }
  const { starts, codes, tables, from } = writer;
  // A held segment also reads its end value, without using it; so it needs one even when no key follows.
  for (let k = 0; k < widest; k++) writer.values.push(0);
  return {
    count: tracks.length,
    heads,
    scales,
    buckets: compactArray(writer.buckets),
    starts,
    codes,
    tables,
    from,
    values: new Float64Array(writer.values),
    table: new Float64Array(writer.table),
    gains: new Float64Array(gains),
  };
}
