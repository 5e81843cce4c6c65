import { parseEasing, type FlatTrack, type FreeEasing, type Segment } from 'unspool';
import { cubicAt, cutCubic, easingFunction, type Cubic } from 'unspool/edit';
import { arcsOf, NANOSECOND, type Arc } from '../motion/arcs.js';
import { unit } from '../motion/quaternion.js';
import { bezierText, cssEasing, cutEasing } from './css-easing.js';
import { longestLines, morePlaces } from './places.js';

/** What a property shows at a moment, and how it gets to the next one. */
export interface Frame {
  /** Seconds. */
  readonly time: number;
  /** Numbers as they are mixed. */
  readonly values: readonly number[];
  /** A CSS easing. */
  readonly easing: string;
}

export interface Frames {
  readonly frames: readonly Frame[];
  /** The largest error in the units of the property; 0 where all is exact. */
  readonly error: number;
}

/** Samples of a part that no easing can say, before more are taken where it is steep. */
const SAMPLES = 512;

interface Part {
  readonly start: number;
  readonly end: number;
  readonly from: readonly number[];
  readonly to: readonly number[];
  readonly easing: string;
}

/**
 * Says tracks of one property as frames with CSS easings: by name where CSS has one, cut exactly where a curve of one
 * channel is cut, else by lines within a tolerance.
 *
 * @param tracks one of the whole property, or some of its channels
 */
export function framesOf(
  tracks: readonly FlatTrack[],
  rest: readonly number[],
  duration: number,
  tolerance: number,
): Frames {
  let error = 0;
  const worse = (amount: number) => (error = Math.max(error, amount));
  const channels = tracks.map((track) => ({
    first: Math.max(0, track.channel),
    width: track.width,
    parts: partsOf(track, duration, tolerance, worse),
  }));
  if (channels.length === 1 && channels[0]!.width === rest.length)
    return { frames: fromParts(channels[0]!.parts), error };
  // What is sampled then has these errors already.
  const sofar = error;
  const parts = together(channels, rest, duration, tolerance, (amount) => worse(sofar + amount));
  return { frames: fromParts(parts), error };
}

/** What a track does, one part after the other from 0 to `duration`. */
function partsOf(track: FlatTrack, duration: number, tolerance: number, worse: (amount: number) => void): Part[] {
  const { segments } = track;
  const parts: Part[] = [];
  segments.forEach((segment, i) => {
    const start = Math.max(0, segment.start);
    const end = Math.min(segments[i + 1]?.start ?? duration, duration);
    if (end - start > NANOSECOND) parts.push(...partsIn(track, segment, start, end, tolerance, worse));
  });
  const last = segments.at(-1)!;
  if (parts.length === 0 || Math.abs(last.start - duration) < NANOSECOND) {
    parts.push({ start: duration, end: duration, from: last.from, to: last.from, easing: 'linear' });
  }
  return parts;
}

function partsIn(
  track: FlatTrack,
  segment: Segment,
  start: number,
  end: number,
  tolerance: number,
  worse: (amount: number) => void,
): Part[] {
  const { origin, length, from, to, easing, bends, reversed, frozen } = segment;
  if (easing.kind === 'hold' || frozen !== undefined) {
    const value = frozen === undefined ? from : arcsOf({ segments: [segment], kind: track.kind }, end)[0]!.at(start);
    return [{ start, end, from: value, to: value, easing: 'steps(1)' }];
  }
  const size = Math.max(...from.map((n, k) => Math.abs(to[k]! - n)));
  const isWhole = Math.abs(start - origin) < NANOSECOND && Math.abs(end - origin - length) < NANOSECOND;
  if (!bends && isWhole && !reversed) {
    const css = cssEasing(easing);
    worse(css.error * size);
    return [{ start, end, from, to, easing: css.text }];
  }
  if (bends && isWhole && !reversed) {
    const moving = from.flatMap((n, k) => (isStill(bends[k]!, to[k]! - n) ? [] : [k]));
    if (moving.length === 0) return [{ start, end, from, to: from, easing: 'linear' }];
    if (moving.length === 1) {
      const k = moving[0]!;
      const [x1, dv1, x2, dv2] = bends[k]!;
      const way = to[k]! - from[k]!;
      const parts = bent({ from: [0, from[k]!], out: [x1, from[k]! + dv1], in: [x2, from[k]! + way + dv2], to: [1, to[k]!] }); // prettier-ignore
      if (parts) {
        const value = (n: number) => from.map((other, c) => (c === k ? n : other));
        return parts.map(({ cubic, text }) => ({
          start: start + (end - start) * cubic.from[0],
          end: start + (end - start) * cubic.to[0],
          ...{ from: value(cubic.from[1]), to: value(cubic.to[1]), easing: text },
        }));
      }
    }
  }
  const arcs = arcsOf({ segments: [{ ...segment, start }], kind: track.kind }, end);
  // Between two rotations CSS turns at constant speed, on the unit sphere.
  const isTurn = track.kind === 'quat';
  const onSphere = (arc: Arc): Arc => (isTurn ? { ...arc, at: (time) => unit(arc.at(time)) } : arc);
  return arcs.flatMap((arc) => arcParts(onSphere(arc), segment, tolerance, worse));
}

