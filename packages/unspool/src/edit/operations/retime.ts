import { keysOf } from '../../reel/resolve/properties.js';
import type { ClipDocument, KeyDocument, ReelDocument } from '../../reel/document/document.js';
import { NANOSECOND, parseTime, type Time } from '../../time/units.js';
import { least, most } from '../../value/number.js';
import { durationIn } from '../track-curve.js';
import { mapMembers, setMembers } from '../immutable.js';
import type { Operations, Applied } from '../operation.js';
import { refuse } from '../refusal.js';
import { retime, retimeKey, type Retiming } from './retime-key.js';
import { spellOut } from './explicit-values.js';
import { lengthened, withDuration } from './clip-length.js';
import { changeTracks, selectKeys, namesIn, type SelectedKeys, type Selection } from './select.js';
import { formatDifference, formatNumber, formatTime, secondsOf, writeTime } from '../format-values.js';
import {
  clipIn,
  pluralize,
  fpsIn,
  inOrder,
  likeIn,
  secondsAt,
  tracksIn,
  withClip,
  withKeys,
  withTracks,
} from '../document-access.js';

/** What comes after a selection, and moves along. */
interface Later {
  readonly from: number;
  readonly by: number;
  /** Also cues, spans and parts. */
  readonly cues: boolean;
}

/** How far a ripple reaches: later keys of the same tracks, of the roles of these tracks, or all that is later in the clip. */
type Ripple = 'track' | 'role' | 'clip';

/** The tracks that a ripple reaches, those without selected keys with none. */
function withRipple(chosen: SelectedKeys, ripple: Ripple | undefined): SelectedKeys {
  if (ripple === undefined || ripple === 'track') return chosen;
  const roleOf = (track: string) => track.slice(0, track.indexOf('.'));
  const roles = new Set([...chosen.keys.keys()].map(roleOf));
  const names = Object.keys(tracksIn(chosen.clip)).filter((name) => ripple === 'clip' || roles.has(roleOf(name)));
  return { ...chosen, keys: new Map(names.map((name) => [name, chosen.keys.get(name) ?? []])) };
}

/** The clip with what is chosen at other times; what comes later may be moved along. */
function retimeSelection(
  document: ReelDocument,
  chosen: SelectedKeys,
  retiming: Retiming,
  later?: Later,
): ClipDocument {
  const { fps } = chosen;
  const like = retiming.like ?? likeIn(chosen.clip);
  const whole = { ...retiming, like };
  const shift: Retiming | undefined = later && { map: (seconds) => seconds + later.by, factor: 1, like };
  const isLater = (seconds: number) => later !== undefined && seconds > later.from + NANOSECOND;
  const clip = changeTracks(chosen, (track, indexes, name) => {
    // As a whole and not scaled, its order is the same: thousands of keys are moved in each frame of a drag.
    if (indexes.length === keysOf(track).length && whole.factor === 1 && !later)
      return withKeys(track, shifted(keysOf(track), fps, whole, name));
    const moved = new Set(indexes);
    const move = (key: KeyDocument, i: number): KeyDocument => {
      if (moved.has(i)) return retimeKey(key, fps, whole);
      return shift && isLater(secondsAt(key, fps)) ? retimeKey(key, fps, shift) : key;
    };
    const keys = keysOf(track).map(move);
    const isOrdered = keys.every((key, i) => i === 0 || secondsAt(keys[i - 1]!, fps) < secondsAt(key, fps));
    const ordered = isOrdered ? keys : spellOut(document, chosen.name, name, () => true).map(move);
    return withKeys(track, inOrder(ordered, fps, name));
  });
  if (!chosen.cues && !later?.cues) return clip;
  const covers = (at: Time) => chosen.cues && chosen.covers(parseTime(at, fps)!);
  const time = (at: Time): Time => {
    if (shift && later?.cues && isLater(parseTime(at, fps)!)) return retime(at, fps, shift);
    return covers(at) ? retime(at, fps, whole) : at;
  };
  return retimeRest(clip, time, covers, whole.factor);
}

/** All keys of a track at other times in the same order; `inOrder` says what is wrong where they are not. */
function shifted(keys: readonly KeyDocument[], fps: number, retiming: Retiming, name: string): readonly KeyDocument[] {
  const made = keys.map((key) => retimeKey(key, fps, retiming));
  let before = -Infinity;
  for (const key of made) {
    const at = secondsAt(key, fps);
    if (at < 0 || at - before <= NANOSECOND) return inOrder(made, fps, name);
    before = at;
  }
  return made;
}

