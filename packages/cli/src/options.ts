import { InvalidArgumentError } from 'commander';
import { parseTime, type Time } from 'unspool';
import { CallError } from './failure.js';

/** A time as typed: seconds, or with a unit. Checked when the frame rate is known. */
export function timeOption(clip: { readonly fps: number }, text: string, option: string): number {
  const seconds = parseTime(typedTime(text), clip.fps);
  if (seconds === undefined) {
    throw new CallError(
      `invalid time ${JSON.stringify(text)} for ${option}`,
      'use seconds (0.15), frames (9f) or milliseconds (150ms)',
    );
  }
  return seconds;
}

/** A time as typed, in the form of a reel: bare digits are seconds, everything else is passed on. */
export function typedTime(text: string): Time {
  const plain = /^-?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text);
  return plain ? Number(text) : (text as Time);
}

/** A length of time greater than 0. */
export function lengthOption(clip: { readonly fps: number }, text: string, option: string): number {
  const seconds = timeOption(clip, text, option);
  if (!(seconds > 0)) throw new CallError(`${option} ${text} is not greater than 0`, 'use a time such as 1f');
  return seconds;
}

/** For commander: a finite number. */
export function numberArgument(text: string): number {
  const value = finiteNumber(text);
  if (value === undefined) throw new InvalidArgumentError('Expected a number.');
  return value;
}

/** A finite number, of an option that is read after the others. */
export function numberOption(text: string, option: string): number {
  const value = finiteNumber(text);
  if (value === undefined)
    throw new CallError(`invalid number ${JSON.stringify(text)} for ${option}`, 'use a number such as 1.5');
  return value;
}

function finiteNumber(text: string): number | undefined {
  const value = Number(text);
  return text.trim() === '' || !Number.isFinite(value) ? undefined : value;
}

/** For commander: an option that may be given more than once. One with a list of values would take the files behind it. */
export function collected(value: string, before: readonly string[] = []): readonly string[] {
  return [...before, value];
}

/** A pattern of track names, with `*` for any run of characters: `claw.*`. */
export function trackFilter(pattern: string | undefined): (name: string) => boolean {
  if (pattern === undefined) return () => true;
  const parts = pattern.split(',').map((part) => part.trim().split('*').map(escape).join('.*'));
  const expression = new RegExp(`^(?:${parts.join('|')})$`);
  return (name) => expression.test(name);
}

function escape(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}
