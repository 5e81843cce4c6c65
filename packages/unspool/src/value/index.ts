export { isShape, KINDS, SHAPES, type ShapeMember, type Kind, type KindRules, type ShapeKind } from './kind.js';
export { eulerOf, quatOf, type EulerOrder } from './quat.js';
export type { Mix } from './mixing.js';
export type { KindValues, Value } from './read.js';
export type { Reveal, ShapeValue } from './shape.js';
