import { mustBeReel } from './expect.js';
import type { ReelDocument } from '../reel/document/document.js';
import { flattenClip, type FlatTrack } from '../reel/resolve/flatten.js';
import { readProperties, type Properties } from '../reel/resolve/properties.js';
import { resolveClip } from '../reel/resolve/resolve.js';
import { isActivity, type ResolvedKey, type ResolvedTrack } from '../reel/resolve/track.js';
import type { Clip } from './clip.js';
import type { Reel } from './reel.js';

/**
 * The tracks of a clip with their keys, for display: its own as written, and those of its parts with a key at the
 * start of every segment, at the times of the clip.
 */
export function authoredTracks(document: ReelDocument, properties: Properties, clip: Clip): readonly ResolvedTrack[] {
  // `clip.activations` has the activity of shapes, unless it is keyed itself.
  const written = (name: string) => Object.hasOwn(document.clips[clip.name]?.tracks ?? {}, name);
  const isShown = (track: Pick<ResolvedTrack, 'name' | 'kind' | 'channel'>) =>
    !isActivity(track) || written(track.name);
  const own = resolveClip(document, clip.name, properties, () => {}).tracks.filter(isShown);
  if (!document.clips[clip.name]?.parts?.length) return own;
  const { tracks } = flattenClip(document, clip.name, properties, () => {})!;
  return tracks.filter(isShown).map((track) => {
    const same = own.find(({ name }) => name === track.name);
    const mine = same && same.keys.at(-1)!.at === track.segments.at(-1)!.start;
    return mine ? same : fromSegments(track, clip);
  });
}

function fromSegments({ segments, gain, ...track }: FlatTrack, clip: Clip): ResolvedTrack {
  const pose = clip.createPose();
  const slot = clip.layout.slot(`${track.role}.${track.property}`);
  const first = slot.offset + Math.max(0, track.channel);
  const keys = segments.map(({ start, easing, bends }): ResolvedKey => {
    const value = [
      ...clip.sampleInside(Math.min(start, clip.duration), pose).values.subarray(first, first + track.width),
    ];
    return { at: start, value, easing: bends ? { kind: 'curve' } : easing };
  });
  return { ...track, accumulate: gain !== undefined, keys, pathOf: () => [], end: keys.at(-1)!.at };
}

/**
 * Returns everything that a clip does, track by track, for programs that write it in another form: parts inserted,
 * frames of a row as held keys, `smooth` as curves, all times in seconds and all values as numbers. The activity of
 * shapes has tracks of its own. Offsets are as they are authored.
 *
 * Throws for an unknown clip, and for a reel that was compiled ahead of time.
 */
export function flatTracks(reel: Reel, clip: string): readonly FlatTrack[] {
  mustBeReel(reel);
  const { document } = reel;
  const { name } = reel.clip(clip);
  return flattenClip(
    document,
    name,
    readProperties(document, () => {}),
    () => {},
  )!.tracks;
}
