/**
 * `unspool/play`: sampling and playing reels that were compiled when the game was built (`compileReel`, or
 * `unspool compile`). It has no dependency, and loads nothing that parses, checks or compiles.
 * @module
 */
export { Layout, loadReel, Pose } from './clip/index.js';
export { sheetCells, sheetOrigin, sheetRect } from './reel/document/sheet.js';
export type {
  Clip,
  NamesOf,
  PackedReel,
  Reel,
  ReelNames,
  RoutineNames,
  ShapeActivation,
  ShapeFacts,
  Slot,
} from './clip/index.js';
export type {
  ChainLink,
  ClipDocument,
  CueDocument,
  FacingSide,
  LoopDocument,
  ReelDocument,
  RoutineDocument,
  RuleDocument,
  ConditionDocument,
  RoleDocument,
  SheetDocument,
  TrackDocument,
} from './reel/index.js';
export type { InputKind } from './reel/document/input-kinds.js';
export type { Routine, RoutineInput, RoutineRule, RuleCondition } from './reel/document/routines.js';
export type { ResolvedCue } from './reel/resolve/cue.js';
export type { LoopMode, Repeat } from './time/iteration.js';
export type { Kind, KindValues, Reveal, ShapeKind, ShapeValue, Value } from './value/index.js';
export {
  Crowd,
  preparedOf,
  prepareClip,
  usePrepared,
  type CrowdCue,
  type CrowdOptions,
  type CrowdState,
  type CueList,
  type PreparedClip,
} from './crowd/index.js';
export { Player, type PlayerOptions } from './play/index.js';
export type {
  FaceOptions,
  FollowOptions,
  Followed,
  FollowSource,
  Gauge,
  GaugeEnds,
  GaugeMotion,
  GaugeOptions,
  GaugeTrail,
} from './play/index.js';
export { fitState, type FittedState } from './play/index.js';
export type { Placement, PlayerState } from './play/index.js';
export type { Choice, Playable } from './play/index.js';
export type {
  ChainRun,
  EnqueueOptions,
  FinishOptions,
  Layer,
  LayerOptions,
  Playback,
  PlayOptions,
  StopOptions,
} from './play/index.js';
export type { StopSignal, Vary } from './play/index.js';
export type {
  CueEvent,
  EventType,
  EventHandler,
  GaugeEvent,
  NamedCueEvent,
  PlaybackEvent,
  PlayerEvents,
  RuleEvent,
  SkipEvent,
  StopEvent,
} from './play/index.js';
export { startRoutine, type RoutineRun, type RuleExplanation, type RuleReason } from './play/index.js';
export { travelOf, type Travel } from './play/index.js';
export type { InputName, InputValue, InputValues, RuleName, SignalName } from './play/index.js';
export {
  plainCast,
  using,
  type CastAdapter,
  type OtherSlot,
  type PlainTarget,
  type RoleBinding,
} from './cast/index.js';
export type { Point, RevealSlot, Using } from './cast/index.js';
export { piecesAlone, regionOf, type Piece, type Region } from './cast/index.js';
export type { Time } from './time/units.js';
export { UnspoolError } from './errors/error.js';
