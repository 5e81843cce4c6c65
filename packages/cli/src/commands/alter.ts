import { Option, type Command } from 'commander';
import { formatReel, parseReel, type ReelDocument } from 'unspool';
import { edit, type Operation } from 'unspool/edit';
import { CallError, EXIT } from '../failure.js';
import { readReelFile, readTextFile, STDIN } from '../files.js';
import { numberOption, trackFilter, typedTime } from '../options.js';
import { printChanges } from '../print/document-changes.js';
import { changeFile } from '../save.js';

type Values = Readonly<Record<string, string | boolean | undefined>>;

/** What is meant by an option that does something: the operation that it stands for. */
type Doing = (value: string, about: About) => Operation | Operation[];

/** The clip, and which of its keys the options that choose have named. */
interface About {
  readonly clip: string;
  readonly chosen: Readonly<Record<string, unknown>>;
  readonly tolerance: number | undefined;
  /** The time that stays where times are scaled. */
  readonly still: string | undefined;
  /** `left:right`: words in role names that change places in a mirror. */
  readonly swap: string | undefined;
}

const numbers = (text: string, option: string): number | number[] => {
  const list = text.split(',').map((one) => numberOption(one, option));
  return list.length === 1 ? list[0]! : list;
};
const two = (text: string, by: string, option: string): [string, string] => {
  const [a, b, more] = text.split(by);
  if (!a || !b || more !== undefined)
    throw new CallError(`${option} ${JSON.stringify(text)} is not two`, `write A${by}B`);
  return [a, b];
};

/** Every option that does something: how it is called, what is said of it, and its operation. */
const DOING: readonly (readonly [flags: string, help: string, doing: Doing])[] = [
  ['--move <time>', 'moves keys by so much: 2f, -50ms; with --ripple what comes later too', (by, { clip, chosen }) => ({ do: 'move-keys', clip, ...chosen, by: typedTime(by) })],
  ['--stretch <factor>', 'makes it slower (2) or faster (0.5); about the first key, or --about', (factor, { clip, chosen, still }) => ({ do: 'scale-times', clip, ...chosen, factor: numberOption(factor, '--stretch'), ...(still !== undefined && { about: typedTime(still) }) })],
  ['--duration <time>', 'makes the clip so long: everything in it is scaled', (duration, { clip }) => ({ do: 'fit', clip, duration: typedTime(duration) })],
  ['--snap [grid]', 'puts keys on frames, or on another grid', (grid, { clip, chosen }) => ({ do: 'snap', clip, ...withoutRipple(chosen), grid: typedTime(grid || '1f') })],
  ['--trim <from..until>', 'keeps a stretch of the clip', (span, { clip, tolerance }) => {
    const [from, until] = two(span, '..', '--trim');
    return { do: 'trim', clip, from: typedTime(from), until: typedTime(until), ...(tolerance !== undefined && { tolerance }) };
  }],
  ['--extend <time>', 'gives the clip more time at its end', (until, { clip }) => ({ do: 'extend', clip, until: typedTime(until) })],
  ['--reverse', 'turns the clip round', (_, { clip }) => ({ do: 'reverse', clip })],
  ['--mirror [axis]', 'the clip for the other side: x (default) or y; roles of one side swap with the other', (axis, { clip, swap }) => ({ do: 'mirror', clip, axis: (axis || 'x') as 'x', ...(swap !== undefined && { swap: [two(swap, ':', '--swap')] }) })],
  ['--stagger <time>', 'lets the tracks of --tracks begin one after the other', (by, { clip, chosen }) => ({ do: 'stagger', clip, tracks: (chosen['tracks'] as string[] | undefined) ?? ['*'], by: typedTime(by) })],
  ['--insert <time>', 'inserts keys on the curves, in the tracks of --tracks: nothing shown changes', (at, { clip, chosen, tolerance }) =>
    ((chosen['tracks'] as string[] | undefined) ?? []).map((track): Operation => ({ do: 'insert-key', clip, track, at: typedTime(at), ...(tolerance !== undefined && { tolerance }) }))],
  ['--ease <easing>', 'sets the easing of keys: hold, smooth, quad-out …', (ease, { clip, chosen }) => ({ do: 'set-keys', clip, ...withoutRipple(chosen), ease })],
  ['--value <json>', 'sets the value of keys', (value, { clip, chosen }) => ({ do: 'set-keys', clip, ...withoutRipple(chosen), value: json(value, '--value') })],
  ['--add <numbers>', 'adds to values: 5, or 1,0 for each channel', (by, { clip, chosen }) => ({ do: 'add-values', clip, ...withoutRipple(chosen), by: numbers(by, '--add') })],
  ['--scale <numbers>', 'scales values', (factor, { clip, chosen }) => ({ do: 'scale-values', clip, ...withoutRipple(chosen), factor: numbers(factor, '--scale') })],
  ['--remove-keys', 'removes the keys that are chosen', (_, { clip, chosen }) => ({ do: 'remove-keys', clip, ...withoutRipple(chosen) })],
  ['--split <track>', 'one track for each channel', (track, { clip }) => ({ do: 'split-channels', clip, track })],
  ['--join <track>', 'the tracks of its channels as one', (track, { clip }) => ({ do: 'join-channels', clip, track })],
  ['--match-ends [speed]', 'lets a loop end as it begins; with "speed", as fast', (speed, { clip, chosen }) => ({ do: 'match-ends', clip, ...(chosen['tracks'] ? { tracks: chosen['tracks'] as string[] } : {}), speed: speed === 'speed' })],
  ['--copy <name>', 'copies the clip under another name', (to, { clip }) => ({ do: 'copy-clip', clip, to })],
  ['--rename <name>', 'renames the clip, everywhere', (to, { clip }) => ({ do: 'rename', what: 'clip', name: clip, to })],
  ['--apply <file>', 'applies operations from a JSON file, or - for standard input: one, or a list', operationsIn],
]; // prettier-ignore

