import type { Clip } from '../../clip/clip.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';

/** What is asked of a playback: where its playhead is. */
interface Place {
  readonly clip: Clip;
  readonly time: number;
  readonly direction: number;
  readonly active: boolean;
  isWithin(low: number, high: number): boolean;
}

/** Whether a playhead is inside an interval or span of its clip. Throws for a name that is neither. */
export function isInsideOf(place: Place, name: string): boolean {
  const { clip } = place;
  if (isBetween(place, name)) return true;
  if (Object.hasOwn(clip.spans, name)) return false;
  const intervals = clip.cues.filter(({ until }) => until !== undefined).map((cue) => cue.name);
  if (intervals.includes(name)) return false;
  const message = `the clip ${show(clip.name)} has no interval or span ${show(name)}`;
  throw new UnspoolError('play/unknown-moment', message, suggest(name, [...intervals, ...Object.keys(clip.spans)]));
}

/** Whether a playhead is inside an interval or span of this name, if its clip has one. */
export function isBetween(place: Place, name: string): boolean {
  const { cues, spans } = place.clip;
  if (Object.hasOwn(spans, name) && place.isWithin(spans[name]![0], spans[name]![1])) return true;
  for (let i = 0; i < cues.length; i++) {
    const { until } = cues[i]!;
    if (until !== undefined && cues[i]!.name === name && place.isWithin(cues[i]!.at, until)) return true;
  }
  return false;
}

/** Whether a playhead is inside an interval or span, or has passed a cue of this name in its iteration. */
export function hasReached(place: Place, name: string): boolean {
  if (isBetween(place, name)) return true;
  if (!place.active) return false;
  const { cues } = place.clip;
  for (let i = 0; i < cues.length; i++) {
    const { at, until } = cues[i]!;
    const isPast = place.direction < 0 ? place.time <= at : place.time >= at;
    if (until === undefined && cues[i]!.name === name && isPast) return true;
  }
  return false;
}
