import { show } from '../errors/show.js';

/**
 * A time or a duration: a number of seconds, or a string with a unit. `'9f'` is nine frames at the frame rate of the
 * clip, `'0.15s'` seconds, `'150ms'` milliseconds.
 */
export type Time = number | `${number}f` | `${number}s` | `${number}ms`;

/** Frames per second where neither clip nor reel says otherwise. */
export const DEFAULT_FPS = 60;

const TIME_TEXT = /^(-?)(\d{1,15})(?:\.(\d{1,15}))?(f|s|ms)$/;

/**
 * Reads a time into seconds, or returns `undefined` when it is not a valid time.
 *
 * The result is the double nearest to the written decimal divided by its unit: the digits are taken as one whole
 * number and divided once, so that `'9f'` at 60 is exactly `9 / 60` and `'0.1f'` does not round twice.
 *
 * @param fps frames per second, > 0; used by frame times only
 */
export function parseTime(time: unknown, fps: number): number | undefined {
  if (typeof time === 'number') return Number.isFinite(time) ? time : undefined;
  if (typeof time !== 'string') return undefined;
  const frames = wholeFrames(time);
  if (frames >= 0) return frames / fps;
  const match = TIME_TEXT.exec(time);
  if (!match) return undefined;
  const [, sign, whole = '', fraction = '', unit] = match;
  const perSecond = unit === 'f' ? fps : unit === 'ms' ? 1000 : 1;
  const digits = Number(whole + fraction);
  const scale = 10 ** fraction.length;
  // Beyond 2^53 the digits are not an exact integer; the plain reading is then as good.
  const seconds =
    digits <= Number.MAX_SAFE_INTEGER ? digits / (scale * perSecond) : Number(`${whole}.${fraction}`) / perSecond;
  return sign ? 0 - seconds : seconds;
}

/** The number in `"12f"`, which is how nearly all times are written; −1 for any other text. */
function wholeFrames(text: string): number {
  const last = text.length - 1;
  if (last < 1 || last > 15 || text.charCodeAt(last) !== 102) return -1; // f
  let number = 0;
  for (let i = 0; i < last; i++) {
    const digit = text.charCodeAt(i) - 48;
    if (digit < 0 || digit > 9) return -1;
    number = number * 10 + digit;
  }
  return number;
}

/** Reads a time that a program gave, in seconds. Throws a `RangeError` that shows the value. */
export function toSeconds(time: Time, fps: number, what = 'time'): number {
  const seconds = parseTime(time, fps);
  if (seconds === undefined) {
    throw new RangeError(
      `${what} ${show(time)} is not a valid time. Use seconds (0.15) or a string with a unit ('9f', '0.15s', '150ms').`,
    );
  }
  return seconds;
}

/** The whole frame that lies within a nanosecond of `seconds`, as a time in seconds; else `seconds` unchanged. */
export function snapToFrame(seconds: number, fps: number): number {
  const frame = Math.round(seconds * fps) / fps;
  return Math.abs(frame - seconds) <= NANOSECOND ? frame : seconds;
}

/**
 * A time that was worked out, as it would be written: the whole frame, or the whole nanosecond, that it differs from by
 * rounding only; else unchanged.
 */
export function snapToMoment(seconds: number, fps: number): number {
  const rounding = 4 * Number.EPSILON * Math.abs(seconds);
  const frame = Math.round(seconds * fps) / fps;
  if (Math.abs(frame - seconds) <= rounding) return frame;
  const written = Math.round(seconds * 1e9) / 1e9;
  return Math.abs(written - seconds) <= rounding ? written : seconds;
}

/** Times closer than this are one moment. Frames summed by a game (nine times 1/60) differ by less. */
export const NANOSECOND = 1e-9;
