import type { Easing } from '../easing/easing.js';
import type { PlayableKind } from '../value/kind.js';
import { toMixing, type Mix } from '../value/mixing.js';
import type { Path } from './problems.js';

/** A handle of a key: seconds from it (after it for `out`, before it, so negative, for `in`), and how much of value. */
export type Handle = readonly [dt: number, dv: number];

export interface ResolvedKey {
  /** Seconds, ≥ 0, strictly ascending within a track. */
  readonly at: number;
  readonly value: readonly number[];
  /** Used from this key to the next. */
  readonly easing: Easing;
  /** Handles of `curve` segments, one per channel: of the segment that ends here, and of the one that begins. */
  readonly in?: readonly Handle[];
  readonly out?: readonly Handle[];
}

export interface ResolvedTrack {
  /** As written: `claw.rotation`, `claw.position.x`. */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: PlayableKind;
  /** The one channel that is animated, or −1 for all of them. */
  readonly channel: number;
  /** Of angles: as written, or the shorter way round from each key to the next. */
  readonly turn: 'literal' | 'shortest';
  /** Of colours: the space that they are mixed in. */
  readonly mix: Mix;
  /** Whether its values are the property's own, or are added to what it was. */
  readonly space: 'absolute' | 'offset';
  readonly keys: readonly ResolvedKey[];
  /** Where a key stands in the document, and something in it; frames of one row share their place. */
  readonly pathOf: (index: number, ...members: string[]) => Path;
  /** When the last key has been shown: its time, and for a row of frames the end of its last frame. */
  readonly end: number;
}

/** The numbers that a value of a track is mixed as. */
export function mixingNumbers(
  { kind, channel, mix }: Pick<ResolvedTrack, 'kind' | 'channel' | 'mix'>,
  value: readonly number[],
): readonly number[] {
  return kind === 'color' && channel < 0 ? toMixing(mix, value) : value;
}
