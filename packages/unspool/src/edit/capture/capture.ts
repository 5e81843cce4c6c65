import { isObject } from '../../errors/is-object.js';
import type { ClipDocument, KeyDocument, TrackDocument } from '../../reel/document/document.js';
import { DEFAULT_FPS, snapToFrame, type Time } from '../../time/units.js';
import { isShape, KINDS, widthOf, type Kind } from '../../value/kind.js';
import { fromMixing, MIXES, toMixing } from '../../value/mixing.js';
import { kindOf } from '../../value/property.js';
import { nearerQuat, slerp } from '../../value/quat.js';
import { readValue, TextTable, type Value } from '../../value/read.js';
import { UnspoolError } from '../../errors/error.js';
import { show, showSeconds } from '../../errors/show.js';
import { writeNumbers } from '../track-curve.js';
import { fewestStops, longestSteps } from './fewest.js';
import { everyBetween, fitCurve, isLine } from './fit-curve.js';
import { cubicAt } from '../operations/easing-pieces.js';
import { writeTime } from '../format-values.js';

/** The values of some properties at one time, as input of `capture`. */
export interface Sample {
  /** Seconds, strictly ascending from sample to sample. */
  readonly time: number;
  /** Values by `role.property`, in the units of a reel. */
  readonly values: Readonly<Record<string, Value>>;
}

/** Options of `capture(samples, options)`. */
export interface CaptureOptions {
  /**
   * The largest error allowed at any sample, greater than 0: one number for all properties in their units, or by
   * `role.property` with `*` for the others. Quaternions count in degrees, colors from 0 to 1.
   */
  readonly tolerance: number | Readonly<Record<string, number>>;
  /** Frame rate of the captured clip: times on a frame are written in frames. Default: 60. */
  readonly fps?: number;
}

/** The result of `capture`. */
export interface Captured {
  /** The captured clip, from 0 to the last sample. */
  readonly clip: ClipDocument;
  /** Number of keys in its tracks. */
  readonly keys: number;
  /** The largest distance from the samples, by track. */
  readonly errors: Readonly<Record<string, number>>;
}

/** Of more samples, the keys are few but may not be the fewest: those take long to find. */
const MOST_EXACT = 2000;
/** What is fitted stays so far inside the tolerance, so that values can be written with few digits. */
const MARGIN = 0.95;

/**
 * Converts values that were recorded live (by hand, from physics, from a running game) to the fewest keys within a
 * tolerance. Keys are at samples, with their values. Numbers are interpolated by curves with handles or lines; kinds
 * that cannot be mixed are keyed where they change. A property that never changes gets one key.
 *
 * @throws UnspoolError for samples out of order, invalid values, and a tolerance that is not greater than 0
 */
export function capture(samples: readonly Sample[], options: CaptureOptions): Captured {
  checkCall(samples, options);
  const { tolerance, fps = DEFAULT_FPS } = options;
  const first = samples[0];
  if (!first) throw new UnspoolError('edit/capture', 'the list of samples is empty', 'capture at least one');
  samples.forEach(({ time }, i) => {
    const before = samples[i - 1]?.time ?? -Infinity;
    if (Number.isFinite(time) && time > before) return;
    const where = Number.isFinite(time) ? `${time} s, not after ${before} s` : show(time);
    throw new UnspoolError(
      'edit/capture',
      `sample ${i} is at ${where}`,
      'use finite seconds, each later than the last',
    );
  });
  const tracks: Record<string, TrackDocument> = {};
  const errors: Record<string, number> = {};
  const names = new Set(samples.flatMap(({ values }) => Object.keys(values)));
  for (const name of names) {
    const list = samples.filter(({ values }) => values[name] !== undefined && values[name] !== null);
    if (list.length === 0) continue;
    const far = typeof tolerance === 'number' ? tolerance : (tolerance[name] ?? tolerance['*']);
    if (far === undefined || !(far > 0))
      throw new UnspoolError(
        'edit/capture',
        `the tolerance of ${name} is ${far}`,
        'use a number greater than 0, or "*" for all properties',
      );
    const stream = streamOf(name, list, first.time, fps);
    const { keys, error } = reduce(stream, far);
    tracks[name] = keys;
    errors[name] = error;
  }
  const length = samples.at(-1)!.time - first.time;
  const keys = Object.values(tracks).reduce((sum, track) => sum + (track as readonly unknown[]).length, 0);
  return { clip: { fps, duration: writtenTime(length, fps), tracks }, keys, errors };
}

