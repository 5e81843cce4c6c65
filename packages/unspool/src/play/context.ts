import type { Reel } from '../clip/reel.js';
import type { Dispatcher } from './dispatcher.js';
import type { StageLayer, StageVoice } from './stage-voices.js';

/** What layers and gauges need of the player that they belong to. */
export interface PlayContext {
  readonly reel: Reel;
  readonly frame: Dispatcher;
  /** Whether the player was disposed of. */
  readonly isDisposed: boolean;
  /** For what varies: another each time, the same ones for every player of the same seed. */
  nextSeed: number;
  /** Poses the cast as it is now; what is not shown any more is let go of by it. */
  sample(): void;
  /** Readies a voice, which begins over what is shown now. */
  begin(voice: StageVoice, mask: readonly string[] | undefined): void;
  /** Readies a voice that goes on, as it was saved. */
  ready(voice: StageVoice, mask: readonly string[] | undefined): void;
  /** Playbacks that are still shown go, and leave what their `after` says, but for what one that comes animates. */
  release(outgoing: readonly StageVoice[], incoming?: StageVoice): void;
  /** Playbacks are about to be faded: those of which something is left to be faded. */
  settle<V extends StageVoice & { readonly stands: boolean }>(voices: readonly V[], isOut?: boolean): readonly V[];
  /** A voice is shown in another way. */
  touch(voice: StageVoice): void;
  /** A gauge goes. */
  removeGauge(gauge: { readonly shownLayers: readonly StageLayer[] }): void;
  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void;
}
