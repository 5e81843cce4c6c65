import pc from 'picocolors';

/** What the exit code tells a script. */
export const EXIT = { fine: 0, problems: 1, call: 2 } as const;

/** The call was wrong, or a file could not be read or written. Printed as one line, with what to do. */
export class CallError extends Error {
  override readonly name = 'CallError';

  constructor(
    said: string,
    readonly hint: string,
    readonly exitCode: number = EXIT.call,
  ) {
    super(said);
  }
}

/** Prints a failure on standard error. Returns the exit code that it means. */
export function reportFailure({ message, hint, exitCode }: CallError): number {
  const colors = pc.createColors(useColor(process.stderr));
  process.stderr.write(`${colors.red('unspool:')} ${message}${hint ? ` — ${hint}` : ''}\n`);
  return exitCode;
}

/** Colours only on a terminal, and not where NO_COLOR (https://no-color.org) asks for none. */
export function useColor(stream: NodeJS.WriteStream): boolean {
  // `isTTY` is undefined for a pipe, which picocolors would take for "decide yourself": in CI, that is colours.
  return stream.isTTY === true && !process.env['NO_COLOR'];
}
