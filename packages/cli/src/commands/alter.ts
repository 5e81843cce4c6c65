import { Option, type Command } from 'commander';
import { formatReel, parseReel, type ReelDocument } from 'unspool';
import { edit, type Operation } from 'unspool/edit';
import { CallError, EXIT } from '../failure.js';
import { readReelFile, STDIN } from '../files.js';
import { numberOption, trackFilter, typedTime } from '../options.js';
import { countOf, printDiagnostics } from '../print/diagnostics.js';
import { printChanges } from '../print/document-changes.js';
import { newProblems } from '../problems.js';
import { changeFile } from '../save.js';
import { DOING, type About, type Doing } from './alter-options.js';

type Values = Readonly<Record<string, string | boolean | undefined>>;

const NOTHING = 'nothing to write: the reel would not change\n';

/** An option that does something, with its value. */
interface Wanted {
  readonly doing: Doing;
  readonly value: string;
  readonly needsClip: boolean;
}

export function addAlter(program: Command): void {
  const command = program
    .command('alter')
    .description('Edits a reel. Prints the difference, and writes the file with --write.')
    .argument('[file]', 'a reel; - reads standard input and prints the new reel')
    .argument('[clip]', 'a clip of the reel');
  /** In the order of the command line. */
  const wanted: Wanted[] = [];
  command.optionsGroup('Edits:');
  for (const [flags, summary, doing] of DOING) {
    const option = new Option(flags, summary);
    command.addOption(option);
    command.on(`option:${option.name()}`, (value: string | null) =>
      wanted.push({ doing, value: value ?? '', needsClip: option.name() !== 'apply' }),
    );
  }
  command
    .optionsGroup('Selection:')
    .option('--tracks <names>', 'select these tracks: claw.rotation,crab.*')
    .option('--at <times>', 'select the keys at these times')
    .option('--from <time>', 'select keys from this time on')
    .option('--until <time>', 'select keys up to this time')
    .optionsGroup('Settings:')
    .option('--about <time>', 'the time that stays fixed when times are scaled')
    .option('--swap <a:b>', 'words to swap in role names when mirroring (default: left:right or up:down)')
    .addOption(
      new Option('--ripple [reach]', 'move along what is later: everything in the clip, or of the same roles or tracks')
        .choices(['clip', 'role', 'track'])
        .preset('clip'),
    )
    .option('--tolerance <number>', 'the most a curve may change where it cannot be cut exactly')
    .optionsGroup('Output:')
    .option('--write', 'write the file')
    .option('--format <format>', 'text, json', 'text')
    .addHelpText(
      'after',
      '\nEdits are applied in the order in which they are given.\n' +
        '\nExamples:\n  unspool alter crab.reel.json snap --move 2f --tracks "claw.*" --from 12f\n' +
        '  unspool alter crab.reel.json snap --stretch 1.25 --snap --write\n' +
        '  unspool alter crab.reel.json scuttle-right --copy scuttle-away --write',
    )
    .action(async (file: string | undefined, clip: string | undefined, values: Values) => {
      expectFileFirst(file, values);
      process.exitCode = await alter(file, clip, wanted, values);
    });
}

/** An option with an optional value would take the name of a file that follows it. */
function expectFileFirst(file: string | undefined, values: Values): asserts file is string {
  for (const option of ['snap', 'mirror', 'match-ends']) {
    const value = values[option.replace(/-(.)/g, (_, letter: string) => letter.toUpperCase())];
    if (typeof value === 'string' && value.endsWith('.json'))
      throw new CallError(
        `--${option} takes ${value} as its value`,
        'name the file and the clip first, then the options',
      );
  }
  if (file === undefined) throw new CallError('missing reel', 'name a file: unspool alter crab.reel.json snap …');
}