function withoutRipple({ ripple, ...chosen }: About['chosen']): About['chosen'] {
  return chosen;
}

function json(text: string, what: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new CallError(
      `${what} is not JSON: ${(error as Error).message}`,
      'write it as in a reel: 1, [1, 2], "#e07a5f"',
    );
  }
}

/** The operations of a JSON file. Whether they apply is the business of `edit`. */
function operationsIn(file: string): Operation[] {
  const value = json(readTextFile(file), file);
  const list: unknown[] = Array.isArray(value) ? value : [value];
  if (list.length === 0)
    throw new CallError(`${file} has no operations`, 'write [{ "do": "reverse", "clip": "snap" }]');
  list.forEach((one, i) => {
    if (typeof one === 'object' && one !== null && typeof (one as { do?: unknown }).do === 'string') return;
    const place = Array.isArray(value) ? `${file}/${i}` : file;
    throw new CallError(
      `${place}: ${JSON.stringify(one)} is no operation`,
      'write { "do": "reverse", "clip": "snap" }',
    );
  });
  return list as Operation[];
}

const NOTHING = 'nothing to write: it is like that already\n';

/** An option that does something, with its value. */
interface Wanted {
  readonly doing: Doing;
  readonly value: string;
  readonly needsClip: boolean;
}

export function addAlter(program: Command): void {
  const command = program
    .command('alter')
    .description('Changes a reel as an animator would. Shows what would change; writes with --write.')
    .argument('[file]', 'a reel; - reads standard input and prints the new reel')
    .argument('[clip]', 'one of its clips');
  /** In the order in which they stand on the line. */
  const wanted: Wanted[] = [];
  for (const [flags, summary, doing] of DOING) {
    const option = new Option(flags, summary);
    command.addOption(option);
    command.on(`option:${option.name()}`, (value: string | null) =>
      wanted.push({ doing, value: value ?? '', needsClip: option.name() !== 'apply' }),
    );
  }
  command
    .option('--tracks <names>', 'which tracks: claw.rotation,crab.*')
    .option('--at <times>', 'which keys: at these times')
    .option('--from <time>', 'which keys: from here on')
    .option('--until <time>', 'which keys: up to here')
    .option('--about <time>', 'the moment that stays where times are stretched')
    .option('--swap <a:b>', 'words in role names that change places in a mirror; default left:right, or up:down')
    .option('--ripple', 'what comes later moves along')
    .option('--tolerance <number>', 'how much curves may change where an easing cannot be cut exactly')
    .option('--write', 'writes the file')
    .option('--format <format>', 'text, json', 'text')
    .addHelpText(
      'after',
      '\nWhat is to be done is done in the order in which it stands on the line.\n' +
        '\nExample:\n  unspool alter crab.reel.json snap --move 2f --tracks "claw.*" --from 12f\n' +
        '  unspool alter crab.reel.json snap --stretch 1.25 --snap --write\n' +
        '  unspool alter crab.reel.json scuttle-right --copy scuttle-away --write',
    )
    .action(async (file: string | undefined, clip: string | undefined, values: Values) => {
      expectFileFirst(file, values);
      process.exitCode = await alter(file, clip, wanted, values);
    });
}

