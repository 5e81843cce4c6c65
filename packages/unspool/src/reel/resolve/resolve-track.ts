import type { Easing } from '../../easing/easing.js';
import { parseEasing } from '../../easing/parse.js';
import { parseTime, snapToFrame } from '../../time/units.js';
import { formOf } from '../../value/forms.js';
import { isShape, KINDS, widthOf, type Kind, type ShapeKind } from '../../value/kind.js';
import { readValue } from '../../value/read.js';
import { readShape } from '../../value/shape.js';
import type { ActivityKey } from './activity.js';
import type { FramesDocument, KeyDocument, ReelDocument, TrackDocument } from '../document/document.js';
import { checkFolds, checkHandles, readHandles } from './handles.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import { sheetCells } from '../document/sheet.js';
import { keyPath, keysOf, optionsOf, readWhole, type Properties, type Property } from './properties.js';
import type { ResolvedKey, ResolvedTrack } from './track.js';
import type { Target } from './targets.js';

const HELD: Easing = { kind: 'hold' };
const LINEAR: Easing = { kind: 'linear' };

/**
 * Resolves one track: times, values by kind, easings; a row of frames becomes one held key per frame. Invalid keys are
 * reported and left out.
 */
export function resolveTrack(
  reel: ReelDocument,
  name: string,
  track: TrackDocument,
  target: Target,
  properties: Properties,
  fps: number,
  path: DocumentPath,
  report: Report,
): (ResolvedTrack & { readonly activity?: readonly ActivityKey[] }) | undefined {
  const property = properties.byName.get(`${target.role}.${target.property}`);
  const documents = keysOf(track);
  const options = optionsOf(track);
  if (!property) return undefined; // its kind is not known, which has been reported
  checkOptions(options, property, path, report);

  const keys: ResolvedKey[] = [];
  const activity: ActivityKey[] | undefined = target.shape ? [] : undefined;
  /** By resolved key: which of the written ones it comes from. Paths are made when something is to be said. */
  const places: number[] = [];
  const pathOf = (i: number, ...members: string[]): DocumentPath => [...keyPath(path, track, places[i]!), ...members];
  let end = 0;
  let before: { readonly at: number; readonly written: unknown } | undefined;
  for (let index = 0; index < documents.length; index++) {
    const key = documents[index]!;
    // Nothing for one whose time is none, which has been reported.
    const at = parseTime(key.at, fps);
    const here = (...members: string[]): DocumentPath => [...keyPath(path, track, index), ...members];
    const isEarly = at !== undefined && at >= 0 && before !== undefined && !(at > before.at);
    // A key with an invalid time is left out; its other problems are reported, and later keys are still read.
    if (at === undefined || at < 0 || isEarly) {
      if (isEarly) outOfOrder(before!, at, key.at, here('at'), report);
      else if (at !== undefined) report('reel/negative-time', here('at'), { value: key.at });
      if (!('frames' in key)) readKey(key, 0, fps, property, target, properties, here, report, keys.at(-1)?.value);
      continue;
    }
    if ('frames' in key) {
      const row = readFrames(key, at, fps, property, here, report);
      for (const one of row?.keys ?? []) {
        keys.push(one);
        places.push(index);
      }
      end = row?.end ?? at;
    } else {
      const one = readKey(key, at, fps, property, target, properties, here, report, keys.at(-1)?.value);
      if (one) {
        const isActive = target.channel < 0 ? key.value !== null : target.width !== 1 || key.value !== false;
        activity?.push({ at, isActive, data: key.data });
        keys.push(one);
        places.push(index);
      }
      end = at;
    }
    before = { at: keys.at(-1)?.at ?? at, written: key.at };
  }
  warnOutside(reel, property, keys, places, pathOf, report);
  checkHandles(documents, (index) => keyPath(path, track, index), report);
  checkFolds(keys, pathOf, report);
  const { role, kind } = property;
  const { turn = 'literal', mix = 'srgb', space = 'absolute', accumulate = false } = options ?? {};
  const whole = target.channel < 0;
  // When a whole shape is active is a track of its own: see `activity.ts`.
  const channel = whole && target.shape ? 0 : target.channel;
  const width = whole ? widthOf(kind) - (target.shape ? 1 : 0) : (target.width ?? 1);
  const resolved = { name, role, property: target.property, kind, channel, width, turn, mix, space, accumulate };
  return { ...resolved, keys, pathOf, end, ...(activity && { activity }) };
}

/** Options that say nothing about a kind are most likely meant for another track. */
function checkOptions(
  options: ReturnType<typeof optionsOf>,
  { name, kind }: Property,
  path: DocumentPath,
  report: Report,
): void {
  const pointless = { turn: kind !== 'angle', mix: kind !== 'color', space: false };
  for (const option of ['turn', 'mix'] as const) {
    if (options?.[option] !== undefined && pointless[option])
      report('reel/no-effect', [...path, option], { option, track: name, kind }, 'warning', 'name');
  }
  if (options?.space === 'offset' && (kind === 'flag' || kind === 'text' || isShape(kind)))
    report('reel/offset-kind', [...path, 'space'], { track: name, kind });
  if (options?.accumulate === true && (KINDS[kind].held || kind === 'color' || isShape(kind)))
    report('reel/accumulate-kind', [...path, 'accumulate'], { track: name, kind });
}

