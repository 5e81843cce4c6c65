export { isPlayable, KIND_NAMES, KINDS, widthOf, type Kind, type KindRules, type PlayableKind } from './kind.js';
export { defaultRest, kindOf, KNOWN_PROPERTIES } from './property.js';
export { mixColor, readColor } from './color.js';
export { readValue, TextTable, writeValue, type Value } from './read.js';
