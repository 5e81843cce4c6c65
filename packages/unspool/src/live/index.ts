/**
 * `unspool/live`: for the time in which a game is made. A running game goes on with a changed reel.
 * @module
 */
export { adopt } from './adopt.js';
export { hotReel, type HotData } from './hot-reel.js';
