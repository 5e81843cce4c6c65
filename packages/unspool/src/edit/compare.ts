import { trustReel } from '../clip/from-document.js';
import type { ClipDocument, KeyDocument, ReelDocument, TrackDocument } from '../reel/document/document.js';
import { pointerOf } from '../reel/diagnostics/text-locations.js';
import { keysOf, optionsOf } from '../reel/resolve/properties.js';
import { list } from '../errors/nearest.js';
import { show } from '../errors/show.js';
import type { Time } from '../time/units.js';
import {
  likeOf,
  roundedTime,
  formatDifference,
  formatNumber,
  formatTime,
  formatValue,
  writeTime,
} from './format-values.js';
import { compareRoutines } from './compare-routines.js';
import { compareMaps, membersOf, shown, type Difference, type Members } from './compare-members.js';
import { matchKeys, type KeyPair } from './match-keys.js';
import { isSame } from './patch.js';
import { factsOf } from './validate-edit.js';
import { pluralize, fpsIn, isMoment, isRow, secondsAt, tracksIn, type PoseKey } from './document-access.js';

/**
 * Lists the changes from one reel to another, both without errors. A clip with a new name and the same content is
 * reported as renamed; keys are matched by what they keep.
 *
 * @param only the name of a clip, to compare nothing else
 * @throws UnspoolError for a reel with errors
 */
export function compareReels(a: ReelDocument, b: ReelDocument, only?: string): Difference[] {
  factsOf(a);
  factsOf(b);
  const renamed = renamedClips(a, b);
  const ofReel = only !== undefined ? [] : compareFacts(a, b);
  const ofClips = Object.entries(a.clips).flatMap(([name, clip]): Difference[] => {
    if (only !== undefined && name !== only) return [];
    const to = renamed.get(name) ?? name;
    const path = pointerOf(['clips', to]);
    if (to !== name) return [{ clip: to, path, summary: `renamed from ${name} to ${to}` }];
    if (!Object.hasOwn(b.clips, name)) return [{ clip: name, path, summary: 'removed' }];
    return compareClips(name, [a, clip], [b, b.clips[name]!]);
  });
  const was = new Set(renamed.values());
  const fresh = Object.keys(b.clips).flatMap((name): Difference[] => {
    if (Object.hasOwn(a.clips, name) || was.has(name) || (only !== undefined && name !== only)) return [];
    const same = Object.keys(a.clips).find((other) => isSame(a.clips[other], b.clips[name]));
    const summary = same ? `new, a copy of ${same}` : 'new';
    return [{ clip: name, path: pointerOf(['clips', name]), summary }];
  });
  return [...ofReel, ...ofClips, ...fresh];
}

/** What is of the whole reel. */
function compareFacts(a: ReelDocument, b: ReelDocument): Difference[] {
  const facts = (['name', 'about', 'fps'] as const).flatMap((name): Difference[] =>
    a[name] === b[name] ? [] : [{ path: `/${name}`, summary: `${name}: ${shown(a[name])} → ${shown(b[name])}` }],
  );
  const maps = (['roles', 'sheets', 'chains', 'facings'] as const).flatMap((what) =>
    compareMaps(what, a[what] ?? {}, b[what] ?? {}),
  );
  return [...facts, ...maps, ...compareRoutines(a.routines ?? {}, b.routines ?? {})];
}

/** Clips that were removed under one name and added, unchanged, under another. */
function renamedClips(a: ReelDocument, b: ReelDocument): Map<string, string> {
  const fresh = Object.keys(b.clips).filter((name) => !Object.hasOwn(a.clips, name));
  const gone = Object.keys(a.clips).filter((name) => !Object.hasOwn(b.clips, name));
  const renamed = new Map<string, string>();
  for (const name of gone) {
    const to = fresh.find((other) => isSame(a.clips[name], b.clips[other]));
    if (to === undefined) continue;
    renamed.set(name, to);
    fresh.splice(fresh.indexOf(to), 1);
  }
  return renamed;
}

type Side = readonly [reel: ReelDocument, clip: ClipDocument];

