import { parseTime, type ReelDocument, type Time } from 'unspool';

type Clip = ReelDocument['clips'][string];
type Track = NonNullable<Clip['tracks']>[string];
type Key = Extract<Track, readonly unknown[]>[number];

/** A key as it is drawn: times in seconds. */
export interface KeyView {
  readonly at: number;
  /** As it is written. */
  readonly written: Time;
  /** Of a row of frames: when its last frame ends. */
  readonly until?: number;
  readonly frames?: readonly [number, number];
  readonly value: unknown;
  readonly ease: string;
  /** Whether the next key has the same value: nothing happens until then. */
  readonly stays: boolean;
  readonly in?: unknown;
  readonly out?: unknown;
}

/** Times within this many seconds are equal. */
const MOMENT = 1e-9;

const known = new WeakMap<object, { readonly fps: number; readonly keys: readonly KeyView[] }>();

/** The keys of a track. Tracks that an edit has not touched are the same objects: they are read once. */
export function keysOf(track: Track, fps: number): readonly KeyView[] {
  const seen = known.get(track);
  if (seen?.fps === fps) return seen.keys;
  const list = writtenKeys(track);
  const keys = list.map((key, i) => viewOf(key, list[i + 1], fps));
  known.set(track, { fps, keys });
  return keys;
}

/** Whether a track is a plain list of keys, without options. */
export function isList(track: Track): track is Extract<Track, readonly unknown[]> {
  return Array.isArray(track);
}

/** The keys of a track as they are written. */
export function writtenKeys(track: Track): readonly Key[] {
  return isList(track) ? track : track.keys;
}

function viewOf(key: Key, next: Key | undefined, fps: number): KeyView {
  const at = parseTime(key.at, fps)!;
  if ('frames' in key) {
    const [first, last] = key.frames;
    const until = at + parseTime(key.each, fps)! * (Math.abs(last - first) + 1);
    return { at, written: key.at, until, frames: [first, last], value: first, ease: 'hold', stays: false };
  }
  const stays = next !== undefined && 'value' in next && isSameValue(key.value, next.value);
  return { at, written: key.at, value: key.value, ease: key.ease ?? 'linear', stays, in: key.in, out: key.out };
}

function isSameValue(a: unknown, b: unknown): boolean {
  return a === b || (typeof a === 'object' && JSON.stringify(a) === JSON.stringify(b));
}

/** The first of things in order that has come to a time, by halving: there may be thousands. Their number when none has. */
export function firstFrom<T>(list: readonly T[], time: number, timeOf: (one: T) => number): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (timeOf(list[middle]!) < time - MOMENT) low = middle + 1;
    else high = middle;
  }
  return low;
}

const timeOf = ({ at }: KeyView) => at;

/** The index of the first key at or after a time. */
export function firstKeyFrom(keys: readonly KeyView[], time: number): number {
  return firstFrom(keys, time, timeOf);
}

/** The key at a time. */
export function keyAt(keys: readonly KeyView[], time: number): KeyView | undefined {
  const key = keys[firstKeyFrom(keys, time)];
  return key && isMoment(key.at, time) ? key : undefined;
}

export const DEFAULT_FPS = 60;

export function fpsOf(doc: ReelDocument, clip: Clip): number {
  return clip.fps ?? doc.fps ?? DEFAULT_FPS;
}

/** Whether two times are one moment, as the editor sees it: within a nanosecond. */
export const isMoment = (a: number, b: number) => Math.abs(a - b) <= MOMENT;

/**
 * A time as it is written into a clip: in frames where it is on one, or half way between two; else in seconds. Clips that
 * are written in seconds stay so.
 */
export function writeAt(seconds: number, fps: number, clip: Clip): Time {
  const inSeconds = typeof clip.duration === 'number' && clip.duration > 0;
  const frames = seconds * fps;
  const rounded = Math.round(frames * 100) / 100;
  if (!inSeconds && Math.abs(frames - rounded) < 1e-6) return rounded === 0 ? 0 : `${rounded}f`;
  return Number(seconds.toFixed(9));
}
