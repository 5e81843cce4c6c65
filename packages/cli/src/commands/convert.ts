import { realpathSync, readFileSync, statSync } from 'node:fs';
import { basename, dirname, join, sep } from 'node:path';
import { Option, type Command } from 'commander';
import { ReelError, UnspoolError } from 'unspool';
import {
  ConversionError,
  formatNames,
  formatOf,
  isFormat,
  readFormat,
  writeFormat,
  type ConversionReport,
  type Format,
  type ReadOptions,
  type Up,
  type WriteOptions,
} from '@unspool/open';
import { CallError, EXIT } from '../failure.js';
import { readBytes, STDIN, writeNewFile } from '../files.js';
import { numberOption } from '../options.js';
import { conversionText } from '../print/conversion.js';
import { printDiagnostics } from '../print/diagnostics.js';

interface Options {
  readonly from?: string;
  readonly to?: string;
  readonly json?: boolean;
  readonly force?: boolean;
  readonly up?: Up;
  readonly scale?: string;
  readonly tolerance?: string;
  readonly flat?: boolean;
  readonly reduce?: string;
  readonly exact?: boolean;
  readonly fps?: string;
  readonly role?: string;
  readonly path?: string;
  readonly by?: 'length' | 'segments';
  readonly turn?: boolean;
  readonly duration?: string;
  /** `false` with `--no-extras`. */
  readonly extras: boolean;
}

export function addConvert(program: Command): void {
  program
    .command('convert')
    .description('Converts between reels and open formats, and says what was kept, approximated and dropped.')
    .argument('<in>', 'the file to read; - reads standard input')
    .argument('<out>', 'the file to write; - writes to standard output')
    .argument('[clips...]', 'the clips to write (default: all); of a table, subtitles or a path the name of the clip')
    .option('--from <format>', 'the format of <in> (default: by its name)')
    .option('--to <format>', 'the format of <out> (default: by its name)')
    .option('--json', 'print the report as JSON to standard output')
    .option('--force', 'replace an existing file')
    .option('--tolerance <units>', 'the largest error of what cannot be exact')
    .option('--reduce <units>', 'glTF: keep fewer keys, within this error')
    .option('--fps <number>', 'frames per second of the clip, and of a column "frame"')
    .addOption(new Option('--up <axis>', 'glTF: which way is up in the reel').choices(['y', '-y', 'z']))
    .option('--scale <number>', 'glTF: its units for one of the reel')
    .option('--flat', 'glTF: read only x, y and the turn about z')
    .option('--no-extras', 'glTF: do not read what unspool kept in extras')
    .option('--exact', 'CSV: a key for each row')
    .option('--role <name>', 'CSV: role of columns without one. SVG: the role that moves')
    .option('--path <id>', 'SVG: the path to read (default: the only one)')
    .addOption(
      new Option('--by <way>', 'SVG: at constant speed, or the same time for each segment').choices([
        'length',
        'segments',
      ]),
    )
    .option('--turn', 'SVG: turn the role along the path')
    .option('--duration <seconds>', 'SVG: of the clip. CSS: of keyframes that no rule plays')
    .addHelpText(
      'after',
      `\nFormats: ${Object.entries(formatNames)
        .map(([name, title]) => `${name} (${title})`)
        .join(
          ', ',
        )}.\n\nExamples:\n  unspool convert crab.reel.json crab.glb\n  unspool convert crab.reel.json crab.css snap sway\n  unspool convert talk.vtt talk.reel.json intro\n  unspool convert way.svg way.reel.json --path tide --role crab --turn --duration 3`,
    )
    .action(async (input: string, output: string, clips: readonly string[], options: Options) => {
      const from = formatFor(input, options.from, '--from');
      const to = formatFor(output, options.to, '--to');
      if (options.json && output === STDIN)
        throw new CallError('--json writes the report where the result goes', 'name a file for the result');
      const read = reading(() => readFormat(from, readBytes(input), readOptions(input, clips, options)), input);
      const names = from === 'reel' ? clips : [];
      const written = await writing(() => writeFormat(to, read.result, writeOptions(names, options)));
      if (output === STDIN) process.stdout.write(written.result);
      else writeNewFile(output, written.result, { overwrite: options.force ?? false });
      const report = together(from === 'reel' ? [written.report] : to === 'reel' ? [read.report] : [read.report, written.report]); // prettier-ignore
      if (options.json) process.stdout.write(`${JSON.stringify({ from, to, ...report }, undefined, 2)}\n`);
      else
        process.stderr.write(conversionText(report, output === STDIN ? 'standard output' : output, formatNames[to]!));
    });
}

