import { parseTime, type Time } from '../time/units.js';
import { show } from '../errors/show.js';
import { refuse } from './refusal.js';

/** How far a written time may be from the intended one, in seconds: a thousandth of the tolerance for equal times. */
const EXACT = 1e-12;

/**
 * Writes a time in the unit of another: "6f" moved by 50 ms at 60 fps is "9f". The shortest decimal within a
 * picosecond; 0 is always written as 0.
 *
 * @param seconds finite
 * @param like    the unit is taken from it
 * @param fps     frames per second where it is written
 */
export function writeTime(seconds: number, like: Time, fps: number): Time {
  if (Math.abs(seconds) <= EXACT) return 0;
  const unit = unitOf(like);
  const scale = unit === 'f' ? fps : unit === 'ms' ? 1000 : 1;
  const amount = seconds * scale;
  for (let digits = 0; digits <= 15; digits++) {
    const text = amount.toFixed(digits);
    const time = unit === '' ? Number(text) : (`${text}${unit}` as Time);
    if (Math.abs((parseTime(time, fps) ?? Infinity) - seconds) <= EXACT) return time;
  }
  return seconds;
}

function unitOf(time: Time): '' | 'f' | 's' | 'ms' {
  return typeof time === 'number' ? '' : time.endsWith('ms') ? 'ms' : time.endsWith('f') ? 'f' : 's';
}

/** Formats a time for a message, with at most so many decimals; four for seconds without a unit. */
export function roundedTime(time: Time, decimals: number): Time {
  const unit = unitOf(time);
  if (typeof time === 'number') return Number(time.toFixed(4));
  return `${Number(Number(time.slice(0, -unit.length)).toFixed(decimals))}${unit}` as Time;
}

/** The unit that times of a clip are mostly written in: that of the first that has one, else seconds. */
export function likeOf(times: Iterable<Time | undefined>): Time {
  for (const time of times) if (typeof time === 'string') return time;
  for (const time of times) if (time !== undefined && time !== 0) return time;
  return '0f';
}

/** Seconds of a time that an operation gives, which its schema has seen. */
export function secondsOf(time: Time, fps: number): number {
  const seconds = parseTime(time, fps);
  if (seconds === undefined)
    throw refuse('edit/time', `${JSON.stringify(time)} is not a valid time. Use 0.15, "9f" or "150ms".`);
  return seconds;
}

/** A difference of times as a person says it: `+2f`, `−50ms`, `+0.5 s`. */
export function formatDifference(time: Time): string {
  const text = formatTime(time);
  return text.startsWith('-') ? `−${text.slice(1)}` : `+${text}`;
}

export function formatTime(time: Time): string {
  if (time === 0) return '0';
  return typeof time === 'number' ? `${Number(time.toPrecision(6))} s` : time;
}

/** A number as a sentence says it. */
export function formatNumber(n: number): string {
  return String(Number(n.toPrecision(6)));
}

/** A value of a key as a sentence says it: `[1.3, 0.85]`, `"#ffd9a0"`. */
export function formatValue(value: unknown, most = 40): string {
  return typeof value === 'string' ? show(value, most) : show(value, most).replace(/,(?=\S)/g, ', ');
}
