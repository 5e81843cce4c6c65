import pc from 'picocolors';
import type { Diagnostic } from 'unspool';
import { useColor } from '../failure.js';

/** Prints diagnostics for people: where, what, the line in question with a mark under it, and what to do. */
export function printDiagnostics(diagnostics: readonly Diagnostic[], text: string, stream: NodeJS.WriteStream): void {
  const colors = pc.createColors(useColor(stream));
  const lines = text.split('\n');
  for (const one of diagnostics) {
    const { source = 'reel', line, column, severity, message, hint, code } = one;
    const place = line === undefined ? source : `${source}:${line}:${column}`;
    const paint = severity === 'error' ? colors.red : severity === 'warning' ? colors.yellow : colors.cyan;
    const rows = [`${colors.bold(place)}: ${paint(severity)}: ${message} ${colors.dim(`[${code}]`)}`];
    const quoted = line === undefined ? undefined : lines[line - 1];
    if (quoted !== undefined && line !== undefined && column !== undefined)
      rows.push(...quote(quoted, line, column, paint));
    if (hint) rows.push(`   = help: ${hint}`);
    stream.write(`${rows.join('\n')}\n\n`);
  }
}

/** The line with its number, cut to what fits around the column, and a mark under what is meant. */
function quote(line: string, number: number, column: number, paint: (text: string) => string): string[] {
  const clean = line.replace(/\r$/, '').replace(/[\t\p{Cc}]/gu, ' ');
  const start = Math.max(0, Math.min(column - 41, clean.length - 100));
  const shown = clean.slice(start, start + 100);
  const length = /^(?:"(?:[^"\\]|\\.)*"|[\w.+-]+)/.exec(clean.slice(column - 1))?.[0].length ?? 1;
  const gutter = String(number).padStart(5);
  const room = Math.max(1, Math.min(length, start + 100 - (column - 1)));
  return [
    `${gutter} | ${start > 0 ? '…' : ''}${shown}`,
    `      | ${' '.repeat(column - 1 - start + (start > 0 ? 1 : 0))}${paint('^'.repeat(room))}`,
  ];
}

/** `2 errors, 1 warning`. */
export function countOf(diagnostics: readonly Diagnostic[]): string {
  const counts = (['error', 'warning', 'advice'] as const).flatMap((severity) => {
    const count = diagnostics.filter((one) => one.severity === severity).length;
    return count === 0 ? [] : [`${count} ${severity}${count === 1 || severity === 'advice' ? '' : 's'}`];
  });
  return counts.join(', ');
}
