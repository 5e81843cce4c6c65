import type { PlaybackPhase } from './course.js';
import type { SavedNumber } from './playhead.js';
import type { PlayOptions, Settings } from './settings.js';

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
  readonly head: readonly SavedNumber[];
  readonly presence: readonly SavedNumber[] | null;
  readonly open: readonly (readonly [cue: number, told: boolean])[];
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
  /** Which of the voices is the playback of now; −1: it is not shown any more, and is the one below. */
  readonly current: number;
  readonly gone: PlaybackState | null;
  readonly isFallback: boolean;
  readonly fallback: { readonly name: string; readonly options: Omit<PlayOptions, 'signal'> } | null;
}

/** All of a player, as plain JSON: `save` writes it, `restore` reads it. Its members are nobody's interface. */
export interface PlayerState {
  readonly saved: number;
  readonly reel: string;
  readonly clock: readonly SavedNumber[];
  readonly seed: number;
  readonly covered: readonly string[];
  readonly rest: readonly SavedNumber[] | null;
  readonly chains: readonly string[];
  readonly layers: readonly LayerState[];
  readonly gauges: readonly (readonly [name: string, numbers: readonly number[]])[];
  readonly direction: readonly number[] | null;
  readonly faces: readonly (readonly [layer: string, facing: string, side: string, plays: boolean])[];
  readonly place: readonly [number[], number, number[], boolean, boolean] | null;
}
