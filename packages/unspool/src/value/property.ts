import { channelsOf, isShape, type Kind, type ShapeKind } from './kind.js';
import { shapeLike } from './shape.js';

/** The properties whose kind is known without saying, with the kinds that each may have. */
export const KNOWN_PROPERTIES: Readonly<Record<string, readonly Kind[]>> = {
  position: ['vec2', 'vec3'],
  rotation: ['angle', 'quat'],
  scale: ['vec2', 'vec3'],
  opacity: ['number'],
  tint: ['color'],
  frame: ['integer'],
  visible: ['flag'],
  size: ['vec2'],
  pivot: ['vec2'],
};

/**
 * The kind that a value of a property has: one of the property's own where it is known, else what the value looks
 * like. `undefined` when the value fits none, or (four numbers) could be several.
 */
export function kindOf(property: string, value: unknown): Kind | undefined {
  const known = Object.hasOwn(KNOWN_PROPERTIES, property) ? KNOWN_PROPERTIES[property] : undefined;
  if (known?.length === 1) return known[0];
  if (known && typeof value === 'number') return known[0]; // rotation in degrees, one scale for all
  const kind = looksLike(value);
  if (!known) return kind;
  if (property === 'rotation' && Array.isArray(value) && value.length === 4) return 'quat';
  return kind && known.includes(kind) ? kind : undefined;
}

function looksLike(value: unknown): Kind | undefined {
  if (typeof value === 'number') return 'number';
  if (typeof value === 'boolean') return 'flag';
  if (typeof value === 'string') return /^#[0-9a-f]{3,8}$/i.test(value) ? 'color' : 'text';
  if (Array.isArray(value)) return value.length === 2 ? 'vec2' : value.length === 3 ? 'vec3' : undefined;
  if (value !== null && typeof value === 'object') return 'euler' in value ? 'quat' : shapeLike(value);
  return undefined;
}

/** The usual rest value of each kind that is not a shape. */
const RESTS: { readonly [K in Exclude<Kind, ShapeKind>]: readonly number[] } = {
  number: [0],
  angle: [0],
  integer: [0],
  flag: [0],
  text: [0],
  vec2: [0, 0],
  vec3: [0, 0, 0],
  quat: [0, 0, 0, 1],
  color: [1, 1, 1, 1],
};
/** Properties that are 1 at rest. */
const ONE_AT_REST: readonly string[] = ['scale', 'opacity', 'visible'];

/** What a property shows when nothing animates it and neither reel nor object says more. */
export function defaultRest(property: string, kind: Kind): number[] {
  const numbers = isShape(kind) ? channelsOf(kind).map(() => 0) : RESTS[kind].slice();
  const isOne = ONE_AT_REST.includes(property) && !isShape(kind) && kind !== 'quat';
  return isOne ? numbers.map(() => 1) : numbers;
}

/** How an offset changes what a property was: most are added to it, these two multiply it. */
export function isMultiplied(property: string): boolean {
  return property === 'scale' || property === 'opacity';
}
