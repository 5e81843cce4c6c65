import { UnspoolError } from '../wording/error.js';

/** Thrown inside the editor where an operation does not apply; `edit` hands it on as data. */
export class Refusal extends UnspoolError {
  constructor(
    code: string,
    readonly said: string,
  ) {
    super(code, said, '');
  }
}

/** A refusal to throw. The sentence holds the values in question and ends with what to do. */
export function refuse(code: string, said: string): Refusal {
  return new Refusal(code, said);
}
