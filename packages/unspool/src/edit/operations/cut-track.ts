import { keysOf } from '../../reel/resolve/properties.js';
import { formatEasing } from '../../easing/easing.js';
import type { KeyDocument, KeyList, ReelDocument } from '../../reel/document/document.js';
import type { Segment } from '../../reel/resolve/segments.js';
import type { Time } from '../../time/units.js';
import { KINDS } from '../../value/kind.js';
import { curveOf, isWholeShape, textsOf, writeNumbers, type TrackCurve } from '../track-curve.js';
import { setMembers } from '../immutable.js';
import {
  cubicAt,
  cubicOf,
  cubicText,
  cubicThrough,
  cutCubic,
  easingFunction,
  linesText,
  piecesOf,
  type Cubic,
} from './easing-pieces.js';
import { refuse } from '../refusal.js';
import { curvePiece, handles, keepSmooth, type Piece } from './keep-smooth.js';
import { cutRow, rowAt } from './frame-rows.js';
import { formatTime, secondsOf, writeTime } from '../format-values.js';
import { clipIn, fpsIn, isMoment, isRow, secondsAt, trackIn, withKeys, type PoseKey } from '../document-access.js';

/** How much a cut may change what is shown, in the units of the value. */
const UNCHANGED = 1e-9;

/**
 * Returns the keys of a track with one more key on the curve, so that what is shown does not change. An easing with two
 * halves may get a second key in its middle.
 *
 * Law: no sampled value changes by more than 1e-9. Easings of which no part is an easing (`sine-in`, `spring()` …) are
 * refused, unless a tolerance allows to fit curves to them, in the units of the value.
 */
export function cutTrack(
  document: ReelDocument,
  clipName: string,
  name: string,
  time: Time,
  tolerance?: number,
): KeyList {
  const clip = clipIn(document, clipName);
  const fps = fpsIn(document, clip);
  const track = trackIn(clip, name);
  const keys = keysOf(track);
  const seconds = secondsOf(time, fps);
  if (seconds < 0)
    throw refuse('edit/before-start', `${formatTime(time)} is before the start of the clip. Use 0 or later.`);
  if (keys.some((key) => isMoment(secondsAt(key, fps), seconds)))
    throw refuse(
      'edit/time-taken',
      `${name} already has a key at ${formatTime(time)}. Set that key, or use another time.`,
    );
  const row = rowAt(keys, seconds, fps);
  if (row >= 0) return cutRow(keys, row, time, seconds, fps);

  const curve = curveOf(document, clipName, name);
  const after = keys.findIndex((key) => secondsAt(key, fps) > seconds);
  const write = (at: number) => writeNumbers(curve.track, curve.at(at), textsOf(document));
  if (isWholeShape(curve.track) && after <= 0) {
    const end = after === 0 ? 'before its first key' : 'after its last key';
    throw refuse(
      'edit/outside-shape',
      `${name} is not active at ${formatTime(time)}, ${end}. Pass a value for the key.`,
    );
  }
  if (after === 0) {
    const lead: PoseKey = {
      at: time,
      value: write(seconds),
      ...(KINDS[curve.track.kind].held ? {} : { ease: 'hold' }),
    };
    return checked(document, clipName, name, curve, [lead, ...keys], UNCHANGED);
  }
  const index = after < 0 ? keys.length - 1 : after - 1;
  const key = keys[index]!;
  if (after < 0 || isRow(key) || isHeld(curve, key)) {
    const value = isRow(key) ? write(seconds) : key.value;
    const { out, data, ...rest } = isRow(key) ? { value, out: undefined, data: undefined } : key;
    const added = { ...rest, at: time, value };
    const before = isRow(key) || KINDS[curve.track.kind].held ? key : setMembers(key, { ease: 'hold', out: undefined });
    return checked(
      document,
      clipName,
      name,
      curve,
      [...keys.slice(0, index), before, added, ...keys.slice(index + 1)],
      UNCHANGED,
    );
  }
  const next = keys[index + 1] as PoseKey;
  const segment = curve.segments.findLast(({ start }) => start <= seconds)!;
  const x = (seconds - segment.start) / segment.length;
  const pieces = piecesAt(curve, segment, x, tolerance);
  if (!pieces) {
    const summary = formatEasing(segment.bends ? { kind: 'curve' } : segment.easing);
    const what = 'Pass a tolerance to fit curves, or a value for the key.';
    throw refuse(
      'edit/no-exact-cut',
      `${summary} cannot be cut at ${formatTime(time)} without changing its shape. ${what}`,
    );
  }
  const made = pieces.map((piece, i): KeyDocument => {
    const isCut = isMoment(segment.start + piece.x * segment.length, seconds);
    const start = segment.start + piece.x * segment.length;
    const at = i === 0 ? key.at : isCut ? time : writeTime(start, time, fps);
    const base = i === 0 ? key : { at, value: write(isCut ? seconds : start) };
    const [out, into] = [handles(piece.out, fps, time), handles(pieces[i - 1]?.in, fps, time)];
    return setMembers(base, { ease: easeOf(piece.ease, key), out, ...(i > 0 && { in: into }) });
  });
  const lastIn = handles(pieces.at(-1)!.in, fps, time);
  const ended = lastIn || next.in ? setMembers(next, { in: lastIn }) : next;
  const list = [...keys.slice(0, index), ...made, ended, ...keys.slice(index + 2)];
  return checked(document, clipName, name, curve, list, tolerance ?? UNCHANGED);
}

