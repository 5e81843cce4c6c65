import { checkReading, checkText } from '../given.js';
import papa from 'papaparse';
import type { ClipDocument, ReelDocument, Time, TrackDocument, Value } from 'unspool';
import { capture, type Sample } from 'unspool/edit';
import { refuse } from '../errors.js';
import { validName } from '../names.js';
import { Notes, pointer, type Converted } from '../report.js';
import { firstLine } from '../text.js';

/** Options of `fromCsv`. */
export interface FromCsvOptions {
  /** The role of columns without one (`x`, `opacity`). Default: `object`. */
  readonly role?: string;
  /** Name of the clip. Default: `motion`. */
  readonly clip?: string;
  /** The largest error of the keys at any row, in the units of each property, greater than 0. Default: 0.01. */
  readonly tolerance?: number;
  /** A key for each row, with its values as they are. Default: false. */
  readonly exact?: boolean;
  /** Frames per second: of a column `frame`, and of the clip. Default: 60. */
  readonly fps?: number;
}

const MAX_CELLS = 500_000;
/** A column of one letter is a channel of the position. */
const AXES = ['x', 'y', 'z'];
/** Channels that make one value, by their letters in order. */
const GROUPS = ['xyzw', 'xyz', 'xy', 'rgba', 'rgb'];

interface Column {
  readonly index: number;
  readonly property: string;
  readonly channel: string;
}

interface Table {
  readonly times: readonly number[];
  /** Line of each row in the text, from 1. */
  readonly lines: readonly number[];
  readonly rows: readonly (readonly string[])[];
  readonly head: readonly string[];
  readonly isFrames: boolean;
}

/**
 * Reads a table of motion (RFC 4180) as a reel with one clip: a column `time` (seconds) or `frame`, and a column for each
 * channel, `claw.rotation` or `claw.position.x`. Gives the fewest keys within a tolerance, or one for each row.
 *
 * @throws ConversionError for a table that is no such one, with the line
 */
export function fromCsv(text: string, options: FromCsvOptions = {}): Converted<ReelDocument> {
  checkReading(options);
  const { role = 'object', tolerance = 0.01, exact = false, fps = 60 } = options;
  checkText(text, 'table');
  if (!(fps > 0 && fps < Infinity)) refuse('option', `fps is ${fps}`, 'use a number greater than 0');
  if (!(tolerance > 0)) refuse('option', `tolerance is ${tolerance}`, 'use a number greater than 0');
  const notes = new Notes();
  const table = readTable(text, fps);
  const columns = columnsOf(table, validName(role, 'object'), notes);
  const samples = samplesOf(table, columns);
  const name = validName(options.clip ?? 'motion', 'motion');
  const start = table.times[0]!;
  if (start !== 0) notes.kept('line 2', `times are counted from the first row, ${start} s`);
  const clip = exact ? exactClip(table, samples, fps) : captured(samples, tolerance, fps, name, notes);
  if (exact) {
    for (const property of Object.keys(clip.tracks ?? {}))
      notes.kept(pointer('clips', name, 'tracks', property), `${property}: ${samples.length} rows`);
  }
  return notes.of({ unspool: 1, ...(fps !== 60 && { fps }), clips: { [name]: clip } });
}

function readTable(text: string, fps: number): Table {
  const cells = text.match(/[,\n]/g)?.length ?? 0;
  if (cells > MAX_CELLS) refuse('csv', `the table has ${cells} cells, the limit is ${MAX_CELLS}`, 'use a part of it');
  const { data, errors } = papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimiter: ',' });
  const problem = errors.find(({ type }) => type !== 'Delimiter');
  const at = (problem?.row ?? 0) + 1;
  if (problem) refuse('csv', `line ${at}: ${firstLine(problem)}`, 'check the quotes');
  const records = data
    .map((record, i) => ({ record: record.map((cell) => cell.trim()), line: i + 1 }))
    .filter(({ record }) => record.length > 1 || record[0] !== '');
  const [first, ...rest] = records;
  const head = first?.record ?? [];
  for (const { record, line } of rest) {
    if (record.length !== head.length)
      refuse('csv', `line ${line}: ${record.length} cells, but ${head.length} columns`, 'use as many in each row');
  }
  const unit = head[0]?.toLowerCase();
  if (unit !== 'time' && unit !== 'frame')
    refuse('csv', `line 1: the first column is ${JSON.stringify(head[0] ?? '')}`, 'name it "time" or "frame"');
  if (rest.length === 0) refuse('csv', 'the table has no rows', 'add at least one');
  if (rest.length * head.length > MAX_CELLS)
    refuse('csv', `the table has ${rest.length * head.length} cells, the limit is ${MAX_CELLS}`, 'use a part of it');
  const isFrames = unit === 'frame';
  const times = rest.map(({ record, line }) => {
    const n = numberOf(record[0]!);
    if (n === undefined) refuse('csv', `line ${line}: ${JSON.stringify(record[0])} is not a ${unit}`, 'use a number');
    return isFrames ? n / fps : n;
  });
  times.forEach((time, i) => {
    if (i > 0 && time <= times[i - 1]!)
      refuse('csv', `line ${rest[i]!.line}: ${time} s comes after ${times[i - 1]} s`, 'sort the rows by time');
  });
  return { times, lines: rest.map(({ line }) => line), rows: rest.map(({ record }) => record), head, isFrames };
}

