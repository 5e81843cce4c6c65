import { keysOf } from '../../reel/resolve/properties.js';
import { BEZIER_KEYWORDS, formatEasing, type Easing } from '../../easing/easing.js';
import { parseEasing } from '../../easing/parse.js';
import type { ClipDocument, KeyDocument, KeyList, ReelDocument, TrackDocument } from '../../reel/document/document.js';
import { isActivity } from '../../reel/resolve/track.js';
import { parseTime, type Time } from '../../time/units.js';
import { KINDS } from '../../value/kind.js';
import { curveOf, durationIn, isWholeShape, textsOf, writeNumbers, type TrackCurve } from '../track-curve.js';
import { keepSmooth } from './keep-smooth.js';
import { setMembers } from '../immutable.js';
import type { Operations, Applied } from '../operation.js';
import { refuse } from '../refusal.js';
import { mapHandles, retime, type Retiming } from './retime-key.js';
import { cellsOf } from './frame-rows.js';
import { formatTime, writeTime } from '../format-values.js';
import {
  clipIn,
  fpsIn,
  isMoment,
  isRow,
  likeIn,
  secondsAt,
  tracksIn,
  withClip,
  withKeys,
  withTracks,
  type FramesKey,
  type PoseKey,
} from '../document-access.js';

/**
 * Reverses a clip: it shows at its start what it showed at its end. Easings are reversed too; `spring()` cannot be and
 * is refused. Reversing twice is the identity, on every pose.
 */
export function reverseClip(document: ReelDocument, { clip: name }: Operations['reverse']): Applied {
  const clip = clipIn(document, name);
  if (clip.parts?.length)
    throw refuse('edit/parts', `${name} has parts, which cannot be reversed. Reverse the clips that they play.`);
  const fps = fpsIn(document, clip);
  const duration = durationIn(document, name);
  const turn: Retiming = { map: (at) => duration - at, factor: 1, like: likeIn(clip) };
  const tracks = Object.entries(tracksIn(clip)).map(([track, written]) => {
    const keys = keysOf(written);
    const late = keys.find((key) => secondsAt(key, fps) > duration);
    if (late)
      throw refuse(
        'edit/after-end',
        `${track} has a key at ${formatTime(late.at)}, after the end of ${name}. Remove it, or extend the clip.`,
      );
    const curve = curveOf(document, name, track);
    return [track, withKeys(written, reverseKeys(document, name, curve, written, turn, duration, fps))] as const;
  });
  const lateCue = clip.cues?.find((cue) => parseTime(cue.at, fps)! > duration);
  if (lateCue)
    throw refuse(
      'edit/after-end',
      `the cue ${lateCue.name} at ${formatTime(lateCue.at)} is after the end of ${name}. Remove it, or extend the clip.`,
    );
  const next = tracks.length === 0 ? clip : withTracks(clip, Object.fromEntries(tracks));
  const reversed = withClip(document, name, reverseRest(next, turn, fps));
  const summary = `reversed ${name}`;
  // Without a duration, the last key sets it: the first key may have been later than 0.
  if (clip.duration !== undefined || isMoment(durationIn(reversed, name), duration)) return [reversed, summary];
  const whole = { ...clipIn(reversed, name), duration: writeTime(duration, turn.like!, fps) };
  return [withClip(document, name, whole), summary];
}

function reverseRest(clip: ClipDocument, turn: Retiming, fps: number): ClipDocument {
  const { cues, spans } = clip;
  const time = (at: Time) => retime(at, fps, turn);
  // What extends beyond the end of the clip is cut there; reversed, it starts with the clip.
  const start = (until: Time): Time => (turn.map(parseTime(until, fps)!) < 0 ? 0 : time(until));
  return setMembers(clip, {
    ...(cues && {
      cues: cues
        .toReversed()
        .map((cue) =>
          cue.until === undefined
            ? { ...cue, at: time(cue.at) }
            : { ...cue, at: start(cue.until), until: time(cue.at) },
        ),
    }),
    ...(spans && {
      spans: Object.fromEntries(
        Object.entries(spans).map(([span, [from, until]]) => [span, [start(until), time(from)]]),
      ),
    }),
  });
}