function isHeld({ track }: TrackCurve, key: PoseKey): boolean {
  return KINDS[track.kind].held || key.value === null || /^\s*hold\s*$/i.test(key.ease ?? '');
}

/** The default is not written where it was not. */
function easeOf(ease: string, key: PoseKey): string | undefined {
  return ease === 'linear' && key.ease === undefined ? undefined : ease;
}

/** The start of the segment, the cut, and every place where its formula changes. */
function piecesAt(curve: TrackCurve, segment: Segment, x: number, tolerance?: number): Piece[] | undefined {
  const { from, to, length, bends, easing } = segment;
  const { kind, channel } = curve.track;
  if (bends) {
    if (kind === 'quat') return undefined; // a key between would have to be a unit, which the curve is not
    const halves = bends.map((bend, k) => cutCubic(cubicOf(bend, to[k]! - from[k]!), x));
    return [0, 1].map((i) =>
      curvePiece(
        halves.map((pair) => pair[i as 0 | 1]),
        length,
      ),
    );
  }
  const pieces = piecesOf(easing);
  const y = easingFunction(easing);
  if (pieces?.kind === 'lines') {
    const at = y(x);
    const left = linesText(pieces.corners, y, [0, x], [0, at]);
    const right = linesText(pieces.corners, y, [x, 1], [at, 1]);
    return left === undefined || right === undefined
      ? undefined
      : [
          { x: 0, ease: left },
          { x, ease: right },
        ];
  }
  const cubics = pieces?.cubics ?? fitted(y, x, from, to, tolerance);
  const cut = cubics?.flatMap((one) => (one.from[0] < x && one.to[0] > x ? cutCubic(one, x) : [one]));
  const isPlain = channel >= 0 || (kind !== 'quat' && kind !== 'color');
  const made = cut?.map((cubic): Piece | undefined => {
    const ease = cubicText(cubic);
    if (ease !== undefined && pieces) return { x: cubic.from[0], ease };
    return isPlain
      ? curvePiece(
          from.map((n, k) => scaled(cubic, to[k]! - n)),
          length,
        )
      : undefined;
  });
  return made?.every((one) => one !== undefined) ? made : undefined;
}

function scaled({ from, out, in: into, to }: Cubic, way: number): Cubic {
  const point = ([x, y]: Cubic['from']): Cubic['from'] => [x, y * way];
  return { from: point(from), out: point(out), in: point(into), to: point(to) };
}

/** Cubics along an easing that is none, within a tolerance in the units of the value. */
function fitted(
  y: (x: number) => number,
  x: number,
  from: readonly number[],
  to: readonly number[],
  tolerance?: number,
): Cubic[] | undefined {
  if (tolerance === undefined || !(tolerance > 0)) return undefined;
  const way = Math.max(...to.map((n, k) => Math.abs(n - from[k]!)));
  const fit = (start: number, end: number, depth: number): Cubic[] => {
    const cubic = cubicThrough(y, start, end);
    const isNear = Array.from({ length: 31 }, (_, i) => (i + 1) / 32).every((t) => {
      const at = start + (end - start) * t;
      const value = cubicAt(cubic.from[1], cubic.out[1], cubic.in[1], cubic.to[1], t);
      return Math.abs(value - y(at)) * way <= tolerance * 0.9;
    });
    const middle = (start + end) / 2;
    return isNear || depth > 10 ? [cubic] : [...fit(start, middle, depth + 1), ...fit(middle, end, depth + 1)];
  };
  return [...fit(0, x, 0), ...fit(x, 1, 0)];
}

/**
 * Keeps what the new key would change around it: `smooth` curves follow their neighbors, so those that would change
 * get handles. Refuses keys that change the result anyway.
 */
function checked(
  document: ReelDocument,
  clip: string,
  name: string,
  before: TrackCurve,
  keys: KeyList,
  most: number,
): KeyList {
  const owner = clipIn(document, clip);
  const fps = fpsIn(document, owner);
  const track = trackIn(owner, name);
  const first = curveOf(document, clip, name, withKeys(track, keys));
  const were = new Map(before.segments.map((segment) => [segment.start, segment]));
  const kept = keepSmooth(first, keys, fps, (at) => were.get(at));
  const after = kept === keys ? first : curveOf(document, clip, name, withKeys(track, kept));
  // Around the change: everything else depends on the same keys as before.
  const seen = new Set(keysOf(track));
  const fresh = new Set(kept.filter((key) => !seen.has(key)).map((key) => secondsAt(key, fps)));
  const isFresh = (i: number) => fresh.has(after.segments[i]?.start ?? NaN);
  const times = after.segments.flatMap(({ start }, i) => {
    if (!isFresh(i - 1) && !isFresh(i) && !isFresh(i + 1)) return [];
    const end = after.segments[i + 1]?.start ?? start;
    return [0.01, 0.13, 0.29, 0.5, 0.63, 0.77, 0.9, 0.99].map((share) => start + (end - start) * share).concat(start);
  });
  for (const time of times) {
    const [was, is] = [before.at(time), after.at(time)];
    const off = was.findIndex((n, k) => Math.abs(n - is[k]!) > most);
    if (off < 0) continue;
    const summary = `${name} would be ${is[off]} instead of ${was[off]} at ${formatTime(time)}`;
    throw refuse('edit/no-exact-cut', `${summary}. Pass a tolerance to fit curves, or a value for the key.`);
  }
  return kept;
}