/** A finite number; `undefined` for any other text. */
function numberOf(text: string): number | undefined {
  const n = text.trim() === '' ? NaN : Number(text);
  return Number.isFinite(n) ? n : undefined;
}

/** Columns as properties and channels; the same channel twice is refused. */
function columnsOf({ head }: Table, role: string, notes: Notes): Map<string, Column[]> {
  const found = new Map<string, Column[]>();
  head.slice(1).forEach((title, i) => {
    const index = i + 1;
    const steps = title.split('.').map((step) => validName(step, ''));
    if (steps.some((step) => step === '')) {
      notes.dropped(`column ${index + 1}`, `${JSON.stringify(title)} is not a name of a property`);
      return;
    }
    const path = steps.length > 1 ? steps : AXES.includes(steps[0]!) ? [role, 'position', steps[0]!] : [role, ...steps];
    if (path.join('.') !== title) notes.renamed('property', title, path.join('.'));
    const last = path.at(-1)!;
    const isChannel = path.length > 2 && /^[xyzwrgba]$/.test(last);
    const property = (isChannel ? path.slice(0, -1) : path).join('.');
    const columns = found.get(property) ?? [];
    const channel = isChannel ? last : '';
    if (columns.some((one) => one.channel === channel)) refuse('csv', `line 1: ${title} is there twice`, 'keep one of the two'); // prettier-ignore
    found.set(property, [...columns, { index, property, channel }]);
  });
  if (found.size === 0) refuse('csv', 'line 1: the first column is the only one', 'add one, such as claw.rotation');
  return withChannels(found);
}

/** Properties whose channels do not make one value have a track for each channel. */
function withChannels(found: Map<string, Column[]>): Map<string, Column[]> {
  const all = new Map<string, Column[]>();
  for (const [property, columns] of found) {
    const letters = GROUPS.find((group) => group.length === columns.length && columns.every(({ channel }) => channel && group.includes(channel))); // prettier-ignore
    if (letters)
      all.set(
        property,
        [...letters].map((letter) => columns.find(({ channel }) => channel === letter)!),
      );
    else for (const one of columns) all.set(one.channel ? `${property}.${one.channel}` : property, [one]);
  }
  return all;
}

function samplesOf({ times, rows, lines }: Table, columns: ReadonlyMap<string, readonly Column[]>): Sample[] {
  /** Whether a property's cells are numbers: the first one that is not empty decides. */
  const kinds = new Map<string, 'number' | 'flag' | 'text'>();
  return rows.map((row, i) => {
    const values: Record<string, Value> = {};
    for (const [property, list] of columns) {
      const cells = list.map(({ index }) => row[index]!);
      if (cells.every((cell) => cell === '')) continue;
      let kind = kinds.get(property);
      if (!kind) {
        const [cell = ''] = cells;
        kind =
          numberOf(cell) !== undefined || list.length > 1 ? 'number' : /^(true|false)$/i.test(cell) ? 'flag' : 'text';
        kinds.set(property, kind);
      }
      const numbers = cells.map((cell) => {
        if (kind === 'text') return cell;
        const value = kind === 'flag' ? readFlag(cell) : numberOf(cell);
        if (value === undefined)
          refuse('csv', `line ${lines[i]}: ${JSON.stringify(cell)} is not a ${kind} for ${property}`, 'use one kind of value in a column'); // prettier-ignore
        return value;
      });
      if (list.length === 3 && list[0]!.channel === 'r') numbers.push(1);
      values[property] = (numbers.length === 1 ? numbers[0] : numbers) as Value;
    }
    return { time: times[i]!, values };
  });
}

const readFlag = (cell: string) => (/^true$/i.test(cell) ? true : /^false$/i.test(cell) ? false : undefined);

function captured(
  samples: readonly Sample[],
  tolerance: number,
  fps: number,
  name: string,
  notes: Notes,
): ClipDocument {
  const { clip, errors } = capture(samples, { tolerance, fps });
  for (const [track, error] of Object.entries(errors)) {
    const keys = (clip.tracks![track] as readonly unknown[]).length;
    const what = `${track}: ${samples.length} rows as ${keys} keys`;
    const at = pointer('clips', name, 'tracks', track);
    if (error > 0) notes.approximated(at, what, error);
    else notes.kept(at, what);
  }
  return clip;
}

function exactClip({ isFrames, times }: Table, samples: readonly Sample[], fps: number): ClipDocument {
  const start = times[0]!;
  const timeOf = (time: number): Time =>
    isFrames ? (`${Number(((time - start) * fps).toPrecision(14))}f` as Time) : time - start;
  const tracks: Record<string, TrackDocument> = {};
  const names = new Set(samples.flatMap(({ values }) => Object.keys(values)));
  for (const name of names) {
    const keys = samples.filter(({ values }) => values[name] !== undefined).map(({ time, values }) => ({ at: timeOf(time), value: values[name] })); // prettier-ignore
    tracks[name] = keys;
  }
  const duration = times.at(-1)! - start;
  return { fps, ...(duration > 0 && { duration: timeOf(times.at(-1)!) }), tracks };
}
