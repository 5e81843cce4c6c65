import { Clock } from '../../time/clock.js';
import { NANOSECOND } from '../../time/units.js';

/** What a leg used of the frame, for the clock. */
const USED = new Float64Array(1);

/**
 * All numbers of a playback: where its playhead is, and how it is shown.
 *
 * The course of a playhead consists of legs. Between two changes (of rate, by a seek, at a wrap) it is linear from one
 * time inside the clip to another. The playhead is the start of the leg plus the seconds spent on it, so that neither
 * frames nor iterations accumulate rounding errors. The time of a moment follows from the whole legs since the last
 * change, so that it is the same to the bit however time was cut into frames.
 *
 * All fields start as numbers: a field that was once undefined would be boxed.
 */
export class Playhead extends Clock {
  /** Where the leg began, seconds inside the clip. */
  start = 0;
  /** Seconds of the clip per second: negative when it runs down, 0 when it does not move. */
  speed = 0;
  /** Where the playhead is shown: on the moment while one is handled, else at the end of the frame. */
  shown = 0;
  /** The last time inside the clip that it passed for certain: the start, or the last stop. */
  reached = 0;
  /** Seconds of player time that were spent on the leg up to its last stop. */
  used = 0;
  /** The next stop, and the seconds that it takes to get there; NaN when it is to be found again. */
  stop = NaN;
  needed = NaN;
  /** Seconds of the frame that are left at its stop; below −NANOSECOND when the frame does not reach it. */
  due = -Infinity;
  /** For exact times of events: when the last change was, and how far the legs before this one went since. */
  changeAt = 0;
  travelled = 0;
  /** The rounding error of the sum of those legs (Neumaier's compensated sum, as in `Clock`). */
  travelledLost = 0;

  /** The rate of the call, relative to the clip's own; and the product of both, negative backwards. */
  own = 0;
  rate = 0;
  /** The iteration, counted from 0. */
  iteration = 0;
  /** Where it lands, paused; NaN when it does not. */
  until = NaN;
  /** How much of it is shown when it does not fade, 0–1; and how much of its layer it makes up now. */
  weight = 1;
  /** @param fps of the clip */
  constructor(public fps: number) {
    super();
  }

  /** Starts a leg after a change, with what is left of the frame. */
  change(from: number, speed: number, now: number, left: number): void {
    this.changeAt = now;
    this.travelled = this.travelledLost = 0;
    this.set(left);
    this.#begin(from, speed);
  }

  /** Starts a leg after another with the time that it left over, which may be slightly below 0. */
  follow(from: number, speed: number): void {
    this.travel(Math.abs(this.reached - this.start));
    USED[0] = -this.used;
    this.addFirst(USED);
    this.#begin(from, speed);
  }

  /** Counts legs that lie behind, since the last change. */
  travel(way: number): void {
    const sum = this.travelled + way;
    this.travelledLost += this.travelled >= way ? this.travelled - sum + way : way - sum + this.travelled;
    this.travelled = sum;
  }

  #begin(from: number, speed: number): void {
    this.start = this.reached = this.shown = from;
    this.speed = speed;
    this.used = 0;
    this.needed = NaN;
  }

  aim(stop: number): void {
    this.stop = stop;
    this.needed = Math.abs(stop - this.start) / Math.abs(this.speed);
  }

  arrive(): void {
    this.reached = this.shown = this.stop;
    this.used = this.needed;
    this.needed = NaN;
  }

  /**
   * Shows the playhead when so many seconds of the frame are left; on a whole frame when it is within a nanosecond of
   * one.
   */
  show(left: number): void {
    const spent = this.sum + this.lost - left;
    const seconds = this.start + (spent > this.used ? spent : this.used) * this.speed;
    const frame = Math.round(seconds * this.fps) / this.fps;
    const off = frame - seconds;
    this.shown = off <= NANOSECOND && off >= -NANOSECOND ? frame : seconds;
  }

  /** Seconds of the frame that its last stop left over. */
  get leftOver(): number {
    return Math.max(0, this.seconds - this.used);
  }

  /** The player's time at its last stop. */
  get momentTime(): number {
    const way = this.travelled + (this.travelledLost + Math.abs(this.reached - this.start));
    return way === 0 ? this.changeAt : this.changeAt + way / Math.abs(this.speed);
  }
}

/** How a playback is shown that fades, or has something over it; one that never does has none. */
export class FadeEnvelope {
  /** When it began to fade in, and 1 while it does. */
  fadeAt = 0;
  fading = 0;
  /** When it began to fade out by itself, and for how long; −1 while it does not. */
  leaveAt = 0;
  leaveFor = -1;
  /** When it was stopped while it moved. */
  stoppedAt = NaN;
  /** Set when something else began over it: when that was, how far it had come in total, and 1 if it continues. */
  goneAt = NaN;
  goneWay = 0;
  goneOn = 0;

  /** How far it has faded in, 0–1, and how much of it has not faded out. A nanosecond before its end a fade is over. */
  fadedIn(now: number, fade: number): number {
    const past = now - this.fadeAt;
    return fade - past <= NANOSECOND ? 1 : Math.max(0, past / fade);
  }

  stays(now: number): number {
    if (this.leaveFor < 0) return 1;
    const left = this.leaveFor - (now - this.leaveAt);
    return left <= NANOSECOND ? 0 : Math.min(1, left / this.leaveFor);
  }
}

type NumbersOf<T> = { [M in keyof T]: T[M] extends number ? (number extends T[M] ? M : never) : never }[keyof T];
/** Compiles only with the names of all numbers of an object that are stored in it, and no others. */
const namesOf =
  <T>() =>
  <const L extends readonly NumbersOf<T>[]>(...names: [NumbersOf<T>] extends [L[number]] ? L : never): L =>
    names;

/** The numbers of a playback as a saved state names them. `seconds` and those below it are computed from others. */
export const PLAYHEAD_NUMBERS = /* @__PURE__ */ namesOf<Omit<Playhead, 'seconds' | 'leftOver' | 'momentTime'>>()(
  ...(['sum', 'lost', 'start', 'speed', 'shown', 'reached', 'used', 'stop', 'needed', 'due', 'changeAt'] as const),
  ...(['travelled', 'travelledLost', 'own', 'rate', 'iteration', 'until', 'weight', 'fps'] as const),
);
export const ENVELOPE_NUMBERS = /* @__PURE__ */ namesOf<FadeEnvelope>()(
  ...(['fadeAt', 'fading', 'leaveAt', 'leaveFor', 'stoppedAt', 'goneAt', 'goneWay', 'goneOn'] as const),
);

/** Writes some numbers of an object by name, in a form that JSON has; and reads them back. */
export function numbersOf<M extends string>(object: Readonly<Record<M, number>>, names: readonly M[]) {
  return Object.fromEntries(names.map((name) => [name, numberOut(object[name])])) as Record<M, SavedNumber>;
}

export function putNumbers<M extends string>(
  object: Record<M, number>,
  names: readonly M[],
  numbers: Readonly<Record<string, SavedNumber>>,
): void {
  for (const name of names) object[name] = Number(numbers[name]);
}

/** A number in a form that JSON has; `Number` reads it back. */
export type SavedNumber = number | string;

export function numberOut(n: number): SavedNumber {
  return Number.isFinite(n) && !Object.is(n, -0) ? n : Object.is(n, -0) ? '-0' : String(n);
}
