import { formatEasing, type FlatTrack, type FreeEasing, type Segment } from 'unspool';
import { cubicAt, easingFunction, parameterAt, piecesOf, type Cubic } from 'unspool/edit';
import { slerp } from './quaternion.js';

/**
 * What a track does between two moments, without a jump or a kink inside. `still`, `line` and `cubic` say which
 * polynomial of time each of its numbers is; of quaternions, `turn` is a rotation at constant speed.
 */
export interface Arc {
  /** Seconds, start < end. */
  readonly start: number;
  readonly end: number;
  readonly form: 'still' | 'line' | 'cubic' | 'turn' | 'other';
  /**
   * The values at a time from start to end; at the two, what it comes from and goes to. Quaternions on curves are not
   * brought to length 1.
   */
  readonly at: (seconds: number) => readonly number[];
  /** Where a curve through it should be measured: ascending shares of it, 0 and 1 among them. */
  readonly places: () => readonly number[];
}

/** A piece of an easing: progress from x0 to x1. */
interface Stretch {
  readonly x0: number;
  readonly x1: number;
  readonly form: 'line' | 'cubic' | 'other';
  readonly y: (x: number) => number;
  readonly places: () => readonly number[];
}

const PLACES = 96;
/** Seconds of an arc that stands for a moment. */
const SHORTEST = 1e-3;
const ROUNDING = 1e-9;
/** Times that are nearer than this are one: what lies between is rounding. */
export const NANOSECOND = 1e-9;
/** Shares from 0 to 1, evenly apart. */
const EVEN: readonly number[] = Array.from({ length: PLACES + 1 }, (_, k) => k / PLACES);
/** The places of a smooth curve. */
export const evenPlaces = () => EVEN;
/**
 * Some easings (`expo`, `elastic`) do not quite begin at 0 or end at 1, and jump there. A jump takes so many seconds:
 * some steps of 32-bit times.
 */
export const JUMP = 2e-6;
/** Dense at both ends, where easings are steepest or flattest: the places of Chebyshev. */
const DENSE_AT_ENDS = EVEN.map((x) => (1 - Math.cos(Math.PI * x)) / 2);
const ENDS: readonly number[] = [0, 1];

/**
 * Splits a track into arcs, from 0 to `duration`. Shapes and kinds that hold have still arcs only; colors are as they
 * are written at keys, and are not split here.
 */
export function arcsOf(track: Pick<FlatTrack, 'segments' | 'kind'>, duration: number): Arc[] {
  const { segments, kind } = track;
  const arcs: Arc[] = [];
  segments.forEach((segment, i) => {
    const start = Math.max(0, segment.start);
    const end = Math.min(segments[i + 1]?.start ?? duration, duration);
    if (end > start) arcs.push(...arcsIn(segment, start, end, kind === 'quat'));
  });
  const last = segments.at(-1)!;
  const arrived = arcs.at(-1);
  // A jump at the very end: the last value is shown there, and from there on.
  if (
    arrived &&
    Math.abs(last.start - duration) < ROUNDING &&
    arrived.at(arrived.end).some((n, k) => Math.abs(n - last.from[k]!) > 1e-12)
  ) {
    arcs.push({ start: duration, end: duration + SHORTEST, form: 'still', at: () => last.from, places: () => ENDS });
  }
  if (arcs.length === 0) {
    arcs.push({ start: 0, end: Math.max(duration, SHORTEST), form: 'still', at: () => last.from, places: () => ENDS });
  }
  return arcs;
}

function arcsIn(segment: Segment, start: number, end: number, isTurn: boolean): Arc[] {
  const { origin, length, from, to, easing, bends, reversed, frozen } = segment;
  const whole = bends ? bendStretches(segment) : stretchesOf(easing);
  const valueAt = (stretch: Stretch, x: number): readonly number[] => {
    if (bends) return from.map((value, k) => value + bendAt(segment, k, x));
    const y = stretch.y(x);
    if (isTurn) return slerp(from, to, y);
    return from.map((value, k) => (y === 1 ? to[k]! : value + (to[k]! - value) * y));
  };
  const still = (value: readonly number[]): Arc[] => [
    { start, end, form: 'still', at: () => value, places: () => ENDS },
  ];
  if (frozen !== undefined) return still(valueAt(stretchAt(whole, frozen), frozen));
  if (easing.kind === 'hold' || same(from, to, bends)) return still(from);
  const progress = (seconds: number) => {
    const share = (seconds - origin) / length;
    // Times of parts are rounded: what is nearly at an end is at it.
    const x = share < ROUNDING ? 0 : share > 1 - ROUNDING ? 1 : share;
    return reversed ? 1 - x : x;
  };
  const time = (x: number) => origin + (reversed ? 1 - x : x) * length;
  const [first, last] = [progress(start), progress(end)];
  const arcs = whole.flatMap((stretch): Arc[] => {
    const x0 = Math.max(stretch.x0, Math.min(first, last));
    const x1 = Math.min(stretch.x1, Math.max(first, last));
    if (!(x1 - x0 > ROUNDING)) return [];
    const [begin, finish] = reversed ? [x1, x0] : [x0, x1];
    const [arcStart, arcEnd] = [begin === first ? start : time(begin), finish === last ? end : time(finish)];
    if (!(arcEnd > arcStart)) return [];
    const at = (seconds: number) => valueAt(stretch, clamp(progress(seconds), x0, x1));
    const places = () => {
      const shares = stretch
        .places()
        .map((share) => (stretch.x0 + (stretch.x1 - stretch.x0) * share - begin) / (finish - begin));
      const inside = (reversed ? shares.reverse() : shares).filter((share) => share > 1e-9 && share < 1 - 1e-9);
      const jump = JUMP / (arcEnd - arcStart);
      const isTiny = stretch.form !== 'other' || jump > 0.01;
      return isTiny ? [0, ...inside, 1] : merged([0, jump, ...inside, 1 - jump, 1]);
    };
    const isStill = stretch.form === 'line' && Math.abs(stretch.y(x1) - stretch.y(x0)) < 1e-12;
    const form = isStill ? 'still' : isTurn && !bends ? (stretch.form === 'line' ? 'turn' : 'other') : stretch.form;
    return [{ start: arcStart, end: arcEnd, form, at, places }];
  });
  if (reversed) arcs.reverse();
  return arcs.length > 0 ? arcs : still(valueAt(stretchAt(whole, first), first));
}