async function alter(
  file: string,
  clip: string | undefined,
  wanted: readonly Wanted[],
  values: Values,
): Promise<number> {
  const { format, write = false } = values;
  if (format !== 'text' && format !== 'json')
    throw new CallError(`unknown format ${JSON.stringify(format)}`, 'use text or json');
  if (wanted.length === 0) throw new CallError('nothing to do', 'add an edit, such as --move 2f; see --help');
  if (clip === undefined && wanted.some(({ needsClip }) => needsClip))
    throw new CallError('missing clip', 'name a clip after the file');
  const about = aboutOf(clip, values);
  const operations = wanted.flatMap(({ doing, value }) => doing(value, about));
  if (operations.length === 0) throw new CallError('--insert needs tracks', 'name them with --tracks claw.rotation');
  const { text, reel } = readReelFile(file);
  if (file === STDIN || !write) {
    const { doc, summary, isChanged } = applyAll(reel.document, operations);
    if (file === STDIN) process.stdout.write(formatReel(doc));
    else report(file, text, doc, summary, false, format);
    if (isChanged) warn(file, text, doc);
    if (file !== STDIN) process.stderr.write(!isChanged ? NOTHING : 'nothing written; add --write to write the file\n');
    return EXIT.fine;
  }
  let made = { present: text, ...applyAll(reel.document, operations) };
  const written = await changeFile(file, (present) => {
    // Another may have written in the meantime.
    if (present !== text) {
      const { document } = parseReel(present, { source: file });
      made = { present, ...applyAll(document, operations) };
    }
    return made.isChanged ? formatReel(made.doc) : undefined;
  });
  report(file, made.present, made.doc, made.summary, true, format);
  if (made.isChanged) warn(file, made.present, made.doc);
  process.stderr.write(written ? `wrote ${file}\n` : NOTHING);
  return EXIT.fine;
}

function aboutOf(clip: string | undefined, values: Values): About {
  const text = (name: string) => values[name] as string | undefined;
  const list = (name: string) =>
    text(name)
      ?.split(',')
      .map((one) => one.trim());
  const chosen = {
    ...(text('tracks') !== undefined && { tracks: list('tracks') }),
    ...(text('at') !== undefined && { at: list('at')!.map(typedTime) }),
    ...(text('from') !== undefined && { from: typedTime(text('from')!) }),
    ...(text('until') !== undefined && { until: typedTime(text('until')!) }),
    ...(text('ripple') !== undefined && { ripple: text('ripple') }),
  };
  const tolerance = text('tolerance') === undefined ? undefined : numberOption(text('tolerance')!, '--tolerance');
  return { clip: clip ?? '', chosen, tolerance, still: text('about'), swap: text('swap') };
}

/** All of them, one after the other, or none. A refusal names which it was. */
function applyAll(
  document: ReelDocument,
  operations: readonly Operation[],
): { readonly doc: ReelDocument; readonly summary: string[]; readonly isChanged: boolean } {
  const summary: string[] = [];
  const doc = operations
    .flatMap((operation) => expand(document, operation))
    .reduce((before, operation) => {
      const made = edit(before, operation);
      if (!made.ok && made.code !== 'edit/no-change')
        throw new CallError(made.said, `nothing was changed [${made.code}]`);
      summary.push(made.ok ? made.said : `${operation.do}: ${made.said}`);
      return made.ok ? made.doc : before;
    }, document);
  return { doc, summary, isChanged: doc !== document };
}

/** A key in each of the tracks that a pattern names. */
function expand(document: ReelDocument, operation: Operation): Operation[] {
  if (operation.do !== 'insert-key' || !operation.track.includes('*')) return [operation];
  const isNamed = trackFilter(operation.track);
  const tracks = Object.keys(document.clips[operation.clip]?.tracks ?? {}).filter(isNamed);
  return tracks.map((track) => ({ ...operation, track }));
}

function report(
  file: string,
  text: string,
  doc: ReelDocument,
  summary: readonly string[],
  written: boolean,
  format: string,
): void {
  if (format === 'json')
    process.stdout.write(`${JSON.stringify({ file, changes: summary, written, document: doc }, null, 2)}\n`);
  else {
    // The lines that the operations changed: changes by the canonical form alone are counted, not shown.
    const before = formatReel(parseReel(text).document);
    printChanges(file, before, formatReel(doc), summary, process.stdout);
    if (before !== text) process.stderr.write(`${file} is not in canonical form; writing it changes that too\n`);
  }
}

/** More than these are only counted. */
const MOST_SHOWN = 5;

/** Says what an edit has brought about that `check` would complain of: a key after the end, a loop that jumps. */
function warn(file: string, text: string, doc: ReelDocument): void {
  const after = formatReel(doc);
  const found = newProblems(text, after, file);
  printDiagnostics(found.slice(0, MOST_SHOWN), after, process.stderr);
  if (found.length === 0) return;
  const hidden = found.length > MOST_SHOWN ? `, of which the first ${MOST_SHOWN} are shown` : '';
  process.stderr.write(`this edit brings ${countOf(found)}${hidden}\n`);
}
