/**
 * A mistake in a call: what was asked cannot be done. `code` is stable and meant for programs, the message holds the
 * values in question and ends with the hint.
 */
export class UnspoolError extends Error {
  override readonly name: string = 'UnspoolError';

  constructor(
    readonly code: string,
    message: string,
    readonly hint: string,
  ) {
    super(hint ? `${message} — ${hint}` : message);
  }
}