/** Cues, spans and parts at other times. */
function retimeRest(
  clip: ClipDocument,
  time: (at: Time) => Time,
  covers: (at: Time) => boolean,
  factor: number,
): ClipDocument {
  const { cues, spans, parts } = clip;
  return setMembers(clip, {
    ...(cues && {
      cues: cues.map((cue) => ({
        ...cue,
        at: time(cue.at),
        ...(cue.until !== undefined && { until: time(cue.until) }),
      })),
    }),
    ...(spans && { spans: mapMembers(spans, ([from, until]) => [time(from), time(until)] as const) }),
    ...(parts && {
      parts: parts.map((part) => ({
        ...part,
        at: time(part.at),
        ...(part.until !== undefined && { until: time(part.until) }),
        ...(factor !== 1 && covers(part.at) && { rate: (part.rate ?? 1) / factor }),
      })),
    }),
  });
}

/** Whether all of a clip is meant: then its duration goes along. */
function isWhole({ tracks, keys, at, from, until }: Selection): boolean {
  return [tracks, keys, at, from, until].every((one) => one === undefined);
}

/** The first and last time of the selection, in seconds. */
function endsOf({ keys, clip, fps, cues, covers }: SelectedKeys): readonly [first: number, last: number] {
  const tracks = tracksIn(clip);
  const times = [...keys].flatMap(([name, indexes]) => indexes.map((i) => secondsAt(keysOf(tracks[name]!)[i]!, fps)));
  const moments = cues ? (clip.cues ?? []).map((cue) => secondsAt(cue, fps)).filter(covers) : [];
  const all = [...times, ...moments];
  return [least(all), most(all)];
}

/** Moves keys earlier or later; with `ripple`, what comes after them in the same tracks moves along. */
export function moveKeys(document: ReelDocument, operation: Operations['move-keys']): Applied {
  const selection = operation as Selection;
  const chosen = selectKeys(document, selection);
  const { fps, name } = chosen;
  const by = secondsOf(operation.by, fps);
  const [first, last] = endsOf(chosen);
  if (first + by < -NANOSECOND) {
    const summary = `the first key would be ${formatTime(writeTime(-first - by, operation.by, fps))} before the start`;
    const most = formatTime(writeTime(first, operation.by, fps));
    throw refuse(
      'edit/before-start',
      `${summary}. ${first > NANOSECOND ? `Move it by at most ${most}.` : 'It is at 0 already.'}`,
    );
  }
  const { ripple } = operation;
  const all = withRipple(chosen, ripple);
  if (ripple && by < 0) expectRoom(all, first, last, by);
  const later = ripple && { from: last, by, cues: ripple === 'clip' || chosen.cues };
  const moved = retimeSelection(document, all, { map: (at) => at + by, factor: 1, like: operation.by }, later);
  const grown = later?.cues ? withDuration(moved, durationIn(document, name) + by, fps) : moved;
  const summary = `moved ${chosen.summary} by ${formatDifference(operation.by)}${rippleText(ripple)}`;
  return [withClip(document, name, lengthened(chosen.clip, grown, fps, operation.lengthen)), summary];
}

function rippleText(ripple: Ripple | undefined): string {
  if (ripple === undefined) return '';
  return ripple === 'clip' ? ', and everything later' : `, and all later keys of the ${ripple}`;
}

/** Keys that are pulled forward must not go past those before them, which stay. */
function expectRoom({ keys, clip, fps }: SelectedKeys, first: number, last: number, by: number): void {
  for (const [name, indexes] of keys) {
    const list = keysOf(tracksIn(clip)[name]!);
    const at = (key: KeyDocument) => secondsAt(key, fps);
    // Of a track without selected keys only what is later moves.
    const pulled = indexes.length > 0 ? first : list.map(at).find((seconds) => seconds > last + NANOSECOND);
    if (pulled === undefined) continue;
    const before = list.findLast((key) => at(key) < pulled - NANOSECOND);
    if (!before || at(before) < pulled + by - NANOSECOND) continue;
    const summary = `${name} has a key at ${formatTime(before.at)}, and later keys would move past it`;
    throw refuse('edit/time-taken', `${summary}. Move by less, or move that key too.`);
  }
}

