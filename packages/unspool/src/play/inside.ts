import type { Clip } from '../clip/clip.js';
import { toSeconds, type Time } from '../time/units.js';

/** A time inside a clip, checked. */
export function secondsInside(clip: Clip, time: Time, what: string): number {
  const seconds = toSeconds(time, clip.fps, what);
  if (seconds >= 0 && seconds <= clip.duration) return seconds;
  throw new RangeError(
    `${what} ${JSON.stringify(time)} lies outside the clip ${JSON.stringify(clip.name)}, which goes from 0 to ${clip.duration} s. Give a time inside it.`,
  );
}
