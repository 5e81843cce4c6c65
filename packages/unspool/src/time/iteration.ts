/** How a clip repeats. `once` plays one pass, `loop` starts over, `ping-pong` goes there and back. */
export type LoopMode = 'once' | 'loop' | 'ping-pong';

export const LOOP_MODES: readonly LoopMode[] = ['once', 'loop', 'ping-pong'];

/** A loop mode with its number of passes. There and back are two. `Infinity` repeats for ever. */
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

/**
 * The time inside a clip that is shown after `time` seconds of it, by the Web Animations timing model
 * (https://www.w3.org/TR/web-animations-1/#calculating-the-simple-iteration-progress, fill `both`).
 * A counted clip holds its first pose before 0 and its last pose after its end. An endless one has neither start
 * nor end: it goes on the same in both directions, and `loop` shows 0, not its end, at each wrap.
 *
 * @param time     seconds, finite
 * @param duration length of one pass in seconds, ≥ 0
 * @returns seconds in [0, duration]
 */
export function foldTime(time: number, duration: number, { mode, count }: Repeat): number {
  if (duration === 0) return 0;
  if (count !== Infinity) {
    if (time <= 0) return 0;
    if (time >= duration * count) return lastTime(duration, mode, count);
  }
  const iteration = Math.floor(time / duration);
  let position = time - iteration * duration;
  if (Math.abs(iteration) > 1) {
    // For many passes `%`, which is exact, keeps what the product above would round away.
    position = time % duration;
    if (position < 0) position += duration;
  }
  if (position >= duration) position = 0;
  return runsBack(mode, iteration) ? duration - position : position;
}

/** The time inside a clip at which a counted run stops: the end of its last, perhaps partial, pass. */
export function lastTime(duration: number, mode: LoopMode, count: number): number {
  const whole = Math.floor(count);
  const share = count - whole;
  const iteration = share === 0 && count > 0 ? whole - 1 : whole;
  const progress = share === 0 ? (count > 0 ? 1 : 0) : share;
  return (runsBack(mode, iteration) ? 1 - progress : progress) * duration;
}
