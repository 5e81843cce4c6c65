import type { Clip } from '../../clip/clip.js';
import type { MixedLayer, Voice } from './mixer.js';

/** A playback, or the hand of a gauge. */
export interface StageVoice extends Voice {
  readonly clip: Clip;
  /** What it leaves behind when it ends. */
  readonly after: 'hold' | 'rest';
  /** The properties that it still shows, where others have taken over some. */
  slotsLeft?: readonly string[] | undefined;
  /** Like `timeInto`, for a time from now that is given in the array. */
  timeAfter(at: Float64Array): void;
}

/** What a player tells about the playbacks that come and go, for those that count their way. */
export interface VoiceWatcher {
  /** It begins, and is where it starts. */
  began(voice: StageVoice): void;
  /** It may be shown no longer from now on. */
  leaves(voice: StageVoice): void;
  /** Before the reel becomes another, and after. */
  ends(): void;
  become(): void;
}

/** A layer of clips. */
export interface StageLayer extends MixedLayer<StageVoice> {
  /** Returns whether a voice changes what is shown by itself: it moves or fades. */
  animates(voice: StageVoice): boolean;
  /** Whether its properties are the player's: it has not ended, or fades. */
  claims(voice: StageVoice): boolean;
}
