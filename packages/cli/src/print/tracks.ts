import {
  isActivity,
  isShape,
  KINDS,
  trustReel,
  type Clip,
  type Reel,
  type ReelDocument,
  type ResolvedTrack,
} from 'unspool';
import { formatValue, hex, round, shapeText } from './values.js';

/** What lies between two keys that are drawn: its times, and how it goes. */
export interface Segment {
  readonly from: number;
  readonly to: number;
  /** The key that it starts with. */
  readonly index: number;
  readonly held: boolean;
}

/** From each key to the next; after the last key to the end of the clip, which holds. */
export function segmentsOf(track: ResolvedTrack, duration: number): Segment[] {
  const { keys } = track;
  return keys.flatMap((key, index): Segment[] => {
    const next = keys[index + 1];
    const to = Math.min(duration, next?.at ?? duration);
    if (key.at >= to) return [];
    return [{ from: key.at, to, index, held: !next || key.easing.kind === 'hold' || isHeld(track) }];
  });
}

export function isHeld(track: ResolvedTrack): boolean {
  return KINDS[track.kind].held || isActivity(track);
}

/** Names of the channels that a track writes. */
export function channelsOf({ kind, channel, width }: ResolvedTrack): string[] {
  const all: readonly string[] = KINDS[kind].channels;
  if (channel < 0 && width === 1) return [''];
  const first = Math.max(0, channel);
  const own = all.slice(first, first + width);
  // Of a shape's property the axes are enough: its name says the rest.
  return width < all.length - 1 ? own.map((name) => name.split('.').at(-1)!) : own;
}

/** In what a track's numbers are counted. */
export function unitOf(track: ResolvedTrack): string {
  const { kind, property, space, mix } = track;
  if (isActivity(track)) return 'active';
  if (space === 'offset') return property === 'scale' || property === 'opacity' ? '×' : 'added';
  if (kind === 'angle') return 'degrees';
  if (kind === 'quat') return 'quaternion';
  if (kind === 'color') return mix === 'srgb' ? 'color' : `color, mixed in ${mix}`;
  if (kind === 'flag') return 'yes or no';
  if (kind === 'text') return 'text';
  if (property === 'frame') return 'sheet cell';
  if (property === 'scale') return 'times';
  if (property === 'position' || property === 'size' || property === 'pivot') return 'units';
  return property === 'opacity' ? '0 to 1' : kind;
}

/** A key's value as a label. */
export function labelOf(track: ResolvedTrack, value: readonly number[], texts: readonly string[]): string {
  const { kind, channel } = track;
  if (isActivity(track)) return value[0] === 1 ? 'active' : 'off';
  if (isShape(kind) && value.length > 2) return shapeText(kind, value);
  if (channel >= 0) return value.map(round).join(', ');
  if (kind === 'color') return hex(value);
  if (kind === 'flag') return value[0] === 0 ? 'no' : 'yes';
  if (kind === 'text') return texts[value[0]!]!;
  if (kind === 'quat') return value.map((n) => round(Math.round(n * 100) / 100)).join(', ');
  return formatValue(kind, value.length === 1 ? value[0]! : [...value]);
}

/** Samples the numbers of one track. */
export function sampler(clip: Clip, track: ResolvedTrack): (time: number) => number[] {
  const one = channelSampler(clip, track);
  const width = track.keys[0]!.value.length;
  return (time) => Array.from({ length: width }, (_, k) => one(time, k));
}

/** Samples one number of a track. */
export function channelSampler(
  clip: Clip,
  { role, property, channel }: ResolvedTrack,
): (time: number, k: number) => number {
  const pose = clip.createPose();
  const slot = clip.layout.slot(`${role}.${property}`);
  const offset = slot.offset + Math.max(0, channel);
  return (time, k) => {
    clip.sampleInside(time, pose);
    return pose.values[offset + k]!;
  };
}

/**
 * A clip with one property of it, for who samples that alone, and often: of a clip with many tracks, all the others would be
 * sampled too. One with parts stays as it is: what they show is in them.
 */
export function soloOf(reel: Reel, clip: Clip, { role, property }: ResolvedTrack): Clip {
  const { tracks = {}, parts, ...own } = reel.document.clips[clip.name]!;
  if (parts) return clip;
  const name = `${role}.${property}`;
  const kept = Object.entries(tracks).filter(([track]) => track === name || track.startsWith(`${name}.`));
  const solo = { ...own, cues: [], spans: {}, duration: clip.duration, tracks: Object.fromEntries(kept) };
  const alone: ReelDocument = { ...reel.document, clips: { [clip.name]: solo }, chains: {}, facings: {} };
  return trustReel(alone).clip(clip.name);
}

/**
 * Points of a segment, close enough for a picture; the last lies a hair before the next key, to show a jump there.
 *
 * @param width of the segment in px: one point for every second of them
 */
export function pointsOf({ from, to, held }: Segment, last: boolean, width: number): number[] {
  const count = held ? 1 : Math.max(24, Math.ceil(width / 2));
  const end = last ? to : to - (to - from) * 1e-6;
  return [...Array.from({ length: count }, (_, i) => from + ((to - from) * i) / count), end];
}

/**
 * How far the way from a key to the next has come, at shares of its time: of the channel that goes farthest. As it is
 * sampled, so that curves, parts and offsets are drawn as they are played.
 */
export function progressOf(clip: Clip, track: ResolvedTrack, index: number, xs: readonly number[]): number[] {
  const sample = sampler(clip, track);
  const [from, to] = [track.keys[index]!.at, track.keys[index + 1]!.at];
  const values = xs.map((x) => sample(from + Math.min(x, 1 - 1e-9) * (to - from)));
  const ways = values[0]!.map((value, k) => values.at(-1)![k]! - value);
  const farthest = ways.reduce((best, way, k) => (Math.abs(way) > Math.abs(ways[best]!) ? k : best), 0);
  const way = ways[farthest]!;
  // Where nothing changes nothing is drawn, whatever the easing.
  return values.map((value) => (way === 0 ? 0 : (value[farthest]! - values[0]![farthest]!) / way));
}
