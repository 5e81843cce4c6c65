import type { Clip } from '../../clip/clip.js';
import { MAX_RATE } from '../../reel/document/limits.js';
import { namedMoment } from '../../reel/resolve/moment.js';
import { parseTime, toSeconds, type Time } from '../../time/units.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show, showRange } from '../../errors/show.js';

/** A time from 0 to the end of a clip; checked. */
export function secondsInside(clip: Clip, time: Time, what: string): number {
  const seconds = toSeconds(time, clip.fps, what);
  if (seconds >= 0 && seconds <= clip.duration) return seconds;
  throw new RangeError(
    `${what} ${show(time)} is outside the clip ${show(clip.name)}, which lasts from ${showRange(0, clip.duration)}. Use a time inside it.`,
  );
}

/** A length of time, 0 or more; checked. */
export function secondsLong(fps: number, time: Time, what: string): number {
  const seconds = toSeconds(time, fps, what);
  if (seconds >= 0) return seconds;
  throw new RangeError(`${what} ${show(time)} is not a valid length of time. Use 0 or more.`);
}

/**
 * A moment of a clip: a time, or the name of a cue or of a span.
 *
 * @param edge of a span: 0 its start, 1 its end
 */
export function momentInside(clip: Clip, moment: Time | (string & {}), what: string, edge: 0 | 1): number {
  if (typeof moment !== 'string' || parseTime(moment, clip.fps) !== undefined)
    return secondsInside(clip, moment as Time, what);
  const at = namedMoment(clip, moment, edge);
  if (at !== undefined) return at;
  const known = [...clip.cues.map(({ name }) => name), ...Object.keys(clip.spans)];
  const message = `the clip ${show(clip.name)} has no cue or span ${show(moment)} for ${what}`;
  throw new UnspoolError('play/unknown-moment', message, suggest(moment, known));
}

/** Whether a clip has a cue or a span of a name. */
export function hasMoment(clip: Clip, name: string): boolean {
  return namedMoment(clip, name, 0) !== undefined;
}

/** Like `momentInside`, limited to what is played of the clip. */
export function momentWithin(
  clip: Clip,
  moment: Time | (string & {}),
  what: string,
  edge: 0 | 1,
  { low, high }: { readonly low: number; readonly high: number },
): number {
  const at = momentInside(clip, moment, what, edge);
  if (at >= low && at <= high) return at;
  throw new RangeError(
    `${what} ${show(moment)} is outside the played range of ${show(clip.name)}, ${showRange(low, high)}. Use a time inside it.`,
  );
}

/** The part of a clip that a span names, from and until in seconds; all of it without one. */
export function windowOf(clip: Clip, span: string | undefined): readonly [low: number, high: number] {
  if (span === undefined) return [0, clip.duration];
  if (Object.hasOwn(clip.spans, span)) return clip.spans[span]!;
  const message = `the clip ${show(clip.name)} has no span ${show(span)}`;
  throw new UnspoolError('play/unknown-span', message, suggest(span, Object.keys(clip.spans)));
}

export function weightOf(weight: number): number {
  if (typeof weight === 'number' && weight >= 0 && weight <= 1) return weight;
  throw new UnspoolError('play/weight', `the weight ${show(weight)} is not from 0 to 1`, 'use a number from 0 to 1');
}

export function rateOf(rate: number): number {
  if (typeof rate === 'number' && Math.abs(rate) <= MAX_RATE) return rate;
  throw new UnspoolError('play/rate', `${show(rate)} is not a valid rate`, 'use a number within ±1e6, such as 1');
}
