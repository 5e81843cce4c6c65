import { HOLD, FAMILY, STEPS, STOPS } from '../../easing/evaluate.js';
import {
  ABSOLUTE,
  ADDED,
  CODE,
  CUBIC,
  CUBIC_SIZE,
  CUT,
  FROZEN,
  HANDLES,
  HEAD_MIX,
  HEAD_SIZE,
  HEAD_SPACE,
  HEAD_TARGET,
  HEAD_WIDTH,
  MIX_COLORS,
  MIX_NUMBERS,
  MIX_QUATS,
  RARE,
  REVERSED,
  sampleCurves,
  type Curves,
  type SegmentCode,
} from '../curves.js';
import { breaksOf, easingPieces, rangeOf } from './fit-easing.js';
import { addPiece, fitPieces, nextDouble, PIECE, RANGE, type Pieces } from './pieces.js';

/** Fits the segments of one clip's curves. */
export class SegmentFit {
  readonly #curves: Curves;
  readonly #duration: number;
  /** See `sampleCurves`. */
  readonly #base: Float64Array;
  /** Equal easings are fitted once: by code and place in the table. */
  readonly #known = new Map<number, Pieces>();

  constructor(curves: Curves, duration: number, base: Float64Array) {
    this.#curves = curves;
    this.#duration = duration;
    this.#base = base;
  }

  /**
   * Adds the pieces of one segment.
   *
   * @param c, s     index of the curve and of the segment
   * @param channels the pieces of every channel of the pose so far
   */
  add(c: number, s: number, channels: readonly Pieces[]): void {
    const { starts, codes, heads } = this.#curves;
    const head = c * HEAD_SIZE;
    const mix = heads[head + HEAD_MIX]!;
    const start = starts[s]!;
    const end = Math.min(starts[s + 1]!, this.#duration);
    const code = codes[s]! & ~RARE;
    if ((code & FROZEN) === FROZEN || end <= start) this.#addSampled(c, s, [start, start], channels);
    else if (mix === MIX_QUATS || (code & REVERSED) !== 0 || (code & CODE) === HANDLES)
      this.#addSampled(c, s, code === HOLD ? [start, start] : this.#breaks(s, start, end), channels);
    else {
      const target = heads[head + HEAD_TARGET]!;
      for (let k = 0; k < heads[head + HEAD_WIDTH]!; k++) this.#addPlain(head, s, k, end, channels[target + k]!);
    }
  }

  /** One channel of a segment of plain numbers, by the pieces of its easing. */
  #addPlain(head: number, s: number, k: number, end: number, out: Pieces): void {
    const { heads, starts, codes, tables, from, values } = this.#curves;
    const width = heads[head + HEAD_MIX]! < MIX_COLORS ? heads[head + HEAD_WIDTH]! : 8;
    const space = heads[head + HEAD_SPACE]!;
    const by = this.#base[heads[head + HEAD_TARGET]! + k]!;
    const factor = space === ABSOLUTE || space === ADDED ? 1 : by;
    const start = starts[s]!;
    const isHeld = (codes[s]! & ~RARE) === HOLD;
    const value = values[from[s]! + k]! * factor + (space === ADDED ? by : 0);
    if (isHeld) {
      addPiece(out, start, value, 0, 0, 0, 0);
      return;
    }
    const isCubic = (codes[s]! & CODE) === CUBIC;
    const pieces = isCubic ? this.#cubic(tables[s]! + k * CUBIC_SIZE) : this.#easing(s);
    const way = (isCubic ? 1 : values[from[s]! + width + k]! - values[from[s]! + k]!) * factor;
    const origin = this.#origin(s);
    const length = this.#length(s);
    let next = origin;
    for (let n = 0; n < pieces.length; n += PIECE) {
      const at = next;
      if (at >= end) break;
      next = n + PIECE < pieces.length ? origin + pieces[n + PIECE]! * length : Infinity;
      // A value that jumps at its very start holds there for one double: in seconds, the next piece begins just behind.
      if (n === 0 && next <= at) next = nextDouble(at);
      // What is shown begins within the segment's part of its easing.
      if (next <= start) continue;
      const u = Math.max(0, start - at);
      const c0 = value + way * pieces[n + 1]!;
      const c1 = (way * pieces[n + 2]!) / length;
      const c2 = (way * pieces[n + 3]!) / length ** 2;
      const c3 = (way * pieces[n + 4]!) / length ** 3;
      const range = Math.abs(way) * pieces[n + RANGE]!;
      const [y, slope, bend] = [((c3 * u + c2) * u + c1) * u + c0, (3 * c3 * u + 2 * c2) * u + c1, 3 * c3 * u + c2];
      addPiece(out, at + u, y, slope, bend, c3, range);
    }
  }

