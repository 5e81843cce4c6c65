import { keysOf } from '../../reel/resolve/properties.js';
import type { KeyDocument, KeyList, ReelDocument } from '../../reel/document/document.js';
import { isShape, KINDS } from '../../value/kind.js';
import { fewestStops, longestSteps } from '../capture/fewest.js';
import { fitCurve, isLine, type Inner } from '../capture/fit-curve.js';
import type { Segment } from '../../reel/resolve/segments.js';
import { piecesOf } from './easing-pieces.js';
import { curveOf, type TrackCurve } from '../track-curve.js';
import { setMembers } from '../immutable.js';
import type { Applied, Operations } from '../operation.js';
import { refuse } from '../refusal.js';
import { formatNumber, writeTime } from '../format-values.js';
import { selectKeys } from './select.js';
import { keepSmooth } from './keep-smooth.js';
import { isRow, pluralize, put, type PoseKey } from '../document-access.js';

/** The error that is fitted to, as a share of the tolerance: numbers are written with few digits. */
const MARGIN = 0.98;
/** Samples of each segment: a curve is held to them. */
const SAMPLES = 12;
/** Of more keys in a row, as of a recorded motion, the fewest are not looked for: each step goes as far as it can. */
const MOST_EXACT = 300;

/**
 * Removes keys that are not needed: what is shown changes by at most the tolerance, in the units of the values. Keys that
 * stay keep their times and values; between them one curve takes the place of several. Tracks of rows, held values,
 * shapes, colors and quaternions stay as they are.
 */
export function simplifyKeys(document: ReelDocument, operation: Operations['simplify-keys']): Applied {
  const { tolerance } = operation;
  if (!(tolerance > 0))
    throw refuse(
      'edit/tolerance',
      `the tolerance ${tolerance} is not greater than 0. Use the most a value may change.`,
    );
  const chosen = selectKeys(document, { ...operation, cues: false });
  const { name, fps } = chosen;
  let [before, after, count] = [0, 0, 0];
  let next = document;
  for (const [track, indexes] of chosen.keys) {
    const written = keysOf(chosen.clip.tracks![track]!);
    const keys = simplified(document, name, track, indexes, tolerance, fps);
    before += indexes.length;
    after += indexes.length - (written.length - keys.length);
    if (keys !== written) count++;
    if (keys !== written) next = put(next, name, track, keys);
  }
  if (next === document)
    throw refuse('edit/no-change', `no key can be removed within ${formatNumber(tolerance)}. Use a greater tolerance.`);
  const tracks = count === 1 ? 'a track' : pluralize(count, 'track');
  return [next, `simplified ${pluralize(before, 'key')} of ${tracks} to ${after}`];
}

/** Where a segment may be replaced: it goes from one value to the next without a jump. */
function isContinuous(curve: TrackCurve, i: number): boolean {
  const segment = curve.segments[i]!;
  const { kind } = segment.easing;
  return segment.bends !== undefined || (kind !== 'hold' && kind !== 'steps');
}

function simplified(
  document: ReelDocument,
  clip: string,
  name: string,
  indexes: readonly number[],
  tolerance: number,
  fps: number,
): KeyList {
  const curve = curveOf(document, clip, name);
  const { kind, channel } = curve.track;
  const written = keysOf(document.clips[clip]!.tracks![name]!);
  const isPlain = channel >= 0 || (kind !== 'quat' && kind !== 'color');
  if (KINDS[kind].held || isShape(kind) || !isPlain || written.some(isRow)) return written;
  let keys: readonly KeyDocument[] = written;
  // From the last stretch to the first, so that indices before it stay.
  for (const [first, last] of stretchesOf(indexes, curve).reverse()) {
    keys = stretchReduced(keys, curve, first, last, tolerance * MARGIN, fps);
  }
  if (keys === written) return written;
  const made = put(document, clip, name, keys);
  const times = new Map(curve.track.keys.map(({ at }, i) => [at, curve.segments[i]]));
  return keepSmooth(curveOf(made, clip, name), keys, fps, (at) => times.get(at));
}