function checkCall(samples: unknown, options: unknown): void {
  const isSample = (one: unknown) => isObject(one) && isObject(one['values']);
  if (!Array.isArray(samples) || !Array.from(samples).every(isSample))
    throw new UnspoolError('edit/capture', 'the samples are not a list of { time, values }', 'pass such a list');
  const { tolerance, fps = DEFAULT_FPS } = (isObject(options) ? options : {}) as Partial<CaptureOptions>;
  if (typeof tolerance !== 'number' && !isObject(tolerance))
    throw new UnspoolError('edit/capture', `the tolerance is ${show(tolerance)}`, 'use a number greater than 0');
  if (!(typeof fps === 'number' && fps > 0 && fps < Infinity))
    throw new UnspoolError('edit/capture', `fps is ${show(fps)}`, 'use a number greater than 0');
}

/** The values of one property over time, as numbers. */
interface Stream {
  readonly kind: Kind;
  readonly times: Float64Array;
  /** By channel, then sample. */
  readonly channels: readonly Float64Array[];
  readonly texts: readonly string[];
  readonly fps: number;
}

function streamOf(name: string, list: readonly Sample[], start: number, fps: number): Stream {
  const property = name.slice(name.indexOf('.') + 1);
  const kind = kindOf(property, list[0]!.values[name]);
  if (kind === undefined || isShape(kind))
    throw new UnspoolError(
      'edit/capture',
      `${show(list[0]!.values[name])} is not a valid value of ${name}`,
      'pass the values of a game object',
    );
  const texts = new TextTable();
  const channels = Array.from({ length: widthOf(kind) }, () => new Float64Array(list.length));
  let before: readonly number[] | undefined;
  list.forEach(({ time, values }, i) => {
    const read = readValue(kind, values[name], texts);
    if (!read)
      throw new UnspoolError(
        'edit/capture',
        `${show(values[name])} at ${showSeconds(time)} is not a ${kind}, but ${name} is`,
        'use one kind of value throughout',
      );
    // Turns are followed as they went: from 179 degrees to −179 is a small step on, not a turn back.
    let numbers: readonly number[] = read;
    if (before && kind === 'angle') numbers = [read[0]! + 360 * Math.round((before[0]! - read[0]!) / 360)];
    if (before && kind === 'quat') numbers = nearerQuat(before, read);
    before = numbers;
    numbers.forEach((n, k) => (channels[k]![i] = n));
  });
  return { kind, times: Float64Array.from(list, ({ time }) => time - start), channels, texts: texts.texts, fps };
}