  #cubic(n: number): Pieces {
    const { table } = this.#curves;
    const [d, e, f] = [table[n]!, table[n + 1]!, table[n + 2]!];
    // Where it comes back to its start, how far it went between counts.
    return [0, 0, d, e, f, Math.abs(d + e + f) || Math.abs(d) + Math.abs(e) + Math.abs(f)];
  }

  #easing(s: number): Pieces {
    const { codes, tables, table } = this.#curves;
    const kind = (codes[s]! & CODE) as Exclude<SegmentCode, typeof CUBIC | typeof HANDLES>;
    const key = tables[s]! * (CODE + 1) + kind;
    let pieces = this.#known.get(key);
    if (!pieces) this.#known.set(key, (pieces = easingPieces(kind, table, tables[s]!)));
    return pieces;
  }

  /** Where the easing of a segment begins, in seconds. */
  #origin(s: number): number {
    const { starts, codes, tables, table } = this.#curves;
    return (codes[s]! & CUT) !== 0 ? table[tables[s]! - 2]! : starts[s]!;
  }

  /** How long the easing of a segment runs, in seconds. */
  #length(s: number): number {
    const { starts, codes, tables, table } = this.#curves;
    return (codes[s]! & CUT) !== 0 ? table[tables[s]! - 1]! : starts[s + 1]! - starts[s]!;
  }

  /** The times between which a segment can be fitted as one. */
  #breaks(s: number, start: number, end: number): readonly number[] {
    const { codes, tables, table } = this.#curves;
    const code = codes[s]! & ~RARE;
    const kind = (code & CODE) as SegmentCode;
    const breaks = kind !== CUBIC && kind !== HANDLES ? breaksOf(kind, table, tables[s]!) : [];
    const inside = breaks
      .map((x) => this.#origin(s) + ((code & REVERSED) !== 0 ? 1 - x : x) * this.#length(s))
      .filter((time) => time > start && time < end);
    return [start, ...inside.sort((a, b) => a - b), end];
  }

  /** All channels of a segment between some times, by sampling it: for values that are not plain numbers. */
  #addSampled(c: number, s: number, times: readonly number[], channels: readonly Pieces[]): void {
    const { heads, starts, codes, tables, from, values } = this.#curves;
    const head = c * HEAD_SIZE;
    const [width, target, mix] = [heads[head + HEAD_WIDTH]!, heads[head + HEAD_TARGET]!, heads[head + HEAD_MIX]!];
    const code = codes[s]! & ~RARE;
    const start = from[s]!;
    const to = start + (mix < MIX_COLORS ? width : 8);
    // The segment alone, followed by its end value: so its very end is still evaluated as this segment.
    const alone: Curves = {
      ...this.#curves,
      count: 1,
      heads: Int32Array.of(
        0,
        width,
        target,
        mix === MIX_QUATS ? mix : MIX_NUMBERS,
        heads[head + HEAD_SPACE]!,
        0,
        0,
        -1,
      ),
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
    const base = this.#base;
    const pose = new Float64Array(base.length);
    const value = (time: number, k: number): number => {
      at[0] = time;
      sampleCurves(alone, at, hints, base, pose);
      return pose[target + k]!;
    };
    const jumps = [FAMILY, STEPS, STOPS].includes(code & CODE);
    const last = times.length - 2;
    for (let k = 0; k < width; k++) {
      const out = channels[target + k]!;
      for (let i = 0; i <= last; i++) {
        const [begin, end] = [times[i]!, times[i + 1]!];
        if (end <= begin) {
          addPiece(out, begin, value(begin, k), 0, 0, 0, 0);
          continue;
        }
        // Where an easing may jump, what lies between is followed up to there.
        const hair = (end - begin) * 1e-12;
        const low = i === 0 ? begin : begin + hair;
        const high = i === last && !jumps ? end : end - hair;
        const inside = (time: number) => value(Math.min(high, Math.max(low, time)), k);
        const range =
          mix === MIX_NUMBERS ? rangeOf(Math.abs(values[to + k]! - values[start + k]!), inside, begin, end) : 1;
        fitPieces(inside, begin, end, range, out);
      }
    }
  }
}
