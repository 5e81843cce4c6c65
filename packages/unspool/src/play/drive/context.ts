import type { Reel } from '../../clip/reel.js';
import type { Decider } from './decider.js';
import type { Dispatcher } from './dispatcher.js';
import type { StageLayer, StageVoice } from '../pose/stage-voices.js';

/** What layers and gauges need of the player that they belong to. */
export interface PlayContext {
  readonly reel: Reel;
  readonly frame: Dispatcher;
  /** Whether the player was disposed of. */
  readonly isDisposed: boolean;
  /** For what varies: another each time, the same ones for every player of the same seed. */
  nextSeed: number;
  /** What decides what plays; `undefined` for most players. */
  readonly routine: Decider | undefined;
  /** Updates the pose; releases what is no longer shown. */
  sample(): void;
  /** Prepares a voice that begins over what is shown now. */
  begin(voice: StageVoice, mask: readonly string[] | undefined): void;
  /** Prepares a restored voice. */
  ready(voice: StageVoice, mask: readonly string[] | undefined): void;
  /** Playbacks that are still shown leave; what stays is their `after`, except for what an incoming one animates. */
  release(outgoing: readonly StageVoice[], incoming?: StageVoice): void;
  /** Playbacks are about to be faded: returns those that have something left to fade. */
  settle<V extends StageVoice & { readonly stands: boolean }>(voices: readonly V[], isOut?: boolean): readonly V[];
  /** A voice changes how it is shown. */
  touch(voice: StageVoice): void;
  /** A gauge goes. */
  removeGauge(gauge: { readonly shownLayers: readonly StageLayer[] }): void;
  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void;
}
