import type { KeyDocument, ReelDocument } from '../../reel/document/document.js';
import { keysOf, optionsOf } from '../../reel/resolve/properties.js';
import { splitTrackName } from '../../reel/document/names.js';
import { targetOf } from '../../reel/resolve/targets.js';
import { isShape, KINDS, membersOf, widthOf, type Kind, type ShapeKind, type ShapeMember } from '../../value/kind.js';
import { curveOf } from '../track-curve.js';
import { setMembers } from '../immutable.js';
import type { Operations, Applied } from '../operation.js';
import { refuse } from '../refusal.js';
import { mapHandles } from './retime-key.js';
import { changeTracks, selectKeys, escapePattern, type SelectedKeys } from './select.js';
import { formatNumber, formatTime } from '../format-values.js';
import {
  clipIn,
  isRow,
  tracksIn,
  withClip,
  withKeys,
  withTracks,
  type PoseKey,
  type Tracks,
} from '../document-access.js';

type PerChannel = number | readonly number[];

/** Kinds of which a value is numbers that can be added to and multiplied. */
const NUMERIC: readonly Kind[] = ['number', 'vec2', 'vec3', 'angle', 'integer'];

/** Adds to the values of keys: the same to all channels, or to each its own. */
export function addValues(document: ReelDocument, operation: Operations['add-values']): Applied {
  const chosen = selectKeys(document, { ...operation, cues: false });
  const by = operation.by;
  const clip = changeNumbers(document, chosen, { about: 0, factor: 1, by });
  return [withClip(document, chosen.name, clip), `added ${describeChannels(by)} to ${chosen.summary}`];
}

/** Scales the values of keys about a value that stays: 0 unless another is given. */
export function scaleValues(document: ReelDocument, operation: Operations['scale-values']): Applied {
  const chosen = selectKeys(document, { ...operation, cues: false });
  const factor = operation.factor;
  const about = operation.about ?? 0;
  const clip = changeNumbers(document, chosen, { about, factor, by: 0 });
  return [
    withClip(document, chosen.name, clip),
    `scaled the values of ${chosen.summary} by ${describeChannels(factor)}`,
  ];
}

function describeChannels(by: PerChannel): string {
  return typeof by === 'number' ? formatNumber(by) : `[${by.map(formatNumber).join(', ')}]`;
}

interface Linear {
  readonly about: PerChannel;
  readonly factor: PerChannel;
  readonly by: PerChannel;
}

const ofChannel = (given: PerChannel, channel: number) => (typeof given === 'number' ? given : given[channel]!);

function changeNumbers(document: ReelDocument, chosen: SelectedKeys, linear: Linear) {
  return changeTracks(chosen, (track, indexes, name) => {
    const { kind, channel, width } = curveOf(document, chosen.name, name).track;
    if (!NUMERIC.includes(kind) && !(isShape(kind) && channel >= 0 && width < widthOf(kind) - 1))
      throw refuse('edit/kind', `${name} is of kind ${kind}, which is not numeric. Leave it out.`);
    for (const given of [linear.by, linear.factor, linear.about]) {
      if (typeof given !== 'number' && given.length !== width)
        throw refuse(
          'edit/channels',
          `${name} has ${width} channels, and [${given.join(', ')}] has ${given.length}. Pass one number, or ${width}.`,
        );
    }
    const keys = keysOf(track).slice();
    for (const index of indexes) keys[index] = changeNumber(keys[index]!, name, kind, linear);
    return withKeys(track, keys);
  });
}

function changeNumber(key: KeyDocument, name: string, kind: Kind, { about, factor, by }: Linear): KeyDocument {
  const to = (n: number, channel: number): number => {
    const [still, scale, add] = [ofChannel(about, channel), ofChannel(factor, channel), ofChannel(by, channel)];
    const next = clean(scale === 1 ? n + add : still + (n - still) * scale + add);
    if (kind === 'integer' && !Number.isInteger(next))
      throw refuse(
        'edit/whole',
        `${name} would be ${next} at ${formatTime(key.at)}, but it takes integers. Use another number.`,
      );
    return next;
  };
  if (isRow(key)) return { ...key, frames: [to(key.frames[0], 0), to(key.frames[1], 0)] };
  const value = Array.isArray(key.value) ? key.value.map((n, k) => to(n as number, k)) : to(key.value as number, 0);
  return mapHandles({ ...key, value }, (dt, dv, channel) => [dt, clean(dv * ofChannel(factor, channel))]);
}

/** 0.1 + 0.2 as people write it, and no −0: digits beyond the fifteenth are rounding. */
function clean(n: number): number {
  const short = Number(n.toPrecision(15));
  return (Math.abs(short - n) <= Math.abs(n) * 4e-16 ? short : n) + 0;
}

