import type { KeyList } from '../../reel/document/document.js';
import type { Segment } from '../../reel/resolve/segments.js';
import type { Time } from '../../time/units.js';
import type { Kind } from '../../value/kind.js';
import type { TrackCurve } from '../track-curve.js';
import { setMembers } from '../immutable.js';
import { cubicOf, type Cubic } from './easing-pieces.js';
import { secondsOf, writeTime } from '../format-values.js';
import { isMoment, secondsAt, type PoseKey } from '../document-access.js';

/** The segment from one new key to the next. */
export interface Piece {
  /** Where it begins, as a share of the segment. */
  readonly x: number;
  readonly ease: string;
  /** Per channel, of a `curve`: handles in seconds and units. */
  readonly out?: readonly (readonly [dt: number, dv: number])[];
  readonly in?: readonly (readonly [dt: number, dv: number])[];
}

/** One cubic for each channel as a segment with handles. */
export function curvePiece(channels: readonly Cubic[], length: number): Piece {
  return {
    x: channels[0]!.from[0],
    ease: 'curve',
    out: channels.map(({ from, out }) => [(out[0] - from[0]) * length, out[1] - from[1]]),
    in: channels.map(({ in: into, to }) => [(into[0] - to[0]) * length, into[1] - to[1]]),
  };
}

/** Handles as a key has them: one pair, or one for each channel. */
export function handles(list: Piece['out'], fps: number, like: Time) {
  if (!list) return undefined;
  const written = list.map(([dt, dv]) => [writeExact(dt, fps, like), dv + 0] as const);
  return written.length === 1 ? written[0] : written;
}

/** Handles are not read by people first: what counts is that nothing moves. */
function writeExact(seconds: number, fps: number, like: Time): Time {
  const short = writeTime(seconds, like, fps);
  return secondsOf(short, fps) === seconds ? short : seconds;
}

type Bent = Pick<Segment, 'from' | 'to' | 'length' | 'bends'>;

/** A quaternion and its negative are one rotation: a segment is taken with the signs that its keys have now. */
function onSide(wanted: Bent | undefined, now: Segment, kind: Kind): Bent | undefined {
  if (!wanted || kind !== 'quat') return wanted;
  const dot = wanted.from.reduce((sum, n, k) => sum + n * now.from[k]!, 0);
  if (dot >= 0) return wanted;
  const negated = (numbers: readonly number[]) => numbers.map((n) => -n);
  const bends = wanted.bends?.map(([x1, dv1, x2, dv2]) => [x1, -dv1, x2, -dv2] as const);
  return { ...wanted, from: negated(wanted.from), to: negated(wanted.to), ...(bends && { bends }) };
}

/**
 * Keeps what other keys around them would change: `smooth` curves follow their neighbors, so those that would change
 * get handles.
 *
 * @param after the curve of the keys as they are now
 * @param as    what a segment that starts at a time should be like; `undefined` when it does not matter
 */
export function keepSmooth(
  after: TrackCurve,
  keys: KeyList,
  fps: number,
  as: (at: number) => Pick<Segment, 'from' | 'to' | 'length' | 'bends'> | undefined,
): KeyList {
  let kept = keys;
  after.track.keys.forEach(({ at, easing }, i) => {
    if (easing.kind !== 'smooth') return;
    const wanted = onSide(as(at), after.segments[i]!, after.track.kind);
    const now = after.segments[i]!.bends;
    if (!wanted?.bends || !now) return;
    if (wanted.bends.every((bend, k) => bend.every((n, j) => Math.abs(n - now[k]![j]!) <= 1e-12 * Math.abs(n)))) return;
    const index = kept.findIndex((key) => isMoment(secondsAt(key, fps), at));
    const cubics = wanted.bends.map((bend, k) => cubicOf(bend, wanted.to[k]! - wanted.from[k]!));
    const piece = curvePiece(cubics, wanted.length);
    const [key, next] = [kept[index] as PoseKey, kept[index + 1] as PoseKey];
    kept = kept
      .with(index, setMembers(key, { ease: 'curve', out: handles(piece.out, fps, key.at) }))
      .with(index + 1, setMembers(next, { in: handles(piece.in, fps, key.at) }));
  });
  return kept;
}
