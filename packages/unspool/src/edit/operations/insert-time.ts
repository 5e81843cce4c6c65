import { keysOf } from '../../reel/resolve/properties.js';
import type { ClipDocument, KeyDocument, KeyList, ReelDocument } from '../../reel/document/document.js';
import { NANOSECOND, parseTime, type Time } from '../../time/units.js';
import { curveOf, durationIn, isWholeShape, textsOf, writeNumbers } from '../track-curve.js';
import { mapMembers, setMembers, withoutMember } from '../immutable.js';
import type { Applied, Operations } from '../operation.js';
import { Refusal, refuse } from '../refusal.js';
import { cutTrack } from './cut-track.js';
import { withoutLooseHandles } from './keys.js';
import { retime, retimeKey, type Retiming } from './retime-key.js';
import { cutRow, rowAt } from './frame-rows.js';
import { spellOut } from './explicit-values.js';
import { namesIn } from './select.js';
import { isLoneLast } from './trim.js';
import { lengthened, withDuration } from './clip-length.js';
import { formatTime, secondsOf, writeTime } from '../format-values.js';
import {
  clipIn,
  fpsIn,
  isMoment,
  isRow,
  likeIn,
  pluralize,
  put,
  secondsAt,
  trackIn,
  tracksIn,
  withClip,
  type PoseKey,
} from '../document-access.js';

/**
 * Inserts empty time: everything at `at` or later comes later by `by`. Segments, intervals, spans and parts that run
 * across become longer; a row of frames is split, and the frame that is shown there lasts.
 */
export function insertTime(document: ReelDocument, operation: Operations['insert-time']): Applied {
  const { clip: name, at, by, tracks } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const [start, length] = [secondsOf(at, fps), secondsOf(by, fps)];
  expectInside(document, name, at, start);
  if (!(length > 0)) throw refuse('edit/time', `${formatTime(by)} is not a length of time. Use a time greater than 0.`);
  const later: Retiming = { map: (seconds) => seconds + length, factor: 1, like: by };
  const isLater = (seconds: number) => seconds >= start - NANOSECOND;
  const names = namesIn(clip, tracks);
  const next = names.reduce((doc, track) => {
    const keys = rowsCut(keysOf(trackIn(clip, track)), at, start, fps);
    const moved = keys.map((key) => (isLater(secondsAt(key, fps)) ? retimeKey(key, fps, later) : key));
    return put(doc, name, track, moved);
  }, document);
  const made = clipIn(next, name);
  const summary = `inserted ${formatTime(by)} at ${formatTime(at)} of ${about(name, names, tracks)}`;
  if (tracks) return [withClip(document, name, lengthened(clip, made, fps, true)), summary];
  // What ends at the moment is over before the new time; what begins there begins after it.
  const time = (one: Time, isEnd: boolean): Time => {
    const seconds = parseTime(one, fps)!;
    return (isEnd ? seconds > start + NANOSECOND : isLater(seconds)) ? retime(one, fps, later) : one;
  };
  const whole = withDuration(mapTimes(made, time), durationIn(document, name) + length, fps);
  return [withClip(document, name, whole), summary];
}

/**
 * Removes a range of time: what is inside goes, what is later comes earlier. A segment over the range becomes shorter;
 * where keys in it are lost, one at its end keeps all that is shown later as it is.
 */