function outOfOrder(
  before: { at: number; written: unknown },
  at: number,
  written: unknown,
  path: DocumentPath,
  report: Report,
): void {
  if (at === before.at) report('reel/same-time', path, { at: written, seconds: at });
  else report('reel/key-order', path, { at: written, seconds: at, before: before.written, beforeSeconds: before.at });
}

/** The path of a member of the current key. */
type Here = (...members: string[]) => DocumentPath;

interface Row {
  readonly keys: readonly ResolvedKey[];
  readonly end: number;
}

function readKey(
  key: Exclude<KeyDocument, FramesDocument>,
  at: number,
  fps: number,
  property: Property,
  target: Target,
  { texts, easings }: Properties,
  here: Here,
  report: Report,
  before: readonly number[] | undefined,
): ResolvedKey | undefined {
  const { kind } = property;
  const whole = target.channel < 0;
  const easing = readEasing(key.ease, easings, here, report);
  const isActivityKey = target.shape !== undefined && (whole || target.channel === widthOf(kind) - 1);
  if (key.data !== undefined && !isActivityKey)
    report('reel/key-data', here('data'), { track: property.name }, 'warning');
  const read = whole ? kind : isActivityKey ? 'flag' : target.width === 2 ? 'vec2' : 'number';
  const value = target.shape
    ? readShapeKey(target, target.shape, read, key.value, texts, before)
    : whole
      ? readWhole(target.property, kind, key.value, texts)
      : readValue(read, key.value, texts);
  if (!value) {
    report('reel/value', here('value'), { value: key.value, form: formOf(read), kind: read });
    return undefined;
  }
  const resolved = { at, value, easing: KINDS[read].held || key.value === null ? HELD : easing };
  if (key.value === null) return { ...resolved, off: true };
  if (key.in === undefined && key.out === undefined) return resolved;
  return { ...resolved, ...readHandles(key, value.length, target.property, fps, here(), report) };
}

/** What a key says of a shape: properties that it leaves out are as the key before it said, and at first 0. */
function readShapeKey(
  target: Target,
  kind: ShapeKind,
  read: Kind,
  value: unknown,
  texts: Properties['texts'],
  before: readonly number[] | undefined,
): readonly number[] | undefined {
  if (target.channel >= 0) {
    const numbers = readValue(read, value, texts);
    const length =
      KINDS[kind].channels[target.channel]!.startsWith('size') || KINDS[kind].channels[target.channel] === 'radius';
    return numbers && length && numbers.some((n) => n < 0) ? undefined : numbers;
  }
  const known = before ?? Array.from({ length: widthOf(kind) - 1 }, () => 0);
  return value === null ? known : readShape(kind, value, known);
}

function readEasing(text: string | undefined, known: Map<string, Easing>, here: Here, report: Report): Easing {
  if (text === undefined) return LINEAR;
  const before = known.get(text);
  if (before) return before;
  const reading = parseEasing(text);
  if ('problem' in reading) {
    report('reel/unknown-easing', here('ease'), reading.problem);
    return LINEAR;
  }
  known.set(text, reading.easing);
  return reading.easing;
}

/** A row of frames: one held key per cell, forwards or backwards, each shown for the same time. */
function readFrames(
  { frames: [first, last], each }: FramesDocument,
  at: number,
  fps: number,
  { kind, name }: Property,
  here: Here,
  report: Report,
): Row | undefined {
  if (kind !== 'integer') {
    report('reel/frames', here('frames'), { track: name, kind });
    return undefined;
  }
  const length = parseTime(each, fps)!;
  if (!(length > 0)) {
    report('reel/frames-each', here('each'), { each });
    return undefined;
  }
  const step = last < first ? -1 : 1;
  const count = Math.abs(last - first) + 1;
  const begin = (i: number) => snapToFrame(at + i * length, fps);
  const keys = Array.from({ length: count }, (_, i) => ({ at: begin(i), value: [first + i * step], easing: HELD }));
  return { keys, end: begin(count) };
}

function warnOutside(
  reel: ReelDocument,
  { role, property }: Property,
  keys: readonly ResolvedKey[],
  places: readonly number[],
  pathOf: (i: number) => DocumentPath,
  report: Report,
): void {
  const name = reel.roles?.[role]?.sheet;
  const sheet = name === undefined ? undefined : reel.sheets?.[name];
  if (property !== 'frame' || !sheet || name === undefined) return;
  const cells = sheetCells(sheet);
  const seen = new Set<number>();
  for (const [index, { value }] of keys.entries()) {
    const frame = value[0]!;
    const place = places[index]!;
    if ((frame >= 0 && frame < cells) || seen.has(place)) continue;
    seen.add(place);
    report('reel/frame-outside', pathOf(index), { frame, sheet: name, cells }, 'warning');
  }
}
