export { easing, parseEasing, type EasingProblem, type EasingReading } from './parse.js';
export { EASING_NAMES, formatEasing, type BezierKeyword, type Easing, type FreeEasing } from './easing.js';
export { FAMILY_NAMES, type FamilyEasing, type FamilyName } from './families.js';
export type { JumpTerm } from './steps.js';
