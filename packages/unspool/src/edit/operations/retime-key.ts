import type { KeyDocument } from '../../reel/document/document.js';
import { parseTime, type Time } from '../../time/units.js';
import { writeTime } from '../format-values.js';
import { isRow, type PoseKey } from '../document-access.js';

/** What becomes of times, in seconds; `factor` of lengths of time, > 0. */
export interface Retiming {
  readonly map: (seconds: number) => number;
  readonly factor: number;
  /** The unit of a time that was 0, which has none of its own. */
  readonly like?: Time;
}

/** A time in the unit in which it is written. */
export function retime(time: Time, fps: number, { map, like }: Retiming): Time {
  const seconds = parseTime(time, fps)!;
  const next = map(seconds);
  if (next === seconds) return time;
  return writeTime(next, seconds === 0 && like !== undefined ? like : time, fps);
}

/** A length of time in the unit in which it is written. */
export function relength(time: Time, fps: number, factor: number): Time {
  return factor === 1 ? time : writeTime(parseTime(time, fps)! * factor, time, fps);
}

export function retimeKey(key: KeyDocument, fps: number, retiming: Retiming): KeyDocument {
  const at = retime(key.at, fps, retiming);
  const { factor } = retiming;
  if (isRow(key)) return at === key.at && factor === 1 ? key : { ...key, at, each: relength(key.each, fps, factor) };
  if (factor === 1) return at === key.at ? key : { ...key, at };
  return mapHandles({ ...key, at }, (dt, dv) => [relength(dt, fps, factor), dv]);
}

type Handle = readonly [dt: Time, dv: number];

/** The handles of a key, one pair or one for each channel, as others. */
export function mapHandles(key: PoseKey, to: (dt: Time, dv: number, channel: number) => Handle): PoseKey {
  const one = (handle: unknown): unknown => {
    if (!Array.isArray(handle)) return handle;
    if (!Array.isArray(handle[0])) return to(...(handle as unknown as Handle), 0);
    return (handle as Handle[]).map(([dt, dv], channel) => to(dt, dv, channel));
  };
  return {
    ...key,
    ...(key.in !== undefined && { in: one(key.in) }),
    ...(key.out !== undefined && { out: one(key.out) }),
  };
}
