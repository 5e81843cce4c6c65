import { diffArrays } from 'diff';

/** A line that both texts have, or one of them. */
interface Line {
  readonly sign: ' ' | '-' | '+';
  readonly text: string;
}

/** Lines that changed, with one that did not on each side. */
export interface Hunk {
  /** The line of the first text that it begins at, counted from 1. */
  readonly start: number;
  readonly lines: readonly Line[];
}

/** The most changed lines in one place for which the fewest changes are searched: the time grows with their square. */
const MAX_LINES = 300;

/**
 * What changed from one text to another, by lines: the fewest where there are not many, and in any case in a time that
 * grows with the texts.
 */
export function hunksOf(before: string, after: string): Hunk[] {
  const all = compare(before.split('\n'), after.split('\n'));
  const numbers: number[] = [];
  for (let i = 0, line = 1; i < all.length; i++) {
    numbers.push(line);
    if (all[i]!.sign !== '+') line++;
  }
  const hunks: Hunk[] = [];
  for (let i = 0; i < all.length; i++) {
    if (all[i]!.sign === ' ') continue;
    const from = Math.max(0, i - 1);
    // What is closer than the lines that are shown around it belongs to it.
    for (let k = i + 1; k < all.length && k <= i + 3; k++) if (all[k]!.sign !== ' ') i = k;
    hunks.push({ start: numbers[from]!, lines: all.slice(from, i + 2) });
  }
  return hunks;
}

function compare(a: readonly string[], b: readonly string[]): Line[] {
  let first = 0;
  while (first < a.length && first < b.length && a[first] === b[first]) first++;
  let last = 0;
  while (last < a.length - first && last < b.length - first && a.at(-1 - last) === b.at(-1 - last)) last++;
  return [
    ...signed(' ', a.slice(0, first)),
    ...compareMiddle(a.slice(first, a.length - last), b.slice(first, b.length - last)),
    ...signed(' ', a.slice(a.length - last)),
  ];
}

function compareMiddle(a: readonly string[], b: readonly string[]): Line[] {
  const few = fewest(a, b);
  if (few) return few;
  // Too many: cut at the lines that each of both has once, as the names of tracks.
  const found: Line[][] = [];
  let [i, k] = [0, 0];
  for (const [at, there] of sharedLines(a, b)) {
    found.push(replaced(a.slice(i, at), b.slice(k, there)), signed(' ', [a[at]!]));
    [i, k] = [at + 1, there + 1];
  }
  found.push(replaced(a.slice(i), b.slice(k)));
  return found.flat();
}

/** The fewest lines that make one list of the other, or all of them where that takes too long. */
function replaced(a: readonly string[], b: readonly string[]): Line[] {
  return fewest(a, b) ?? [...signed('-', a), ...signed('+', b)];
}

function fewest(a: readonly string[], b: readonly string[]): Line[] | undefined {
  const parts = diffArrays([...a], [...b], { maxEditLength: MAX_LINES });
  return parts?.flatMap(({ added, removed, value }) => signed(added ? '+' : removed ? '-' : ' ', value));
}

/** Lines that occur once in each list, in the order of both, with their indices in both. */
function sharedLines(a: readonly string[], b: readonly string[]): [at: number, there: number][] {
  const [inA, inB] = [placesOf(a), placesOf(b)];
  const shared: [at: number, there: number][] = [];
  for (const [line, at] of inA) {
    const there = inB.get(line) ?? -1;
    if (at >= 0 && there > (shared.at(-1)?.[1] ?? -1)) shared.push([at, there]);
  }
  return shared;
}

/** The index of each line; -1 for one that occurs several times. */
function placesOf(lines: readonly string[]): Map<string, number> {
  const places = new Map<string, number>();
  lines.forEach((line, i) => places.set(line, places.has(line) ? -1 : i));
  return places;
}

const signed = (sign: Line['sign'], lines: readonly string[]): Line[] => lines.map((text) => ({ sign, text }));
