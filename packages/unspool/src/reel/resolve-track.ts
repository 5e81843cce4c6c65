import type { Easing } from '../easing/easing.js';
import { parseEasing } from '../easing/parse.js';
import { parseTime, snapToFrame } from '../time/units.js';
import { KINDS } from '../value/kind.js';
import { readValue } from '../value/read.js';
import type { FramesDocument, KeyDocument, ReelDocument, TrackDocument } from './document.js';
import { checkFolds, checkHandles, readHandles } from './handles.js';
import type { Path, Report } from './problems.js';
import { keyPath, keysOf, optionsOf, readWhole, type Properties, type Property } from './properties.js';
import type { ResolvedKey, ResolvedTrack } from './track.js';
import type { Target } from './targets.js';

const HELD: Easing = { kind: 'hold' };
const LINEAR: Easing = { kind: 'linear' };

/**
 * Resolves one track: times, values by kind, easings; rows of frames to one held key each. Keys that are wrong are
 * reported and left out.
 */
export function resolveTrack(
  reel: ReelDocument,
  name: string,
  track: TrackDocument,
  target: Target,
  properties: Properties,
  fps: number,
  path: Path,
  report: Report,
): ResolvedTrack | undefined {
  const property = properties.byName.get(`${target.role}.${target.property}`);
  const documents = keysOf(track);
  const options = optionsOf(track);
  if (!property) return undefined; // its kind is not known, which has been reported
  checkOptions(options, property, path, report);

  const keys: ResolvedKey[] = [];
  const paths: Path[] = [];
  let end = 0;
  let before: { readonly at: number; readonly written: unknown } | undefined;
  for (const [index, key] of documents.entries()) {
    const here = keyPath(path, track, index);
    const at = parseTime(key.at, fps)!;
    if (at < 0) {
      report('reel/negative-time', [...here, 'at'], { value: key.at });
      continue;
    }
    // A key at or before the one before it is left out, and those after it are still read.
    if (before && !inOrder(before, at, key.at, [...here, 'at'], report)) continue;
    const read =
      'frames' in key
        ? readFrames(key, at, fps, property, here, report)
        : readKey(key, at, fps, property, target, properties, here, report);
    for (const one of read?.keys ?? []) {
      keys.push(one);
      paths.push(here);
    }
    end = read?.end ?? at;
    before = { at: keys.at(-1)?.at ?? at, written: key.at };
  }
  warnOutside(reel, property, keys, paths, report);
  checkHandles(documents, (index) => keyPath(path, track, index), report);
  checkFolds(keys, paths, report);
  const { role, kind } = property;
  const { turn = 'literal', mix = 'srgb', space = 'absolute' } = options ?? {};
  const { channel } = target;
  return { name, role, property: target.property, kind, channel, turn, mix, space, keys, paths, end };
}

/** Options that say nothing about a kind are most likely meant for another track. */
function checkOptions(
  options: ReturnType<typeof optionsOf>,
  { name, kind }: Property,
  path: Path,
  report: Report,
): void {
  const pointless = { turn: kind !== 'angle', mix: kind !== 'color', space: false };
  for (const option of ['turn', 'mix'] as const) {
    if (options?.[option] !== undefined && pointless[option])
      report('reel/no-effect', [...path, option], { option, track: name, kind }, 'warning', 'name');
  }
  if (options?.space === 'offset' && (kind === 'flag' || kind === 'text'))
    report('reel/offset-kind', [...path, 'space'], { track: name, kind });
}

function inOrder(
  before: { at: number; written: unknown },
  at: number,
  written: unknown,
  path: Path,
  report: Report,
): boolean {
  if (at > before.at) return true;
  if (at === before.at) report('reel/same-time', path, { at: written, seconds: at });
  else report('reel/key-order', path, { at: written, seconds: at, before: before.written, beforeSeconds: before.at });
  return false;
}

interface Read {
  readonly keys: readonly ResolvedKey[];
  readonly end: number;
}

function readKey(
  key: Exclude<KeyDocument, FramesDocument>,
  at: number,
  fps: number,
  property: Property,
  target: Target,
  { texts }: Properties,
  path: Path,
  report: Report,
): Read | undefined {
  const easing = readEasing(key.ease, [...path, 'ease'], report);
  const { kind } = property;
  const value =
    target.channel < 0 ? readWhole(target.property, kind, key.value, texts) : readValue('number', key.value, texts);
  if (!value) {
    const { form } = target.channel < 0 ? KINDS[kind] : KINDS.number;
    report('reel/value', [...path, 'value'], { value: key.value, form, kind: target.channel < 0 ? kind : 'number' });
    return undefined;
  }
  const handles = readHandles(key, value.length, target.property, fps, path, report);
  return { keys: [{ at, value, easing: KINDS[kind].held ? HELD : easing, ...handles }], end: at };
}

function readEasing(text: string | undefined, path: Path, report: Report): Easing {
  if (text === undefined) return LINEAR;
  const reading = parseEasing(text);
  if ('easing' in reading) return reading.easing;
  report('reel/unknown-easing', path, reading.problem);
  return LINEAR;
}

/** A row of frames: one held key per cell, forwards or backwards, each shown for the same time. */
function readFrames(
  { frames: [first, last], each }: FramesDocument,
  at: number,
  fps: number,
  { kind, name }: Property,
  path: Path,
  report: Report,
): Read | undefined {
  if (kind !== 'integer') {
    report('reel/frames', [...path, 'frames'], { track: name, kind });
    return undefined;
  }
  const length = parseTime(each, fps)!;
  if (!(length > 0)) {
    report('reel/frames-each', [...path, 'each'], { each });
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
  paths: readonly Path[],
  report: Report,
): void {
  const name = reel.roles?.[role]?.sheet;
  const sheet = name === undefined ? undefined : reel.sheets?.[name];
  if (property !== 'frame' || !sheet || name === undefined) return;
  const cells = sheet.columns * sheet.rows;
  const seen = new Set<Path>();
  for (const [index, { value }] of keys.entries()) {
    const frame = value[0]!;
    const path = paths[index]!;
    if ((frame >= 0 && frame < cells) || seen.has(path)) continue;
    seen.add(path);
    report('reel/frame-outside', path, { frame, sheet: name, cells }, 'warning');
  }
}
