import type { Command } from 'commander';
import { formatReel, readReel, type Diagnostic, type ReelDocument } from 'unspool';
import { advise, edit, type Advice, type AdviseOptions } from 'unspool/edit';
import { CallError, EXIT, reportFailure } from '../failure.js';
import { readTextFile, STDIN } from '../files.js';
import { collected } from '../options.js';
import { countOf, printDiagnostics } from '../print/diagnostics.js';
import { toSarif } from '../print/sarif.js';
import { problemsOf } from '../problems.js';
import { changeFile } from '../save.js';
import { identifiersIn } from '../game-identifiers.js';

interface Options {
  readonly format: string;
  readonly strict?: boolean;
  readonly fix?: boolean | string;
  readonly game?: readonly string[];
}

export function addCheck(program: Command): void {
  program
    .command('check')
    .description('Checks reels for errors, warnings and likely mistakes.')
    .argument('[file...]', 'reels; - reads standard input')
    .option('--format <format>', 'text, json, sarif', 'text')
    .option('--strict', 'exit with 1 on warnings too')
    .option('--fix [which]', 'fix what can be fixed without changing what is shown; "all" fixes the rest too')
    .option(
      '--game <path>',
      'a source file or folder of the game (repeatable): reports clips, cues and spans that the game never names',
      collected,
    )
    .addHelpText(
      'after',
      '\nExamples:\n  unspool check reels/*.reel.json\n  unspool check crab.reel.json --fix\n  unspool check crab.reel.json --format json | jq .',
    )
    .action(async (files: string[], options: Options) => {
      process.exitCode = await check(files, options);
    });
}

async function check(named: readonly string[], { format, strict = false, fix, game }: Options): Promise<number> {
  if (format !== 'text' && format !== 'json' && format !== 'sarif') {
    throw new CallError(`unknown format ${JSON.stringify(format)}`, 'use text, json or sarif');
  }
  // `--fix crab.reel.json`: the option has taken a file for its own.
  const files = typeof fix === 'string' && fix !== 'all' ? [fix, ...named] : named;
  if (files.length === 0) throw new CallError('missing reel', 'name a file: unspool check crab.reel.json');
  const spoken = game && identifiersIn(game);
  const all: Diagnostic[] = [];
  let exit: number = EXIT.fine;
  for (const file of files) {
    try {
      if (fix) await fixFile(file, fix === 'all', spoken);
      const text = readTextFile(file);
      const found = problemsOf(text, { source: file, ...(spoken && { gameIdentifiers: spoken }) });
      all.push(...found);
      if (format === 'text') printDiagnostics(found, text, process.stdout);
    } catch (error) {
      // The other files are still checked.
      if (!(error instanceof CallError)) throw error;
      exit = Math.max(exit, reportFailure(error));
    }
  }
  if (format !== 'text') process.stdout.write(`${JSON.stringify(format === 'sarif' ? toSarif(all) : all, null, 2)}\n`);
  const reels = `${files.length} ${files.length === 1 ? 'reel' : 'reels'}`;
  if (exit === EXIT.fine || all.length > 0)
    process.stderr.write(`${reels} checked: ${countOf(all) || 'no problems'}\n`);
  const wrong = all.some(({ severity }) => severity === 'error' || (strict && severity === 'warning'));
  return Math.max(exit, wrong ? EXIT.problems : EXIT.fine);
}

async function fixFile(file: string, all: boolean, spoken: AdviseOptions['gameIdentifiers']): Promise<void> {
  if (file === STDIN) throw new CallError('standard input cannot be fixed', 'name a file');
  let done: string[] = [];
  await changeFile(file, (text) => {
    done = [];
    const { reel } = readReel(text);
    if (!reel) return undefined;
    let doc: ReelDocument = reel.document;
    // What one fix leaves behind may be another's business; each is tried once.
    const tried = new Set<string>();
    for (let next = nextFix(doc, all, spoken, tried); next; next = nextFix(doc, all, spoken, tried)) {
      tried.add(`${next.code} ${next.path}`);
      const made = edit(doc, { do: 'group', operations: next.fix! });
      if (!made.ok) continue;
      doc = made.doc;
      done.push(made.said);
    }
    return done.length > 0 ? formatReel(doc) : undefined;
  });
  for (const message of done) process.stderr.write(`${file}: ${message}\n`);
}

function nextFix(
  doc: ReelDocument,
  all: boolean,
  spoken: AdviseOptions['gameIdentifiers'],
  tried: Set<string>,
): Advice | undefined {
  return advise(doc, spoken && { gameIdentifiers: spoken }).find(
    ({ fix, safe, code, path }) => fix && (all || safe) && !tried.has(`${code} ${path}`),
  );
}