function reduce(stream: Stream, tolerance: number): { readonly keys: readonly KeyDocument[]; readonly error: number } {
  const { kind, times, channels, texts, fps } = stream;
  const numbersAt = (i: number) => channels.map((channel) => channel[i]!);
  const write = (i: number, numbers = numbersAt(i)) =>
    writeNumbers({ kind, width: numbers.length, channel: -1 }, numbers, texts);
  const at = (i: number) => writtenTime(times[i]!, fps);
  if (KINDS[kind].held) {
    const changes = Array.from(times.keys()).filter((i) => i === 0 || channels[0]![i] !== channels[0]![i - 1]);
    return { keys: changes.map((i) => ({ at: at(i), value: write(i) })), error: 0 };
  }
  const moved = farthestFromFirst(kind, channels);
  if (moved <= tolerance * MARGIN) return { keys: [{ at: at(0), value: write(0) }], error: moved };
  if (kind === 'color' || kind === 'quat') return reduceMixed(stream, tolerance, write, at);
  const margin = tolerance * MARGIN;
  const moments = withMiddles(times, times);
  const dense = channels.map((values) => ({
    values: withMiddles(times, values),
    slack: slackOf(times, values, margin),
  }));
  const line = (i: number, j: number) =>
    dense.every(({ values, slack }) => isLine(moments, values, 2 * i, 2 * j, margin, slack));
  const curve = ({ values, slack }: (typeof dense)[number], i: number, j: number) =>
    fitCurve(moments, values, 2 * i, 2 * j, margin, slack);
  const isPossible = (i: number, j: number) => line(i, j) || dense.every((one) => curve(one, i, j) !== undefined);
  const stops = (times.length > MOST_EXACT ? longestSteps : fewestStops)(times.length, isPossible);
  const digits = 10 ** Math.ceil(-Math.log10(tolerance / 50));
  const round = (n: number) => Math.round(n * digits) / digits + 0;
  const keys: Record<string, unknown>[] = stops.map((i) => {
    const numbers = numbersAt(i).map(round);
    return { at: at(i), value: write(i, numbers) };
  });
  for (let s = 0; s + 1 < stops.length; s++) {
    const [i, j] = [stops[s]!, stops[s + 1]!];
    if (line(i, j)) continue;
    const third = (times[j]! - times[i]!) / 3;
    const inner = dense.map((one) => curve(one, i, j)).filter((found) => found !== undefined);
    // Between neighbours a line is always good enough: where rounding leaves no curve, that is it.
    if (inner.length < dense.length) continue;
    // Handles are counted from the keys as they are written.
    const out = inner.map(([p1], k) => [handleTime(third, fps), round(p1 - round(channels[k]![i]!))] as const);
    const into = inner.map(([, p2], k) => [handleTime(-third, fps), round(p2 - round(channels[k]![j]!))] as const);
    const one = (list: readonly unknown[]) => (list.length === 1 ? list[0] : list);
    Object.assign(keys[s]!, { ease: 'curve', out: one(out) });
    keys[s + 1]!['in'] = one(into);
  }
  return { keys: keys as unknown as KeyDocument[], error: errorOf(stream, stops, keys) };
}

/** How far any sample is from the first: of quaternions the angle between the two, in degrees. */
function farthestFromFirst(kind: Kind, channels: readonly Float64Array[]): number {
  const first = Float64Array.from(channels, (channel) => channel[0]!);
  let most = 0;
  for (let i = 1; i < channels[0]!.length; i++) {
    if (kind === 'quat') most = Math.max(most, degreesBetween(channels, i, first));
    else for (const channel of channels) most = Math.max(most, Math.abs(channel[i]! - channel[0]!));
  }
  return most;
}

/** The angle between two unit quaternions, by the chord, which is exact for small ones too. */
function degreesBetween(channels: readonly Float64Array[], i: number, other: Float64Array): number {
  let [near, far] = [0, 0];
  for (let k = 0; k < 4; k++) {
    near += (channels[k]![i]! - other[k]!) ** 2;
    far += (channels[k]![i]! + other[k]!) ** 2;
  }
  return (720 / Math.PI) * Math.atan2(Math.sqrt(Math.min(near, far)), Math.sqrt(Math.max(near, far)));
}

/**
 * How far the value halfway between two samples is uncertain: parabolas through the three samples to the left and to the
 * right agree within the tolerance where the motion is smooth, and differ at a corner. 0 at the samples.
 */
function slackOf(times: Float64Array, values: Float64Array, tolerance: number): Float64Array {
  const n = times.length;
  const slack = new Float64Array(2 * n - 1);
  for (let i = 1; i + 2 < n; i++) {
    const middle = (times[i]! + times[i + 1]!) / 2;
    const left = polynomialAt(times, values, i - 1, i + 1, middle);
    const right = polynomialAt(times, values, i, i + 2, middle);
    slack[2 * i + 1] = Math.max(0, Math.abs(left - right) - tolerance);
  }
  return slack;
}

/** At a time, the polynomial through some samples (Lagrange). */
function polynomialAt(times: Float64Array, values: Float64Array, first: number, last: number, time: number): number {
  let sum = 0;
  for (let a = first; a <= last; a++) {
    let weight = 1;
    for (let b = first; b <= last; b++) if (b !== a) weight *= (time - times[b]!) / (times[a]! - times[b]!);
    sum += weight * values[a]!;
  }
  return sum;
}

/**
 * Samples with one between each two, on the cubic through the four nearest (Lagrange): curves are held to what lies
 * between samples too, where they could swing out unseen.
 */
function withMiddles(times: Float64Array, values: Float64Array): Float64Array {
  const n = times.length;
  const dense = new Float64Array(2 * n - 1);
  for (let i = 0; i < n; i++) {
    dense[2 * i] = values[i]!;
    if (i + 1 === n) break;
    const middle = (times[i]! + times[i + 1]!) / 2;
    dense[2 * i + 1] = polynomialAt(times, values, Math.max(0, i - 1), Math.min(n - 1, i + 2), middle);
  }
  return dense;
}

