import type { Easing } from '../easing/easing.js';
import { parseEasing } from '../easing/parse.js';
import { parseTime, snapToFrame } from '../time/units.js';
import { KINDS, type PlayableKind } from '../value/kind.js';
import { readValue } from '../value/read.js';
import type { FramesDocument, KeyDocument, ReelDocument, TrackDocument } from './document.js';
import type { Path, Report } from './problems.js';
import { keyPath, keysOf, optionsOf, readWhole, type Properties, type Property, type Target } from './properties.js';

export interface ResolvedKey {
  /** Seconds, ≥ 0, strictly ascending within a track. */
  readonly at: number;
  readonly value: readonly number[];
  /** Used from this key to the next. */
  readonly easing: Easing;
}

export interface ResolvedTrack {
  /** As written: `claw.rotation`, `claw.position.x`. */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: PlayableKind;
  /** The one channel that is animated, or −1 for all of them. */
  readonly channel: number;
  readonly keys: readonly ResolvedKey[];
  /** Where each key stands in the document; frames of one row share theirs. */
  readonly paths: readonly Path[];
  /** When the last key has been shown: its time, and for a row of frames the end of its last frame. */
  readonly end: number;
}

const HELD: Easing = { kind: 'hold' };
const LINEAR: Easing = { kind: 'linear' };

/** Easings of the format that this version does not play yet. */
const LATER = /^\s*(smooth|curve|spring)\s*(\(|$)/i;

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
  if (options?.space === 'offset') {
    report('reel/not-yet', [...path, 'space'], { what: 'a track with offset space', instead: 'write absolute values' });
  }
  if (options?.mix !== undefined && options.mix !== 'srgb') {
    report('reel/not-yet', [...path, 'mix'], { what: `mixing colours in ${options.mix}`, instead: 'mix them in srgb' });
  }
  if (!property) return undefined; // its kind is not known, which has been reported

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
        : readKey(key, at, property, target, properties, here, report);
    for (const one of read?.keys ?? []) {
      keys.push(one);
      paths.push(here);
    }
    end = read?.end ?? at;
    before = { at: keys.at(-1)?.at ?? at, written: key.at };
  }
  warnOutside(reel, property, keys, paths, report);
  const literal = property.kind !== 'angle' || options?.turn !== 'shortest';
  const { role, kind } = property;
  const resolved = literal ? keys : unwrap(keys);
  return { name, role, property: target.property, kind, channel: target.channel, keys: resolved, paths, end };
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
  property: Property,
  target: Target,
  { texts }: Properties,
  path: Path,
  report: Report,
): Read | undefined {
  for (const handle of ['in', 'out'] as const) {
    if (key[handle] === undefined) continue;
    const instead = 'shape the segment with cubic-bezier() for now';
    report('reel/not-yet', [...path, handle], { what: 'a curve with handles', instead });
  }
  const easing = readEasing(key.ease, [...path, 'ease'], report);
  const { kind } = property;
  const value =
    target.channel < 0 ? readWhole(target.property, kind, key.value, texts) : readValue('number', key.value, texts);
  if (!value) {
    const { form } = target.channel < 0 ? KINDS[kind] : KINDS.number;
    report('reel/value', [...path, 'value'], { value: key.value, form, kind: target.channel < 0 ? kind : 'number' });
    return undefined;
  }
  return { keys: [{ at, value, easing: KINDS[kind].held ? HELD : easing }], end: at };
}

function readEasing(text: string | undefined, path: Path, report: Report): Easing {
  if (text === undefined) return LINEAR;
  const later = LATER.exec(text)?.[1];
  if (later !== undefined) {
    const instead = 'use a CSS easing or one of the named families for now';
    report('reel/not-yet', path, { what: `the easing "${later.toLowerCase()}"`, instead });
    return LINEAR;
  }
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

/** `turn: "shortest"`: whole turns are added to each key so that none is further than half a turn from the one before. */
function unwrap(keys: readonly ResolvedKey[]): ResolvedKey[] {
  let turns = 0;
  return keys.map((key, i) => {
    if (i > 0) turns -= 360 * Math.round((key.value[0]! - keys[i - 1]!.value[0]!) / 360);
    return { ...key, value: [key.value[0]! + turns] };
  });
}
