import { cubicAt, longestSteps } from 'unspool/edit';
import { JUMP, type Arc } from './arcs.js';

/** A stretch of time in which each number is a polynomial of time of the third degree at most. */
export interface CubicPiece {
  /** Seconds, start < end. */
  readonly start: number;
  readonly end: number;
  readonly form: 'still' | 'line' | 'cubic';
  /** Per channel: the value at the start, two control values a third and two thirds along, the value at the end. */
  readonly values: readonly (readonly [number, number, number, number])[];
}

export interface Cubics {
  /** In order, without a gap. A piece may begin at another value than the one before ended with: a jump. */
  readonly pieces: readonly CubicPiece[];
  /** The largest distance of any channel from what it stands for: 0 where all is exact. */
  readonly error: number;
}

/** What is fitted stays so far inside the tolerance that rounding and the places in between have room. */
const MARGIN = 0.8;
/** How often the places in between are doubled when the error between them is too large. */
const REFINEMENTS = 5;

/**
 * Says arcs as polynomials of time: exactly where they are some, else by the fewest within a tolerance that begin and
 * end on the curve.
 *
 * @param tolerance the largest distance of a channel, in its units
 * @param toNumbers turns the numbers of an arc into others that are fitted instead: an angle into a quaternion
 */
export function cubicsOf(
  arcs: readonly Arc[],
  tolerance: number,
  toNumbers?: (values: readonly number[]) => readonly number[],
): Cubics {
  const pieces: CubicPiece[] = [];
  let error = 0;
  for (const arc of arcs) {
    const at = toNumbers ? (seconds: number) => toNumbers(arc.at(seconds)) : arc.at;
    const isExact = arc.form === 'still' || (!toNumbers && (arc.form === 'line' || arc.form === 'cubic'));
    if (isExact) {
      pieces.push({
        start: arc.start,
        end: arc.end,
        form: arc.form,
        values: exactly(at, arc.start, arc.end),
      });
      continue;
    }
    const fitted = fitArc({ ...arc, at }, tolerance);
    pieces.push(...fitted.pieces);
    error = Math.max(error, fitted.error);
  }
  return { pieces, error };
}

type Numbers = readonly number[];

/** The polynomials that an arc consists of. */
function exactly(at: Arc['at'], start: number, end: number): CubicPiece['values'] {
  const third = (end - start) / 3;
  return through(at(start), at(start + third), at(end - third), at(end), 1 / 3);
}

/** Per channel, the polynomial that meets four values: at both ends, and at a share `u` from each of them. */
function through(a: Numbers, b: Numbers, c: Numbers, d: Numbers, u: number): CubicPiece['values'] {
  const w = 1 - u;
  // b and c without what the ends contribute: two equations for the two control values.
  const [near, far] = [3 * w * w * u, 3 * w * u * u];
  const scale = near * near - far * far;
  return a.map((from, k) => {
    const to = d[k]!;
    const first = b[k]! - w * w * w * from - u * u * u * to;
    const second = c[k]! - u * u * u * from - w * w * w * to;
    return [from, (near * first - far * second) / scale, (near * second - far * first) / scale, to] as const;
  });
}

function fitArc(arc: Arc, tolerance: number): Cubics {
  let shares = arc.places();
  for (let round = 0; ; round++) {
    const times = Float64Array.from(shares, (share) => arc.start + (arc.end - arc.start) * share);
    times[0] = arc.start;
    times[times.length - 1] = arc.end;
    const pieces = fitPlaces(arc, times, tolerance * MARGIN);
    const error = errorOf(arc, pieces, times);
    if (error <= tolerance || round === REFINEMENTS) return { pieces, error };
    shares = withMiddles(shares, (2 * JUMP) / (arc.end - arc.start));
  }
}

const withMiddles = (shares: readonly number[], least: number): readonly number[] =>
  shares.flatMap((share, i) =>
    i === 0 || share - shares[i - 1]! <= least ? [share] : [(shares[i - 1]! + share) / 2, share],
  );

/**
 * Where a polynomial of the third degree meets a smooth curve inside its piece, so that the error is spread evenly: the
 * zeros of the fourth Chebyshev polynomial, stretched so that its outer ones lie on the ends.
 */
const INNER = (1 - Math.cos((3 * Math.PI) / 8) / Math.cos(Math.PI / 8)) / 2;

function fitPlaces(arc: Arc, times: Float64Array, tolerance: number): CubicPiece[] {
  const values = Array.from(times, (time) => arc.at(time));
  const pieceOf = (i: number, j: number): CubicPiece => {
    const [start, end] = [times[i]!, times[j]!];
    return { start, end, form: 'cubic', values: through(values[i]!, arc.at(start + (end - start) * INNER), arc.at(end - (end - start) * INNER), values[j]!, INNER) }; // prettier-ignore
  };
  const isPossible = (i: number, j: number): boolean => {
    const { start, end, values: channels } = pieceOf(i, j);
    for (let k = i + 1; k < j; k++) {
      const u = (times[k]! - start) / (end - start);
      for (let c = 0; c < channels.length; c++) {
        if (Math.abs(cubicAt(...channels[c]!, u) - values[k]![c]!) > tolerance) return false;
      }
    }
    return true;
  };
  const stops = longestSteps(times.length, isPossible);
  return stops.slice(1).map((j, s) => pieceOf(stops[s]!, j));
}

/** The largest distance, at the places and between them. */
function errorOf(arc: Arc, pieces: readonly CubicPiece[], times: Float64Array): number {
  let most = 0;
  let p = 0;
  const look = (time: number) => {
    while (p + 1 < pieces.length && time > pieces[p]!.end) p++;
    const { start, end, values } = pieces[p]!;
    const real = arc.at(time);
    values.forEach((channel, k) => {
      most = Math.max(most, Math.abs(cubicAt(...channel, (time - start) / (end - start)) - real[k]!));
    });
  };
  for (let i = 0; i < times.length; i++) {
    look(times[i]!);
    const gap = i + 1 < times.length ? times[i + 1]! - times[i]! : 0;
    // Inside a jump nothing is off by more than the jump.
    if (gap > 2 * JUMP) for (const share of [0.25, 0.5, 0.75]) look(times[i]! + gap * share);
  }
  return most;
}

/** The part of a piece between two times in it, which are no further apart. */
export function cutPiece(piece: CubicPiece, start: number, end: number): CubicPiece {
  if (start === piece.start && end === piece.end) return piece;
  const share = (time: number) => (time - piece.start) / (piece.end - piece.start);
  const [a, b] = [share(start), share(end)];
  const values = piece.values.map((channel): CubicPiece['values'][number] => {
    if (piece.form === 'still') return channel;
    // The blossom of the cubic at a, a, a … b, b, b: its control values on that stretch.
    return [blossom(channel, a, a, a), blossom(channel, a, a, b), blossom(channel, a, b, b), blossom(channel, b, b, b)];
  });
  return { start, end, form: piece.form, values };
}

function blossom(points: readonly [number, number, number, number], r: number, s: number, t: number): number {
  const mix = (a: number, b: number, u: number) => (u === 0 ? a : u === 1 ? b : a + (b - a) * u);
  const [p0, p1, p2, p3] = points;
  const [a, b, c] = [mix(p0, p1, r), mix(p1, p2, r), mix(p2, p3, r)];
  return mix(mix(a, b, s), mix(b, c, s), t);
}
