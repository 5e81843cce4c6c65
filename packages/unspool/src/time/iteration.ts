/** How a clip repeats. `once` plays one iteration, `loop` starts over, `ping-pong` goes there and back. */
export type LoopMode = 'once' | 'loop' | 'ping-pong';

export const LOOP_MODES: readonly LoopMode[] = ['once', 'loop', 'ping-pong'];

/** A loop mode with its number of iterations. There and back are two. `Infinity` loops forever. */
export interface Repeat {
  readonly mode: LoopMode;
  readonly count: number;
}

/** The iterations that a loop mode means when no count is given: one for `once`, else endless. */
export function repeatOf(mode: LoopMode, count?: number): Repeat {
  return { mode, count: mode === 'once' ? 1 : (count ?? Infinity) };
}

/** True when an iteration (any whole number) runs from the end of the clip to its start. */
export function runsBack(mode: LoopMode, iteration: number): boolean {
  return mode === 'ping-pong' && iteration % 2 !== 0;
}

/**
 * How often a track that accumulates has gained its way before an iteration. There and back of a ping-pong cancel out.
 */
export function lapOf({ mode }: Repeat, iteration: number): number {
  return mode === 'loop' ? iteration : 0;
}

/** How a clip lies in time. */
export interface Timing {
  /** Length of one iteration in seconds, ≥ 0. */
  readonly duration: number;
  readonly repeat: Repeat;
  /** The time inside the clip at which a counted run stops: `lastTime` of the two. */
  readonly last: number;
}

/**
 * Times this close to the end of an iteration, as a share of the time, are on it: more than a few sums and products of
 * times are rounded by.
 */
const ROUNDING = 4 * Number.EPSILON;

/** How far a time lies inside its iteration: at least 0 and less than `duration`; exactly 0 on a boundary. */
function restOf(time: number, duration: number): number {
  const boundary = Math.round(time / duration) * duration;
  if (Math.abs(time - boundary) <= ROUNDING * Math.abs(time)) return 0;
  // `%` is exact, and the iteration is found from what it leaves: two divisions could disagree by one.
  const rest = time % duration;
  return rest < 0 ? rest + duration : rest;
}

/** The iteration that a time lies in when time goes on without folding. A boundary belongs to the later one. */
export function iterationAt(time: number, duration: number): number {
  return Math.round((time - restOf(time, duration)) / duration);
}

/**
 * The time inside a clip that is shown after so many seconds of it, by the Web Animations timing model
 * (https://www.w3.org/TR/web-animations-1/#calculating-the-simple-iteration-progress, fill `both`).
 * A counted clip holds its first pose before 0 and its last pose after its end. An endless one has neither start
 * nor end: it goes on the same in both directions, and `loop` shows 0, not its end, at each wrap.
 *
 * @param at seconds, finite; receives seconds in [0, duration] and, where it has room, the lap (see `lapOf`). A list, as a
 *           bare number would be boxed on its way
 */
export function foldTime(at: Float64Array, timing: Timing): void {
  const time = at[0]!;
  const { duration } = timing;
  const { mode, count } = timing.repeat;
  at[1] = 0;
  if (duration === 0) at[0] = 0;
  else if (count !== Infinity && time <= 0) at[0] = 0;
  else if (time >= duration * count * (1 - ROUNDING)) {
    at[0] = timing.last;
    if (mode === 'loop') at[1] = Math.max(0, Math.ceil(count) - 1);
  } else {
    // By hand what `restOf` does: a number that a function returns could be boxed too.
    const boundary = Math.round(time / duration) * duration;
    let rest = Math.abs(time - boundary) <= ROUNDING * Math.abs(time) ? 0 : time % duration;
    if (rest < 0) rest += duration;
    const iteration = Math.round((time - rest) / duration);
    at[0] = runsBack(mode, iteration) ? duration - rest : rest;
    if (mode === 'loop') at[1] = iteration;
  }
}

/**
 * The reverse of `foldTime`: seconds from the start of iteration 0. Of an endless clip only whether the iteration runs
 * there or back counts, so that a late one is as exact as the first.
 */
export function unfoldTime(inside: number, iteration: number, duration: number, { mode, count }: Repeat): number {
  const along = runsBack(mode, iteration) ? duration - inside : inside;
  return (count === Infinity ? iteration % 2 : iteration) * duration + along;
}

/** The time inside a clip at which a counted run stops: the end of its last, perhaps partial, iteration. */
export function lastTime(duration: number, mode: LoopMode, count: number): number {
  if (count === Infinity) return duration;
  const whole = Math.floor(count);
  const share = count - whole;
  const iteration = share === 0 && count > 0 ? whole - 1 : whole;
  const progress = share === 0 ? (count > 0 ? 1 : 0) : share;
  return (runsBack(mode, iteration) ? 1 - progress : progress) * duration;
}

// A playhead that moves through the iterations. They are counted from 0; a counted clip played backwards starts with
// its last, an endless one counts down below 0. `rate` is not 0; below 0 it plays backwards.

/** The iteration that a playhead begins with. */
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

/** The direction of a playhead inside the clip: +1, −1, or 0 when its rate is 0. */
export function directionOf({ mode }: Repeat, rate: number, iteration: number): number {
  return runsBack(mode, iteration) ? -Math.sign(rate) : Math.sign(rate);
}

/** Whether the run is over at the end of this iteration. */
export function isLastIteration({ count }: Repeat, rate: number, iteration: number): boolean {
  if (count === Infinity) return false;
  return rate > 0 ? iteration >= Math.ceil(count) - 1 : iteration <= 0;
}

/** The time inside the clip at which an iteration stops, in the direction of play. */
export function limitOf(duration: number, repeat: Repeat, rate: number, iteration: number, direction: number): number {
  if (rate > 0 && isLastIteration(repeat, rate, iteration)) return lastTime(duration, repeat.mode, repeat.count);
  return direction > 0 ? duration : 0;
}

/** The time inside the clip at which the next iteration begins, after one that ended in a direction: a turn or a wrap. */
export function nextStartOf(duration: number, { mode }: Repeat, direction: number): number {
  return direction > 0 === (mode === 'ping-pong') ? duration : 0;
}

/**
 * Passes over many iterations at once: as many as fit into the seconds that a playhead has left, but for a few, and for
 * the very last one of a counted run. An even number of them, so that its direction stays.
 *
 * @param left seconds in its first number, which becomes what is left after them
 * @param length seconds of one iteration at the rate of play, > 0
 * @param kept how many are left to be played, whatever fits
 * @returns by how much the iteration changes: below 0 backwards
 */
export function passOver(
  left: Float64Array,
  length: number,
  { count }: Repeat,
  rate: number,
  iteration: number,
  kept: number,
): number {
  const seconds = left[0]!;
  const rest = restOf(seconds, length);
  const whole = Math.round((seconds - rest) / length);
  const most = count === Infinity ? Infinity : rate > 0 ? Math.ceil(count) - 2 - iteration : iteration - 1;
  const passed = 2 * Math.floor(Math.min(whole - kept, most) / 2);
  if (!(passed > 0)) return 0;
  left[0] = rest + (whole - passed) * length;
  return Math.sign(rate) * passed;
}
