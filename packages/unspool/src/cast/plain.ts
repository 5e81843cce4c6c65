import { writeValue, type Value } from '../value/read.js';
import { writeShape } from '../value/shape.js';
import type { CastAdapter, OtherSlot, RevealSlot, RoleBinding } from './cast.js';

/** A point or vector of a game object: `z` and `w` where it has them. */
export interface Point {
  x: number;
  y: number;
  z?: number;
  w?: number;
}

/**
 * A plain object with the properties of the reel, in its units: `rotation` in degrees, `position`, `scale`, `size` and
 * `pivot` with `x` and `y`, `tint` as `[r, g, b, a]`. Missing properties are added. A shape that
 * reveals or hides is `{ center, radius }` and the like, or `null`. A dotted name such as
 * `weights.bulge` addresses a nested object.
 */
export interface PlainTarget {
  position?: Point;
  /** Degrees, or a quaternion. */
  rotation?: number | Point;
  scale?: Point;
  opacity?: number;
  tint?: number[];
  frame?: number;
  visible?: boolean;
  size?: Point;
  pivot?: Point;
}

/** The adapter for plain objects, and the default of `Player`. */
export const plainCast: CastAdapter<object> = {
  write(object, values, binding) {
    const target = object as PlainTarget;
    if (binding.position >= 0)
      writePoint((target.position ??= { x: 0, y: 0 }), values, binding.position, binding.positionWidth);
    if (binding.rotation >= 0) {
      if (binding.rotationWidth === 1) target.rotation = values[binding.rotation]!;
      else {
        if (typeof target.rotation !== 'object') target.rotation = { x: 0, y: 0, z: 0, w: 1 };
        writePoint(target.rotation, values, binding.rotation, 4);
      }
    }
    if (binding.scale >= 0) writePoint((target.scale ??= { x: 1, y: 1 }), values, binding.scale, binding.scaleWidth);
    if (binding.opacity >= 0) target.opacity = values[binding.opacity]!;
    if (binding.tint >= 0) {
      const tint = (target.tint ??= [1, 1, 1, 1]);
      for (let k = 0; k < 4; k++) tint[k] = values[binding.tint + k]!;
    }
    if (binding.frame >= 0) target.frame = values[binding.frame]!;
    if (binding.visible >= 0) target.visible = values[binding.visible] !== 0;
    if (binding.size >= 0) writePoint((target.size ??= { x: 0, y: 0 }), values, binding.size, 2);
    if (binding.pivot >= 0) writePoint((target.pivot ??= { x: 0, y: 0 }), values, binding.pivot, 2);
    for (let i = 0; i < binding.others.length; i++) writeOther(target, binding.others[i]!, values, binding);
    for (let i = 0; i < binding.reveals.length; i++) writeReveal(target, binding.reveals[i]!, values);
  },

  read(object, { property, kind, width }) {
    const value = reach(object, property);
    if (typeof value === 'number') return width === 1 && kind !== 'text' ? [value] : undefined;
    if (typeof value === 'boolean') return kind === 'flag' ? [Number(value)] : undefined;
    if (typeof value !== 'object' || value === null) return undefined;
    const { x, y, z = property === 'scale' ? 1 : 0, w } = value as Partial<Point>;
    const numbers = Array.isArray(value) ? (value as unknown[]) : [x, y, z, w].slice(0, width);
    return numbers.length === width && numbers.every(Number.isFinite) ? (numbers as number[]) : undefined;
  },

  refuse(object, { property, width, kind }) {
    const page = /^\[object (CSSStyleDeclaration|(?:HTML|SVG)\w*Element)\]$/.exec(
      Object.prototype.toString.call(object),
    );
    if (page) return `it is a DOM ${page[1]}`;
    let owner = object as Record<string, unknown>;
    const steps = property.split('.');
    const name = steps.pop()!;
    for (const step of steps) {
      const inner = owner[step];
      if (typeof inner !== 'object' || inner === null) return readOnly(owner, step);
      owner = inner as Record<string, unknown>;
    }
    const held = owner[name];
    if (width === 1 || held === undefined || held === null) return readOnly(owner, name);
    if (typeof held !== 'object') return kind === 'quat' ? readOnly(owner, name) : `its ${name} is not an object`;
    const names = Array.isArray(held) || kind === 'color' ? [0, 1, 2, 3] : ['x', 'y', 'z', 'w'];
    return names.slice(0, width).map((each) => readOnly(held, each, `${name}.${each}`)).find(Boolean); // prettier-ignore
  },
};

/** Returns why a property of an object, its own or inherited, cannot be set. */
function readOnly(object: object, name: string | number, message = name): string | undefined {
  for (let at: object | null = object; at; at = Object.getPrototypeOf(at) as object | null) {
    const found = Object.getOwnPropertyDescriptor(at, name);
    if (found) return found.writable || found.set ? undefined : `its ${message} is read-only`;
  }
  return Object.isExtensible(object) ? undefined : `it is frozen and has no ${message}`;
}

function writePoint(point: Point, values: Float64Array, offset: number, width: number): void {
  point.x = values[offset]!;
  point.y = values[offset + 1]!;
  if (width > 2) point.z = values[offset + 2]!;
  if (width > 3) point.w = values[offset + 3]!;
}

/** A reveal is a member of its name, as in a reel: `{ center, radius }`, or `null` while it is not active. */
function writeReveal(target: object, { property, kind, offset }: RevealSlot, values: Float64Array): void {
  (target as Record<string, unknown>)[property] = writeShape(kind, values, offset);
}

/** Returns the object that contains a custom property. Missing objects on the path are created. */
function writeOther(
  target: object,
  { path, kind, offset, width }: OtherSlot,
  values: Float64Array,
  { texts }: RoleBinding,
): void {
  let owner = target as Record<string, unknown>;
  const last = path.length - 1;
  for (let i = 0; i < last; i++) {
    const step = path[i]!;
    // Anything but an object is replaced; so what every object inherits (functions) is never written into.
    if (typeof owner[step] !== 'object' || owner[step] === null) owner[step] = {};
    owner = owner[step] as Record<string, unknown>;
  }
  const name = path[last]!;
  const held = owner[name];
  if (width > 1 && typeof held === 'object' && held !== null) {
    if (Array.isArray(held)) for (let k = 0; k < width; k++) held[k] = values[offset + k]!;
    else writePoint(held as Point, values, offset, width);
  } else {
    owner[name] = writeValue(kind, width, values, offset, texts);
  }
}

function reach(target: object, property: string): Value | object | undefined {
  let value: unknown = target;
  for (const name of property.split('.')) {
    if (typeof value !== 'object' || value === null || !(name in value)) return undefined;
    value = (value as Record<string, unknown>)[name];
  }
  return value as Value | object | undefined;
}
