/**
 * `unspool/live` in a build for production: nothing is linked.
 * @module
 */
import type { link as linked } from './link.js';

export { adopt } from './adopt.js';
export { hotReel, type HotData } from './hot-reel.js';
export type { LinkOptions } from './link.js';
export { LIVE_PROTOCOL } from './messages.js';

export const link: typeof linked = () => () => undefined;
