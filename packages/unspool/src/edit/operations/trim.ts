import { keysOf } from '../../reel/resolve/properties.js';
import type { ClipDocument, KeyDocument, KeyList, ReelDocument } from '../../reel/document/document.js';
import { NANOSECOND, parseTime, type Time } from '../../time/units.js';
import { curveOf, durationIn, isWholeShape } from '../track-curve.js';
import { cutTrack } from './cut-track.js';
import { setMembers, withoutMember } from '../immutable.js';
import type { Operations, Applied } from '../operation.js';
import { refuse } from '../refusal.js';
import { canLoad } from '../validate-edit.js';
import { retime, retimeKey, type Retiming } from './retime-key.js';
import { spellOut } from './explicit-values.js';
import { formatTime, secondsOf, writeTime } from '../format-values.js';
import {
  clipIn,
  fpsIn,
  isMoment,
  isRow,
  likeIn,
  put,
  secondsAt,
  trackIn,
  tracksIn,
  withClip,
  type PoseKey,
} from '../document-access.js';

/**
 * Keeps one range of a clip and removes the rest. What is shown in the range does not change; it starts at 0. Cues
 * outside are removed, intervals and spans that cross an end are cut there.
 */
export function trimClip(document: ReelDocument, operation: Operations['trim']): Applied {
  const { clip: name, tolerance } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const duration = durationIn(document, name);
  const from: Time = operation.from ?? 0;
  const until: Time = operation.until ?? clip.duration ?? writeTime(duration, likeIn(clip), fps);
  const [start, end] = [secondsOf(from, fps), secondsOf(until, fps)];
  if (start < 0 || end > duration + NANOSECOND || !(start < end - NANOSECOND)) {
    const summary = `${formatTime(from)} to ${formatTime(until)} is not a range of ${name}, which lasts ${formatTime(writeTime(duration, likeIn(clip), fps))}`;
    throw refuse('edit/stretch', `${summary}. Use two times inside the clip, in order.`);
  }
  const shift: Retiming = { map: (at) => at - start, factor: 1, like: until };
  let cut = document;
  for (const track of Object.keys(tracksIn(clip))) {
    cut = canLoad(cut, trimTrack(cut, name, track, [from, start], [until, end], shift, tolerance));
  }
  const rest = trimRest(clipIn(cut, name), name, start, end, shift, fps);
  const length = writeTime(end - start, clip.duration ?? until, fps);
  return [
    withClip(document, name, { ...rest, duration: length }),
    `trimmed ${name} to ${formatTime(from)} – ${formatTime(until)}`,
  ];
}

function trimTrack(
  document: ReelDocument,
  name: string,
  track: string,
  [from, start]: readonly [Time, number],
  [until, end]: readonly [Time, number],
  shift: Retiming,
  tolerance: number | undefined,
): ReelDocument {
  // A shape is active between its keys alone: there is nothing to be cut outside them.
  const isShape = isWholeShape(curveOf(document, name, track).track);
  const fps = fpsIn(document, clipIn(document, name));
  const keysNow = (doc: ReelDocument): KeyList => keysOf(trackIn(clipIn(doc, name), track));
  const cutAt = (doc: ReelDocument, time: Time, seconds: number): ReelDocument => {
    const keys = keysNow(doc);
    const [first, last] = [secondsAt(keys[0]!, fps), secondsAt(keys.at(-1)!, fps)];
    if (keys.some((key) => isMoment(secondsAt(key, fps), seconds))) return doc;
    if (seconds > last && isShape) return isLoneLast(keys) && seconds === start ? goOn(doc, name, track, time) : doc;
    if (seconds > last && !isRow(keys.at(-1)!)) return doc;
    if (seconds < first && (isShape || !(first > end))) return doc;
    return canLoad(doc, put(doc, name, track, cutTrack(doc, name, track, time, tolerance)));
  };
  const cut = cutAt(cutAt(document, until, end), from, start);
  const keys = keysNow(cut);
  const kept: KeyDocument[] = keys.filter(
    (key) => secondsAt(key, fps) >= start - NANOSECOND && secondsAt(key, fps) <= end + NANOSECOND,
  );
  // All of it is before the range: its last value continues.
  const held = kept.length > 0 || isShape ? kept : [lastBefore(keys, start, from, fps)];
  // The last key of a range is its end: alone it would be a beginning.
  if (isShape && kept.length === 1 && kept[0] === keys.at(-1) && !isLoneLast(keys)) held.pop();
  // The first active key repeats the members that earlier ones have set.
  const on = isShape ? held.findIndex((key) => !isRow(key) && key.value !== null) : -1;
  if (on >= 0) held[on] = firstOfShape(cut, name, track, keys.indexOf(held[on]!));
  if (held.length === 0) {
    const clip = clipIn(document, name);
    return withClip(document, name, { ...clip, tracks: withoutMember(tracksIn(clip), track) });
  }
  return put(
    document,
    name,
    track,
    held.map((key) => retimeKey(key, fps, shift)),
  );
}

