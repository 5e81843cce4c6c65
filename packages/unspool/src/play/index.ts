export { Player } from './player.js';
export type { PlayerOptions } from './player-options.js';
export type { FaceOptions } from './facing.js';
export type { Followed, FollowOptions, FollowSource } from './follow.js';
export type { Gauge, GaugeEnds, GaugeMotion, GaugeOptions, GaugeTrail } from './gauge.js';
export type { Placement } from './placement.js';
export type { PlayerState } from './saved.js';
export type { Layer, LayerOptions } from './layer.js';
export type { ChainRun, Playback } from './playback.js';
export type { EnqueueOptions, PlayOptions, StopSignal, Vary } from './settings.js';
export type { EventType } from './event-types.js';
export type {
  CueEvent,
  EventHandler,
  GaugeEvent,
  NamedCueEvent,
  PlaybackEvent,
  PlayerEvents,
  SkipEvent,
  StopEvent,
} from './events.js';
