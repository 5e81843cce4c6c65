import type { Grid } from './evaluate.js';
import { found, PIECE, pieceAt, RANGE, ROUNDING, through, type Pieces } from './pieces.js';

/**
 * With that of the pieces themselves, the two evaluators must agree within 1e-5. Both are kept where they are probed, and
 * may be exceeded by a third between.
 */
const TOLERANCE = 5e-6;
/** A grid has no more cubics than this, a quarter of a megabyte: longer clips have pieces alone. */
const MOST = 8192;
/** Where one does not do, a cell is cut into 2, 4, 8 … parts, up to so many. All cells together have `MOST` parts. */
const MOST_PARTS = 32;
/**
 * Pieces are as long as their tolerance lets them be, and an error grows with the fourth power of the length: a cubic so
 * many times as long as the shortest piece that it stands for is not tried.
 */
const LONGER = 3;
/** A piece may be short because its segment ends, and the one before it says more: this share of that, at least. */
const SHORTENED = 0.4;
/** Where a cubic is compared with each piece on its way: their difference is a cubic too. */
const PROBES = [0, 0.3, 0.7, 1];
/** A duration that ends so many frames behind a frame ends there. */
const NO_FRAME = 1e-9;

/** Returns a grid that is to be filled, cell by cell; `undefined` for a clip that is too long. */
export function gridFor(channels: readonly Pieces[], duration: number, fps: number): GridFit | undefined {
  const frames = Math.max(0, Math.ceil(duration * fps - NO_FRAME));
  const isSmall = fps > 0 && (frames + 1) * channels.length <= MOST;
  return isSmall ? new GridFit(channels, duration, fps, frames) : undefined;
}

/** Fits cubics to pieces: one to each channel in each frame, or several where one does not do. */
export class GridFit {
  readonly #channels: readonly Pieces[];
  readonly #duration: number;
  readonly #fps: number;
  /** Of each channel, the piece at the start of the cell. */
  readonly #at: Int32Array;
  readonly #starts: Float64Array;
  readonly #steepFirst: Int32Array;
  readonly #steep: number[] = [];
  /** The channels that are searched somewhere. */
  readonly searched: number[] = [];
  #cubics: Float64Array;
  /** How many there are so far. */
  #count: number;
  readonly #most: number;

  constructor(channels: readonly Pieces[], duration: number, fps: number, frames: number) {
    this.#channels = channels;
    this.#duration = duration;
    this.#fps = fps;
    this.#at = new Int32Array(channels.length);
    this.#starts = Float64Array.from({ length: frames + 2 }, (_, i) => (i < frames ? i / fps : Infinity));
    this.#starts[frames] = duration;
    this.#steepFirst = new Int32Array(frames + 2);
    this.#count = (frames + 1) * channels.length;
    this.#most = this.#count + MOST;
    // Room for some parts.
    this.#cubics = new Float64Array(8 * this.#count);
  }

  /** How many frames there are: each is a cell, and the end of the clip is one more. */
  get frames(): number {
    return this.#starts.length - 2;
  }

