// Reading a reel
export { parseReel, readReel, type ReelReading } from './clip/parse.js';
export { checkReel, formatDiagnostic, formatReel, LIMITS, ReelError } from './reel/index.js';
export type { CheckOptions, Diagnostic, ReelDocument, Severity } from './reel/index.js';

// Writing one in code
export { defineClip, defineReel, type ClipDraft } from './reel/define.js';

// What clips are made of
export type { ResolvedCue } from './reel/cue.js';
export { isActivity, type Handle, type ResolvedKey, type ResolvedTrack } from './reel/track.js';

// Reels without the check: compiled ahead, or checked before
export { compileReel, trustReel, type Packed } from './clip/index.js';

// Sampling, playing and crowds: all of `unspool/play`
export * from './play.js';

// Easings and times
export { easing, EASING_NAMES, formatEasing, parseEasing, type Easing } from './easing/index.js';
export { parseTime } from './time/units.js';
export type { LoopMode } from './time/iteration.js';
export { eulerOf, quatOf, type EulerOrder } from './value/index.js';
export { isShape, KINDS, type Kind, type ShapeKind, type ShapeValue, type Value } from './value/index.js';
export { randomNumbers } from './play/random.js';
export { suggest } from './errors/nearest.js';
export { withHint } from './errors/sentence.js';
