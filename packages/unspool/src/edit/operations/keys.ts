import type { KeyDocument, KeyList, ReelDocument, TrackDocument } from '../../reel/document/document.js';
import { issuesOf } from '../../reel/check/accepts.js';
import { reportIssue } from '../../reel/check/schema-issues.js';
import { isCurve } from '../../reel/resolve/handles.js';
import { keysOf, optionsOf } from '../../reel/resolve/properties.js';
import { parseTime, type Time } from '../../time/units.js';
import { least } from '../../value/number.js';
import { cutTrack } from './cut-track.js';
import { setMembers, withoutMember } from '../immutable.js';
import { schemaOf, type Operations, type Applied } from '../operation.js';
import { refuse, refuseMembers } from '../refusal.js';
import { factsOf } from '../validate-edit.js';
import { cutRow, rowAt } from './frame-rows.js';
import { lengthened } from './clip-length.js';
import { retimeKey } from './retime-key.js';
import { changeKeys, changeTracks, selectKeys, type Selection } from './select.js';
import { spellOut } from './explicit-values.js';
import { formatTime, formatValue, secondsOf, writeTime } from '../format-values.js';
import {
  clipIn,
  pluralize,
  fpsIn,
  inOrder,
  isMoment,
  isRow,
  put,
  secondsAt,
  trackIn,
  tracksIn,
  withClip,
  withKeys,
  withTracks,
  type FramesKey,
  type Tracks,
} from '../document-access.js';

/** A key with a value, or one that lies on the curve, so that nothing shown changes. */
export function insertKey(document: ReelDocument, operation: Operations['insert-key']): Applied {
  const { clip: name, track, at, value, ease, tolerance } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const place = `a key at ${formatTime(at)} of ${track}`;
  const longer = (next: ReelDocument) =>
    withClip(next, name, lengthened(clip, clipIn(next, name), fps, operation.lengthen));
  if (value === undefined) {
    const keys = cutTrack(document, name, track, at, tolerance);
    const more = keys.length - keysOf(trackIn(clip, track)).length - 1;
    const also = more > 0 ? ` and ${more} more` : '';
    const eased = ease === undefined ? keys : setEase(keys, at, fps, ease);
    return [longer(put(document, name, track, eased)), `inserted ${place} on its curve${also}`];
  }
  const tracks = tracksIn(clip);
  const keys = Object.hasOwn(tracks, track) ? keysOf(tracks[track]!) : [];
  const seconds = secondsOf(at, fps);
  if (keys.some((key) => isMoment(secondsAt(key, fps), seconds)))
    throw refuse('edit/time-taken', `there is already ${place}. Set that key, or use another time.`);
  const key = { at, value, ...withEase(ease ?? easeAt(keys, seconds, fps)) } as KeyDocument;
  const next = put(document, name, track, inOrder([...keys, key], fps, track));
  return [longer(next), `inserted ${place}`];
}

/**
 * The value of a track at a time: a key there is set, else one is put in; a row of frames is cut for it. A track that has
 * no key yet, or none as early, gets one at 0 with what was shown, so that nothing before jumps; but for a shape, which is
 * there from its first key on.
 */
export function putKey(document: ReelDocument, operation: Operations['put-key']): Applied {
  const { clip: name, track, at, value, ease, first } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const seconds = secondsOf(at, fps);
  const keys = Object.hasOwn(tracksIn(clip), track) ? keysOf(tracksIn(clip)[track]!) : [];
  const index = keys.findIndex((key) => isMoment(secondsAt(key, fps), seconds));
  const summary = `set ${track} to ${formatValue(value, 24)} at ${formatTime(at)}`;
  if (index >= 0) {
    const key = keys[index]!;
    const set: KeyList = isRow(key) ? replaceFirst(key, value, fps) : [setMembers(key, { value, ...withEase(ease) })];
    return [put(document, name, track, [...keys.slice(0, index), ...set, ...keys.slice(index + 1)]), summary];
  }
  const row = rowAt(keys, seconds, fps);
  if (row >= 0) {
    const cut = cutRow(keys, row, at, seconds, fps);
    return [putKey(put(document, name, track, cut), operation)[0], summary];
  }
  const key = { at, value, ...withEase(ease ?? easeAt(keys, seconds, fps)) } as KeyDocument;
  // A shape is there from its first key on: one at 0 would let it hit before it was switched on.
  const isEarliest =
    seconds > 0 && !isShapeTrack(document, track) && !keys.some((other) => secondsAt(other, fps) < seconds);
  const shown = keys[0] ? (isRow(keys[0]) ? keys[0].frames[0] : keys[0].value) : first;
  const lead: KeyList = isEarliest && shown !== undefined && shown !== null ? [{ at: 0, value: shown }] : [];
  const next = put(document, name, track, inOrder([...lead, ...keys, key], fps, track));
  return [withClip(next, name, lengthened(clip, clipIn(next, name), fps, operation.lengthen)), summary];
}

