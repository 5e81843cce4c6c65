import { withHint } from '../errors/sentence.js';
import type { ClipDocument, KeyDocument, KeyList, ReelDocument, TrackDocument } from '../reel/document/document.js';
import { keysOf, optionsOf } from '../reel/resolve/properties.js';
import { DEFAULT_FPS, NANOSECOND, parseTime, type Time } from '../time/units.js';
import { suggest } from '../errors/nearest.js';
import { show } from '../errors/show.js';
import { refuse } from './refusal.js';
import { likeOf, formatTime } from './format-values.js';

/** What every operation does with clips, tracks and keys: finds them or refuses, and replaces them. */

export type Tracks = Readonly<Record<string, TrackDocument>>;
export type FramesKey = Extract<KeyDocument, { readonly frames: unknown }>;
export type PoseKey = Exclude<KeyDocument, FramesKey>;

export const isRow = (key: KeyDocument): key is FramesKey => 'frames' in key;

export function clipIn(document: ReelDocument, name: string): ClipDocument {
  if (Object.hasOwn(document.clips, name)) return document.clips[name]!;
  throw refuse('edit/unknown-clip', withHint(`unknown clip ${show(name)}`, suggest(name, Object.keys(document.clips))));
}

export function tracksIn({ tracks = {} }: ClipDocument): Tracks {
  return tracks;
}

export function trackIn(clip: ClipDocument, name: string): TrackDocument {
  const tracks = tracksIn(clip);
  if (Object.hasOwn(tracks, name)) return tracks[name]!;
  throw refuse('edit/unknown-track', withHint(`unknown track ${show(name)}`, suggest(name, Object.keys(tracks))));
}

export function fpsIn(document: ReelDocument, clip: ClipDocument): number {
  return clip.fps ?? document.fps ?? DEFAULT_FPS;
}

export function withClip(document: ReelDocument, name: string, clip: ClipDocument): ReelDocument {
  return document.clips[name] === clip ? document : { ...document, clips: { ...document.clips, [name]: clip } };
}

/** A clip with other tracks; one without any has no such member. */
export function withTracks(clip: ClipDocument, tracks: Tracks): ClipDocument {
  if (tracks === clip.tracks) return clip;
  const none = Object.keys(tracks).length === 0 && clip.tracks === undefined;
  return none ? clip : { ...clip, tracks };
}

/** A clip with other keys for a track, which may be new. */
export function put(document: ReelDocument, name: string, track: string, keys: KeyList): ReelDocument {
  const clip = clipIn(document, name);
  const tracks = tracksIn(clip);
  const next = Object.hasOwn(tracks, track) ? withKeys(tracks[track]!, keys) : keys;
  return withClip(document, name, withTracks(clip, { ...tracks, [track]: next }));
}

/** A track with other keys and the options that it has. */
export function withKeys(track: TrackDocument, keys: KeyList): TrackDocument {
  const options = optionsOf(track);
  return options ? { ...options, keys } : keys;
}

export const secondsAt = (key: { readonly at: Time }, fps: number): number => parseTime(key.at, fps)!;

/** Whether two times are one moment. */
export const isMoment = (a: number, b: number): boolean => Math.abs(a - b) <= NANOSECOND;

/** Keys in order of time. Two at one moment are refused. */
export function inOrder(keys: readonly KeyDocument[], fps: number, track: string): KeyList {
  const timed = keys.map((key) => ({ key, at: secondsAt(key, fps) }));
  const sorted = timed.every(({ at }, i) => i === 0 || at >= timed[i - 1]!.at)
    ? timed
    : timed.sort((a, b) => a.at - b.at);
  if (sorted.length > 0 && sorted[0]!.at < 0) {
    const at = formatTime(sorted[0]!.key.at);
    throw refuse(
      'edit/before-start',
      `a key of ${track} would be at ${at}, before the start of the clip. Move it less.`,
    );
  }
  for (let i = 1; i < sorted.length; i++) {
    if (sorted[i]!.at - sorted[i - 1]!.at > NANOSECOND) continue;
    const at = formatTime(sorted[i]!.key.at);
    throw refuse('edit/time-taken', `two keys of ${track} would be at ${at}. Move or delete one of them first.`);
  }
  return sorted.map(({ key }) => key);
}

/** The unit that the times of a clip are written in, as a time that has it. */
export function likeIn(clip: ClipDocument): Time {
  const keys = Object.values(tracksIn(clip)).flatMap((track) => keysOf(track).slice(0, 8));
  return likeOf([clip.duration, ...keys.map(({ at }) => at), ...(clip.cues ?? []).map(({ at }) => at)]);
}

/** `3 keys`, `1 key`. */
export function pluralize(count: number, what: string): string {
  return `${count} ${what}${count === 1 ? '' : 's'}`;
}