function formatFor(file: string, given: string | undefined, option: string): Format {
  const format = given ?? formatOf(file) ?? (file.endsWith('.json') ? 'reel' : undefined);
  const names = Object.keys(formatNames).join(', ');
  if (format === undefined)
    throw new CallError(`the name ${JSON.stringify(file)} does not say its format`, `add ${option}: ${names}`);
  if (!isFormat(format)) throw new CallError(`unknown format ${JSON.stringify(format)}`, `use one of: ${names}`);
  return format;
}

function common({ tolerance, fps, up, scale, role }: Options) {
  return {
    ...(tolerance !== undefined && { tolerance: numberOption(tolerance, '--tolerance') }),
    ...(fps !== undefined && { fps: numberOption(fps, '--fps') }),
    ...(up !== undefined && { up }),
    ...(scale !== undefined && { scale: numberOption(scale, '--scale') }),
    ...(role !== undefined && { role }),
  };
}

function readOptions(file: string, clips: readonly string[], options: Options): ReadOptions {
  const { reduce, flat, extras, exact, path, by, turn, duration } = options;
  const title = basename(file).replace(/\..*$/, '');
  const [clip] = clips;
  return {
    // A table, a path and subtitles have one motion: it is called like the file.
    ...(clip !== undefined ? { clip } : file !== STDIN && { clip: title }),
    ...(file !== STDIN && !path && { role: title }),
    ...common(options),
    ...{ extras, resource: (uri: string) => besideOf(file, uri) },
    ...(reduce !== undefined && { reduce: numberOption(reduce, '--reduce') }),
    ...(flat && { flat }),
    ...(exact && { exact }),
    ...(path !== undefined && { path }),
    ...(by !== undefined && { by }),
    ...(turn && { turn }),
    ...(duration !== undefined && { duration: numberOption(duration, '--duration') }),
  };
}

function writeOptions(clips: readonly string[], options: Options): WriteOptions {
  return { ...common(options), ...(clips.length > 0 && { clips }) };
}

/** A file beside another, or below it: also through links. */
function besideOf(file: string, uri: string): Uint8Array | undefined {
  if (file === STDIN) return undefined;
  try {
    const folder = realpathSync(dirname(file));
    const wanted = realpathSync(join(folder, uri));
    if (!wanted.startsWith(folder.endsWith(sep) ? folder : folder + sep) || !statSync(wanted).isFile())
      return undefined;
    return readFileSync(wanted);
  } catch {
    return undefined;
  }
}

function reading<T>(read: () => T, file: string): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof ReelError) {
      printDiagnostics(error.diagnostics, '', process.stderr);
      throw new CallError(`what ${file} says is not a valid reel`, 'fix it, or report this', EXIT.problems);
    }
    throw asCallError(error);
  }
}

async function writing<T>(write: () => Promise<T>): Promise<T> {
  try {
    return await write();
  } catch (error) {
    throw asCallError(error);
  }
}

/** Errors with what to do are printed in one line; others are faults of the program. */
function asCallError(error: unknown): unknown {
  if (error instanceof CallError || !(error instanceof UnspoolError)) return error;
  const isFile = error instanceof ConversionError && error.code !== 'open/option';
  return new CallError(error.message, '', isFile ? EXIT.problems : EXIT.call);
}

function together(reports: readonly ConversionReport[]): ConversionReport {
  const all = <K extends keyof ConversionReport>(member: K) =>
    reports.flatMap((one) => one[member] as readonly never[]);
  return { kept: all('kept'), approximated: all('approximated'), dropped: all('dropped'), renamed: all('renamed') };
}