function compareClips(name: string, [a, was]: Side, [b, is]: Side): Difference[] {
  const path = ['clips', name];
  const [from, to] = [was as Members, is as Members];
  const found: Difference[] = [];
  for (const member of ['duration', 'loop', 'rate', 'fps', 'after', 'about', 'parts']) {
    if (!isSame(from[member], to[member]))
      found.push({
        clip: name,
        path: pointerOf([...path, member]),
        summary: `${member}: ${shown(from[member])} → ${shown(to[member])}`,
      });
  }
  const [tracks, others] = [tracksIn(was), tracksIn(is)];
  const fps = [fpsIn(a, was), fpsIn(b, is)] as const;
  for (const track of new Set([...Object.keys(tracks), ...Object.keys(others)])) {
    const here = pointerOf([...path, 'tracks', track]);
    const add = (summary: string) => found.push({ clip: name, track, path: here, summary });
    const [before, after] = [tracks[track], others[track]];
    if (!before) add(`new, with ${pluralize(keysOf(after!).length, 'key')}`);
    else if (!after) add(`removed, with its ${pluralize(keysOf(before).length, 'key')}`);
    else compareTracks(before, after, fps).forEach(add);
  }
  const named = (clip: ClipDocument) =>
    Object.fromEntries((clip.cues ?? []).map((cue, i, all) => [nameOf(cue.name, i, all), cue]));
  for (const one of compareMaps('cues', named(was), named(is), path))
    found.push({ ...one, clip: name, path: pointerOf([...path, 'cues']) });
  for (const one of compareMaps('spans', was.spans ?? {}, is.spans ?? {}, path)) found.push({ ...one, clip: name });
  return [...found, ...farthest(name, a, b)];
}

/** Cues may share names: the second `step` is identified by its number. */
function nameOf(name: string, index: number, all: readonly { readonly name: string }[]): string {
  const before = all.slice(0, index).filter((cue) => cue.name === name).length;
  return before === 0 ? name : `${name} (${before + 1})`;
}

function compareTracks(was: TrackDocument, is: TrackDocument, fps: readonly [number, number]): string[] {
  const summary: string[] = [];
  const options = (track: TrackDocument): Members => {
    const { keys, ...rest } = optionsOf(track) ?? { keys: [] };
    return rest;
  };
  const members = membersOf(options(was), options(is));
  if (members) summary.push(members);
  const pairs = matchKeys(keysOf(was), keysOf(is), fps);
  const like = likeOf(keysOf(is).map(({ at }) => at));
  const at = (key: KeyDocument) => formatTime(key.at);
  const fresh = pairs.flatMap(({ before: before, after: after }) => (after && !before ? [after] : []));
  const gone = pairs.flatMap(({ before: before, after: after }) => (before && !after ? [before] : []));
  if (gone.length > 0) summary.push(`${pluralize(gone.length, 'key')} removed, at ${list(gone.map(at), 6)}`);
  if (fresh.length > 0)
    summary.push(
      `${pluralize(fresh.length, 'key')} added, at ${list(
        fresh.map((key) => `${at(key)} (${contentOf(key)})`),
        6,
      )}`,
    );
  const both = pairs.filter((pair): pair is Required<KeyPair> => pair.before !== undefined && pair.after !== undefined);
  summary.push(...movesOf(both, fps, like), ...rewrittenOf(both, fps));
  for (const { before: before, after: after } of both) {
    const changes: string[] = [];
    if (!isSame(content(before), content(after))) changes.push(`${contentOf(before)} → ${contentOf(after)}`);
    for (const member of ['ease', 'in', 'out', 'data', 'each'] as const) {
      const [x, y] = [(before as Partial<PoseKey> & Members)[member], (after as Partial<PoseKey> & Members)[member]];
      if (isSame(x, y)) continue;
      const plain = member === 'ease' ? 'linear' : 'none';
      changes.push(
        `${member === 'ease' ? 'eased' : member} ${x === undefined ? plain : shown(x)} → ${y === undefined ? plain : shown(y)}`,
      );
    }
    if (changes.length > 0) summary.push(`at ${at(after)}: ${changes.join(', ')}`);
  }
  return summary;
}

