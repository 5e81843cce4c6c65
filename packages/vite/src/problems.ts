import { formatDiagnostic, readReel, type Diagnostic, type Reel } from 'unspool';

/** What is wrong with a reel, as Vite shows it. */
export interface Problem {
  /** All errors, one a line, each with its place and what to do. */
  readonly message: string;
  /** The place of the first, both counted from 1, and the lines around it. */
  readonly loc: { readonly file: string; readonly line: number; readonly column: number } | undefined;
  readonly frame: string;
}

export interface ReadReel {
  readonly reel: Reel | undefined;
  readonly warnings: readonly string[];
  readonly problem: Problem | undefined;
}

/** Reads and checks the text of a reel. */
export function read(text: string, name: string): ReadReel {
  const { reel, diagnostics } = readReel(text, { source: name });
  const errors = diagnostics.filter(({ severity }) => severity === 'error');
  const warnings = diagnostics.filter(({ severity }) => severity !== 'error').map(formatDiagnostic);
  return { reel, warnings, problem: reel ? undefined : problemOf(errors, text, name) };
}

function problemOf(errors: readonly Diagnostic[], text: string, name: string): Problem {
  const first = errors.find(({ line }) => line !== undefined);
  const loc = first && { file: name, line: first.line!, column: first.column! };
  return { message: errors.map(formatDiagnostic).join('\n'), loc, frame: loc ? frameOf(text, loc) : '' };
}

/** Lines of the text around a place, with a mark below it. */
function frameOf(text: string, { line, column }: { readonly line: number; readonly column: number }): string {
  const lines = text.split('\n');
  const from = Math.max(1, line - 2);
  const until = Math.min(lines.length, line + 2);
  const width = String(until).length;
  return lines
    .slice(from - 1, until)
    .flatMap((shown, i) => {
      const number = from + i;
      const own = `${String(number).padStart(width)} | ${shown}`;
      return number === line ? [own, `${' '.repeat(width)} | ${' '.repeat(column - 1)}^`] : [own];
    })
    .join('\n');
}
