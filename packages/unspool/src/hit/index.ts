/**
 * `unspool/hit`: shapes that hit, or are hit.
 * @module
 */
export { distance, type Distance } from './distance.js';
export { boundsOf, outlineOf, roundedOf, type Box, type Capsule, type Circle, type HitShape } from '../shape/shapes.js';
export type { Polygon, Sector } from '../shape/shapes.js';
export type { Arc, Rounded, Vec } from '../shape/rounded.js';
export { sweep, TOLERANCE, type Contact } from './sweep.js';
export { HitWorld, type Hit, type HitWorldOptions, type HitSide } from './world.js';
export type { HitWorldState } from './world-state.js';
export type { HitBody, HitPlayer } from './owner.js';
export type { Placement } from '../play/pose/placement.js';
export { adviseShapes, type AdviceOptions } from './advice.js';
export { shapeOfValue } from '../shape/rig-shapes.js';
export { revealed } from './revealed.js';
export { shapeOf, shapesAt, type Moving, type MovingShape, type ShapeAt } from './moving-shape.js';

// Seeing them
export { canvasOverlay, OVERLAY_STYLES, pixiOverlay, type OverlayStyle } from './overlay.js';
export type { OverlayContext, OverlayGraphics, OverlayOptions, OverlayText, ShownShape } from './overlay.js';
