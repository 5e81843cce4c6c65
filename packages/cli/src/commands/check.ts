import type { Command } from 'commander';
import { checkReel, parseReel, type Diagnostic } from 'unspool';
import { adviseShapes } from 'unspool/hit';
import { CallError, EXIT, reportFailure } from '../failure.js';
import { readTextFile } from '../files.js';
import { countOf, printDiagnostics } from '../print/diagnostics.js';

interface Options {
  readonly format: string;
  readonly strict?: boolean;
}

export function addCheck(program: Command): void {
  program
    .command('check')
    .description('Finds everything that is wrong with reels: where, what, and what to do.')
    .argument('<file...>', 'reels; - reads standard input')
    .option('--format <format>', 'text, json', 'text')
    .option('--strict', 'warnings count as problems too')
    .addHelpText(
      'after',
      '\nExample:\n  unspool check reels/*.reel.json\n  unspool check crab.reel.json --format json | jq .',
    )
    .action((files: string[], options: Options) => {
      process.exitCode = check(files, options);
    });
}

function check(files: readonly string[], { format, strict = false }: Options): number {
  if (format !== 'text' && format !== 'json') {
    throw new CallError(`check has no format ${JSON.stringify(format)}`, 'there are: text, json');
  }
  const all: Diagnostic[] = [];
  let exit: number = EXIT.fine;
  for (const file of files) {
    try {
      const text = readTextFile(file);
      const found = withAdvice(checkReel(text, { source: file }), text, file);
      all.push(...found);
      if (format === 'text') printDiagnostics(found, text, process.stdout);
    } catch (error) {
      // The other files are still checked.
      if (!(error instanceof CallError)) throw error;
      exit = Math.max(exit, reportFailure(error));
    }
  }
  if (format === 'json') process.stdout.write(`${JSON.stringify(all, null, 2)}\n`);
  const reels = `${files.length} ${files.length === 1 ? 'reel' : 'reels'}`;
  if (exit === EXIT.fine || all.length > 0)
    process.stderr.write(`${reels} checked: ${countOf(all) || 'no problems'}\n`);
  const wrong = all.some(({ severity }) => severity === 'error' || (strict && severity === 'warning'));
  return Math.max(exit, wrong ? EXIT.problems : EXIT.fine);
}

/** A reel that can be played is looked at for what is probably not meant. */
function withAdvice(found: Diagnostic[], text: string, source: string): Diagnostic[] {
  if (found.some(({ severity }) => severity === 'error')) return found;
  const advice = adviseShapes(parseReel(text), { text, source });
  const place = ({ line = 0, column = 0 }: Diagnostic) => line * 1e6 + column;
  return [...found, ...advice].sort((a, b) => place(a) - place(b));
}
