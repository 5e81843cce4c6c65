import type { ShapeKind, ShapeValue } from 'unspool';

/** Corners evenly on a circle, the first at the top. */
function cornersOn(count: number): ShapeValue {
  const at = (i: number) => (i / count - 0.25) * 2 * Math.PI;
  const corner = (i: number) => [Math.round(12 * Math.cos(at(i))), Math.round(12 * Math.sin(at(i)))] as const;
  return Object.fromEntries(Array.from({ length: count }, (_, i) => [`corner${i + 1}`, corner(i)]));
}

/** The initial value of a shape: large enough for its handles. */
export const FIRST_SHAPES: { readonly [K in ShapeKind]: ShapeValue } = {
  box: { center: [0, 0], size: [24, 16], angle: 0 },
  circle: { center: [0, 0], radius: 12 },
  capsule: { from: [-10, 0], to: [10, 0], radius: 6 },
  sector: { center: [-10, 0], radius: 20, from: -40, to: 40 },
  polygon3: cornersOn(3),
  polygon4: cornersOn(4),
  polygon5: cornersOn(5),
  polygon6: cornersOn(6),
  polygon7: cornersOn(7),
  polygon8: cornersOn(8),
};