/** An option whose value may be left out takes the name of a file that stands behind it. */
function expectFileFirst(file: string | undefined, values: Values): asserts file is string {
  for (const option of ['snap', 'mirror', 'match-ends']) {
    const value = values[option.replace(/-(.)/g, (_, letter: string) => letter.toUpperCase())];
    if (typeof value === 'string' && value.endsWith('.json'))
      throw new CallError(`--${option} takes ${value} for its value`, 'name the file and the clip before the options');
  }
  if (file === undefined) throw new CallError('no reel is named', 'name one: unspool alter crab.reel.json snap …');
}

async function alter(
  file: string,
  clip: string | undefined,
  wanted: readonly Wanted[],
  values: Values,
): Promise<number> {
  const { format, write = false } = values;
  if (format !== 'text' && format !== 'json')
    throw new CallError(`alter has no format ${JSON.stringify(format)}`, 'there are: text, json');
  if (wanted.length === 0) throw new CallError('nothing is to be done', 'say what, as --move 2f; see --help');
  if (clip === undefined && wanted.some(({ needsClip }) => needsClip))
    throw new CallError('no clip is named', 'name one behind the file');
  const about = aboutOf(clip, values);
  const operations = wanted.flatMap(({ doing, value }) => doing(value, about));
  if (operations.length === 0) throw new CallError('--insert has no tracks', 'name them, as --tracks claw.rotation');
  const { text, reel } = readReelFile(file);
  if (file === STDIN || !write) {
    const { doc, summary, isChanged } = applyAll(reel.document, operations);
    if (file === STDIN) process.stdout.write(formatReel(doc));
    else report(file, text, doc, summary, false, format);
    if (file !== STDIN) process.stderr.write(!isChanged ? NOTHING : 'nothing written yet: say --write\n');
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
  process.stderr.write(written ? `${file} written\n` : NOTHING);
  return EXIT.fine;
}

function aboutOf(clip: string | undefined, values: Values): About {
  const text = (name: string) => values[name] as string | undefined;
  const list = (name: string) => text(name)?.split(',').map((one) => one.trim()); // prettier-ignore
  const chosen = {
    ...(text('tracks') !== undefined && { tracks: list('tracks') }),
    ...(text('at') !== undefined && { at: list('at')!.map(typedTime) }),
    ...(text('from') !== undefined && { from: typedTime(text('from')!) }),
    ...(text('until') !== undefined && { until: typedTime(text('until')!) }),
    ...(values['ripple'] === true && { ripple: true }),
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
    // The lines are those that the operations changed: what only the canonical form changes is said, not shown.
    const before = formatReel(parseReel(text).document);
    printChanges(file, before, formatReel(doc), summary, process.stdout);
    if (before !== text) process.stderr.write(`${file} is not in the canonical form: it will be, when it is written\n`);
  }
}
