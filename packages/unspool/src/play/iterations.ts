import { lastTime, runsBack, type Repeat } from '../time/iteration.js';
import type { CueMoment } from './cue-timeline.js';

/**
 * The arithmetic of iterations: where they start, their direction, where they stop. They are counted from 0; a counted
 * clip played backwards starts with its last, an endless one counts down below 0.
 */

export function firstIteration({ count }: Repeat, rate: number): number {
  return rate < 0 && count !== Infinity ? Math.max(0, Math.ceil(count) - 1) : 0;
}

/**
 * The time inside the clip at which a playhead starts: the start; played backwards the end, or for an endless clip the
 * end of an iteration.
 */
export function startOf(duration: number, { mode, count }: Repeat, rate: number): number {
  return rate < 0 ? lastTime(duration, mode, count) : 0;
}

/** The direction of the playhead inside the clip: +1, −1, or 0 when it does not move. */
export function directionOf({ mode }: Repeat, rate: number, pass: number): number {
  return runsBack(mode, pass) ? -Math.sign(rate) : Math.sign(rate);
}

export function isLastIteration({ count }: Repeat, rate: number, pass: number): boolean {
  if (count === Infinity) return false;
  return rate > 0 ? pass >= Math.ceil(count) - 1 : pass <= 0;
}

/** The time inside the clip at which an iteration stops, in the direction of play. */
export function limitOf(duration: number, repeat: Repeat, rate: number, pass: number, direction: number): number {
  if (rate > 0 && isLastIteration(repeat, rate, pass)) return lastTime(duration, repeat.mode, repeat.count);
  return direction > 0 ? duration : 0;
}

/**
 * Returns whether a moment applies to a playhead that arrives at it. At the end of an iteration no interval starts;
 * where it turns around, none ends either.
 */
export function happens({ type }: CueMoment, atLimit: boolean, turns: boolean): boolean {
  return !atLimit || type === 'cue' || (type === 'cue-end' && !turns);
}