export function removeTime(document: ReelDocument, operation: Operations['remove-time']): Applied {
  const { clip: name, from, until, tracks } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const [start, end] = [secondsOf(from, fps), secondsOf(until, fps)];
  const duration = durationIn(document, name);
  expectInside(document, name, from, start);
  expectInside(document, name, until, end);
  if (!(end - start > NANOSECOND)) {
    const summary = `${formatTime(from)} to ${formatTime(until)} is not a range of ${name}`;
    throw refuse('edit/stretch', `${summary}. Use two times in order.`);
  }
  if (!tracks && end - start > duration - NANOSECOND)
    throw refuse('edit/stretch', `nothing of ${name} would be left. Remove less, or remove the clip.`);
  const earlier: Retiming = { map: (at) => at - (end - start), factor: 1, like: until };
  const names = namesIn(clip, tracks);
  let gone = 0;
  const next = names.reduce((doc, track) => {
    const was = keysOf(trackIn(clip, track));
    const keys = keptKeys(document, name, track, [from, start], [until, end]);
    gone += was.filter((key) => inRange(secondsAt(key, fps), start, end)).length;
    if (keys.length === 0) {
      const owner = clipIn(doc, name);
      return withClip(doc, name, { ...owner, tracks: withoutMember(tracksIn(owner), track) });
    }
    const moved = keys.map((key) => (secondsAt(key, fps) >= end - NANOSECOND ? retimeKey(key, fps, earlier) : key));
    return put(doc, name, track, moved);
  }, document);
  const made = clipIn(next, name);
  const also = gone > 0 ? `, with ${pluralize(gone, 'key')}` : '';
  const summary = `removed ${formatTime(from)} – ${formatTime(until)} of ${about(name, names, tracks)}${also}`;
  if (tracks) return [withClip(document, name, made), summary];
  const time = (one: Time): Time => {
    const seconds = parseTime(one, fps)!;
    if (seconds >= end - NANOSECOND) return retime(one, fps, earlier);
    return seconds > start ? from : one;
  };
  const whole = withDuration(mapTimes(withoutInside(made, fps, start, end), time), duration - (end - start), fps);
  return [withClip(document, name, whole), summary];
}

const inRange = (seconds: number, start: number, end: number) =>
  seconds >= start - NANOSECOND && seconds < end - NANOSECOND;

function about(name: string, names: readonly string[], tracks: readonly string[] | undefined): string {
  return tracks ? (names.length === 1 ? names[0]! : pluralize(names.length, 'track')) : name;
}

function expectInside(document: ReelDocument, name: string, time: Time, seconds: number): void {
  const clip = clipIn(document, name);
  const duration = durationIn(document, name);
  if (seconds >= 0 && seconds <= duration + NANOSECOND) return;
  const lasts = formatTime(writeTime(duration, likeIn(clip), fpsIn(document, clip)));
  throw refuse('edit/stretch', `${formatTime(time)} is outside ${name}, which lasts ${lasts}. Use a time inside it.`);
}

/** Keys with no row of frames across a time: what is shown there does not change. */
function rowsCut(keys: KeyList, time: Time, seconds: number, fps: number): KeyList {
  const row = rowAt(keys, seconds, fps);
  return row < 0 ? keys : cutRow(keys, row, time, seconds, fps);
}

/** The keys before a range and those from its end on, where one is added if keys inside it are lost. */
function keptKeys(
  document: ReelDocument,
  name: string,
  track: string,
  [first, start]: readonly [Time, number],
  [until, end]: readonly [Time, number],
): KeyList {
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const at = (key: KeyDocument) => secondsAt(key, fps);
  const cut = rowsCut(rowsCut(keysOf(trackIn(clip, track)), until, end, fps), first, start, fps);
  if (!cut.some((key) => inRange(at(key), start, end))) return cut;
  // Keys of a shape from the range on repeat what lost ones have set.
  const isFrom = (i: number) => at(cut[i]!) >= start - NANOSECOND;
  const spelled = spellOut(put(document, name, track, cut), name, track, isFrom);
  const keys = withData(spelled, isFrom);
  const doc = put(document, name, track, keys);
  const before = keys.filter((key) => at(key) < start - NANOSECOND);
  const from = (list: KeyList) => list.filter((key) => at(key) >= end - NANOSECOND);
  const after = from(keys);
  const previous = keys.findLast((key) => at(key) < end)!;
  const curve = curveOf(doc, name, track);
  const isShape = isWholeShape(curve.track);
  const across = (): KeyList => {
    if (after[0] && isMoment(at(after[0]), end)) return joined(before, after);
    if (after.length > 0 && (isRow(previous) || previous.value !== null))
      return joined(before, from(cutAnyhow(doc, name, track, until)));
    if (isShape) return shapeAcross(before, after, keys, until);
    return [...before, { at: until, value: writeNumbers(curve.track, curve.at(end), textsOf(document)) }];
  };
  if (!isShape) return across();
  const duration = durationIn(document, name);
  return withSameEnd(keys, across(), isMoment(duration, end) ? undefined : writeTime(duration, until, fps));
}

