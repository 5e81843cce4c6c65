import type { Time } from 'unspool';
import type { WrittenKey } from '../motion/keys.js';

/** The shortest decimal that is the same number in 32 bits. */
export function shortFloat(n: number): number {
  const float = Math.fround(n);
  for (let digits = 1; digits < 10; digits++) {
    const short = Number(float.toPrecision(digits));
    if (Math.fround(short) === float) return short;
  }
  return n;
}

/** Seconds as a time of a frame rate where the file has one of its frames, else with few digits. */
export function shortTime(seconds: number, fps: number): Time {
  if (seconds === 0) return 0;
  const frame = Math.round(seconds * fps);
  return Math.fround(frame / fps) === Math.fround(seconds) ? `${frame}f` : shortFloat(seconds);
}

/**
 * Keys as a person would write them: times in frames, and the fewest digits that are the same in 32 bits.
 *
 * @param floor numbers nearer to 0 than this are rounding, and become 0
 */
export function shortKeys(keys: readonly WrittenKey[], fps: number, floor: number): WrittenKey[] {
  const short = (n: number) => (Math.abs(n) < floor ? 0 : shortFloat(n));
  const seconds = (time: Time) => (typeof time === 'number' ? time : Number.parseFloat(time) / fps);
  const times = keys.map(({ at }) => shortTime(at as number, fps));
  const third = (i: number, j: number) => Number(((seconds(times[j]!) - seconds(times[i]!)) / 3).toPrecision(14));
  const handles = (written: unknown, dt: number): unknown => {
    const one = ([, dv]: readonly [number, number]) => [dt, short(dv)];
    const list = written as readonly [number, number] | readonly (readonly [number, number])[];
    return Array.isArray(list[0]) ? (list as readonly (readonly [number, number])[]).map(one) : one(list as readonly [number, number]); // prettier-ignore
  };
  return keys.map((key, i) => ({
    ...key,
    at: times[i]!,
    value: Array.isArray(key.value) ? (key.value as number[]).map(short) : short(key.value as number),
    ...(key.in !== undefined && { in: handles(key.in, third(i, i - 1)) }),
    ...(key.out !== undefined && { out: handles(key.out, third(i, i + 1)) }),
  }));
}
