import { keysOf } from '../../reel/resolve/properties.js';
import type { ClipDocument, TrackDocument } from '../../reel/document/document.js';
import { NANOSECOND } from '../../time/units.js';
import { writeTime } from '../format-values.js';
import { isRow, likeIn, secondsAt, tracksIn } from '../document-access.js';
import { lengthOf } from './frame-rows.js';

/** A clip with another duration, in seconds; one that only lasts as long as its keys stays so. */
export function withDuration(clip: ClipDocument, seconds: number, fps: number): ClipDocument {
  if (clip.duration === undefined) return clip;
  return { ...clip, duration: writeTime(seconds, clip.duration === 0 ? likeIn(clip) : clip.duration, fps) };
}

/** When the keys of a track are over, in seconds. */
function endOf(track: TrackDocument | undefined, fps: number): number {
  const key = track && keysOf(track).at(-1);
  return key ? secondsAt(key, fps) + (isRow(key) ? lengthOf(key, fps) : 0) : 0;
}

/**
 * A clip that ends with the last key of the tracks that an operation has changed, if that has come to lie after the end.
 * Tracks whose keys were there before, or that it did not change, have no say.
 *
 * @param isWanted whether the operation says `lengthen`; else the clip is as it is
 */
export function lengthened(
  before: ClipDocument,
  after: ClipDocument,
  fps: number,
  isWanted: boolean | undefined,
): ClipDocument {
  if (!isWanted || after.duration === undefined) return after;
  const was = tracksIn(before);
  const duration = secondsAt({ at: after.duration }, fps);
  let end = duration;
  for (const [name, track] of Object.entries(tracksIn(after))) {
    if (track === was[name]) continue;
    const last = endOf(track, fps);
    if (last > Math.max(end, endOf(was[name], fps)) + NANOSECOND) end = last;
  }
  return end > duration ? withDuration(after, end, fps) : after;
}
