import { withHint } from '../../errors/sentence.js';
import { keysOf } from '../../reel/resolve/properties.js';
import type { ClipDocument, KeyDocument, ReelDocument, TrackDocument } from '../../reel/document/document.js';
import { NANOSECOND, type Time } from '../../time/units.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import { refuse } from '../refusal.js';
import { formatTime, secondsOf } from '../format-values.js';
import {
  clipIn,
  pluralize,
  fpsIn,
  isMoment,
  secondsAt,
  tracksIn,
  trackIn,
  withKeys,
  withTracks,
} from '../document-access.js';

/** The keys that an operation applies to: all of a clip, or by track, by time, or both. */
export interface Selection {
  readonly clip: string;
  readonly tracks?: readonly string[] | undefined;
  readonly keys?: Readonly<Record<string, 'all' | readonly Time[]>> | undefined;
  readonly at?: readonly Time[] | undefined;
  readonly from?: Time | undefined;
  readonly until?: Time | undefined;
  readonly cues?: boolean | undefined;
}

/** The keys of a selection, found. */
export interface SelectedKeys {
  readonly name: string;
  readonly clip: ClipDocument;
  readonly fps: number;
  /** By track, which of its keys: never an empty list. */
  readonly keys: ReadonlyMap<string, readonly number[]>;
  /** Whether its cues, spans and parts are meant too. */
  readonly cues: boolean;
  /** Whether a time in seconds is in the range or among the selected times. */
  readonly covers: (seconds: number) => boolean;
  /** `3 keys of claw.rotation`, `5 keys of 2 tracks`. */
  readonly summary: string;
}

/** Finds the keys that are meant. Names and times that are not there are refused; so is a choice of nothing. */
export function selectKeys(document: ReelDocument, selection: Selection): SelectedKeys {
  const { clip: name, tracks, keys: listed, at, from, until } = selection;
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const times = at?.map((time) => secondsOf(time, fps));
  const [first, last] = [from, until].map((time) => (time === undefined ? undefined : secondsOf(time, fps)));
  const covers = (seconds: number) =>
    (!times || times.some((time) => isMoment(time, seconds))) &&
    (first === undefined || seconds >= first - NANOSECOND) &&
    (last === undefined || seconds <= last + NANOSECOND);
  const keys = new Map<string, readonly number[]>();
  for (const track of listed ? Object.keys(listed) : namesIn(clip, tracks)) {
    const list = keysOf(trackIn(clip, track));
    const wanted = listed?.[track];
    const found =
      wanted === undefined || wanted === 'all'
        ? list.flatMap((key, i) => (covers(secondsAt(key, fps)) ? [i] : []))
        : indexesAt(list, wanted, fps, track);
    if (found.length > 0) keys.set(track, found);
  }
  const cues = selection.cues ?? (tracks === undefined && listed === undefined);
  if (keys.size === 0 && !cues)
    throw refuse('edit/nothing', `the selection has no keys of ${name}. Name other tracks or times.`);
  return { name, clip, fps, keys, cues, covers, summary: describeKeys(keys) };
}

/** The tracks that are named, in the order of the clip; with `*` for any run of characters. */
export function namesIn(clip: ClipDocument, patterns: readonly string[] | undefined): readonly string[] {
  const names = Object.keys(tracksIn(clip));
  if (!patterns) return names;
  const tests = patterns.map((pattern) => {
    const test = new RegExp(`^${pattern.split('*').map(escapePattern).join('.*')}$`);
    if (names.some((name) => test.test(name))) return test;
    throw refuse('edit/unknown-track', withHint(`unknown track ${show(pattern)}`, suggest(pattern, names)));
  });
  return names.filter((name) => tests.some((test) => test.test(name)));
}

/** A text as a pattern that matches just that. */
export const escapePattern = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The indices of the keys at some times, in order. Refused when a time has no key. */
function indexesAt(list: readonly KeyDocument[], times: readonly Time[], fps: number, track: string): number[] {
  // Both lists are sorted, so they are walked through once: thousands may be selected.
  const wanted = times.map((time) => ({ time, seconds: secondsOf(time, fps) })).sort((a, b) => a.seconds - b.seconds);
  let index = 0;
  return wanted.map(({ time, seconds }) => {
    while (index < list.length && secondsAt(list[index]!, fps) < seconds - NANOSECOND) index++;
    if (index < list.length && isMoment(secondsAt(list[index]!, fps), seconds)) return index;
    const there = list.slice(0, 12).map(({ at }) => formatTime(at));
    throw refuse('edit/unknown-key', `${track} has no key at ${formatTime(time)}. It has keys at ${there.join(', ')}.`);
  });
}

function describeKeys(keys: ReadonlyMap<string, readonly number[]>): string {
  const count = [...keys.values()].reduce((sum, list) => sum + list.length, 0);
  const [only] = keys.keys();
  return `${pluralize(count, 'key')} of ${keys.size === 1 ? only! : pluralize(keys.size, 'track')}`;
}

/** Changes the selected tracks. `change` receives each track and its selected keys. */
export function changeTracks(
  { clip, keys }: SelectedKeys,
  change: (track: TrackDocument, chosen: readonly number[], name: string) => TrackDocument,
): ClipDocument {
  const tracks = { ...tracksIn(clip) };
  for (const [name, chosen] of keys) tracks[name] = change(tracks[name]!, chosen, name);
  return keys.size === 0 ? clip : withTracks(clip, tracks);
}

/** Changes each chosen key. */
export function changeKeys(
  chosen: SelectedKeys,
  change: (key: KeyDocument, name: string) => KeyDocument,
): ClipDocument {
  return changeTracks(chosen, (track, indexes, name) => {
    const keys = keysOf(track).slice();
    for (const index of indexes) keys[index] = change(keys[index]!, name);
    return withKeys(track, keys);
  });
}
