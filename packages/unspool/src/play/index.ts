export { Player } from './drive/player.js';
export type { PlayerOptions } from './drive/player-options.js';
export type { FaceOptions } from './drive/facing.js';
export type { Followed, FollowOptions, FollowSource } from './drive/follow.js';
export type { Gauge, GaugeEnds, GaugeMotion, GaugeOptions, GaugeTrail } from './drive/gauge.js';
export type { Placement } from './pose/placement.js';
export { fitState, type FittedState } from './state/fit.js';
export type { PlayerState } from './state/saved.js';
export type { Layer, LayerOptions } from './drive/layer.js';
export type { ChainRun, FinishOptions, Playback } from './drive/playback.js';
export type { EnqueueOptions, PlayOptions, StopOptions, StopSignal, Vary } from './time/settings.js';
export type { EventType } from './time/event-types.js';
export type { Choice, Playable } from './time/pick.js';
export type {
  CueEvent,
  EventHandler,
  GaugeEvent,
  NamedCueEvent,
  PlaybackEvent,
  PlayerEvents,
  RuleEvent,
  SkipEvent,
  StopEvent,
} from './drive/events.js';
export { travelOf, type Travel } from './drive/travel.js';
export { RoutineRun, startRoutine } from './rules/routine-run.js';
export type { InputName, InputValue, InputValues, RuleName, SignalName } from './rules/names.js';
export type { RuleExplanation, RuleReason } from './rules/explain.js';
