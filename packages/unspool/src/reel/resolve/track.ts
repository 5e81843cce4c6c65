import type { Easing } from '../../easing/easing.js';
import { isShape, widthOf, type Kind } from '../../value/kind.js';
import { toMixing, type Mix } from '../../value/mixing.js';
import type { DocumentPath } from '../diagnostics/diagnostic-messages.js';

/** A handle of a key, relative to it: seconds (positive for `out`, negative for `in`) and a change of value. */
export type Handle = readonly [dt: number, dv: number];

/** One activation of a shape, shared by its keys. */
export interface Activation {
  /** The data of its hits. */
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
  /** Handles of `curve` segments, one per channel: `in` of the segment that ends here, `out` of the one that begins. */
  readonly in?: readonly Handle[];
  readonly out?: readonly Handle[];
  /** Set on a key that turns a whole shape off (`null`). Its value is that of the previous key. */
  readonly off?: true;
  /** Set when a shape is active from this key on. */
  readonly activation?: Activation;
}

/** A track with its keys in seconds and numbers. */
export interface ResolvedTrack {
  /** As written: `claw.rotation`, `claw.position.x`. */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: Kind;
  /** Index of the first animated channel, or −1 for all channels. */
  readonly channel: number;
  /** Number of animated channels. */
  readonly width: number;
  /** How angles are interpolated: as written, or the shorter way. */
  readonly turn: 'literal' | 'shortest';
  /** The color space that colors are mixed in. */
  readonly mix: Mix;
  /** Whether its values replace what is below, or are added to it. */
  readonly space: 'absolute' | 'offset';
  /** Whether each iteration of a loop builds on where the last one ended. */
  readonly accumulate: boolean;
  readonly keys: readonly ResolvedKey[];
  /** Returns the path of a key, or of a member of it, in the document. Frames of one row share a path. */
  readonly pathOf: (index: number, ...members: string[]) => DocumentPath;
  /** When the track ends: the time of its last key, or the end of its last frame. */
  readonly end: number;
}

/** Returns whether a track turns a shape on and off: it animates the last channel, `active`. */
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
