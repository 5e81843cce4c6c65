import type { PlaybackPhase } from './playback-simulation.js';
import type { SavedNumber } from './playhead.js';
import type { PlacementState } from './placement.js';
import type { PlayOptions, Settings } from './settings.js';

/** The version of the form below. */
export const STATE_VERSION = 3;

/** A playback as `save` writes it. */
export interface PlaybackState {
  readonly clip: string;
  readonly settings: Omit<Settings, 'signal' | 'repeat'> & {
    readonly repeat: { readonly mode: Settings['repeat']['mode']; readonly count: SavedNumber };
  };
  readonly state: PlaybackPhase;
  readonly after: 'hold' | 'rest';
  readonly paused: boolean;
  readonly quiet: boolean;
  readonly returns: boolean;
  /** The properties that it still shows, where others have taken over some; `null` all of them. */
  readonly slots: readonly string[] | null;
  readonly head: Readonly<Record<string, SavedNumber>>;
  readonly presence: Readonly<Record<string, SavedNumber>> | null;
  readonly open: readonly (readonly [cue: number, emitted: boolean])[];
  readonly before: readonly SavedNumber[];
  /** Which run of a chain it belongs to; −1 for none. */
  readonly chain: number;
}

export interface LayerState {
  readonly name: string;
  readonly mask: readonly string[] | null;
  readonly weight: number;
  readonly voices: readonly PlaybackState[];
  readonly queue: readonly PlaybackState[];
  /** Index of the current playback among the voices; −1: it is no longer shown, and is the one below. */
  readonly current: number;
  readonly gone: PlaybackState | null;
  readonly isFallback: boolean;
  readonly fallback: { readonly name: string; readonly options: Omit<PlayOptions, 'signal'> } | null;
}

/**
 * What an activation of a shape has hit: the shape, the index of the activation in its clip, the indices of its layer
 * and voice, the iteration, until when it was seen, and the names of its targets.
 */
export type HitState = readonly [
  shape: string,
  activation: number,
  layer: number,
  voice: number,
  iteration: number,
  until: SavedNumber,
  targets: readonly string[],
];

/** The state of a player as plain JSON, from `player.save` for `player.restore`. Its members are internal. */
export interface PlayerState {
  /** Version of the form. */
  readonly saved: number;
  /** A digest of the rest, and of the layout of the reel's poses. */
  readonly check: number;
  /** @internal */
  readonly layout: number;
  /** @internal */
  readonly reel: string;
  /** @internal */
  readonly clock: readonly SavedNumber[];
  /** @internal */
  readonly seed: number;
  /** @internal The base values, everything that was ever written, and what is due to be written. */
  readonly ground: readonly SavedNumber[] | null;
  /** @internal */
  readonly covered: readonly string[];
  /** @internal */
  readonly due: readonly string[];
  /** @internal */
  readonly isStarted: boolean;
  /** @internal What the objects showed of the properties that the game owns. */
  readonly objects: readonly (readonly [name: string, numbers: readonly SavedNumber[]])[];
  /** @internal */
  readonly chains: readonly string[];
  /** @internal */
  readonly layers: readonly LayerState[];
  /** @internal */
  readonly gauges: readonly (readonly [name: string, numbers: readonly number[]])[];
  /** @internal */
  readonly direction: readonly number[] | null;
  /** @internal */
  readonly faces: readonly (readonly [layer: string, facing: string, side: string, plays: boolean])[];
  /** @internal */
  readonly place: PlacementState | null;
  /** @internal */
  readonly hits: readonly HitState[];
}
