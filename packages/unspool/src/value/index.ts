export { isShape, KINDS, type Kind, type ShapeKind } from './kind.js';
export { eulerOf, quatOf, type EulerOrder } from './quat.js';
export type { Value } from './read.js';
export type { ShapeValue } from './shape.js';
