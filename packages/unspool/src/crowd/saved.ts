import type { CueMomentType } from '../play/time/cue-timeline.js';
import type { SavedNumber } from '../play/time/playhead.js';
import type { LoopMode } from '../time/iteration.js';

/** The version of the form below. */
export const CROWD_VERSION = 1;

/** The instances of one clip: lists with an entry for each, in the order of their poses. */
export interface GroupState {
  readonly clip: string;
  readonly repeats: readonly { readonly mode: LoopMode; readonly count: SavedNumber }[];
  readonly ids: readonly number[];
  /** Seconds inside the clip: where it is, and where it began. */
  readonly times: readonly number[];
  readonly starts: readonly number[];
  readonly velocities: readonly SavedNumber[];
  readonly iterations: readonly SavedNumber[];
  readonly lost: readonly SavedNumber[];
  /** Which of `repeats`. */
  readonly loops: readonly number[];
  readonly states: readonly number[];
}

/** The state of a crowd, or of one instance, as plain JSON: from `crowd.save` for `crowd.restore`. Its members are internal. */
export interface CrowdState {
  /** Version of the form. */
  readonly crowd: number;
  /** A digest of the rest. */
  readonly check: number;
  /** @internal */
  readonly reel: string;
  /** @internal */
  readonly groups: readonly GroupState[];
  /** @internal What concerns all of them; `null` in the state of one instance. */
  readonly whole: {
    readonly rate: number;
    readonly paused: boolean;
    /** How often the slot of each id was taken before, and those that are free, by which new ids are made. */
    readonly ids: { readonly turns: readonly number[]; readonly free: readonly number[] };
    /** Starts and ends of intervals that the next tick tells of: the how-manieth cue of a clip, as written. */
    readonly pending: readonly {
      readonly id: number;
      readonly clip: string;
      readonly cue: number;
      readonly type: CueMomentType;
    }[];
  } | null;
}