const clamp = (n: number, low: number, high: number) => Math.min(high, Math.max(low, n));
const same = (a: readonly number[], b: readonly number[], bends: Segment['bends']) =>
  !bends && a.every((n, k) => n === b[k]);
const stretchAt = (all: readonly Stretch[], x: number) => all.find(({ x1 }) => x <= x1) ?? all.at(-1)!;

/** Easings are few, and each is split once. */
const known = new Map<string, readonly Stretch[]>();

function stretchesOf(easing: FreeEasing): readonly Stretch[] {
  const text = formatEasing(easing);
  let stretches = known.get(text);
  if (!stretches) {
    if (known.size > 500) known.clear();
    known.set(text, (stretches = split(easing)));
  }
  return stretches;
}

function split(easing: FreeEasing): readonly Stretch[] {
  const y = easingFunction(easing);
  const pieces = piecesOf(easing);
  if (!pieces) {
    // The two halves of `in-out` are curves of their own.
    const cuts = easing.kind === 'family' && easing.name.endsWith('-in-out') ? [0, 0.5, 1] : [0, 1];
    return between(cuts).map(([x0, x1]) => ({ x0, x1, form: 'other', y, places: () => DENSE_AT_ENDS }));
  }
  if (pieces.kind === 'lines') {
    const cuts = [...new Set([0, ...pieces.corners.map(([x]) => x).filter((x) => x > 0 && x < 1), 1])];
    return between(cuts).map(([x0, x1]) => {
      // Jumps are at its ends: the line is taken from inside.
      const [a, b] = [y(x0 + (x1 - x0) / 4), y(x0 + (3 * (x1 - x0)) / 4)];
      const slope = (b - a) / ((x1 - x0) / 2);
      const line = (x: number) => (slope === 0 ? a : a + slope * (x - (x0 + (x1 - x0) / 4)));
      return { x0, x1, form: 'line', y: easing.kind === 'linear' ? (x) => x : line, places: () => ENDS };
    });
  }
  return pieces.cubics.map((cubic) => {
    const isPower = [cubic.out[0], cubic.in[0]].every(
      (x, k) => Math.abs(x - (cubic.from[0] + ((cubic.to[0] - cubic.from[0]) * (k + 1)) / 3)) < 1e-12,
    );
    const places = () => placesOf(cubic);
    return { x0: cubic.from[0], x1: cubic.to[0], form: isPower ? 'cubic' : 'other', y, places };
  });
}

const between = (cuts: readonly number[]) => cuts.slice(1).map((end, i): [number, number] => [cuts[i]!, end]);

/** Evenly along the parameter of a cubic in time and value: dense where it is steep. */
function placesOf({ from, out, in: into, to }: Cubic): readonly number[] {
  const shares = EVEN.map((t) => (cubicAt(from[0], out[0], into[0], to[0], t) - from[0]) / (to[0] - from[0]));
  return merged([...shares, ...EVEN]);
}

/** Ascending and apart. */
function merged(shares: readonly number[]): readonly number[] {
  const sorted = [...shares].sort((a, b) => a - b);
  return sorted.filter((x, i) => i === 0 || x - sorted[i - 1]! > 1e-9);
}

function bendStretches({ bends }: Segment): readonly Stretch[] {
  const isPower = bends!.every(([x1, , x2]) => Math.abs(x1 - 1 / 3) < 1e-12 && Math.abs(x2 - 2 / 3) < 1e-12);
  const places = () =>
    merged(bends!.flatMap(([x1, , x2]) => placesOf({ from: [0, 0], out: [x1, 0], in: [x2, 0], to: [1, 0] })));
  return [{ x0: 0, x1: 1, form: isPower ? 'cubic' : 'other', y: (x) => x, places }];
}

/** How far a channel of a curve has come from its first value. */
function bendAt({ bends, from, to }: Segment, k: number, x: number): number {
  const [x1, dv1, x2, dv2] = bends![k]!;
  const way = to[k]! - from[k]!;
  const t = x1 === 1 / 3 && x2 === 2 / 3 ? x : parameterAt(0, x1, x2, 1, x);
  return cubicAt(0, dv1, way + dv2, way, t);
}
