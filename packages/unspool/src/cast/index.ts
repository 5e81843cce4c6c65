export type { CastAdapter, OtherSlot, RoleBinding } from './cast.js';
export { plainCast, type PlainTarget, type Point } from './plain.js';
