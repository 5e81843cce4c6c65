/**
 * `unspool/play`: sampling and playing reels that were compiled when the game was built (`compileReel`, or
 * `unspool compile`). It has no dependency, and loads nothing that parses, checks or compiles.
 */
export {
  Clip,
  Layout,
  loadReel,
  Pose,
  Reel,
  sheetRect,
  type NamesOf,
  type PackedReel,
  type ReelNames,
  type Slot,
} from './clip/index.js';
export { Crowd, prepareClip, type CrowdCue, type CrowdOptions, type CueList } from './crowd/index.js';
export { Player, type PlayerOptions } from './play/index.js';
export type {
  FaceOptions,
  FollowOptions,
  FollowSource,
  Gauge,
  GaugeEnds,
  GaugeMotion,
  GaugeOptions,
  GaugeTrail,
} from './play/index.js';
export type { Placement, PlayerState } from './play/index.js';
export type { ChainRun, EnqueueOptions, Layer, LayerOptions, Playback, PlayOptions, Vary } from './play/index.js';
export type {
  CueEvent,
  EventType,
  GaugeEvent,
  PlaybackEvent,
  PlayerEvents,
  SkipEvent,
  StopEvent,
} from './play/index.js';
export { plainCast, type CastAdapter, type PlainTarget, type RoleBinding } from './cast/index.js';
export type { Time } from './time/units.js';
export { UnspoolError } from './errors/error.js';
