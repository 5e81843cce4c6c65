// Reading a reel
export { parseReel, readReel, type ReelReading } from './clip/parse.js';
export { checkReel, formatDiagnostic, formatReel, LIMITS, ReelError } from './reel/index.js';
export type { CheckOptions, Diagnostic, ReelDocument, Severity } from './reel/index.js';

// Writing one in code
export { defineClip, defineReel, type ClipDraft } from './reel/define.js';

// Clips, and poses at a time
export type { ResolvedCue } from './reel/cue.js';
export { isActivity, type Handle, type ResolvedKey, type ResolvedTrack } from './reel/track.js';
export { Clip, Layout, Pose, Reel, sheetRect, type NamesOf, type ReelNames, type Slot } from './clip/index.js';

// Reels without the check: compiled ahead, or checked before
export { compileReel, loadReel, trustReel, type Packed, type PackedReel } from './clip/index.js';

// Playing
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

// Crowds
export { Crowd, prepareClip, type CrowdCue, type CrowdOptions, type CueList } from './crowd/index.js';

// Easings and times
export { easing, EASING_NAMES, formatEasing, parseEasing, type Easing } from './easing/index.js';
export { parseTime, type Time } from './time/units.js';
export type { LoopMode } from './time/iteration.js';
export { eulerOf, quatOf, type EulerOrder } from './value/index.js';
export { isShape, KINDS, type Kind, type ShapeKind, type ShapeValue, type Value } from './value/index.js';
export { randomNumbers } from './play/random.js';
export { UnspoolError } from './wording/error.js';
export { suggest } from './wording/nearest.js';
