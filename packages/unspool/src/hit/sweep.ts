import { Core } from '../shape/core.js';
import { distanceIn, measure } from './distance.js';
import { still, type Moving } from './moving-shape.js';
import type { Vec } from '../shape/rounded.js';
import type { HitShape } from '../shape/shapes.js';

/** What a sweep needs of a moving shape: see `Moving`. */
export interface Swept {
  /** Writes the shape at a time. */
  put(time: number, core: Core): void;
  /** See `Moving.farthest`; the direction is `x`, `y`. */
  farthest(from: number, until: number, x: number, y: number): number;
}

/** The first contact of two moving shapes. */
export interface Contact {
  /** Seconds: the first contact, or the start of the sweep if they already touch. */
  readonly time: number;
  /** When they separate again, or the end of the sweep. */
  readonly until: number;
  /** The point of first contact, and the unit vector from the first to the second there. */
  readonly point: Vec;
  readonly normal: Vec;
}

/**
 * Contacts deeper than this are never missed, in the units of the game. Shapes closer than half of it touch. Lighter or
 * instantaneous contacts may be reported or not.
 */
export const TOLERANCE = 1e-7;

/** No time is further from 0, in seconds. */
const MAX_TIME = 1e12;

/** Times are found to about this, in seconds; where the times themselves are coarser, to a few of their last bits. */
const INSTANT = 1e-12;
const instantAt = (from: number, until: number) =>
  Math.max(INSTANT, 4 * Number.EPSILON * Math.max(Math.abs(from), Math.abs(until)));

/**
 * The number of steps of a sweep without a minimum length. After that, none is shorter than a fraction of the sweep,
 * so that it ends whatever the shapes do; a contact shorter than that fraction may be missed.
 */
const MAX_STEPS = 10_000;

/**
 * Returns the first contact of two moving shapes between two times, or `null` when there is none. A shape that is not
 * active touches nothing.
 *
 * It uses conservative advancement (Mirtich, "Impulse-based dynamic simulation of rigid body systems", 1996): shapes at
 * a distance cannot touch before they could have covered it. So no contact is missed, however fast they move and
 * however far apart the times are.
 *
 * @param a     a moving shape, or a plain one, which does not move
 * @param b     the other
 * @throws RangeError for times that are not in order or beyond ±1e12 s, and for an invalid shape
 */
export function sweep(a: Moving | HitShape, b: Moving | HitShape, from: number, until: number): Contact | null {
  if (!(from <= until && Math.abs(from) <= MAX_TIME && Math.abs(until) <= MAX_TIME))
    throw new RangeError(`the sweep from ${from} to ${until} is not a valid range. Use two times in order.`);
  const [one, two] = [isMoving(a) ? a : still(a), isMoving(b) ? b : still(b)];
  const [first, second] = [sweptOf(one), sweptOf(two)];
  const whole = [[from, until]] as const;
  for (const [start, end] of one.activeIn?.(from, until) ?? whole) {
    for (const [low, high] of two.activeIn?.(start, end) ?? [[start, end] as const]) {
      const found = sweepActive(first, second, low, high);
      if (found) return found;
    }
  }
  return null;
}

function isMoving(one: Moving | HitShape): one is Moving {
  const { at, farthest } = (one as Partial<Moving> | null | undefined) ?? {};
  return typeof at === 'function' && typeof farthest === 'function';
}

function sweptOf(shape: Moving): Swept {
  return {
    put: (time, core) => void core.set(shape.at(time)),
    farthest: (from, until, x, y) => shape.farthest(from, until, [x, y]),
  };
}

/** As `sweep`, while both are active. */
function sweepActive(a: Swept, b: Swept, from: number, until: number): Contact | null {
  const time = firstContact(a, b, from, until);
  if (time === undefined) return null;
  const { point, normal } = contactAt(a, b, time);
  return { time, until: parting(a, b, time, until), point, normal };
}

/** The two shapes of a sweep where they are, and how they lie to each other: see `measure`. */
const ONE = new Core();
const TWO = new Core();
const BETWEEN = new Float64Array(5);

function measureAt(a: Swept, b: Swept, time: number): void {
  a.put(time, ONE);
  b.put(time, TWO);
  measure(ONE, TWO, BETWEEN);
}

/** How they lie to each other at a time. */
export function contactAt(a: Swept, b: Swept, time: number) {
  measureAt(a, b, time);
  return distanceIn(BETWEEN);
}

const apart = (a: Swept, b: Swept, time: number) => {
  measureAt(a, b, time);
  return BETWEEN[0]!;
};

/**
 * Shapes that are nearer than this touch: so that what slides along something, or rests on it but for rounding, needs
 * no steps without end.
 */
const TOUCH = TOLERANCE / 2;

/** When they touch first, if they do. */
export function firstContact(a: Swept, b: Swept, from: number, until: number): number | undefined {
  let time = from;
  let before = time;
  let window = until - from;
  const instant = instantAt(from, until);
  for (let steps = 0; ; steps++) {
    const least = steps < MAX_STEPS ? instant : Math.max(instant, (until - from) / MAX_STEPS);
    measureAt(a, b, time);
    const distance = BETWEEN[0]!;
    if (distance <= TOUCH) break;
    if (!(time < until)) return undefined; // also when a place is not a number, which should not happen
    before = time;
    // Along the normal both would have to come together so far; whatever else they do parts them no less.
    const room = distance + TOUCH;
    const x = BETWEEN[1]!;
    const y = BETWEEN[2]!;
    let end = Math.min(until, time + window);
    let way = a.farthest(time, end, x, y) + b.farthest(time, end, -x, -y);
    while (way > room && end - time > least) {
      // Shorter so that it would fit if the movement were even, with a small margin.
      end = time + (end - time) * Math.min(0.9, Math.max(1e-3, (0.95 * room) / way));
      way = a.farthest(time, end, x, y) + b.farthest(time, end, -x, -y);
    }
    // A jump fits no interval: it is skipped.
    const next = Math.min(until, Math.max(end, time + least));
    window = 2 * (next - time);
    time = next;
  }
  return time === from ? time : halve(before, time, (at) => apart(a, b, at) > 0);
}

/** When they separate again; a separation shorter than a tenth of a millisecond may be missed. */
function parting(a: Swept, b: Swept, from: number, until: number): number {
  let time = from;
  let window = until - from;
  const gap = Math.max(GAP, instantAt(from, until));
  let steps = 0;
  const isApart = (at: number) => apart(a, b, at) > TOLERANCE;
  while (time < until) {
    const room = TOLERANCE - apart(a, b, time);
    let end = Math.min(until, time + window);
    const least = steps++ < MAX_STEPS ? gap : Math.max(gap, (until - from) / MAX_STEPS);
    let way = a.farthest(time, end, 0, 0) + b.farthest(time, end, 0, 0);
    while (way > room && end - time > least) {
      end = time + (end - time) * Math.min(0.9, Math.max(1e-3, (0.95 * room) / way));
      way = a.farthest(time, end, 0, 0) + b.farthest(time, end, 0, 0);
    }
    const next = Math.min(until, Math.max(end, time + least));
    if (isApart(next)) return halve(time, next, (at) => !isApart(at));
    window = 2 * (next - time);
    time = next;
  }
  return until;
}

const GAP = 1e-4;

/** The end of an interval in which something ceases to hold, to the last bits of its time, by bisection. */
function halve(start: number, end: number, holds: (time: number) => boolean): number {
  let [low, high] = [start, end];
  while (high - low > instantAt(start, end)) {
    const middle = (low + high) / 2;
    if (middle <= low || middle >= high) break;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return high;
}
