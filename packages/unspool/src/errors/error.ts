import { withHint } from './sentence.js';

/**
 * Thrown for a mistake in a call. `message` contains the values in question and ends with `hint`.
 */
export class UnspoolError extends Error {
  override readonly name: string = 'UnspoolError';

  constructor(
    /** A stable code for programs, such as `play/unknown-clip`. */
    readonly code: string,
    message: string,
    /** What to do. */
    readonly hint: string,
  ) {
    super(withHint(message, hint));
  }
}
