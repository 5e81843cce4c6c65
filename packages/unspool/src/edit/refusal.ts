import { withHint } from '../errors/sentence.js';
import { messages, type DocumentPath, type Report } from '../reel/diagnostics/diagnostic-messages.js';
import { UnspoolError } from '../errors/error.js';

/** Thrown inside the editor where an operation does not apply; `edit` hands it on as data. */
export class Refusal extends UnspoolError {
  constructor(
    code: string,
    readonly text: string,
  ) {
    super(code, text, '');
  }
}

/**
 * Returns a report function that refuses with the first error that it receives.
 *
 * @param place the prefix of the sentence for a path
 * @param as    the code of the refusal; else the problem's own
 */
export function refuseProblems(place: (path: DocumentPath) => string, as?: string): Report {
  return (code, path, args, severity = 'error') => {
    if (severity !== 'error') return;
    const [message, hint] = messages[code](args);
    throw refuse(as ?? code, `${place(path)}${withHint(message, hint)}`);
  };
}

/** The same for what a caller passes: places are its members, such as `"tracks.0": `. */
export function refuseMembers(as: string): Report {
  return refuseProblems((path) => (path.length > 0 ? `"${path.join('.')}": ` : ''), as);
}

/** A refusal to throw. The sentence holds the values in question and ends with what to do. */
export function refuse(code: string, message: string): Refusal {
  return new Refusal(code, message);
}
