export type { CastAdapter, OtherSlot, RoleBinding } from './cast.js';
export { piecesAlone, regionOf, type Piece, type Region } from './region.js';
export type { RevealSlot } from './cast.js';
export { using, type Using } from './using.js';
export { plainCast, type PlainTarget, type Point } from './plain.js';
