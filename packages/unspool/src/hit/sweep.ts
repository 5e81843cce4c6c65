import { distanceOf } from './distance.js';
import type { Rounded, Vec } from './shapes.js';

/** A shape that moves: where it is at a time, and how fast any of its points moves at most. */
export interface Moving {
  /** @param time seconds */
  at(time: number): Rounded;
  /**
   * A bound on the speed of every point of it, in units a second, between two times. It may be too great, which costs
   * steps; it must never be too small, or a contact may be missed.
   */
  fastest(from: number, until: number): number;
}

/** The first time that two moving shapes touch. */
export interface Contact {
  /** Seconds: when they first touch, or the start of the sweep if they do then. */
  readonly time: number;
  /** When they part again, or the end of the sweep. */
  readonly until: number;
  /** Where they first touch, and the unit vector from the first to the second there. */
  readonly point: Vec;
  readonly normal: Vec;
}

/**
 * Contacts deeper than this are never missed, in the game's units. What touches less deeply, grazing or for an instant,
 * may be reported or not.
 */
export const TOLERANCE = 1e-7;

/** Times are found to about this, in seconds. */
const INSTANT = 1e-12;

/**
 * The first contact of two moving shapes between two times; nothing when there is none.
 *
 * Goes forward by conservative advancement (Mirtich, "Impulse-based dynamic simulation of rigid body systems", 1996):
 * shapes that are a distance apart cannot touch before they could have gone that way at their fastest. So no contact is
 * stepped over, however fast they move and however far the times are apart. What is bounded is looked at in halves where
 * that gives a better bound.
 *
 * @throws RangeError for times that are not finite or not in order
 */
export function sweep(a: Moving, b: Moving, from: number, until: number): Contact | null {
  if (!(from <= until) || !Number.isFinite(from) || !Number.isFinite(until))
    throw new RangeError(`a sweep from ${from} to ${until} goes nowhere. Give two times in order.`);
  const apart = (time: number) => distanceOf(a.at(time), b.at(time));
  const fastest = (start: number, end: number) => a.fastest(start, end) + b.fastest(start, end);
  const time = firstBelow(fastest, from, until, (at) => apart(at).distance);
  if (time === undefined) return null;
  const { point, normal } = apart(time);
  const parted = firstBelow(fastest, time, until, (at) => TOLERANCE - apart(at).distance);
  return { time, until: parted ?? until, point, normal };
}

/**
 * The first time at which a distance is 0 or less, if it comes to less than half the tolerance below; nothing when it
 * never does.
 *
 * @param fastest how fast the distance changes at most between two times
 * @param far     the distance at a time
 */
function firstBelow(
  fastest: (start: number, end: number) => number,
  from: number,
  until: number,
  far: (time: number) => number,
): number | undefined {
  let time = from;
  let distance = far(time);
  if (distance <= 0) return time;
  // Beyond 0 there is always some way to go, so that a graze is passed in so many steps.
  const slack = TOLERANCE / 2;
  let before = time;
  let window = until - from;
  while (distance > -slack) {
    if (time >= until) return undefined;
    const end = Math.min(until, time + window);
    const step = (distance + slack) / fastest(time, end);
    if (step < (end - time) / 8 && window > INSTANT) {
      // A shorter stretch may have a better bound.
      window = (end - time) / 2;
      continue;
    }
    if (distance > 0) before = time;
    time = Math.min(end, Math.max(time + step, time + INSTANT));
    distance = far(time);
    window *= 2;
  }
  return touching(before, time, far);
}

/** Halves a stretch over which a distance comes to 0, to the last bits of its time. */
function touching(start: number, end: number, far: (time: number) => number): number {
  let [low, high] = [start, end];
  while (high - low > INSTANT) {
    const middle = (low + high) / 2;
    if (middle <= low || middle >= high) break;
    if (far(middle) > 0) low = middle;
    else high = middle;
  }
  return high;
}
