import type { ReelNames } from '../clip/names.js';
import { UnspoolError } from '../wording/error.js';
import { show } from '../wording/show.js';
import type { Layer } from './layer.js';
import type { ChainRun, Playback, PlaybackPhase } from './playback.js';
import type { SavedNumber } from './playhead.js';
import type { PlayOptions, Settings } from './settings.js';

/** The version of the form below. */
export const STATE_VERSION = 1;

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
  readonly faces: readonly (readonly [layer: string, facing: string, side: string])[];
  readonly place: readonly [number[], number, number[], boolean, boolean] | null;
}

/** Numbers the runs of chains that playbacks belong to. */
export class ChainNumbers<N extends ReelNames> {
  readonly runs: ChainRun<N>[] = [];

  of(playback: Playback<N>): number {
    const { chain } = playback;
    if (!chain) return -1;
    const known = this.runs.indexOf(chain);
    return known >= 0 ? known : this.runs.push(chain) - 1;
  }
}

/** The runs of chains anew, each with the links that are still there. */
export function chainRuns<N extends ReelNames>(
  names: readonly string[],
  layers: readonly Layer<N>[],
  saved: readonly LayerState[],
): void {
  const links: Playback<N>[][] = names.map(() => []);
  saved.forEach((state, i) => {
    const { voices, queue } = layers[i]!;
    const all = [...state.voices, ...state.queue];
    [...voices, ...queue].forEach((playback, k) => links[all[k]!.chain]?.push(playback));
  });
  links.forEach((list, i) => {
    const run = chainRun<N>(names[i]!, list);
    for (const link of list) link.chain = run;
  });
}

export function chainRun<N extends ReelNames>(name: string, links: readonly Playback<N>[]): ChainRun<N> {
  return {
    name,
    links,
    get ended() {
      return Promise.all(links.map((link) => link.ended)).then((all) => (all.includes('stop') ? 'stop' : 'end'));
    },
  };
}

/** Checks that a state is one of this reel. */
export function checkState(state: PlayerState, reel: { readonly name: string; readonly said: string }): void {
  if (typeof state !== 'object' || (state as PlayerState | null)?.saved !== STATE_VERSION)
    throw new UnspoolError('play/state', `${show(state)} was not written by save`, 'give what save returned');
  if (state.reel === reel.name) return;
  throw new UnspoolError(
    'play/state',
    `the state is of the reel ${show(state.reel)}, and this is ${reel.said}`,
    'restore it into a player of that reel',
  );
}
