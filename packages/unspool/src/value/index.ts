export { isShape, KIND_NAMES, KINDS, widthOf, type Kind, type KindRules, type ShapeKind } from './kind.js';
export { defaultRest, isMultiplied, kindOf, KNOWN_PROPERTIES } from './property.js';
export { readColor } from './color.js';
export { fromMixing, MIXES, toMixing, type Mix } from './mixing.js';
export { EULER_ORDERS, eulerOf, multiplyQuat, nearerQuat, normaliseQuat, quatOf, slerp } from './quat.js';
export type { EulerOrder } from './quat.js';
export type { ShapeValue } from './shape.js';
export { readValue, TextTable, writeValue, type Value } from './read.js';
