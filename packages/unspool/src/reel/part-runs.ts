import { lastTime, runsBack, type Repeat } from '../time/iteration.js';

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
}

/**
 * How a part runs through its clip: a run for each pass, in order. The last one is cut at `until`.
 *
 * @param duration seconds of one pass, > 0
 * @param rate     not 0; below 0 it begins at the end of a counted clip, or of the first pass of an endless one
 * @param until    seconds of the outer clip, finite where the clip is endless
 */
export function runsOf(duration: number, repeat: Repeat, rate: number, at: number, until: number): Run[] {
  const { mode, count } = repeat;
  const speed = Math.abs(rate);
  const forward = rate > 0;
  const endless = count === Infinity;
  const last = endless ? Infinity : Math.max(0, Math.ceil(count) - 1);
  const runs: Run[] = [];
  let played = 0; // seconds of the inner clip, all passes
  for (let n = 0; n <= last; n++) {
    const pass = forward ? n : endless ? -n : last - n;
    const back = runsBack(mode, pass);
    // Forwards, an iteration starts at its start and the last may end early; backwards it is the reverse.
    const [low, high] = back ? [duration, 0] : [0, duration];
    const partial = !endless && pass === last ? lastTime(duration, mode, count) : high;
    const from = forward ? low : partial;
    const to = forward ? partial : low;
    const start = at + played / speed;
    if (start >= until) break;
    played += Math.abs(to - from);
    const end = at + played / speed;
    if (end > until) {
      const reached = from + Math.sign(to - from) * (until - start) * speed;
      runs.push({ start, end: until, from, to: reached, speed });
      break;
    }
    runs.push({ start, end, from, to, speed });
  }
  return runs;
}
