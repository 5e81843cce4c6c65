import { keysOf } from '../../reel/resolve/properties.js';
import type { KeyDocument, ReelDocument } from '../../reel/document/document.js';
import type { Time } from '../../time/units.js';
import { curveOf, durationIn, textsOf, writeNumbers } from '../track-curve.js';
import { setMembers } from '../immutable.js';
import type { Operations, Applied } from '../operation.js';
import { refuse } from '../refusal.js';
import { namesIn } from './select.js';
import { writeTime } from '../format-values.js';
import {
  clipIn,
  pluralize,
  fpsIn,
  isMoment,
  isRow,
  likeIn,
  secondsAt,
  tracksIn,
  withClip,
  withKeys,
  withTracks,
} from '../document-access.js';

/**
 * Makes the ends of a loop match: at the end of the clip each track gets the value that it has at 0. With `speed`, the
 * first and last segments become `smooth`, which continues through the wrap.
 */
export function matchEnds(document: ReelDocument, operation: Operations['match-ends']): Applied {
  const { clip: name, tracks: patterns, speed = false } = operation;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const duration = durationIn(document, name);
  if (!(duration > 0)) throw refuse('edit/duration', `${name} has no duration. Add keys or set "duration" first.`);
  const end: Time = clip.duration ?? writeTime(duration, likeIn(clip), fps);
  const next = { ...tracksIn(clip) };
  let count = 0;
  for (const track of namesIn(clip, patterns)) {
    const keys = keysOf(next[track]!);
    const curve = curveOf(document, name, track);
    const { kind } = curve.track;
    const isLoose =
      kind === 'integer' ||
      kind === 'flag' ||
      kind === 'text' ||
      keys.some(isRow) ||
      keys.some((key) => !isRow(key) && key.value === null);
    if (isLoose || (keys.length < 2 && !speed)) continue;
    const value = writeNumbers(curve.track, curve.at(0), textsOf(document));
    const first = secondsAt(keys[0]!, fps) > 0 ? [{ at: 0, value } as KeyDocument] : [];
    const inner = keys.filter((key) => secondsAt(key, fps) < duration && !isMoment(secondsAt(key, fps), duration));
    const last = keys.find((key) => isMoment(secondsAt(key, fps), duration));
    const made = [...first, ...inner, { ...(last ?? { at: end }), value } as KeyDocument];
    const smooth = (key: KeyDocument, i: number): KeyDocument =>
      speed && (i === 0 || i === made.length - 2) && !isRow(key)
        ? setMembers(key, { ease: 'smooth', out: undefined })
        : key;
    next[track] = withKeys(next[track]!, made.map(smooth));
    count++;
  }
  if (count === 0) throw refuse('edit/nothing', `no track of ${name} can be matched. Name other tracks.`);
  return [
    withClip(document, name, withTracks(clip, next)),
    `matched the ends of ${pluralize(count, 'track')} of ${name}`,
  ];
}
