/** How a clip repeats. `once` plays one pass, `loop` starts over, `ping-pong` goes there and back. */
export type LoopMode = 'once' | 'loop' | 'ping-pong';

export const LOOP_MODES: readonly LoopMode[] = ['once', 'loop', 'ping-pong'];

/** A loop mode with its number of iterations. There and back are two. `Infinity` loops forever. */
export interface Repeat {
  readonly mode: LoopMode;
  readonly count: number;
}

/** The passes that a loop mode means when no count is given: one for `once`, else endless. */
export function repeatOf(mode: LoopMode, count?: number): Repeat {
  return { mode, count: mode === 'once' ? 1 : (count ?? Infinity) };
}

/** True when pass `iteration` (any whole number) runs from the end of the clip to its start. */
export function runsBack(mode: LoopMode, iteration: number): boolean {
  return mode === 'ping-pong' && iteration % 2 !== 0;
}

/** How a clip lies in time. */
export interface Timing {
  /** Length of one pass in seconds, ≥ 0. */
  readonly duration: number;
  readonly repeat: Repeat;
  /** The time inside the clip at which a counted run stops: `lastTime` of the two. */
  readonly last: number;
}

/**
 * The time inside a clip that is shown after so many seconds of it, by the Web Animations timing model
 * (https://www.w3.org/TR/web-animations-1/#calculating-the-simple-iteration-progress, fill `both`).
 * A counted clip holds its first pose before 0 and its last pose after its end. An endless one has neither start
 * nor end: it goes on the same in both directions, and `loop` shows 0, not its end, at each wrap.
 *
 * @param at seconds, finite; receives seconds in [0, duration]. A list, as a bare number would be boxed on its way
 */
export function foldTime(at: Float64Array, timing: Timing): void {
  const time = at[0]!;
  const { duration } = timing;
  const { mode, count } = timing.repeat;
  if (duration === 0) at[0] = 0;
  else if (count !== Infinity && time <= 0) at[0] = 0;
  else if (count !== Infinity && time >= duration * count) at[0] = timing.last;
  else {
    const near = Math.round(time / duration);
    // Within a few roundings of the end of an iteration it is that end, as playing takes it.
    if (Math.abs(time - near * duration) <= 4 * Number.EPSILON * Math.abs(time)) {
      at[0] = near >= count ? timing.last : runsBack(mode, near) ? duration : 0;
      return;
    }
    // `%` is exact, and so the iteration that follows from it is the one that the position lies in.
    let position = time % duration;
    if (position < 0) position += duration;
    const iteration = Math.round((time - position) / duration);
    at[0] = runsBack(mode, iteration) ? duration - position : position;
  }
}

/** The time inside a clip at which a counted run stops: the end of its last, perhaps partial, pass. */
export function lastTime(duration: number, mode: LoopMode, count: number): number {
  if (count === Infinity) return duration;
  const whole = Math.floor(count);
  const share = count - whole;
  const iteration = share === 0 && count > 0 ? whole - 1 : whole;
  const progress = share === 0 ? (count > 0 ? 1 : 0) : share;
  return (runsBack(mode, iteration) ? 1 - progress : progress) * duration;
}
