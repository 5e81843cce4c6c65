import {
  directionOf,
  firstIteration,
  isLastIteration,
  lapOf,
  limitOf,
  nextStartOf,
  startOf,
  type Repeat,
} from '../../time/iteration.js';
import { snapToMoment } from '../../time/units.js';

/** A range of the outer clip in which the playhead of a part moves evenly from one time of the inner clip to another. */
export interface Run {
  /** Seconds of the outer clip. */
  readonly start: number;
  readonly end: number;
  /** Seconds of the inner clip. */
  readonly from: number;
  readonly to: number;
  /** Seconds of the inner clip in one of the outer, > 0. */
  readonly speed: number;
  /** How often what accumulates has been gained before: below 0 where it runs back. */
  readonly lap: number;
}

/**
 * How a part runs through its clip: a run for each iteration, in order. The last one is cut at `until`. There are as
 * many as fit: the caller has counted them.
 *
 * @param duration seconds of one iteration, > 0
 * @param rate     not 0; below 0 it begins at the end of a counted clip, or of the first iteration of an endless one
 * @param until    seconds of the outer clip, finite where the clip is endless
 * @param fps      of the outer clip: where an iteration begins on a frame, it does so exactly
 */
export function runsOf(duration: number, repeat: Repeat, rate: number, at: number, until: number, fps: number): Run[] {
  const speed = Math.abs(rate);
  const runs: Run[] = [];
  let iteration = firstIteration(repeat, rate);
  let from = startOf(duration, repeat, rate);
  let start = at;
  let first = 0; // seconds of the first iteration, which is partial where a counted clip runs back
  for (let n = 0; start < until; n++) {
    const direction = directionOf(repeat, rate, iteration);
    const lap = lapOf(repeat, iteration);
    const to = limitOf(duration, repeat, rate, iteration, direction);
    const length = Math.abs(to - from);
    if (n === 0) first = length;
    // Not a sum of many: each would be rounded.
    const played = n === 0 ? first : first + (n - 1) * duration + length;
    const end = snapToMoment(at + played / speed, fps);
    if (end > until) {
      runs.push({ start, end: until, from, to: from + direction * (until - start) * speed, speed, lap });
      break;
    }
    runs.push({ start, end, from, to, speed, lap });
    if (isLastIteration(repeat, rate, iteration)) break;
    iteration += Math.sign(rate);
    from = nextStartOf(duration, repeat, direction);
    start = end;
  }
  return runs;
}
