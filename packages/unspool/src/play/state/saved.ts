import type { PlaybackPhase } from '../time/playback-simulation.js';
import type { SavedNumber } from '../time/playhead.js';
import type { ObjectNumbers } from '../pose/stage.js';
import type { Playable } from '../time/pick.js';
import type { PlacementState } from '../pose/placement.js';
import type { Kind } from '../../value/kind.js';
import type { PlayOptions, Settings } from '../time/settings.js';

/** The version of the form below. */
export const STATE_VERSION = 6;

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
  /** Whether the edges of spans are moments too, for a routine. */
  readonly watched: boolean;
  readonly returns: boolean;
  /** The properties that it still shows, where others have taken over some; `null` all of them. */
  readonly slots: readonly string[] | null;
  readonly head: Readonly<Record<string, SavedNumber>>;
  readonly presence: Readonly<Record<string, SavedNumber>> | null;
  /** The intervals that it is inside of: the how-manieth cue of a name, from 0, and whether its start was emitted. */
  readonly open: readonly (readonly [cue: string, nth: number, emitted: boolean])[];
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
  readonly fallback: { readonly name: Playable; readonly options: Omit<PlayOptions, 'signal'> } | null;
}

/** What an activation of a shape has hit. */
export interface HitState {
  readonly shape: string;
  /** Which of the activations of the shape in its clip, from 0. */
  readonly activation: number;
  /** Indices of its layer, and of its voice there. */
  readonly layer: number;
  readonly voice: number;
  readonly iteration: number;
  /** Player time until which it was seen. */
  readonly until: SavedNumber;
  readonly targets: readonly string[];
}

/** A move of a gauge or its trail: shares of the range, and seconds of player time. */
export interface GaugeMoveState {
  readonly from: number;
  readonly to: number;
  readonly start: number;
  readonly length: number;
}

export interface GaugeState {
  readonly name: string;
  readonly min: number;
  readonly max: number;
  readonly moves: boolean;
  readonly lead: GaugeMoveState;
  readonly trail: GaugeMoveState | null;
}

/** What a routine knows, by the names in the reel. */
export interface RoutineState {
  readonly name: string;
  readonly inputs: Readonly<Record<string, readonly SavedNumber[]>>;
  /** Kept signals: since when, by layer. */
  readonly signals: readonly { readonly signal: string; readonly layer: string; readonly since: SavedNumber }[];
  /** Conditions: whether each holds, and since when. */
  readonly conditions: readonly {
    readonly rule: string;
    readonly input: string;
    readonly holds: boolean;
    readonly since: SavedNumber;
  }[];
  readonly layers: readonly {
    readonly layer: string;
    readonly rule: string | null;
    readonly since: SavedNumber;
    /** Whether what the layer plays is what the rule has begun. */
    readonly plays: boolean;
    /** Which run of a chain it has begun; −1 for none. Its links may come back after what the game plays. */
    readonly chain: number;
    /** The clip that was picked last. */
    readonly picked: string | null;
    readonly direction: readonly number[] | null;
  }[];
  readonly isDue: boolean;
}

/** The state of a player as plain JSON, from `player.save` for `player.restore`. Its members are internal. */
export interface PlayerState {
  /** Version of the form. */
  readonly saved: number;
  /** A digest of the rest. */
  readonly check: number;
  /** @internal The properties of the reel in their order, by which all lists of numbers are laid out. */
  readonly slots: readonly (readonly [name: string, kind: Kind])[];
  /** @internal What the numbers of texts stand for. */
  readonly texts: readonly string[];
  /** @internal */
  readonly reel: string;
  /** @internal */
  readonly clock: { readonly sum: SavedNumber; readonly lost: SavedNumber };
  /** @internal */
  readonly seed: number;
  /** @internal The base values, `null` for those at rest; everything that was ever written, and what is due to be. */
  readonly ground: readonly (SavedNumber | null)[] | null;
  /** @internal */
  readonly covered: readonly string[];
  /** @internal */
  readonly due: readonly string[];
  /** @internal */
  readonly isStarted: boolean;
  /** @internal What the objects showed of the properties that the game owns. */
  readonly objects: ObjectNumbers;
  /** @internal */
  readonly chains: readonly string[];
  /** @internal */
  readonly layers: readonly LayerState[];
  /** @internal */
  readonly gauges: readonly GaugeState[];
  /** @internal */
  readonly direction: readonly number[] | null;
  /** @internal */
  readonly faces: readonly {
    readonly layer: string;
    readonly facing: string;
    readonly side: string;
    readonly plays: boolean;
  }[];
  /** @internal */
  readonly place: PlacementState | null;
  /** @internal */
  readonly hits: readonly HitState[];
  /** @internal The routine that runs, if one does. */
  readonly routine?: RoutineState;
}
