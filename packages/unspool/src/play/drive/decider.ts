import type { RoutineState } from '../state/saved.js';

/** What decides what plays, as a player sees it: a routine. Games without one do not load it. */
export interface Decider {
  readonly name: string;
  /** Whether something has changed since the last decision: an input, or what plays. */
  isDue: boolean;
  /** Player time in seconds at which a decision is due by time alone: one number, Infinity when there is none. */
  readonly due: Float64Array;
  /** Decides for the moment that is being handled. */
  decide(): void;
  save(): RoutineState;
  load(state: RoutineState): void;
}
