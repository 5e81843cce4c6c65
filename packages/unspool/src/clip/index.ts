export { Clip } from './clip.js';
export { Layout, Pose, type Slot } from './layout.js';
export { Reel, sheetRect, trustReel } from './reel.js';
export type { NamesOf, ReelNames } from './names.js';
