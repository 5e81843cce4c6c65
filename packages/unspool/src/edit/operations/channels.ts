import { formatEasing } from '../../easing/easing.js';
import type { KeyDocument, KeyList, ReelDocument } from '../../reel/document/document.js';
import { keysOf, optionsOf } from '../../reel/resolve/properties.js';
import { isCurve } from '../../reel/resolve/handles.js';
import type { Time } from '../../time/units.js';
import { isShape, KINDS } from '../../value/kind.js';
import { curveOf, type TrackCurve } from '../track-curve.js';
import { cutTrack } from './cut-track.js';
import { setMembers } from '../immutable.js';
import type { Operations, Applied } from '../operation.js';
import { piecesOf } from './easing-pieces.js';
import { refuse } from '../refusal.js';
import { canLoad } from '../validate-edit.js';
import {
  clipIn,
  pluralize,
  fpsIn,
  isMoment,
  isRow,
  put,
  secondsAt,
  trackIn,
  tracksIn,
  withClip,
  withKeys,
  withTracks,
  type PoseKey,
  type Tracks,
} from '../document-access.js';

/** One track of a property as one for each channel, with the same times and easings: nothing shown changes. */
export function splitChannels(document: ReelDocument, { clip: name, track }: Operations['split-channels']): Applied {
  const clip = clipIn(document, name);
  const written = trackIn(clip, track);
  const { kind, channel } = curveOf(document, name, track).track;
  const { channels } = KINDS[kind];
  if (channel >= 0 || channels.length < 2 || isShape(kind) || kind === 'quat' || kind === 'color') {
    const why =
      channel >= 0 || channels.length < 2
        ? 'is a single channel'
        : `is of kind ${kind}, which has no separate channels`;
    throw refuse('edit/channels', `${track} ${why}. Select the track of a vector.`);
  }
  const keys = keysOf(written) as readonly PoseKey[];
  const split = channels.map(
    (one, k) =>
      [
        `${track}.${one}`,
        withKeys(
          written,
          keys.map((key) => channelOf(key, k)),
        ),
      ] as const,
  );
  type Entry = readonly [string, Tracks[string]];
  const entries = Object.entries(tracksIn(clip)).flatMap((entry): readonly Entry[] =>
    entry[0] === track ? split : [entry],
  );
  return [
    withClip(document, name, withTracks(clip, Object.fromEntries(entries))),
    `split ${track} into ${channels.map((one) => `${track}.${one}`).join(', ')}`,
  ];
}

function channelOf(key: PoseKey, k: number): KeyDocument {
  const handle = (given: unknown) => (Array.isArray(given) && Array.isArray(given[0]) ? (given[k] as unknown) : given);
  const value = Array.isArray(key.value) ? (key.value[k] as number) : key.value;
  return setMembers(key, { value, in: handle(key.in), out: handle(key.out) });
}

/**
 * Joins the tracks of a property's channels into one. Where only one of them has a key, the others get one on their
 * curves; where their easings differ, cubic ones become curves with handles. Nothing shown changes, or the operation
 * is refused.
 */
export function joinChannels(document: ReelDocument, { clip: name, track }: Operations['join-channels']): Applied {
  const clip = clipIn(document, name);
  const fps = fpsIn(document, clip);
  const names = Object.keys(tracksIn(clip)).filter((one) => one.startsWith(`${track}.`));
  const kind = names.length > 0 ? curveOf(document, name, names[0]!).track.kind : undefined;
  const { channels } = KINDS[kind ?? 'number'];
  const parts = channels.map((channel) => `${track}.${channel}`);
  const missing = parts.filter((part) => !names.includes(part));
  if (kind === undefined || channels.length < 2 || isShape(kind) || kind === 'color' || missing.length > 0) {
    const summary =
      kind === undefined || channels.length < 2
        ? `${track} has no keyed channels`
        : `${missing.join(', ') || track} is not keyed, or not part of a vector`;
    throw refuse('edit/channels', `${summary}. Name a vector that has a track for each channel.`);
  }
  const spaces = new Set(parts.map((part) => optionsOf(trackIn(clip, part))?.space ?? 'absolute'));
  if (spaces.size > 1)
    throw refuse(
      'edit/channels',
      `one channel of ${track} is an offset and another is not. Use the same "space" for both.`,
    );
  const even = withSameTimes(document, name, parts, fps);
  const lists = parts.map((part) => keysOf(trackIn(clipIn(even, name), part)) as readonly PoseKey[]);
  const curves = parts.map((part) => curveOf(even, name, part));
  const keys = lists[0]!.map((_, i) => joined(curves, lists, i));
  const entries = Object.entries(tracksIn(clip)).flatMap((entry): (readonly [string, Tracks[string]])[] => {
    if (entry[0] === names[0]) return [[track, withKeys(entry[1], keys)] as const];
    return parts.includes(entry[0]) ? [] : [entry];
  });
  return [
    withClip(document, name, withTracks(clip, Object.fromEntries(entries))),
    `joined ${pluralize(parts.length, 'channel')} of ${track}`,
  ];
}

