import { regionBy, type Region, type Revealing } from '../cast/region.js';
import { roundedOf } from '../shape/shapes.js';
import { shapeOfValue } from '../shape/rig-shapes.js';
import type { ShapeKind } from '../value/kind.js';
import { revealOf, type ShapeValue } from '../value/shape.js';

/**
 * Returns what the shapes of a role show of it, in its coordinates: what is inside of any `reveal` (everything, where
 * there is none), without what is inside of any `hide`.
 *
 * @param shapes as the reel declares them
 * @param valueOf the value of a shape as a pose has it; anything but an object while it is not active
 * @returns `undefined` where nothing is cut
 */
export function revealed(
  shapes: Readonly<Record<string, { readonly kind: ShapeKind; readonly tag?: string | undefined }>>,
  valueOf: (name: string) => unknown,
): Region | undefined {
  const active = Object.entries(shapes).flatMap(([name, { kind, tag }]): Revealing[] => {
    const [shows, value] = [revealOf(tag), valueOf(name)];
    if (!shows || typeof value !== 'object' || value === null || Array.isArray(value)) return [];
    return [{ shows, shape: roundedOf(shapeOfValue(kind, value as ShapeValue)) }];
  });
  return regionBy(active);
}