/** Which channels of a property turn their sign in a mirror that swaps left and right, or up and down. */
function turnedChannels(property: string, kind: Kind, axis: 'x' | 'y'): readonly boolean[] {
  const { channels } = KINDS[kind];
  if (kind === 'angle') return [true];
  // Of a rotation in space, the axis that the mirror faces keeps its turn; the other two turn the other way.
  if (kind === 'quat') return channels.map((channel) => channel !== axis && channel !== 'w');
  if (isShape(kind)) {
    const members = membersOf(kind);
    const isTurned: { readonly [M in ShapeMember]: (channel: string) => boolean } = {
      point: (channel) => channel.endsWith(`.${axis}`),
      angle: () => true,
      direction: () => true,
      size: () => false,
      length: () => false,
    };
    return channels.map((channel) => {
      const member = members[channel.split('.')[0]!];
      return member !== undefined && isTurned[member](channel);
    });
  }
  const isPlace = property === 'position' || property === 'pivot';
  return channels.map((channel) => isPlace && channel === axis);
}

/**
 * Mirrors a clip for the other side: positions and rotations are mirrored, and roles of one side swap their tracks
 * with those of the other, by a rule for their names. Mirroring twice is the identity.
 */
export function mirrorClip(document: ReelDocument, operation: Operations['mirror']): Applied {
  const {
    clip: name,
    axis = 'x',
    swap = axis === 'x' ? [['left', 'right'] as const] : [['up', 'down'] as const],
  } = operation;
  const clip = clipIn(document, name);
  if (clip.parts?.length) throw refuse('edit/parts', `${name} has parts. Mirror the clips that they play instead.`);
  const roles = new Set([
    ...Object.keys(document.roles ?? {}),
    ...Object.keys(tracksIn(clip)).map((track) => splitTrackName(track)![0]),
  ]);
  const other = (role: string) => {
    const to = swapped(role, swap);
    return roles.has(to) ? to : role;
  };
  const tracks: Record<string, Tracks[string]> = {};
  for (const [track, written] of Object.entries(tracksIn(clip))) {
    const [role, rest] = splitTrackName(track)!;
    const { kind, property } = curveOf(document, name, track).track;
    const target = targetOf(document, track)!;
    const first = Math.max(0, target.channel);
    const turned = turnedChannels(property, kind, axis).slice(first);
    const offset = optionsOf(written)?.space === 'offset' && property === 'scale';
    const keys = keysOf(written).map((key) => (isRow(key) || offset ? key : mirrorKey(key, kind, turned, axis)));
    tracks[`${other(role)}.${rest}`] = withKeys(written, keys);
  }
  return [withClip(document, name, withTracks(clip, tracks)), `mirrored ${name}`];
}

/** `claw-left` becomes `claw-right` in a mirror, and vice versa. */
function swapped(role: string, swap: readonly (readonly [string, string])[]): string {
  for (const [a, b] of swap) {
    const test = new RegExp(`(^|[-_])(${escapePattern(a)}|${escapePattern(b)})(?=$|[-_])`);
    if (test.test(role)) return role.replace(test, (_, lead: string, side: string) => lead + (side === a ? b : a));
  }
  return role;
}

function mirrorKey(key: PoseKey, kind: Kind, turned: readonly boolean[], axis: 'x' | 'y'): PoseKey {
  const turn = (n: number, channel: number) => (turned[channel] ? 0 - n : n);
  const { value } = key;
  let next: unknown = value;
  if (typeof value === 'number') next = turn(value, 0);
  else if (Array.isArray(value) && kind !== 'color') next = value.map((n, k) => turn(n as number, k));
  else if (kind === 'quat' && typeof value === 'object' && value !== null) next = mirrorEuler(value as Euler, axis);
  else if (isShape(kind) && typeof value === 'object' && value !== null)
    next = mirrorShape(kind, value as Record<string, unknown>, axis);
  return mapHandles(setMembers(key, { value: next }), (dt, dv, channel) => [dt, turn(dv, channel)]);
}

interface Euler {
  readonly euler: readonly number[];
}

function mirrorEuler(value: Euler, axis: 'x' | 'y'): Euler {
  return { ...value, euler: value.euler.map((n, k) => ('xyz'[k] === axis ? n : 0 - n)) };
}

/** Points and directions are mirrored, an angle is negated; sizes and lengths are the same from both sides. */
function mirrorShape(kind: ShapeKind, shape: Record<string, unknown>, axis: 'x' | 'y'): object {
  const place = axis === 'x' ? 0 : 1;
  const mirrored: { readonly [M in ShapeMember]: (value: unknown) => unknown } = {
    point: (value) => (value as number[]).map((n, k) => (k === place ? 0 - n : n)),
    angle: (value) => 0 - (value as number),
    direction: (value) => (axis === 'x' ? 180 : 0) - (value as number),
    size: (value) => value,
    length: (value) => value,
  };
  const members = membersOf(kind);
  return Object.fromEntries(Object.entries(shape).map(([name, value]) => [name, mirrored[members[name]!](value)]));
}
