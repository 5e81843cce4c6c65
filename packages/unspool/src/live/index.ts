/**
 * `unspool/live`: for the time in which a game is made. A running game goes on with a changed reel, and is watched, led
 * and recorded by the workbench.
 * @module
 */
export { adopt } from './adopt.js';
export { hotReel, type HotData } from './hot-reel.js';
export { link, type LinkOptions } from './link.js';
export { LIVE_PROTOCOL } from './messages.js';
export type {
  ChangedValue,
  GameMessage,
  GameRequest,
  LinkedReel,
  LiveMoment,
  LiveOrder,
  LivePlaying,
  LiveSample,
} from './messages.js';