/** Keys before a range and after it, without the handles of what was between. */
function joined(before: readonly KeyDocument[], after: readonly KeyDocument[]): KeyList {
  return withoutLooseHandles([...before, ...after], (i) => i === before.length);
}

/** A key on the curve. Where no part of an easing is an easing, the rest of the segment has the whole of it. */
function cutAnyhow(document: ReelDocument, name: string, track: string, at: Time): KeyList {
  try {
    return cutTrack(document, name, track, at);
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== 'edit/no-exact-cut') throw error;
    const { track: resolved, at: valueAt } = curveOf(document, name, track);
    const fps = fpsIn(document, clipIn(document, name));
    const seconds = secondsOf(at, fps);
    const keys = keysOf(trackIn(clipIn(document, name), track));
    const index = keys.findLastIndex((key) => secondsAt(key, fps) < seconds);
    const key = setMembers(keys[index] as PoseKey, {
      at,
      value: writeNumbers(resolved, valueAt(seconds), textsOf(document)),
      in: undefined,
    });
    return keys.toSpliced(index + 1, 0, key);
  }
}

/** A shape after whose last keys are lost, or which is off where the range ends: a key there says what it is. */
function shapeAcross(
  before: readonly KeyDocument[],
  after: readonly KeyDocument[],
  keys: KeyList,
  until: Time,
): KeyList {
  const last = before.at(-1) as PoseKey | undefined;
  if (after.length === 0 && isLoneLast(keys)) return [...before, { ...(keys.at(-1) as PoseKey), at: until }];
  return last && last.value !== null ? [...before, { at: until, value: null }, ...after] : [...before, ...after];
}

/** Keys of a shape with the data that is in force at them; other keys have none. */
function withData(keys: KeyList, isMeant: (index: number) => boolean): KeyList {
  let data: unknown;
  return keys.map((key, i) => {
    if (isRow(key) || key.value === null) data = undefined;
    else if (key.data !== undefined) data = key.data;
    else if (data !== undefined && isMeant(i)) return { ...key, data };
    return key;
  });
}

/**
 * A last key alone means that a shape is active to the end of the clip, any other is an end itself: what was one stays it.
 *
 * @param end the end of the clip, if it is later than the range
 */
function withSameEnd(was: KeyList, keys: KeyList, end: Time | undefined): KeyList {
  const last = keys.at(-1) as PoseKey | undefined;
  if (!last || isLoneLast(keys) === isLoneLast(was)) return keys;
  if (isLoneLast(keys)) return keys.slice(0, -1);
  return last.value === null || end === undefined ? keys : [...keys, { ...last, at: end }];
}

/** The cues, spans and parts that are not wholly inside a range. */
function withoutInside(clip: ClipDocument, fps: number, start: number, end: number): ClipDocument {
  const seconds = (time: Time) => parseTime(time, fps)!;
  const isGone = (at: Time, until: Time | undefined) =>
    inRange(seconds(at), start, end) && (until === undefined || seconds(until) <= end + NANOSECOND);
  const { cues, spans, parts } = clip;
  return setMembers(clip, {
    ...(cues && { cues: cues.filter(({ at, until }) => !isGone(at, until)) }),
    ...(spans && {
      spans: Object.fromEntries(Object.entries(spans).filter(([, [from, until]]) => !isGone(from, until))),
    }),
    // A part without a given end is as long as its clip: it goes with its start.
    ...(parts && { parts: parts.filter(({ at, until }) => !isGone(at, until)) }),
  });
}

/** Cues, spans and parts at other times. */
function mapTimes(clip: ClipDocument, time: (one: Time, isEnd: boolean) => Time): ClipDocument {
  const { cues, spans, parts } = clip;
  const one = <T extends { readonly at: Time; readonly until?: Time | undefined }>(listed: T): T => ({
    ...listed,
    at: time(listed.at, false),
    ...(listed.until !== undefined && { until: time(listed.until, true) }),
  });
  return setMembers(clip, {
    ...(cues && { cues: cues.map(one) }),
    ...(spans && { spans: mapMembers(spans, ([from, until]) => [time(from, false), time(until, true)] as const) }),
    ...(parts && { parts: parts.map(one) }),
  });
}
