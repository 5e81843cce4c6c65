import type { Reel } from '../clip/reel.js';
import type { Frame } from './frame.js';
import type { Voice } from './mixer.js';
import type { Clip } from '../clip/clip.js';

/** What the layers of a player share. */
export interface PlayerCore {
  readonly reel: Reel;
  readonly frame: Frame;
  readonly stage: PlayerStage;
  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void;
  /** A seed for what varies: another each time, the same ones for every player of the same seed. */
  seed(): number;
}

/** What layers ask of the stage. */
export interface PlayerStage {
  /** Readies a voice, which begins over what is shown now. */
  begin(voice: Voice & { readonly clip: Clip }, mask: readonly string[] | undefined): void;
  /** A voice is gone, and leaves the rest values: what it has offset goes back to what it was. */
  left(voice: Voice): void;
}