  /** Fits all channels in one cell. The cells are added in order. */
  addCell(cell: number): void {
    const channels = this.#channels;
    const count = channels.length;
    const start = this.#starts[cell]!;
    const length = 1 / this.#fps;
    const isEnd = cell === this.frames;
    for (let channel = 0, to = 4 * cell * count; channel < count; channel++, to += 4) {
      const pieces = channels[channel]!;
      let n = this.#at[channel]!;
      while (n + PIECE < pieces.length && pieces[n + PIECE]! <= start) n += PIECE;
      this.#at[channel] = n;
      if (isEnd) this.#cubics[to] = pieceAt(pieces, n, this.#duration - pieces[n]!);
      else {
        const shortest = LONGER * shortestIn(pieces, n, start + length);
        if (shortest >= length && this.#add(pieces, n, start, length, to)) continue;
        const place = 4 * this.#count;
        const parts = this.#addParts(pieces, n, start, length, shortest);
        this.#steep.push(channel, parts, parts > 0 ? place : this.#search(channel));
      }
    }
    this.#steepFirst[cell + 1] = this.#steep.length;
  }

  /** Returns the grid, once all cells are in. */
  finish(): Grid {
    const [starts, steepFirst, steep] = [this.#starts, this.#steepFirst, new Int32Array(this.#steep)];
    return { starts, fps: this.#fps, cubics: this.#cubics.slice(0, 4 * this.#count), steepFirst, steep };
  }

  /** A channel keeps its pieces. Returns its place among those that do. */
  #search(channel: number): number {
    const place = this.searched.indexOf(channel);
    return place >= 0 ? place : this.searched.push(channel) - 1;
  }

  /**
   * Fits one cubic to the pieces between two times.
   *
   * @param n  where the piece at the start is
   * @param to where its four numbers go
   * @returns whether it is near enough everywhere
   */
  #add(pieces: Pieces, n: number, start: number, length: number, to: number): boolean {
    const cubics = this.#cubics;
    const end = start + length;
    const u = start - pieces[n]!;
    const isOne = n + PIECE >= pieces.length || pieces[n + PIECE]! >= end;
    if (isOne) {
      const c1 = pieces[n + 2]!;
      const c2 = pieces[n + 3]!;
      const c3 = pieces[n + 4]!;
      cubics[to] = ((c3 * u + c2) * u + c1) * u + pieces[n + 1]!;
      cubics[to + 1] = ((3 * c3 * u + 2 * c2) * u + c1) * length;
      cubics[to + 2] = (3 * c3 * u + c2) * length * length;
      cubics[to + 3] = c3 * length * length * length;
      return true;
    }
    const first = pieceAt(pieces, n, u);
    const last = valueBefore(pieces, n, end);
    through(first, valueBefore(pieces, n, start + length / 4), valueBefore(pieces, n, start + 0.75 * length), last);
    const d = found[0]!;
    const e = found[1]!;
    const f = found[2]!;
    cubics[to] = first;
    cubics[to + 1] = d;
    cubics[to + 2] = e;
    cubics[to + 3] = f;
    const rounding = ROUNDING * Math.max(Math.abs(first), Math.abs(last));
    for (let from = start; from < end; n += PIECE) {
      const until = n + PIECE < pieces.length ? Math.min(end, pieces[n + PIECE]!) : end;
      const enough = TOLERANCE * pieces[n + RANGE]! + rounding;
      const c0 = pieces[n + 1]!;
      const c1 = pieces[n + 2]!;
      const c2 = pieces[n + 3]!;
      const c3 = pieces[n + 4]!;
      for (let i = 0; i < PROBES.length; i++) {
        const time = from + PROBES[i]! * (until - from);
        const v = (time - start) / length;
        const w = time - pieces[n]!;
        const off = ((f * v + e) * v + d) * v + first - (((c3 * w + c2) * w + c1) * w + c0);
        if (!(off <= enough && off >= -enough)) return false;
      }
      from = until;
    }
    return true;
  }

  /**
   * Cuts a cell into parts, and returns how many; 0 when even many do not do, and where the curve jumps.
   *
   * @param shortest the length that a part can hardly exceed
   */
  #addParts(pieces: Pieces, n: number, start: number, length: number, shortest: number): number {
    for (let p = n + PIECE; p < pieces.length && pieces[p]! < start + length; p += PIECE) {
      // Between parts, a jump would be off by the rounding of its time.
      if (isJump(pieces, p)) return 0;
    }
    for (let parts = 2; parts <= MOST_PARTS; parts *= 2) {
      if (length > parts * shortest && parts < MOST_PARTS) continue;
      if (this.#count + parts > this.#most) return 0;
      this.#makeRoom(this.#count + parts);
      if (this.#areGood(pieces, n, start, length / parts, parts)) {
        this.#count += parts;
        return parts;
      }
    }
    return 0;
  }

  #areGood(pieces: Pieces, n: number, start: number, length: number, parts: number): boolean {
    for (let part = 0, to = 4 * this.#count; part < parts; part++, to += 4) {
      const from = start + part * length;
      while (n + PIECE < pieces.length && pieces[n + PIECE]! <= from) n += PIECE;
      if (!this.#add(pieces, n, from, length, to)) return false;
    }
    return true;
  }

  #makeRoom(count: number): void {
    if (4 * count <= this.#cubics.length) return;
    const larger = new Float64Array(8 * count);
    larger.set(this.#cubics);
    this.#cubics = larger;
  }
}

/** The length of the shortest of the pieces up to a time, where there are several. */
function shortestIn(pieces: Pieces, n: number, end: number): number {
  let shortest = Infinity;
  let before = n > 0 ? pieces[n]! - pieces[n - PIECE]! : 0;
  if (n + PIECE >= pieces.length || pieces[n + PIECE]! >= end) return shortest;
  for (; n + PIECE < pieces.length && pieces[n]! < end; n += PIECE) {
    const length = pieces[n + PIECE]! - pieces[n]!;
    shortest = Math.min(shortest, Math.max(length, SHORTENED * before));
    before = length;
  }
  return shortest;
}

/** Whether the piece before one ends elsewhere than that begins. */
function isJump(pieces: Pieces, p: number): boolean {
  const off = Math.abs(pieceAt(pieces, p - PIECE, pieces[p]! - pieces[p - PIECE]!) - pieces[p + 1]!);
  const range = Math.max(pieces[p + RANGE]!, pieces[p + RANGE - PIECE]!);
  return !(off <= TOLERANCE * range + ROUNDING * Math.abs(pieces[p + 1]!));
}

/** The value at a time, or just before where a piece begins there. */
function valueBefore(pieces: Pieces, n: number, time: number): number {
  while (n + PIECE < pieces.length && pieces[n + PIECE]! < time) n += PIECE;
  return pieceAt(pieces, n, time - pieces[n]!);
}
