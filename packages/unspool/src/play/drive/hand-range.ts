import { knownEasing } from '../../easing/known.js';
import { easingRange } from '../../easing/range.js';
import { EVEN } from './gauge.js';

/** The hand of a gauge: it goes from one share of its clip to another, and a trail is never behind what it follows. */
export interface Hand {
  readonly from: number;
  readonly to: number;
  /** Seconds of the player at which it begins to move, and how long it does. */
  readonly start: number;
  readonly length: number;
  readonly ease: (x: number) => number;
  readonly lead?: Hand;
  /** The times of its clip at the shares 0 and 1. */
  readonly low: number;
  readonly high: number;
  /** Its share at a time of the player. */
  at(now: number): number;
}

const BETWEEN = new Float64Array(2);
const EASED = new Float64Array(2);
const LEAD = new Float64Array(2);

/**
 * Writes the least and the greatest share that a hand has between two times of the player. Returns false where its
 * easing is a function of the game's own.
 */
export function handRange(hand: Hand, from: number, until: number, out: Float64Array): boolean {
  const { start, length, ease, lead } = hand;
  const [first, last] = [hand.at(from), hand.at(until)];
  out[0] = Math.min(first, last);
  out[1] = Math.max(first, last);
  if (ease !== EVEN && until > start && from < start + length && hand.from !== hand.to) {
    const known = knownEasing(ease);
    if (!known) return false;
    BETWEEN[0] = Math.max(0, (from - start) / length);
    BETWEEN[1] = Math.min(1, (until - start) / length);
    easingRange(known.code, known.table, 0, BETWEEN, EASED);
    for (const y of EASED) {
      const share = hand.from + (hand.to - hand.from) * y;
      out[0] = Math.min(out[0], share);
      out[1] = Math.max(out[1], share);
    }
  }
  if (!lead) return true;
  if (!handRange(lead, from, until, LEAD)) return false;
  out[0] = Math.max(out[0], LEAD[0]!);
  out[1] = Math.max(out[1], LEAD[1]!);
  return true;
}
