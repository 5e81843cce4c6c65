import pc from 'picocolors';
import { useColor } from '../failure.js';
import { hunksOf } from './line-changes.js';

/** What was done, in sentences, and the lines of the file that are others now. */
export function printChanges(
  file: string,
  before: string,
  after: string,
  summary: readonly string[],
  stream: NodeJS.WriteStream,
): void {
  const colors = pc.createColors(useColor(stream));
  const rows = summary.map((sentence) => `${colors.bold('•')} ${sentence}`);
  const paint = { '+': colors.green, '-': colors.red, ' ': colors.dim };
  for (const { start, lines } of hunksOf(before, after)) {
    rows.push('', colors.dim(`${file}:${start}`));
    for (const { sign, text } of lines) rows.push(paint[sign](sign + text));
  }
  stream.write(`${rows.join('\n')}\n`);
}
