export type { CastAdapter, RoleBinding } from './cast.js';
export { plainCast, type PlainTarget } from './plain.js';
