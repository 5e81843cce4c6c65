import { structuredPatch } from 'diff';
import pc from 'picocolors';
import { useColor } from '../failure.js';

/** What was done, in sentences, and the lines of the file that are others now. */
export function printChanges(
  file: string,
  before: string,
  after: string,
  said: readonly string[],
  stream: NodeJS.WriteStream,
): void {
  const colors = pc.createColors(useColor(stream));
  const { hunks } = structuredPatch(file, file, before, after, '', '', { context: 1 });
  const rows = said.map((sentence) => `${colors.bold('•')} ${sentence}`);
  for (const { oldStart, lines } of hunks) {
    rows.push('', colors.dim(`${file}:${oldStart}`));
    for (const line of lines) {
      if (line.startsWith('+')) rows.push(colors.green(line));
      else if (line.startsWith('-')) rows.push(colors.red(line));
      else if (!line.startsWith('\\')) rows.push(colors.dim(line));
    }
  }
  stream.write(`${rows.join('\n')}\n`);
}