/** Scales times: slower (a factor above 1) or faster, about a fixed time. */
export function scaleTimes(document: ReelDocument, operation: Operations['scale-times']): Applied {
  const { factor, about, ripple } = operation;
  if (!(factor > 0))
    throw refuse(
      'edit/factor',
      `the factor ${factor} is not greater than 0. Use 2 for twice as long, 0.5 for half, or "reverse".`,
    );
  const selection = operation as Selection;
  const chosen = selectKeys(document, selection);
  const { fps, name } = chosen;
  const whole = isWhole(selection);
  const [first, last] = endsOf(chosen);
  const still = about === undefined ? (whole ? 0 : first) : secondsOf(about, fps);
  const map = (at: number) => still + (at - still) * factor;
  if (map(first) < -NANOSECOND)
    throw refuse(
      'edit/before-start',
      `the first key would be before the start. Scale about a time earlier than ${formatTime(about ?? first)}.`,
    );
  const by = map(last) - last;
  const all = withRipple(chosen, ripple);
  if (ripple && by < 0) expectRoom(all, last, last, by);
  const later = ripple && { from: last, by, cues: ripple === 'clip' || chosen.cues };
  const clip = retimeSelection(document, all, { map, factor }, later);
  const duration = durationIn(document, name);
  const grown = whole
    ? withDuration(clip, map(duration), fps)
    : ripple === 'clip'
      ? withDuration(clip, duration + by, fps)
      : clip;
  const summary = `scaled the times of ${chosen.summary} to ${formatNumber(100 * factor)} %${rippleText(ripple)}`;
  return [withClip(document, name, lengthened(chosen.clip, grown, fps, operation.lengthen)), summary];
}

/** Makes a clip as long as it should be: everything in it is scaled. */
export function fitClip(document: ReelDocument, { clip: name, duration }: Operations['fit']): Applied {
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const [was, is] = [durationIn(document, name), secondsOf(duration, fps)];
  if (!(is > 0))
    throw refuse('edit/duration', `the duration ${formatTime(duration)} is not greater than 0. Use a longer time.`);
  if (!(was > 0)) throw refuse('edit/duration', `${name} has no duration to scale. Add keys first.`);
  const chosen = selectKeys(document, { clip: name });
  const scaled = retimeSelection(document, chosen, { map: (at) => (at * is) / was, factor: is / was });
  return [withClip(document, name, { ...scaled, duration }), `fitted ${name} to ${formatTime(duration)}`];
}

/** Snaps keys to the frames of the clip, or to another grid. */
export function snapKeys(document: ReelDocument, operation: Operations['snap']): Applied {
  const chosen = selectKeys(document, operation);
  const { fps, name } = chosen;
  const { grid = '1f' } = operation;
  const step = secondsOf(grid, fps);
  if (!(step > 0))
    throw refuse('edit/grid', `the grid ${formatTime(grid)} is not greater than 0. Use a time such as "1f".`);
  // One exact division for a grid of frames: 9 / 60 and not 9 · (1 / 60).
  const perSecond = 1 / step;
  const even = Math.abs(perSecond - Math.round(perSecond)) < 1e-9;
  const map = (at: number) =>
    even ? Math.round(at * perSecond) / Math.round(perSecond) : Math.round(at / step) * step;
  const clip = retimeSelection(document, chosen, { map, factor: 1, like: grid });
  // The end of the clip moves too: when all of the clip is selected, and when its last key would be after the end.
  const [end, last] = [durationIn(document, name), endsOf(chosen)[1]];
  const isBehind = last <= end + NANOSECOND && map(last) > end + NANOSECOND;
  const whole = isWhole(operation);
  const grown = whole || isBehind ? withDuration(clip, whole ? Math.max(step, map(end)) : map(last), fps) : clip;
  return [withClip(document, name, grown), `snapped ${chosen.summary} to ${formatTime(grid)}`];
}

/** Gives a clip more time at its end, in which its last pose holds. */
export function extendClip(document: ReelDocument, { clip: name, until }: Operations['extend']): Applied {
  const clip = clipIn(document, name);
  const was = durationIn(document, name);
  if (secondsOf(until, fpsIn(document, clip)) <= was)
    throw refuse(
      'edit/duration',
      `${name} already lasts ${formatTime(writeTime(was, likeIn(clip), fpsIn(document, clip)))}. Use "trim" to shorten it.`,
    );
  return [withClip(document, name, { ...clip, duration: until }), `extended ${name} to ${formatTime(until)}`];
}

/** Lets tracks begin one after the other: the second `by` later than the first, the third twice that. */
export function staggerTracks(document: ReelDocument, operation: Operations['stagger']): Applied {
  const { clip: name, tracks, by } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const step = secondsOf(by, fps);
  const ordered = [...new Set(tracks.flatMap((pattern) => namesIn(clip, [pattern])))];
  const next = { ...tracksIn(clip) };
  ordered.forEach((track, i) => {
    const keys = keysOf(next[track]!).map((key) =>
      retimeKey(key, fps, { map: (at) => at + i * step, factor: 1, like: by }),
    );
    next[track] = withKeys(next[track]!, inOrder(keys, fps, track));
  });
  return [
    withClip(document, name, lengthened(clip, withTracks(clip, next), fps, operation.lengthen)),
    `offset ${pluralize(ordered.length, 'track')} by ${formatDifference(by)} each`,
  ];
}