function reverseKeys(
  document: ReelDocument,
  clip: string,
  curve: TrackCurve,
  written: TrackDocument,
  turn: Retiming,
  duration: number,
  fps: number,
): KeyList {
  const keys = keysOf(written);
  // A hold has become a jump, which `smooth` curves next to it would follow.
  const kept = (turned: KeyList) => {
    const after = curveOf(document, clip, curve.track.name, withKeys(written, turned));
    return keepSmooth(after, turned, fps, (at) => mirrored(curve, duration - at));
  };
  if (isWholeShape(curve.track)) {
    const shapes = reverseShape(curve, keys as readonly PoseKey[], turn, duration, fps, textsOf(document));
    // Of a shape that is never active nothing is left but when it was said to be off.
    return shapes.length > 0
      ? kept(shapes)
      : keys.toReversed().map((key) => ({ ...key, at: retime(key.at, fps, turn) }));
  }
  if (KINDS[curve.track.kind].held || isActivity(curve.track)) return reverseHeld(keys, turn, duration, fps);
  const last = keys.length - 1;
  const turned = keys.toReversed().map((key, i): KeyDocument => {
    // The easing of a segment belongs to its first key, which is now its other one.
    const segment = i < last ? (keys[last - 1 - i] as PoseKey) : (keys[last] as PoseKey);
    const { in: into, out, ...rest } = mapHandles(key as PoseKey, (dt, dv) => [negated(dt, fps), dv]);
    const eased = i < last ? reverseEase(segment.ease, curve.track.name, segment.at) : segment.ease;
    const handles = { ...(out !== undefined && { in: out }), ...(into !== undefined && { out: into }) };
    return setMembers({ ...rest, at: retime(key.at, fps, turn), ...handles }, { ease: eased });
  });
  return kept(turned);
}

/** The segment that ends at a time, as it looks from there. */
function mirrored({ segments }: TrackCurve, end: number) {
  const index = segments.findIndex((_, i) => isMoment(segments[i + 1]?.start ?? Infinity, end));
  const segment = segments[index];
  if (!segment?.bends) return undefined;
  const { from, to, length } = segment;
  const bends = segment.bends.map(([x1, dv1, x2, dv2]) => [1 - x2, dv2, 1 - x1, dv1] as const);
  return { from: to, to: from, length, bends };
}

function negated(time: Time, fps: number): Time {
  return retime(time, fps, { map: (seconds) => -seconds, factor: 1 });
}

/** Held values: each is shown from where it ended to where it began. */
function reverseHeld(keys: KeyList, turn: Retiming, duration: number, fps: number): KeyList {
  const turned = keys.flatMap((key, i): KeyDocument[] => {
    const end = keys[i + 1] ? secondsAt(keys[i + 1]!, fps) : duration;
    const from = retime(keys[i + 1]?.at ?? writeTime(duration, turn.like!, fps), fps, turn);
    if (!isRow(key)) return [{ ...key, at: from }];
    return reverseRow(key, end, from, fps);
  });
  const ordered = turned.sort((a, b) => secondsAt(a, fps) - secondsAt(b, fps));
  // What becomes shown with the last key of all was never seen: its clip is over.
  return ordered.filter((key, i) => i === 0 || !isMoment(secondsAt(key, fps), secondsAt(ordered[i - 1]!, fps)));
}

/** Reverses a row of frames. It is cut, or its last frame lasts longer, when the next key requires it. */
function reverseRow(row: FramesKey, end: number, from: Time, fps: number): KeyDocument[] {
  const [first] = row.frames;
  const way = row.frames[1] < first ? -1 : 1;
  const each = parseTime(row.each, fps)!;
  const start = secondsAt(row, fps);
  const shown = Math.min(cellsOf(row), Math.max(1, Math.ceil((end - start) / each - 1e-6)));
  const last = first + way * (shown - 1);
  const rest = end - (start + shown * each); // > 0: the last frame lasts longer; < 0: it is cut short
  if (Math.abs(rest) < 1e-9) return [{ ...row, at: from, frames: [last, first] }];
  const second = parseTime(from, fps)! + each + rest;
  const still: KeyDocument = { at: from, value: last };
  if (shown === 1) return [still];
  return [still, { ...row, at: writeTime(second, row.at === 0 ? row.each : row.at, fps), frames: [last - way, first] }];
}

/** A moment that no frame sees, in seconds: a sixteenth of a millisecond, which is written in few digits. */
const HAIR = 1 / 16000;

