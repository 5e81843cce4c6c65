import type { Reel } from '../../clip/reel.js';
import type { ChainRun } from './playback.js';
import type { RoutineState } from '../state/saved.js';

/** The place of the time at which a decision is due. */
export const DUE = 1;

/** What decides what plays, as a player sees it: a routine. Games without one do not load it. */
export interface Decider {
  readonly name: string;
  /** Whether something has changed since the last decision: an input, or what plays. */
  readonly isDue: boolean;
  /** Its number at `DUE` is the player time in seconds at which a decision is due by time alone, Infinity for none. */
  readonly times: Float64Array;
  /** Something has changed that may make another rule apply. */
  mark(): void;
  /** Decides for the moment that is being handled. */
  decide(): void;
  /** The playbacks of rules that a changed reel does not have. Throws for a rule of it that could not begin. */
  orphans(reel: Reel): readonly object[];
  /** Follows the rules of the reel that the player plays now; what it knows is to be loaded after. */
  become(): void;
  /** @param chainOf the place of a run among the saved ones; −1 for none of them */
  save(chainOf: (run: ChainRun | undefined) => number): RoutineState;
  load(state: RoutineState, runs: readonly ChainRun[]): void;
}