/** A third of a segment, exact where a frame's digits are: what is shown hangs on it. */
function handleTime(seconds: number, fps: number): Time {
  return writeTime(seconds, '1f', fps);
}

/** How far curves with even handles are from the samples. */
function errorOf(
  { times, channels }: Stream,
  stops: readonly number[],
  keys: readonly Record<string, unknown>[],
): number {
  let most = 0;
  const numbers = (value: unknown) => [value].flat() as number[];
  const handle = (value: unknown, k: number) =>
    ((Array.isArray((value as unknown[])[0]) ? (value as unknown[])[k] : value) as [unknown, number])[1];
  channels.forEach((values, k) => {
    for (let s = 0; s < stops.length; s++) {
      const [key, next] = [keys[s]!, keys[s + 1]];
      const [from, start] = [numbers(key['value'])[k]!, times[stops[s]!]!];
      most = Math.max(most, Math.abs(from - values[stops[s]!]!));
      if (!next) continue;
      const [to, length] = [numbers(next['value'])[k]!, times[stops[s + 1]!]! - start];
      const p1 = key['out'] ? from + handle(key['out'], k) : from + (to - from) / 3;
      const p2 = key['out'] ? to + handle(next['in'], k) : to - (to - from) / 3;
      for (let i = stops[s]! + 1; i < stops[s + 1]!; i++) {
        const u = (times[i]! - start) / length;
        const shown = cubicAt(from, p1, p2, to, u);
        most = Math.max(most, Math.abs(shown - values[i]!));
      }
    }
  });
  return most;
}

/** Colors and quaternions: straight ways from key to key, as they are mixed. */
function reduceMixed(
  { kind, times, channels }: Stream,
  tolerance: number,
  write: (i: number) => unknown,
  at: (i: number) => Time,
): { readonly keys: readonly KeyDocument[]; readonly error: number } {
  const pair = new Float64Array(8);
  const cell = new Float64Array(1);
  const out = new Float64Array(4);
  const numbersAt = (i: number) => channels.map((channel) => channel[i]!);
  const begin = (i: number, j: number): void => {
    const [from, to] = [numbersAt(i), numbersAt(j)];
    pair.set(kind === 'color' ? toMixing('srgb', from) : from);
    pair.set(kind === 'color' ? toMixing('srgb', to) : nearerQuat(from, to), 4);
  };
  /** How far the sample k is from the straight way between two others. */
  const offAt = (i: number, j: number, k: number): number => {
    cell[0] = (times[k]! - times[i]!) / (times[j]! - times[i]!);
    if (kind === 'quat') {
      slerp(pair, 0, 4, cell, out, 0);
      return degreesBetween(channels, k, out);
    }
    for (let c = 0; c < 4; c++) out[c] = pair[c]! + (pair[4 + c]! - pair[c]!) * cell[0];
    fromMixing(MIXES.indexOf('srgb'), out, 0);
    let most = 0;
    for (let c = 0; c < channels.length; c++) most = Math.max(most, Math.abs(channels[c]![k]! - out[c]!));
    return most;
  };
  const isPossible = (i: number, j: number): boolean => {
    begin(i, j);
    return everyBetween(i, j, (k) => offAt(i, j, k) <= tolerance);
  };
  const stops = (times.length > MOST_EXACT ? longestSteps : fewestStops)(times.length, isPossible);
  const off = (i: number, j: number): number => {
    begin(i, j);
    let most = 0;
    for (let k = i + 1; k < j; k++) most = Math.max(most, offAt(i, j, k));
    return most;
  };
  const errors = stops.slice(1).map((j, s) => off(stops[s]!, j));
  return { keys: stops.map((i) => ({ at: at(i), value: write(i) })), error: Math.max(0, ...errors) };
}

/** As frames if the time is on one, else in seconds. */
function writtenTime(seconds: number, fps: number): Time {
  const frame = snapToFrame(seconds, fps);
  return Math.abs(frame * fps - Math.round(frame * fps)) < 1e-6 ? writeTime(frame, '1f', fps) : seconds;
}
