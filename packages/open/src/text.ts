import { LIMITS } from 'unspool';
import { refuse } from './errors.js';

/** Refuses a text that is longer than a reel may be. */
export function checkSize(text: string, what: string): void {
  if (text.length > LIMITS.bytes)
    refuse('size', `the ${what} has ${text.length} characters, the limit is ${LIMITS.bytes}`, 'use a part of it');
}

/** One line of a message from another package, without its place and its full stop. */
export const firstLine = (error: unknown): string => (error as Error).message.split('\n')[0]!.replace(/\.$/, '');
