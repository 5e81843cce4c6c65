import { withHint } from './sentence.js';

/**
 * A mistake in a call. `code` is stable and meant for programs. `message` contains the values in question and ends with
 * `hint`, which says what to do.
 */
export class UnspoolError extends Error {
  override readonly name: string = 'UnspoolError';

  constructor(
    readonly code: string,
    message: string,
    readonly hint: string,
  ) {
    super(withHint(message, hint));
  }
}
