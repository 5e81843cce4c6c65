import { InvalidArgumentError } from 'commander';
import { parseTime } from 'unspool';
import { CallError } from './failure.js';

/** A time as typed: seconds, or with a unit. Checked when the frame rate is known. */
export function timeOption(clip: { readonly fps: number }, text: string, option: string): number {
  const plain = /^-?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(text);
  const seconds = parseTime(plain ? Number(text) : text, clip.fps);
  if (seconds === undefined) {
    throw new CallError(`${option} ${JSON.stringify(text)} is no time`, 'write seconds (0.15), or 9f, 0.15s, 150ms');
  }
  return seconds;
}

/** A length of time greater than 0. */
export function lengthOption(clip: { readonly fps: number }, text: string, option: string): number {
  const seconds = timeOption(clip, text, option);
  if (!(seconds > 0)) throw new CallError(`${option} ${text} is not greater than 0`, 'give a length of time, as 1f');
  return seconds;
}

/** For commander: a finite number. */
export function numberArgument(text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value)) throw new InvalidArgumentError('It is not a number.');
  return value;
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
