/** `unspool/hit`: shapes that hit, or are hit. */
export { distance, type Distance } from './distance.js';
export type { Box, Capsule, Circle, HitShape, Vec } from './shapes.js';
export { sweep, TOLERANCE, type Contact, type Moving } from './sweep.js';
export { roundedOf, type Rounded } from './shapes.js';