const content = (key: KeyDocument): unknown => (isRow(key) ? key.frames : key.value);
const contentOf = (key: KeyDocument): string =>
  isRow(key) ? `frames ${key.frames.join('–')}` : formatValue(key.value, 30);

/** Keys that moved: by one time, by one factor, or each its own way. */
function movesOf(pairs: readonly Required<KeyPair>[], fps: readonly [number, number], like: Time): string[] {
  const moved = pairs
    .map(({ before: was, after: is }) => ({ was, is, from: secondsAt(was, fps[0]), to: secondsAt(is, fps[1]) }))
    .filter(({ from, to }) => !isMoment(from, to));
  if (moved.length === 0) return [];
  const factor = moved[0]!.from > 0 ? moved[0]!.to / moved[0]!.from : NaN;
  const isScaled = moved.length > 1 && moved.every(({ from, to }) => Math.abs(to - from * factor) < 1e-6);
  const isShifted = moved.every(({ from, to }) => isMoment(to - from, moved[0]!.to - moved[0]!.from));
  if (isScaled && !isShifted)
    return [`${pluralize(moved.length, 'key')} scaled to ${formatNumber(100 * factor)} % of their times`];
  const groups = new Map<string, typeof moved>();
  for (const one of moved) {
    const by = formatDifference(roundedTime(writeTime(one.to - one.from, like, fps[1]), 2));
    groups.set(by, [...(groups.get(by) ?? []), one]);
  }
  return [...groups].map(([by, list]) =>
    `${pluralize(list.length, 'key')} from ${formatTime(list[0]!.was.at)} on moved by ${by}`.replace(
      /^1 key from (.*) on moved/,
      '1 key at $1 moved',
    ),
  );
}

/** Keys at the same moments as before, whose times are written in another way. */
function rewrittenOf(pairs: readonly Required<KeyPair>[], fps: readonly [number, number]): string[] {
  const found = pairs.filter(
    ({ before: was, after: is }) => was.at !== is.at && isMoment(secondsAt(was, fps[0]), secondsAt(is, fps[1])),
  );
  if (found.length === 0) return [];
  const times = found.map(({ before: was, after: is }) => `${show(was.at)} → ${show(is.at)}`);
  return [`${pluralize(found.length, 'key')} with the same time in another unit: ${list(times, 3)}`];
}

/** How far what is shown is apart at most: of each property that both clips have, where it is. */
function farthest(name: string, a: ReelDocument, b: ReelDocument): Difference[] {
  const [one, two] = [trustReel(a).clip(name), trustReel(b).clip(name)];
  const [pose, other] = [one.createPose(), two.createPose()];
  const steps = Math.min(5000, Math.ceil(Math.max(one.duration, two.duration) * two.fps * 2));
  const slots = two.layout.slots.flatMap((slot) => {
    const same = one.layout.slots.find((before) => before.name === slot.name && before.kind === slot.kind);
    return same && slot.kind !== 'text' ? [{ slot, same, most: 0, at: 0 }] : [];
  });
  for (let step = 0; step <= steps; step++) {
    const time = step / (two.fps * 2);
    one.sampleInside(Math.min(time, one.duration), pose);
    two.sampleInside(Math.min(time, two.duration), other);
    for (const found of slots) {
      for (let k = 0; k < found.slot.width; k++) {
        const apart = Math.abs(pose.values[found.same.offset + k]! - other.values[found.slot.offset + k]!);
        if (apart > found.most + 1e-9) [found.most, found.at] = [apart, time];
      }
    }
  }
  return slots
    .filter(({ most }) => most > 1e-9)
    .map(({ slot, most, at }) => {
      const frame = `${Number((at * two.fps).toFixed(1))}f`;
      const summary = `differs by up to ${formatNumber(Number(most.toPrecision(3)))} on screen, at ${frame}`;
      return { clip: name, track: slot.name, path: pointerOf(['clips', name, 'tracks', slot.name]), summary };
    });
}
