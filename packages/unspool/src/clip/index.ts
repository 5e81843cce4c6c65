export { Clip } from './clip.js';
export type { ShapeActivation, ShapeFacts } from './compiled.js';
export { Layout, Pose, type Slot } from './layout.js';
export { Reel } from './reel.js';
export { trustReel } from './from-document.js';
export { compileReel, type Packed } from './pack.js';
export { declarationOf } from './declaration.js';
export { loadReel, type PackedReel } from './packed.js';
export type { NamesOf, ReelNames, RoutineNames } from './names.js';