const isStill = ([, dv1, , dv2]: readonly [number, number, number, number], way: number) =>
  way === 0 && dv1 === 0 && dv2 === 0;

/** A curve as easings: one, or two where it comes back to where it began. */
function bent(cubic: Cubic): { readonly cubic: Cubic; readonly text: string }[] | undefined {
  const whole = bezierText(cubic);
  if (whole !== undefined) return [{ cubic, text: whole }];
  for (const share of [0.5, 0.25, 0.75]) {
    const x = cubicAt(cubic.from[0], cubic.out[0], cubic.in[0], cubic.to[0], share);
    if (x <= 0 || x >= 1) continue;
    const halves = cutCubic(cubic, x).map((half) => ({ cubic: half, text: bezierText(half) }));
    if (halves.every(({ text }) => text !== undefined)) return halves as { cubic: Cubic; text: string }[];
  }
  return undefined;
}

/** A part of a segment that is cut or reversed, or a curve of several channels. */
function arcParts(arc: Arc, segment: Segment, tolerance: number, worse: (amount: number) => void): Part[] {
  const { start, end } = arc;
  const [from, to] = [arc.at(start), arc.at(end)];
  if (arc.form === 'still') return [{ start, end, from, to: from, easing: 'steps(1)' }];
  if (arc.form === 'line' || arc.form === 'turn') return [{ start, end, from, to, easing: 'linear' }];
  const { origin, length, easing, bends, reversed } = segment;
  if (!bends) {
    const [a, b] = [(start - origin) / length, (end - origin) / length];
    const css = cutEasing(easing, reversed ? 1 - b : a, reversed ? 1 - a : b, reversed);
    if (css) {
      worse(css.error * Math.max(...from.map((n, k) => Math.abs(to[k]! - n))));
      return [{ start, end, from, to, easing: css.text }];
    }
  }
  return sampled((time) => arc.at(time), start, end, tolerance, worse);
}

/** Lines through a curve, within a tolerance. */
function sampled(
  value: (time: number) => readonly number[],
  start: number,
  end: number,
  tolerance: number,
  worse: (amount: number) => void,
): Part[] {
  const even = Array.from({ length: SAMPLES + 1 }, (_, k) =>
    k === SAMPLES ? end : start + ((end - start) * k) / SAMPLES,
  );
  const { at, values, off } = morePlaces(value, even, tolerance / 20);
  const stops = new Set(
    values[0]!.flatMap((_, c) =>
      longestLines(
        values.map((one) => one[c]!),
        0.9 * tolerance,
        at,
      ),
    ),
  );
  const sorted = [...stops].sort((a, b) => a - b);
  worse(tolerance + off);
  return sorted.slice(1).map((k, i) => {
    const before = sorted[i]!;
    return { start: at[before]!, end: at[k]!, from: values[before]!, to: values[k]!, easing: 'linear' };
  });
}

interface Channels {
  readonly first: number;
  readonly width: number;
  readonly parts: readonly Part[];
}

/**
 * Channels with times and easings of their own as one list. Where one of them moves, its easing is cut exactly, else they
 * are sampled together.
 */