/** Each channel with a key wherever another has one. */
function withSameTimes(document: ReelDocument, name: string, parts: readonly string[], fps: number): ReelDocument {
  const clip = clipIn(document, name);
  const all = parts.flatMap((part) => keysOf(trackIn(clip, part)).map(({ at }) => at));
  let even = document;
  for (const part of parts) {
    for (const at of all) {
      const keys: KeyList = keysOf(trackIn(clipIn(even, name), part));
      const seconds = secondsAt({ at }, fps);
      if (!keys.some((key) => isMoment(secondsAt(key, fps), seconds)))
        even = canLoad(even, put(even, name, part, cutTrack(even, name, part, at)));
    }
  }
  return even;
}

function joined(curves: readonly TrackCurve[], lists: readonly (readonly PoseKey[])[], i: number): KeyDocument {
  const keys = lists.map((list) => list[i]!);
  if (keys.some(isRow))
    throw refuse(
      'edit/row',
      `${curves[0]!.track.name} has a row of frames and cannot be joined. Split the row into keys first.`,
    );
  const { at } = keys[0]!;
  const value = keys.map((key) => key.value);
  const before = lists.map((list) => list[i - 1]);
  const isSame = (list: readonly (PoseKey | undefined)[]) =>
    list.every((one) => one?.ease === list[0]?.ease && !isCurve(one));
  const isLast = i === lists[0]!.length - 1;
  const base = { at, value } as PoseKey;
  const into = i > 0 && !isSame(before) ? handlesAt(curves, i - 1).map(({ in: one }) => one) : undefined;
  if (isLast || isSame(keys)) return setMembers(base, { ease: isLast ? undefined : keys[0]!.ease, in: into });
  const out = handlesAt(curves, i).map(({ out: one }) => one);
  return setMembers(base, { ease: 'curve', in: into, out });
}

type Handle = readonly [dt: Time, dv: number];

/** What the segment of each channel is as a curve with handles. */
function handlesAt(curves: readonly TrackCurve[], i: number): { readonly out: Handle; readonly in: Handle }[] {
  return curves.map(({ segments }) => {
    const { from, to, length, easing, bends } = segments[i]!;
    const way = to[0]! - from[0]!;
    if (bends) {
      const [x1, dv1, x2, dv2] = bends[0]!;
      return { out: [x1 * length, dv1], in: [(x2 - 1) * length, dv2] };
    }
    const pieces = easing.kind === 'linear' ? undefined : piecesOf(easing);
    if (way === 0 || easing.kind === 'linear') return { out: [length / 3, way / 3], in: [-length / 3, -way / 3] };
    if (pieces?.kind !== 'cubics' || pieces.cubics.length > 1)
      throw refuse(
        'edit/channels',
        `the easings of ${curves.map(({ track }) => track.name).join(', ')} differ, and ${formatEasing(easing)} is not a single curve. Use the same easing on all channels.`,
      );
    const [{ out, in: into }] = pieces.cubics as [(typeof pieces.cubics)[number]];
    return { out: [out[0] * length, out[1] * way], in: [(into[0] - 1) * length, (into[1] - 1) * way] };
  });
}