/** Runs of selected keys, three or more, with continuous segments between them. */
function stretchesOf(indexes: readonly number[], curve: TrackCurve): (readonly [first: number, last: number])[] {
  const found: (readonly [number, number])[] = [];
  let start = indexes[0]!;
  indexes.forEach((index, i) => {
    const goesOn = indexes[i + 1] === index + 1 && isContinuous(curve, index);
    if (goesOn) return;
    if (index - start >= 2) found.push([start, index]);
    start = indexes[i + 1]!;
  });
  return found;
}

/** Where a segment is sampled: evenly, but at the corners of its easing, which lie anywhere. */
function sharesOf({ easing, bends }: Segment): readonly number[] {
  const shares = Array.from({ length: SAMPLES + 1 }, (_, i) => i / SAMPLES);
  const pieces = bends ? undefined : piecesOf(easing);
  const corners = pieces?.kind === 'lines' ? pieces.corners.map(([x]) => x) : (pieces?.cubics ?? []).map(({ to }) => to[0]); // prettier-ignore
  for (const x of corners) {
    if (x > 0 && x < 1) shares[Math.min(SAMPLES - 1, Math.max(1, Math.round(x * SAMPLES)))] = x;
  }
  return shares;
}

function stretchReduced(
  keys: KeyList,
  curve: TrackCurve,
  first: number,
  last: number,
  tolerance: number,
  fps: number,
): KeyList {
  const at = Array.from({ length: last - first + 1 }, (_, i) => curve.track.keys[first + i]!.at);
  const count = SAMPLES * (last - first) + 1;
  const shares = at.slice(1).map((_, i) => sharesOf(curve.segments[first + i]!));
  const times = Float64Array.from({ length: count }, (_, i) => {
    const segment = Math.min(at.length - 2, Math.floor(i / SAMPLES));
    return at[segment]! + (at[segment + 1]! - at[segment]!) * shares[segment]![i - segment * SAMPLES]!;
  });
  const sampled = Array.from(times, (time) => curve.at(time));
  const channels = sampled[0]!.map((_, k) => Float64Array.from(sampled, (numbers) => numbers[k]!));
  const isStraight = (i: number, j: number) =>
    channels.every((values) => isLine(times, values, i * SAMPLES, j * SAMPLES, tolerance));
  const fit = (i: number, j: number): readonly (Inner | undefined)[] =>
    channels.map((values) => fitCurve(times, values, i * SAMPLES, j * SAMPLES, tolerance));
  const isPossible = (i: number, j: number) =>
    j === i + 1 || isStraight(i, j) || fit(i, j).every((found) => found !== undefined);
  const stops = (at.length > MOST_EXACT ? longestSteps : fewestStops)(at.length, isPossible);
  if (stops.length === at.length) return keys;
  const kept: KeyDocument[] = stops.map((i) => keys[first + i]!);
  for (let s = 0; s + 1 < stops.length; s++) {
    const [i, j] = [stops[s]!, stops[s + 1]!];
    if (j === i + 1) continue;
    const [key, next] = [kept[s] as PoseKey, kept[s + 1] as PoseKey];
    if (isStraight(i, j)) {
      kept[s] = setMembers(key, { ease: undefined, out: undefined });
      kept[s + 1] = setMembers(next, { in: undefined });
      continue;
    }
    const third = (at[j]! - at[i]!) / 3;
    const inner = fit(i, j).map((found) => found!);
    const digits = 10 ** Math.ceil(-Math.log10(tolerance / 50));
    const round = (n: number) => Math.round(n * digits) / digits + 0;
    const handle = (seconds: number, index: number, from: number) =>
      inner.map((points, k) => [writeTime(seconds, '1f', fps), round(points[index as 0 | 1] - channels[k]![from]!)]);
    const one = (list: unknown[]) => (list.length === 1 ? list[0] : list);
    kept[s] = setMembers(key as unknown as Record<string, unknown>, {
      ease: 'curve',
      out: one(handle(third, 0, i * SAMPLES)),
    }) as unknown as KeyDocument;
    kept[s + 1] = setMembers(next as unknown as Record<string, unknown>, {
      in: one(handle(-third, 1, j * SAMPLES)),
    }) as unknown as KeyDocument;
  }
  return [...keys.slice(0, first), ...kept, ...keys.slice(last + 1)];
}
