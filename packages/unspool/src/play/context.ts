import type { Clip } from '../clip/clip.js';
import type { Reel } from '../clip/reel.js';
import type { Frame } from './frame.js';
import type { Voice } from './mixer.js';

/** What layers and gauges need of the player that they belong to. */
export interface PlayContext {
  readonly reel: Reel;
  readonly frame: Frame;
  /** For what varies: another each time, the same ones for every player of the same seed. */
  nextSeed: number;
  /** Readies a voice, which begins over what is shown now. */
  begin(voice: Voice & { readonly clip: Clip }, mask: readonly string[] | undefined): void;
  /** A voice is gone, and leaves the rest values: what it has offset goes back to what it was. */
  left(voice: Voice): void;
  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void;
}
