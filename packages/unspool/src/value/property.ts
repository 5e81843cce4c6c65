import { KINDS, type Kind } from './kind.js';
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

/** What a property shows when nothing animates it and neither reel nor object says more. */
export function defaultRest(property: string, kind: Kind): number[] {
  switch (kind) {
    case 'vec2':
      return property === 'scale' ? [1, 1] : [0, 0];
    case 'vec3':
      return property === 'scale' ? [1, 1, 1] : [0, 0, 0];
    case 'quat':
      return [0, 0, 0, 1];
    case 'color':
      return [1, 1, 1, 1];
    case 'flag':
      return [property === 'visible' ? 1 : 0];
    case 'box':
    case 'circle':
    case 'capsule':
      return KINDS[kind].channels.map(() => 0);
    default:
      return [property === 'opacity' ? 1 : 0];
  }
}

/** How an offset changes what a property was: most are added to it, these two multiply it. */
export function isMultiplied(property: string): boolean {
  return property === 'scale' || property === 'opacity';
}