/** Reverses shapes: each interval in which one is active; between two of them it is keyed off. */
function reverseShape(
  { track }: TrackCurve,
  keys: readonly PoseKey[],
  turn: Retiming,
  duration: number,
  fps: number,
  texts: readonly string[],
): KeyList {
  const back = (time: Time) => retime(time, fps, turn);
  const value = (k: number) => writeNumbers(track, track.keys[k]!.value, texts);
  const stretches: KeyDocument[][] = [];
  for (let i = 0; i < keys.length; i++) {
    if (keys[i]!.value === null) continue;
    let j = i;
    while (j + 1 < keys.length && keys[j + 1]!.value !== null) j++;
    const off = keys[j + 1];
    // What becomes active with the last key stays so to the end.
    const ends = off ? off.at : i === j ? writeTime(duration, turn.like!, fps) : keys[j]!.at;
    const isLast = parseTime(ends, fps)! - secondsAt(keys[j]!, fps) < 2 * HAIR;
    const end = isLast ? keys[j]!.at : ends;
    /** What goes with the hits between a key and the next. */
    const dataFrom = (k: number): unknown => keys.slice(i, k + 1).findLast(({ data }) => data !== undefined)?.data;
    const made: PoseKey[] = [];
    if (!isMoment(parseTime(end, fps)!, secondsAt(keys[j]!, fps)))
      made.push({ at: back(end), value: value(j), ease: 'hold' });
    for (let k = j; k >= i; k--) {
      const { in: into, out } = mapHandles(keys[k]!, (dt, dv) => [negated(dt, fps), dv]);
      const before = k > i ? keys[k - 1]! : undefined;
      const begins = k > i && k < j && dataFrom(k - 1) !== dataFrom(k) ? { data: dataFrom(k - 1) ?? null } : undefined;
      const handles = { in: k < j ? out : undefined, out: before ? into : undefined };
      const ease = before && reverseEase(before.ease, track.name, before.at);
      const key: PoseKey = { at: back(keys[k]!.at), value: value(k), ...begins };
      made.push(setMembers(key, { ease, ...handles }));
    }
    const data = dataFrom(j);
    if (data !== undefined) made[0] = { ...made[0]!, data };
    // It was active from that moment on, so now it is active up to and including it: the key that turns it off comes
    // just after.
    if (stretches.length > 0) {
      const behind = parseTime(back(keys[i]!.at), fps)! + HAIR;
      made.push({ at: writeTime(behind, keys[i]!.at === 0 ? turn.like! : keys[i]!.at, fps), value: null });
    }
    stretches.push(made);
    i = j;
  }
  return stretches.toReversed().flat();
}

/** An easing as it looks from the other end: y = 1 − E(1 − x). */
function reverseEase(text: string | undefined, track: string, at: Time): string | undefined {
  if (text === undefined) return undefined;
  const read = parseEasing(text);
  if (!('easing' in read)) return text;
  const { easing } = read;
  if (easing.kind === 'spring') {
    const summary = `${text} at ${formatTime(at)} of ${track} settles at its end and cannot be reversed`;
    throw refuse('edit/no-way-back', `${summary}. Set another easing on that key first.`);
  }
  const turned = reversed(easing);
  return turned === easing ? text : formatEasing(turned);
}

function reversed(easing: Exclude<Easing, { kind: 'spring' }>): Easing {
  switch (easing.kind) {
    case 'hold':
      return { kind: 'steps', n: 1, jump: 'jump-start' };
    case 'family': {
      const [family, ...way] = easing.name.split('-');
      const turned = { in: 'out', out: 'in', 'in-out': 'in-out' }[way.join('-')]!;
      return turned === 'in-out' ? easing : ({ ...easing, name: `${family}-${turned}` } as Easing);
    }
    case 'bezier': {
      const [x1, y1, x2, y2] = easing.points;
      const points = [rest(x2), rest(y2), rest(x1), rest(y1)] as const;
      if (points.every((n, i) => n === easing.points[i])) return easing;
      const keyword = Object.entries(BEZIER_KEYWORDS).find(([, known]) => known.every((n, i) => n === points[i]));
      return { kind: 'bezier', points, ...(keyword && { keyword: keyword[0] as keyof typeof BEZIER_KEYWORDS }) };
    }
    case 'steps': {
      const { n, jump } = easing;
      if (n === 1 && (jump === 'jump-start' || jump === 'start')) return { kind: 'hold' };
      if (jump === 'jump-none' || jump === 'jump-both') return easing;
      return { kind: 'steps', n, jump: jump === 'jump-start' || jump === 'start' ? 'jump-end' : 'jump-start' };
    }
    case 'stops': {
      const stops: number[] = [];
      for (let i = easing.stops.length - 2; i >= 0; i -= 2)
        stops.push(100 * rest(easing.stops[i]! / 100), rest(easing.stops[i + 1]!));
      return { kind: 'stops', stops: stops.map((n) => Number(n.toPrecision(15))) };
    }
    case 'linear':
    case 'smooth':
    case 'curve':
      return easing;
    default:
      return easing satisfies never;
  }
}

/** 1 − n, to the digits that people write, so that twice gives n again. */
function rest(n: number): number {
  return Number((1 - n).toPrecision(15)) + 0;
}
