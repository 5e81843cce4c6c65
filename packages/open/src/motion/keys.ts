import type { Time } from 'unspool';
import type { CubicPiece } from './cubics.js';

/** A key as a reel writes it. */
export interface WrittenKey {
  readonly at: Time;
  readonly value: unknown;
  ease?: string;
  in?: unknown;
  out?: unknown;
}

/** How far before a jump the value that it comes from is keyed, in seconds. */
const BEFORE_A_JUMP = 1e-8;

/** How numbers and times are written. */
export interface Writing {
  /** The numbers of a key as its value. Default: one number as it is, more as a list. */
  readonly value?: (numbers: readonly number[]) => unknown;
  /** Seconds as a time. Default: seconds. */
  readonly time?: (seconds: number) => Time;
}

const one = (numbers: readonly unknown[]) => (numbers.length === 1 ? numbers[0] : numbers);

/**
 * Writes pieces as keys of one track: what holds with `hold`, lines with `linear`, cubics with `curve` and handles a third
 * of the way long, which is the same polynomial.
 */
export function keysOf(pieces: readonly CubicPiece[], writing: Writing = {}): WrittenKey[] {
  const { value = one, time = (seconds: number) => seconds } = writing;
  const keys: WrittenKey[] = [];
  let into: unknown;
  pieces.forEach(({ start, end, form, values }, i) => {
    const from = values.map(([n]) => n);
    const to = values.map(([, , , n]) => n);
    const key: WrittenKey = { at: time(start), value: value(from) };
    if (into !== undefined) key.in = into;
    into = undefined;
    if (form === 'still') key.ease = 'hold';
    if (form === 'cubic') {
      const third = (end - start) / 3;
      key.ease = 'curve';
      key.out = one(values.map(([n, out]) => [third, out - n]));
      into = one(values.map(([, , control, n]) => [-third, control - n]));
    }
    keys.push(key);
    const next = pieces[i + 1];
    const isJump = next && form !== 'still' && next.values.some(([n], k) => n !== to[k]);
    if (next && !isJump) return;
    if (form === 'still') return;
    keys.push({
      ...{ at: time(next ? Math.max(end - BEFORE_A_JUMP, (start + end) / 2) : end), value: value(to) },
      ...(into !== undefined && { in: into }),
      ...(next && { ease: 'hold' }),
    });
    into = undefined;
  });
  return keys.filter((key, i) => i === 0 || !isRepeated(keys[i - 1]!, key));
}

/** A held key that says again what holds already. */
const isRepeated = (before: WrittenKey, key: WrittenKey) =>
  before.ease === 'hold' && key.ease === 'hold' && JSON.stringify(before.value) === JSON.stringify(key.value);