/** Whether a track keys a whole shape of a role. */
function isShapeTrack({ roles }: ReelDocument, track: string): boolean {
  const dot = track.indexOf('.');
  return Object.hasOwn(roles?.[track.slice(0, dot)]?.shapes ?? {}, track.slice(dot + 1));
}

/** A row of frames whose first shows another cell. */
function replaceFirst(row: FramesKey, value: unknown, fps: number): KeyList {
  const [first, last] = row.frames;
  const key: KeyDocument = { at: row.at, value };
  if (first === last) return [key];
  const next = secondsAt(row, fps) + parseTime(row.each, fps)!;
  return [
    key,
    {
      ...row,
      at: writeTime(next, row.at === 0 ? row.each : row.at, fps),
      frames: [first + Math.sign(last - first), last],
    },
  ];
}

const withEase = (ease: string | undefined) => (ease === undefined ? {} : { ease });

/** The easing of the segment that a new key divides: both halves keep it. */
function easeAt(keys: KeyList, seconds: number, fps: number): string | undefined {
  const before = keys.findLast((key) => secondsAt(key, fps) < seconds);
  return before && !isRow(before) && !isCurve(before) ? before.ease : undefined;
}

function setEase(keys: KeyList, at: Time, fps: number, ease: string): KeyList {
  const seconds = secondsOf(at, fps);
  return keys.map((key) => (isMoment(secondsAt(key, fps), seconds) ? { ...key, ease } : key));
}

/** Removes keys, and tracks that have none left. Cues, spans and parts only on request. */
export function removeKeys(document: ReelDocument, operation: Operations['remove-keys']): Applied {
  const chosen = selectKeys(document, { ...operation, cues: operation.cues ?? false });
  const { clip, keys, covers, fps } = chosen;
  let tracks: Tracks = tracksIn(clip);
  for (const [name, indexes] of keys) {
    const gone = new Set(indexes);
    const summary = spellOut(document, operation.clip, name, (i) => gone.has(i - 1));
    const left = summary.filter((_, i) => !gone.has(i));
    const last = left.at(-1);
    if (last && !isRow(last) && last.out !== undefined) left[left.length - 1] = setMembers(last, { out: undefined });
    const rest = withoutLooseHandles(left, () => true);
    tracks = rest.length === 0 ? withoutMember(tracks, name) : { ...tracks, [name]: withKeys(tracks[name]!, rest) };
  }
  let next = withTracks(clip, tracks);
  let summary = `removed ${chosen.summary}`;
  if (operation.cues && clip.cues) {
    const cues = clip.cues.filter((cue) => !covers(secondsAt(cue, fps)));
    summary = `${summary} and ${pluralize(clip.cues.length - cues.length, 'cue')}`;
    next = setMembers(next, { cues });
  }
  return [withClip(document, operation.clip, next), summary];
}

/** Keys without unused handles: those that belong to no curve are removed where the operation intends it. */
export function withoutLooseHandles(keys: KeyList, isMeant: (index: number) => boolean): KeyList {
  return keys.map((key, i) =>
    isMeant(i) && !isRow(key) && key.in !== undefined && !isCurve(keys[i - 1])
      ? setMembers(key, { in: undefined })
      : key,
  );
}

