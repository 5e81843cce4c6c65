/**
 * `unspool/edit`: what an animator does to a reel, as data.
 * @module
 */
export { edit, type Edited, type Refused } from './edit.js';
export type { Operation, OperationName, Operations, Thing } from './operation.js';
export type { Change, ListChange, MemberChange } from './patch.js';
export { advise, withoutAccepted, type Advice, type AdviseOptions } from './advice/advise.js';
export { capture, type Captured, type CaptureOptions, type Sample } from './capture/capture.js';
export { compareReels } from './compare.js';
export type { Difference } from './compare-members.js';
export { longestSteps } from './capture/fewest.js';
export { LiveSamples, type LiveOptions } from './capture/live.js';
export { cubicAt, cutCubic, easingFunction, parameterAt, piecesOf } from './operations/easing-pieces.js';
export type { Cubic, Pieces } from './operations/easing-pieces.js';
export { copyKeys, type Copied } from './operations/keys.js';
export { History, type ApplyOptions, type HistoryOptions, type NearestSteps, type Recovered } from './history.js';
export type { JournalEntry } from './journal.js';
export { mergeReels, patchBetween, type Merged, type MergeOptions } from './merge.js';
export { record, type Recording } from './record.js';
export { ruleMoments, ruleText, writtenLoop, type MomentKind, type RuleText } from './rule-texts.js';
export type { Selection } from './operations/select.js';
