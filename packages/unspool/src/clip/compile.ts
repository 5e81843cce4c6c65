import { compileEasing } from '../easing/compile.js';
import type { FreeEasing } from '../easing/easing.js';
import { writeSolver } from '../easing/cubic.js';
import { HOLD } from '../easing/evaluate.js';
import type { FlatTrack } from '../reel/flatten.js';
import { mixingNumbers } from '../reel/track.js';
import type { Bend, Segment } from '../reel/segments.js';
import { MIXES } from '../value/mixing.js';
import { isMultiplied } from '../value/property.js';
import {
  ABSOLUTE,
  ADDED,
  CUBIC,
  CUT,
  FROZEN,
  HANDLES,
  MIX_COLORS,
  MIX_NUMBERS,
  MIX_QUATS,
  MULTIPLIED,
  RARE,
  REVERSED,
  type Curves,
} from './curves.js';
import type { Layout } from './layout.js';

/** Collects what `Curves` holds, in lists that can grow. */
class Writer {
  readonly heads: number[] = [];
  readonly scales: number[] = [];
  readonly buckets: number[] = [];
  readonly starts: number[] = [];
  readonly codes: number[] = [];
  readonly tables: number[] = [];
  readonly from: number[] = [];
  readonly values: number[] = [];
  readonly table: number[] = [];
  /** Equal easings share their numbers. */
  readonly #easings = new Map<FreeEasing, readonly [code: number, numbers: number]>();

  curve(track: FlatTrack, layout: Layout, duration: number): void {
    const { role, property, channel, segments } = track;
    const target = layout.slot(`${role}.${property}`).offset + Math.max(0, channel);
    const first = this.starts.length;
    this.heads.push(first, segments[0]!.from.length, target, mixOf(track), spaceOf(track), this.buckets.length);
    this.#buckets(segments, duration, first);
    const stored = this.#values(track);
    const rare = mixOf(track) === MIX_NUMBERS && spaceOf(track) === ABSOLUTE ? 0 : RARE;
    segments.forEach((segment, i) => {
      const [code, numbers] = this.#way(track, segment, segments[i + 1]);
      this.starts.push(segment.start);
      this.codes.push(code | rare);
      this.tables.push(numbers);
      this.from.push(stored[i]!);
    });
    this.#end();
  }

  #end(): void {
    this.starts.push(Infinity);
    this.codes.push(HOLD);
    this.tables.push(0);
    this.from.push(0);
  }

  /** As many buckets as segments. See `Curves.buckets`. */
  #buckets(segments: readonly Segment[], duration: number, first: number): void {
    const scale = duration > 0 ? segments.length / duration : 0;
    this.scales.push(scale);
    const count = Math.floor(duration * scale) + 1;
    for (let bucket = 0, s = 0; bucket <= count; bucket++) {
      while (s + 1 < segments.length && Math.floor(segments[s + 1]!.start * scale) < bucket) s++;
      this.buckets.push(first + s);
    }
  }

  /** Stores the values that segments come from and go to. A value that is both is stored once. */
  #values(track: FlatTrack): number[] {
    const store = (value: readonly number[]) => {
      const mixed = mixingNumbers(track, value);
      this.values.push(...mixed);
      if (mixed !== value) this.values.push(...value);
    };
    let last: readonly number[] | undefined;
    let end = 0;
    return track.segments.map(({ from, to, easing, bends }) => {
      if (from !== last) {
        end = this.values.length;
        store(from);
      }
      const place = end;
      last = from;
      if (easing.kind !== 'hold' || bends) {
        end = this.values.length;
        store(to);
        last = to;
      }
      return place;
    });
  }

  #way(track: FlatTrack, segment: Segment, next: Segment | undefined): readonly [code: number, numbers: number] {
    const { easing, bends, frozen, origin, length, start, reversed } = segment;
    if (easing.kind === 'hold' && !bends) return [HOLD, 0];
    const whole = next !== undefined && Math.abs(next.start - start - length) <= 1e-12 * length;
    const natural = whole && frozen === undefined && origin === start;
    const flags = (reversed ? REVERSED : 0) | (natural ? 0 : frozen === undefined ? CUT : CUT | FROZEN);
    if (!natural) this.table.push(frozen ?? origin, length);
    if (bends) {
      const numbers = this.table.length;
      return [this.#bends(track, segment, bends) | flags, numbers];
    }
    const known = this.#easings.get(easing);
    if (known && natural) return [known[0] | flags, known[1]];
    const numbers = this.table.length;
    const code = compileEasing(easing, this.table);
    if (natural) this.#easings.set(easing, [code, numbers]);
    return [code | flags, numbers];
  }

  #bends(track: FlatTrack, { from, to }: Segment, bends: readonly Bend[]): number {
    const [start, end] = [mixingNumbers(track, from), mixingNumbers(track, to)];
    const even = bends.every(([x1, , x2]) => near(x1, 1 / 3) && near(x2, 2 / 3));
    bends.forEach(([x1, dv1, x2, dv2], k) => {
      const way = end[k]! - start[k]!;
      const [v1, v2] = [dv1, way + dv2];
      if (!even) {
        const steepest = 3 * Math.max(Math.abs(v1), Math.abs(v2 - v1), Math.abs(dv2));
        writeSolver(x1, x2, steepest / (Math.abs(way) || 1), this.table);
      }
      this.table.push(3 * v1, 3 * (v2 - 2 * v1), way + 3 * (v1 - v2));
    });
    return even ? CUBIC : HANDLES;
  }
}

/** Handles a third of the way along make time run evenly, to rounding. */
function near(a: number, b: number): boolean {
  return Math.abs(a - b) < 1e-15;
}

function mixOf({ kind, channel, mix }: FlatTrack): number {
  if (channel >= 0) return MIX_NUMBERS;
  if (kind === 'quat') return MIX_QUATS;
  return kind === 'color' ? MIX_COLORS + MIXES.indexOf(mix) : MIX_NUMBERS;
}

function spaceOf({ space, property }: FlatTrack): number {
  if (space === 'absolute') return ABSOLUTE;
  return isMultiplied(property) ? MULTIPLIED : ADDED;
}

/** Writes flattened tracks as the numbers that sampling reads. The layout has a slot for each of them. */
export function compileTracks(tracks: readonly FlatTrack[], layout: Layout, duration: number): Curves {
  const writer = new Writer();
  for (const track of tracks) writer.curve(track, layout, duration);
  writer.starts.push(Infinity); // the look at the segment after next may go one further
  return {
    count: tracks.length,
    heads: new Int32Array(writer.heads),
    scales: new Float64Array(writer.scales),
    buckets: new Int32Array(writer.buckets),
    starts: new Float64Array(writer.starts),
    codes: new Uint8Array(writer.codes),
    tables: new Int32Array(writer.tables),
    from: new Int32Array(writer.from),
    values: new Float64Array(writer.values),
    table: new Float64Array(writer.table),
    rare: new Int32Array(tracks.length),
  };
}
