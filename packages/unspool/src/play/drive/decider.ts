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
  save(): RoutineState;
  load(state: RoutineState): void;
}
