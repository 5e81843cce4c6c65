import { withHint } from 'unspool';
import { dirname } from 'node:path';
import pc from 'picocolors';

/** What the exit code tells a script. */
export const EXIT = { fine: 0, problems: 1, call: 2 } as const;

/** The call was wrong, or a file could not be read or written. Printed as one line, with what to do. */
export class CallError extends Error {
  override readonly name = 'CallError';

  constructor(
    message: string,
    readonly hint: string,
    readonly exitCode: number = EXIT.call,
  ) {
    super(message);
  }

  /** All of it, as it is printed. */
  get text(): string {
    return withHint(this.message, this.hint);
  }
}

/**
 * Describes why a file could not be written.
 *
 * @param still the current state, such as `reef.json is unchanged`
 */
export function writeFailure(error: unknown, file: string, still: string): CallError {
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC' || code === 'EDQUOT' || code === 'EFBIG')
    return new CallError(`the disk is full: ${still}`, 'free some space and run this again');
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return new CallError(`no permission to write its folder: ${still}`, `allow it with chmod u+w ${dirname(file)}`);
  if (code === 'ENOENT' || code === 'ENOTDIR')
    return new CallError(`the folder ${dirname(file)} does not exist`, 'create it first');
  if (code === 'EISDIR') return new CallError(`${file} is a directory`, 'name a file inside it');
  return new CallError(`${file} could not be written: ${message}: ${still}`, 'check its folder and permissions');
}

/** Prints a failure on standard error. Returns the exit code that it means. */
export function reportFailure({ text: message, exitCode }: CallError): number {
  const colors = pc.createColors(useColor(process.stderr));
  process.stderr.write(`${colors.red('unspool:')} ${message}\n`);
  return exitCode;
}

/** Colors only on a terminal, and not where NO_COLOR (https://no-color.org) asks for none. */
export function useColor(stream: NodeJS.WriteStream): boolean {
  // `isTTY` is undefined for a pipe, which picocolors would take for "decide yourself": in CI, that is colors.
  return stream.isTTY === true && !process.env['NO_COLOR'];
}
