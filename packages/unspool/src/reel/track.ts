import type { Easing } from '../easing/easing.js';
import { isShape, widthOf, type Kind } from '../value/kind.js';
import { toMixing, type Mix } from '../value/mixing.js';
import type { DocumentPath } from './diagnostic-messages.js';

/** A handle of a key: seconds from it (after it for `out`, before it, so negative, for `in`), and how much of value. */
export type Handle = readonly [dt: number, dv: number];

/** A stretch in which a shape is active: what goes with its hits. Keys of one share it. */
export interface Activation {
  readonly data: unknown;
}

/** A key with its time in seconds and its value as numbers. */
export interface ResolvedKey {
  /** Seconds, ≥ 0, strictly ascending within a track. */
  readonly at: number;
  /** One number per channel, in the units of the reel. */
  readonly value: readonly number[];
  /** The easing from this key to the next. */
  readonly easing: Easing;
  /** Handles of `curve` segments, one per channel: of the segment that ends here, and of the one that begins. */
  readonly in?: readonly Handle[];
  readonly out?: readonly Handle[];
  /** Set on a key that turns a whole shape off (`null`). Its value is that of the previous key. */
  readonly off?: true;
  /** Of a shape that is active from here on. */
  readonly activation?: Activation;
}

/** A track with its keys in seconds and numbers. */
export interface ResolvedTrack {
  /** As written: `claw.rotation`, `claw.position.x`. */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: Kind;
  /** The first of the channels that are animated, or −1 for all of them. */
  readonly channel: number;
  /** How many numbers it animates. */
  readonly width: number;
  /** Of angles: as written, or the shorter way round from each key to the next. */
  readonly turn: 'literal' | 'shortest';
  /** Of colors: the space that they are mixed in. */
  readonly mix: Mix;
  /** Whether its values are the property's own, or are added to what it was. */
  readonly space: 'absolute' | 'offset';
  readonly keys: readonly ResolvedKey[];
  /** Where a key stands in the document, and something in it; frames of one row share their place. */
  readonly pathOf: (index: number, ...members: string[]) => DocumentPath;
  /** When the last key has been shown: its time, and for a row of frames the end of its last frame. */
  readonly end: number;
}

/** Whether a track says when a shape is active, which is its last channel. */
export function isActivity({ kind, channel }: Pick<ResolvedTrack, 'kind' | 'channel'>): boolean {
  return isShape(kind) && channel === widthOf(kind) - 1;
}

/** Whether two tracks animate a number that both have. */
export function sharesNumbers(a: Ranged, b: Ranged): boolean {
  const [first, second] = [Math.max(0, a.channel), Math.max(0, b.channel)];
  return a.role === b.role && a.property === b.property && first < second + b.width && second < first + a.width;
}

type Ranged = Pick<ResolvedTrack, 'role' | 'property' | 'channel' | 'width'>;

/** The numbers that a value of a track is mixed as. */
export function mixingNumbers(
  { kind, channel, mix }: Pick<ResolvedTrack, 'kind' | 'channel' | 'mix'>,
  value: readonly number[],
): readonly number[] {
  return kind === 'color' && channel < 0 ? toMixing(mix, value) : value;
}