/** Whether a shape becomes active with its last key, and so stays active to the end. */
export function isLoneLast(keys: KeyList): boolean {
  const [before, last] = [keys.at(-2), keys.at(-1)] as readonly (PoseKey | undefined)[];
  return last !== undefined && last.value !== null && (before === undefined || before.value === null);
}

/** A shape that stays active after its last key, with a key there. */
function goOn(document: ReelDocument, name: string, track: string, at: Time): ReelDocument {
  const keys = keysOf(trackIn(clipIn(document, name), track));
  const summary = spellOut(document, name, track, (i) => i === keys.length - 1) as readonly PoseKey[];
  const { value, data } = summary.at(-1)!;
  const off: KeyDocument = { at: summary.at(-1)!.at, value: null };
  const on: KeyDocument = { at, value, ...(data !== undefined && { data }) };
  return canLoad(document, put(document, name, track, [...summary.slice(0, -1), off, on]));
}

/** The first key that is kept of a shape: it repeats what earlier ones have set, and continues their activation. */
function firstOfShape(document: ReelDocument, name: string, track: string, index: number): KeyDocument {
  const keys = spellOut(document, name, track, (i) => i === index) as readonly PoseKey[];
  const key = keys[index]!;
  const before = keys.slice(0, index);
  const active = before.slice(before.findLastIndex(({ value }) => value === null) + 1);
  const data = key.data ?? active.findLast((one) => one.data !== undefined)?.data;
  return key.value === null || data === undefined ? key : { ...key, data };
}

function lastBefore(keys: KeyList, start: number, from: Time, fps: number): KeyDocument {
  const last = keys.findLast((key) => secondsAt(key, fps) < start)!;
  if (isRow(last)) return { at: from, value: last.frames[1] };
  return { at: from, value: last.value };
}

function trimRest(
  clip: ClipDocument,
  name: string,
  start: number,
  end: number,
  shift: Retiming,
  fps: number,
): ClipDocument {
  const { cues, spans, parts } = clip;
  const seconds = (time: Time) => parseTime(time, fps)!;
  /** An interval limited to the range, or `undefined`. */
  const inside = (from: Time, until: Time): readonly [Time, Time] | undefined => {
    const [first, last] = [seconds(from), seconds(until)];
    if (last <= start + NANOSECOND || first >= end - NANOSECOND) return undefined;
    const low = first < start ? (0 as Time) : retime(from, fps, shift);
    return [low, last > end ? writeTime(end - start, until, fps) : retime(until, fps, shift)];
  };
  const keptCues = cues?.flatMap((cue) => {
    if (cue.until === undefined) {
      const at = seconds(cue.at);
      const isInside = at >= start - NANOSECOND && at <= end + NANOSECOND;
      return isInside ? [{ ...cue, at: retime(cue.at, fps, shift) }] : [];
    }
    const kept = inside(cue.at, cue.until);
    return kept ? [{ ...cue, at: kept[0], until: kept[1] }] : [];
  });
  const keptSpans = Object.entries(spans ?? {}).flatMap(([span, [from, until]]) => {
    const kept = inside(from, until);
    return kept ? [[span, kept] as const] : [];
  });
  const keptParts = parts?.map((part) => {
    const at = seconds(part.at);
    if (at < start - NANOSECOND || at > end)
      throw refuse(
        'edit/part-cut',
        `the part ${part.clip} at ${formatTime(part.at)} of ${name} would be cut. Move or remove it first.`,
      );
    return {
      ...part,
      at: retime(part.at, fps, shift),
      ...(part.until !== undefined && { until: retime(part.until, fps, shift) }),
    };
  });
  return setMembers(clip, {
    ...(cues && { cues: keptCues }),
    ...(spans && { spans: Object.fromEntries(keptSpans) }),
    ...(parts && { parts: keptParts }),
  });
}