/** Sets the value, the easing, the handles or the data of keys. */
export function setKeys(document: ReelDocument, operation: Operations['set-keys']): Applied {
  const chosen = selectKeys(document, { ...operation, cues: false });
  const { value, ease, in: into, out, data } = operation;
  const given = { value, ease, in: into, out, data };
  const names = Object.keys(given).filter((name) => given[name as keyof typeof given] !== undefined);
  if (names.length === 0) throw refuse('edit/operation', 'nothing to set. Pass a value, ease, in, out or data.');
  const fromNull = (given: unknown) => (given === null ? undefined : given);
  const clip = changeKeys(chosen, (key, track) => {
    if (isRow(key))
      throw refuse('edit/row', `${track} has a row of frames at ${formatTime(key.at)}. Split it into keys first.`);
    const members: Record<string, unknown> = {};
    if (value !== undefined) members['value'] = value;
    if (ease !== undefined) members['ease'] = fromNull(ease);
    if (into !== undefined) members['in'] = fromNull(into);
    if (out !== undefined) members['out'] = fromNull(out);
    if (data !== undefined) members['data'] = fromNull(data);
    // Handles belong to curves: another easing leaves none behind.
    if (ease !== undefined && !isCurve({ ...key, ease: ease ?? 'linear' })) members['out'] = fromNull(out);
    return setMembers(key, members);
  });
  const summary = names.map((name) =>
    name === 'ease' ? (ease ?? 'linear') : name === 'value' ? formatValue(value, 24) : name,
  );
  const next = changeTracks({ ...chosen, clip }, (track, indexes) => {
    const set = new Set(indexes);
    return withKeys(
      track,
      withoutLooseHandles(keysOf(track), (i) => set.has(i - 1)),
    );
  });
  return [withClip(document, chosen.name, next), `set ${chosen.summary} to ${summary.join(', ')}`];
}

/** Copied keys as plain JSON, for the operation `paste`. Times are relative to the first key. */
export interface Copied {
  readonly fps: number;
  /** The keys, by track. */
  readonly tracks: Readonly<Record<string, TrackDocument>>;
}

/**
 * Copies the selected keys.
 *
 * @throws UnspoolError for a document with errors, and for a selection that is empty or names what is not there
 */
export function copyKeys(document: ReelDocument, selection: Selection): Copied {
  factsOf(document);
  // What can be removed can be copied.
  const chosen = { ...selection, do: 'remove-keys' };
  const reported = refuseMembers('edit/selection');
  for (const issue of issuesOf(schemaOf(chosen.do)!, chosen)) reportIssue(issue, chosen, reported);
  const { clip, keys, fps } = selectKeys(document, { ...selection, cues: false });
  const all = [...keys].map(
    ([name, indexes]) => [name, indexes.map((i) => keysOf(tracksIn(clip)[name]!)[i]!)] as const,
  );
  const first = least(all.flatMap(([, list]) => list.map((key) => secondsAt(key, fps))));
  const tracks = all.map(([name, list]) => {
    const moved = list.map((key) => retimeKey(key, fps, { map: (at) => at - first, factor: 1 }));
    return [name, withKeys(tracksIn(clip)[name]!, moved)] as const;
  });
  return { fps, tracks: Object.fromEntries(tracks) };
}

/** Pastes copied keys at a time, in their own tracks or those of other roles. Existing keys there are replaced. */
export function paste(document: ReelDocument, operation: Operations['paste']): Applied {
  const { clip: name, at, tracks: copied, roles = {} } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const from = operation.fps ?? fps;
  const start = secondsOf(at, fps);
  const tracks: Record<string, Tracks[string]> = { ...tracksIn(clip) };
  let count = 0;
  let replaced = 0;
  for (const [source, track] of Object.entries(copied)) {
    const role = source.slice(0, source.indexOf('.'));
    const target = Object.hasOwn(roles, role) ? roles[role]! + source.slice(role.length) : source;
    const keys = keysOf(track).map((key) => {
      const moved = toFps(retimeKey(key, from, { map: (seconds) => seconds, factor: 1 }), from, fps);
      return retimeKey(moved, fps, { map: (seconds) => seconds + start, factor: 1, like: at });
    });
    const there = Object.hasOwn(tracks, target) ? keysOf(tracks[target]!) : [];
    const taken = (key: KeyDocument) => keys.some((one) => isMoment(secondsAt(one, fps), secondsAt(key, fps)));
    const kept = there.filter((key) => !taken(key));
    replaced += there.length - kept.length;
    count += keys.length;
    const owner = tracks[target] ?? (optionsOf(track) ? track : keys);
    tracks[target] = withKeys(owner, inOrder([...kept, ...keys], fps, target));
  }
  const also = replaced > 0 ? `, replacing ${replaced}` : '';
  return [
    withClip(document, name, lengthened(clip, withTracks(clip, tracks), fps, operation.lengthen)),
    `pasted ${pluralize(count, 'key')} at ${formatTime(at)} of ${name}${also}`,
  ];
}

/** Frames of one rate as frames of another. */
function toFps(key: KeyDocument, from: number, to: number): KeyDocument {
  if (from === to) return key;
  const time = (one: Time): Time =>
    typeof one === 'string' && one.endsWith('f') ? writeTime(parseTime(one, from)!, one, to) : one;
  return isRow(key) ? { ...key, at: time(key.at), each: time(key.each) } : { ...key, at: time(key.at) };
}