function together(
  channels: readonly Channels[],
  rest: readonly number[],
  duration: number,
  tolerance: number,
  worse: (amount: number) => void,
): Part[] {
  const ends = channels.flatMap(({ parts }) => [0, duration, ...parts.map(({ start }) => start)]).sort((a, b) => a - b);
  const times = ends.filter((time, i) => i === 0 || time - ends[i - 1]! > NANOSECOND);
  const partAt = ({ parts }: Channels, start: number) =>
    parts.findLast((part) => part.start <= start + NANOSECOND) ?? parts[0]!;
  return times.slice(1).flatMap((end, i): Part[] => {
    const start = times[i]!;
    const cuts = channels.map((channel) => ({ ...channel, ...cutPart(partAt(channel, start), start, end) }));
    const gather = (of: (one: (typeof cuts)[number]) => readonly number[]) => {
      const values = [...rest];
      for (const one of cuts) of(one).forEach((n, k) => (values[one.first + k] = n));
      return values;
    };
    const moving = cuts.filter(({ from, to }) => from.some((n, k) => n !== to[k]));
    const [one] = moving;
    const shared = new Set(moving.map(({ easing }) => easing));
    if (shared.size <= 1 && !shared.has(undefined)) {
      return [{ start, end, from: gather(({ from }) => from), to: gather(({ to }) => to), easing: one?.easing ?? 'steps(1)' }]; // prettier-ignore
    }
    return sampled((time) => gather(({ valueAt }) => valueAt(time)), start, end, tolerance, worse);
  });
}

interface Cut {
  readonly from: readonly number[];
  readonly to: readonly number[];
  /** `undefined` when the part of an easing cannot be said. */
  readonly easing: string | undefined;
  readonly valueAt: (time: number) => readonly number[];
}

/** What of a part lies between two times. */
function cutPart(part: Part, start: number, end: number): Cut {
  const length = part.end - part.start;
  const easing = easingOf(part.easing);
  const y = easing.kind === 'hold' ? () => 0 : easingFunctionOf(part.easing);
  const share = (time: number) => (length > 0 ? Math.min(1, Math.max(0, (time - part.start) / length)) : 1);
  const valueAt = (time: number) => {
    const u = y(share(time));
    return part.from.map((n, k) => (u === 1 ? part.to[k]! : n + (part.to[k]! - n) * u));
  };
  const isWhole = Math.abs(start - part.start) < NANOSECOND && Math.abs(end - part.end) < NANOSECOND;
  const isStill = part.from.every((n, k) => n === part.to[k]);
  if (isWhole || isStill) return { from: part.from, to: isStill ? part.from : part.to, easing: part.easing, valueAt };
  if (easing.kind === 'steps') return { from: valueAt(start), to: valueAt(end), easing: undefined, valueAt };
  const css = easing.kind === 'linear' ? { text: 'linear' } : cutEasing(easing, share(start), share(end), false);
  return { from: valueAt(start), to: valueAt(end), easing: css?.text, valueAt };
}

function fromParts(parts: readonly Part[]): Frame[] {
  const frames: Frame[] = [];
  parts.forEach(({ start, end, from, to, easing }, i) => {
    frames.push({ time: start, values: from, easing });
    const next = parts[i + 1];
    const isHeld = easing === 'steps(1)';
    const isJump = next && !isHeld && next.from.some((n, k) => Math.abs(n - to[k]!) > 1e-12);
    if (!next && isHeld) return;
    if (end - start < NANOSECOND) return;
    // Two frames at one time: the first is where it comes from, the second where it goes on.
    if (!next || isJump) frames.push({ time: end, values: to, easing: 'linear' });
  });
  return frames.filter((frame, i) => {
    const [before, after] = [frames[i - 1], frames[i + 1]];
    const isRepeated = before && before.easing === 'steps(1)' && frame.easing === 'steps(1)';
    return !(isRepeated && after && frame.values.every((n, k) => n === before.values[k]));
  });
}

const read = new Map<string, FreeEasing>();

/** An easing that this file has written. */
function easingOf(text: string): FreeEasing {
  let easing = read.get(text);
  if (!easing) {
    const reading = parseEasing(text);
    easing = ('easing' in reading ? reading.easing : { kind: 'linear' }) as FreeEasing;
    if (text === 'steps(1)') easing = { kind: 'hold' };
    if (read.size > 500) read.clear();
    read.set(text, easing);
  }
  return easing;
}

const easingFunctionOf = (text: string) => easingFunction(easingOf(text));
