// Reading a reel
export { parseReel, readReel, type ReelReading } from './clip/parse.js';
export { checkReel, formatDiagnostic, formatReel, LIMITS, ReelError } from './reel/index.js';
export type { CheckOptions, Diagnostic, DocumentPath, Severity } from './reel/index.js';

// Writing one in code
export { defineClip, defineReel, type ClipDraft } from './reel/document/define.js';
export type {
  AnyClip,
  ClipOptions,
  CueOptions,
  CueTypes,
  DefinedReel,
  DraftTypes,
  FacingDraft,
  FramesDraft,
  KeyOptions,
  KeyTuple,
  KeyValue,
  LinkDraft,
  PartOptions,
  ReelDraft,
  RoleDraft,
  RoleShape,
  RotationDraft,
  RoutineDraft,
  InputDraft,
  ShapeDraft,
  Side,
  TrackOptions,
} from './reel/document/define-types.js';

// What clips are made of
export {
  isActivity,
  type Activation,
  type Handle,
  type ResolvedKey,
  type ResolvedTrack,
} from './reel/resolve/track.js';

// What clips do, said in full
export { flatTracks } from './clip/authored.js';
export type { FlatTrack } from './reel/resolve/flatten.js';
export type { Bend, Segment } from './reel/resolve/segments.js';

// Reels without the check: compiled ahead, or checked before
export { compileReel, declarationOf, trustReel, type Packed } from './clip/index.js';

// Sampling, playing and crowds: all of `unspool/play`
export * from './play.js';

// Easings and times
export { easing, EASING_NAMES, formatEasing, parseEasing } from './easing/index.js';
export type {
  BezierKeyword,
  Easing,
  FamilyName,
  EasingProblem,
  EasingReading,
  FamilyEasing,
  FreeEasing,
  JumpTerm,
} from './easing/index.js';
export { parseTime } from './time/units.js';
export { eulerOf, quatOf, type EulerOrder } from './value/index.js';
export { isShape, KINDS, SHAPES, type KindRules, type Mix, type ShapeMember } from './value/index.js';
export { randomNumbers } from './play/time/random.js';
export { suggest } from './errors/nearest.js';
export { withHint } from './errors/sentence.js';
