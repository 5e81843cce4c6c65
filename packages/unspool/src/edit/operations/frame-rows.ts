import type { KeyDocument, KeyList } from '../../reel/document/document.js';
import { NANOSECOND, parseTime, type Time } from '../../time/units.js';
import { writeTime } from '../format-values.js';
import { isRow, secondsAt, type FramesKey, type PoseKey } from '../document-access.js';

/** How many cells a row of frames shows. */
export const cellsOf = ({ frames: [first, last] }: FramesKey): number => Math.abs(last - first) + 1;

/** Seconds from its first frame to the end of its last. */
export const lengthOf = (row: FramesKey, fps: number): number => cellsOf(row) * parseTime(row.each, fps)!;

/** The row of frames that runs at a time, behind its start; −1 for none. */
export function rowAt(keys: KeyList, seconds: number, fps: number): number {
  return keys.findIndex((key, i) => {
    if (!isRow(key)) return false;
    const start = secondsAt(key, fps);
    const next = keys[i + 1] ? secondsAt(keys[i + 1]!, fps) : Infinity;
    return seconds > start && seconds < Math.min(start + lengthOf(key, fps), next) - NANOSECOND;
  });
}

/** Splits a row at a time inside it: the frames before, and the frames from it on. A frame that is split continues. */
export function cutRow(keys: KeyList, index: number, time: Time, seconds: number, fps: number): KeyList {
  const row = keys[index] as FramesKey;
  const [first, last] = row.frames;
  const way = last < first ? -1 : 1;
  const [start, each] = [secondsAt(row, fps), parseTime(row.each, fps)!];
  const passed = (seconds - start) / each;
  const whole = Math.round(passed);
  const isBetween = Math.abs(passed - whole) * each <= NANOSECOND;
  const count = isBetween ? whole : Math.ceil(passed); // frames that begin before the cut
  const head: KeyDocument = { ...row, frames: [first, first + way * (count - 1)] };
  const rest = (from: number, at: Time): KeyDocument[] =>
    from <= cellsOf(row) - 1 ? [{ ...row, at, frames: [first + way * from, last] }] : [];
  const middle: PoseKey[] = isBetween ? [] : [{ at: time, value: first + way * (count - 1) }];
  const next = start + count * each;
  const tail = isBetween ? rest(count, time) : rest(count, writeTime(next, row.each, fps));
  return [...keys.slice(0, index), head, ...middle, ...tail, ...keys.slice(index + 1)];
}
