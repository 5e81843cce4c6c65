import { show } from '../../errors/show.js';

/**
 * The fewest stops on the way from the first of `count` places to the last, where a step from one to a later one is
 * possible or not: breadth first, so that no way has fewer. Steps are not tried far beyond one that is not possible: a
 * longer one is possible then only in odd cases.
 *
 * @param isPossible for from < to; a step to the next place always is
 * @returns the places, the first and the last among them
 */
export function fewestStops(count: number, isPossible: (from: number, to: number) => boolean): number[] {
  const last = count - 1;
  if (last <= 0) return count === 1 ? [0] : [];
  const before = new Int32Array(count).fill(-1);
  const reaches = new Int32Array(count);
  /** The place behind which no step from here is tried. */
  const reachOf = (from: number): number => {
    if (reaches[from] !== 0) return reaches[from]!;
    const longest = longestStep(from, last, isPossible) - from;
    return (reaches[from] = Math.min(last, from + longest + Math.ceil(longest / 4) + 2));
  };
  let layer = [0];
  while (before[last] === -1) {
    // The end first: when one of this layer reaches it, nothing else matters.
    const final = layer.find((from) => last === from + 1 || (reachOf(from) === last && isPossible(from, last)));
    if (final !== undefined) {
      before[last] = final;
      break;
    }
    const next: number[] = [];
    for (const from of layer) {
      for (let to = Math.min(last - 1, reachOf(from)); to > from; to--) {
        if (before[to] !== -1 || to === 0 || (to > from + 1 && !isPossible(from, to))) continue;
        before[to] = from;
        next.push(to);
      }
    }
    // Those that are farthest on are most likely to reach the end.
    layer = next.sort((a, b) => b - a);
  }
  const stops = [last];
  while (stops[0] !== 0) stops.unshift(before[stops[0]!]!);
  return stops;
}

/**
 * Stops on the way from the first of `count` places to the last, each step as long as possible: the fewest where a part
 * of a possible step is possible too, and few in any case. Much faster than `fewestStops` for many places.
 *
 * @param isPossible for from < to; a step to the next place always is
 * @throws RangeError for a count that is not a whole number, 0 or more
 */
export function longestSteps(count: number, isPossible: (from: number, to: number) => boolean): number[] {
  if (!Number.isSafeInteger(count) || count < 0)
    throw new RangeError(`the count ${show(count)} of places is not a whole number, 0 or more. Use such a number.`);
  const last = count - 1;
  const stops = count > 0 ? [0] : [];
  while (stops.at(-1)! < last) stops.push(longestStep(stops.at(-1)!, last, isPossible));
  return stops;
}

/** The farthest place of a possible step, by doubling and halving: steps up to some length are possible, longer ones not. */
function longestStep(from: number, last: number, isPossible: (from: number, to: number) => boolean): number {
  let reached = from + 1;
  let failed = last + 1;
  for (let length = 2; failed > last && reached < last; length *= 2) {
    const to = Math.min(last, from + length);
    if (isPossible(from, to)) reached = to;
    else failed = to;
  }
  while (failed <= last && failed - reached > 1) {
    const middle = (reached + failed) >> 1;
    if (isPossible(from, middle)) reached = middle;
    else failed = middle;
  }
  return reached;
}
