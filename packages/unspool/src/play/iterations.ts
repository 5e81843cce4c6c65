import { lastTime, runsBack, type Repeat } from '../time/iteration.js';
import type { CueMoment } from './cue-timeline.js';

/**
 * The passes of a clip, for whoever plays one: where they begin, which way they go, where they stop. Passes are
 * counted from 0; a counted clip played backwards begins with its last, an endless one counts down below 0.
 */

export function firstIteration({ count }: Repeat, rate: number): number {
  return rate < 0 && count !== Infinity ? Math.max(0, Math.ceil(count) - 1) : 0;
}

/** The time inside the clip at which a playhead begins: the start; backwards the end, of an endless clip of a pass. */
export function startOf(duration: number, { mode, count }: Repeat, rate: number): number {
  return rate < 0 ? lastTime(duration, mode, count) : 0;
}

/** +1 or −1: which way the playhead moves inside the clip; 0 when it stands. */
export function directionOf({ mode }: Repeat, rate: number, pass: number): number {
  return runsBack(mode, pass) ? -Math.sign(rate) : Math.sign(rate);
}

export function isLastIteration({ count }: Repeat, rate: number, pass: number): boolean {
  if (count === Infinity) return false;
  return rate > 0 ? pass >= Math.ceil(count) - 1 : pass <= 0;
}

/** The time inside the clip at which a pass stops, in the direction of play. */
export function limitOf(duration: number, repeat: Repeat, rate: number, pass: number, direction: number): number {
  if (rate > 0 && isLastIteration(repeat, rate, pass)) return lastTime(duration, repeat.mode, repeat.count);
  return direction > 0 ? duration : 0;
}

/**
 * Whether a moment happens to a playhead that arrives at it. Where a pass ends, no interval is entered any more; where
 * it turns there, none is left either.
 */
export function happens({ type }: CueMoment, atLimit: boolean, turns: boolean): boolean {
  return !atLimit || type === 'cue' || (type === 'cue-end' && !turns);
}
