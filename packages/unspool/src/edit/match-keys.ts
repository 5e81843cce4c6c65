import type { KeyDocument } from '../reel/document/document.js';
import { isSame } from './patch.js';
import { isMoment, isRow, secondsAt } from './document-access.js';

/** A key of one list and its counterpart in another; one is missing when it was added or removed. */
export interface KeyPair {
  readonly before?: KeyDocument;
  readonly after?: KeyDocument;
}

/** More keys than these are matched by their times alone: every pair of the others is weighed. */
const MAX_KEYS = 600;

/**
 * Finds out which key of one list is which of another: in order, so that as little as possible has changed. A key that
 * moved keeps its value, one that was set keeps its time; what shares neither is another one.
 */
export function matchKeys(
  a: readonly KeyDocument[],
  b: readonly KeyDocument[],
  fps: readonly [number, number],
): KeyPair[] {
  const [times, others] = [a.map((key) => secondsAt(key, fps[0])), b.map((key) => secondsAt(key, fps[1]))];
  const cost = (i: number, j: number): number => {
    const time = isMoment(times[i]!, others[j]!) ? 0 : 1;
    const value = isSame(contentOf(a[i]!), contentOf(b[j]!)) ? 0 : 1.2;
    return time && value ? Infinity : time + value;
  };
  const far = a.length * b.length > MAX_KEYS * MAX_KEYS;
  return far ? byTime(a, b, times, others) : cheapest(a, b, cost);
}

function contentOf(key: KeyDocument): unknown {
  return isRow(key) ? key.frames : key.value;
}

/** The alignment of least cost, by dynamic programming; leaving a key out on either side costs 1.5. */
function cheapest(
  a: readonly KeyDocument[],
  b: readonly KeyDocument[],
  cost: (i: number, j: number) => number,
): KeyPair[] {
  const ALONE = 1.5;
  const width = b.length + 1;
  const least = new Float64Array((a.length + 1) * width);
  for (let i = a.length; i >= 0; i--) {
    for (let j = b.length; j >= 0; j--) {
      if (i === a.length || j === b.length) least[i * width + j] = ALONE * (a.length - i + b.length - j);
      else {
        const alone = ALONE + Math.min(least[(i + 1) * width + j]!, least[i * width + j + 1]!);
        least[i * width + j] = Math.min(alone, cost(i, j) + least[(i + 1) * width + j + 1]!);
      }
    }
  }
  const pairs: KeyPair[] = [];
  let [i, j] = [0, 0];
  while (i < a.length || j < b.length) {
    const here = least[i * width + j]!;
    if (i < a.length && j < b.length && Math.abs(cost(i, j) + least[(i + 1) * width + j + 1]! - here) < 1e-9)
      pairs.push({ before: a[i++]!, after: b[j++]! });
    else if (i < a.length && Math.abs(ALONE + least[(i + 1) * width + j]! - here) < 1e-9)
      pairs.push({ before: a[i++]! });
    else pairs.push({ after: b[j++]! });
  }
  return pairs;
}

function byTime(
  a: readonly KeyDocument[],
  b: readonly KeyDocument[],
  times: readonly number[],
  others: readonly number[],
): KeyPair[] {
  const pairs: KeyPair[] = [];
  let [i, j] = [0, 0];
  while (i < a.length || j < b.length) {
    const [at, other] = [times[i] ?? Infinity, others[j] ?? Infinity];
    if (isMoment(at, other)) pairs.push({ before: a[i++]!, after: b[j++]! });
    else if (at < other) pairs.push({ before: a[i++]! });
    else pairs.push({ after: b[j++]! });
  }
  return pairs;
}
