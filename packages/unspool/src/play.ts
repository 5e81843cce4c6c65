/**
 * `unspool/play`: sampling and playing, for a game that ships reels which were checked when it was built. It has no
 * dependency, and does not load what checks.
 */
export {
  Clip,
  Layout,
  Pose,
  Reel,
  sheetRect,
  trustReel,
  type NamesOf,
  type ReelNames,
  type Slot,
} from './clip/index.js';
export { Player, type PlayerOptions, type PlayOptions, type Playback } from './play/index.js';
export type { CueEvent, EventType, PlaybackEvent, PlayerEvents } from './play/index.js';
export { plainCast, type CastAdapter, type PlainTarget, type RoleBinding } from './cast/index.js';
export { easing } from './easing/index.js';
export type { Time } from './time/units.js';
export { UnspoolError } from './wording/error.js';
