import { checkOptions } from '../errors/check-options.js';
import { isShape } from '../value/kind.js';
import { writeValue } from '../value/read.js';
import type { CastAdapter, RoleBinding } from './cast.js';

/** A vector of an object in space. */
export interface Vector3 {
  x: number;
  y: number;
  z: number;
  /** Sets all of it. */
  set(x: number, y: number, z: number): unknown;
}

/** A rotation in space. */
export interface Quaternion4 {
  x: number;
  y: number;
  z: number;
  w: number;
  /** Sets all of it. */
  set(x: number, y: number, z: number, w: number): unknown;
}

/** An object in space, as many renderers have them. Other properties are members of their own names. */
export interface Object3dTarget {
  readonly position: Vector3;
  readonly quaternion: Quaternion4;
  readonly scale: Vector3;
}

/** Options of `objects3dCast`. */
export interface Objects3dCastOptions {
  /**
   * Where a property is in the objects, if not under its own name: `{ opacity: 'material.opacity', 'weights.bulge':
   * 'influences.0' }`.
   */
  readonly paths?: Readonly<Record<string, string>>;
}

/**
 * Returns an adapter for objects in space that have `position`, `quaternion` and `scale`, each with `set`. An angle
 * becomes a rotation about z. Every other property is a member of the
 * object: a number, flag or text is assigned; a vector is set with `set` where there is one, a list element by element,
 * a color as `r`, `g`, `b` and `a`.
 */
export function objects3dCast(options: Objects3dCastOptions = {}): CastAdapter<Object3dTarget> {
  checkOptions(options, ['paths'], 'objects3dCast');
  const { paths = {} } = options;
  const placeOf = (target: object, property: string): Place | undefined => {
    const steps = (paths[property] ?? property).split('.');
    const name = steps.pop()!;
    let owner: unknown = target;
    for (const step of steps) owner = isObject(owner) ? owner[step] : undefined;
    return isObject(owner) && name in owner ? { owner, name } : undefined;
  };
  /** The places of an object's properties, found once. */
  const known = new WeakMap<object, Map<string, Place>>();
  const found = (target: object, property: string): Place | undefined => {
    let places = known.get(target);
    if (!places) known.set(target, (places = new Map<string, Place>()));
    let place = places.get(property);
    if (!place && (place = placeOf(target, property))) places.set(property, place);
    return place;
  };
  const put = (
    target: object,
    property: string,
    values: Float64Array,
    offset: number,
    width: number,
    isFlag: boolean,
  ) => {
    const place = offset < 0 ? undefined : found(target, property);
    if (place) assign(place, values, offset, width, isFlag);
  };
  return {
    write(target, values, binding) {
      writeTransform(target, values, binding);
      const { others } = binding;
      put(target, 'opacity', values, binding.opacity, 1, false);
      put(target, 'visible', values, binding.visible, 1, true);
      put(target, 'frame', values, binding.frame, 1, false);
      put(target, 'size', values, binding.size, 2, false);
      put(target, 'pivot', values, binding.pivot, 2, false);
      put(target, 'tint', values, binding.tint, 4, false);
      for (let i = 0; i < others.length; i++) {
        const { property, offset, width, kind } = others[i]!;
        if (kind !== 'text') put(target, property, values, offset, width, kind === 'flag');
        else {
          const place = found(target, property);
          if (place) place.owner[place.name] = writeValue(kind, 1, values, offset, binding.texts);
        }
      }
    },

    refuse(target, { property, kind }) {
      if (isShape(kind)) return 'it cannot show a part of an object: let another role reveal it';
      const isThere = ['position', 'quaternion', 'scale'].every((name) => isSettable((target as never)[name]));
      if (!isThere) return 'its position, quaternion and scale do not all have set';
      if (TRANSFORM.includes(property) || placeOf(target, property)) return undefined;
      const path = paths[property] ?? property;
      return `it has no ${path}: add it, or say where it is: objects3dCast({ paths: { ${JSON.stringify(property)}: … } })`;
    },

    read(target, { property, kind, width }) {
      if (kind === 'text' || isShape(kind)) return undefined;
      if (property === 'rotation') {
        const { x, y, z, w } = target.quaternion;
        return width === 4 ? [x, y, z, w] : [(2 * Math.atan2(z, w) * 180) / Math.PI];
      }
      const place = placeOf(target, property);
      const value = place?.owner[place.name];
      if (typeof value === 'number' || typeof value === 'boolean') return width === 1 ? [Number(value)] : undefined;
      if (!isObject(value)) return undefined;
      const names = Array.isArray(value) ? INDICES : kind === 'color' ? COLOR : VECTOR;
      return names.slice(0, width).map((name) => Number(value[name] ?? (name === 'a' ? 1 : NaN)));
    },
  };
}

interface Place {
  readonly owner: Record<string, unknown>;
  readonly name: string;
}

const TRANSFORM = ['position', 'rotation', 'scale'];
const INDICES = ['0', '1', '2', '3'];
const COLOR = ['r', 'g', 'b', 'a'];
const VECTOR = ['x', 'y', 'z', 'w'];

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;
const isSettable = (value: unknown) => isObject(value) && typeof value['set'] === 'function';

function writeTransform(target: Object3dTarget, values: Float64Array, binding: RoleBinding): void {
  const { position, rotation, scale } = binding;
  if (position >= 0) {
    const z = binding.positionWidth === 3 ? values[position + 2]! : target.position.z;
    target.position.set(values[position]!, values[position + 1]!, z);
  }
  if (rotation >= 0) {
    if (binding.rotationWidth === 4)
      target.quaternion.set(values[rotation]!, values[rotation + 1]!, values[rotation + 2]!, values[rotation + 3]!);
    else {
      const half = ((values[rotation]! % 720) * Math.PI) / 360;
      target.quaternion.set(0, 0, Math.sin(half), Math.cos(half));
    }
  }
  if (scale >= 0) {
    const z = binding.scaleWidth === 3 ? values[scale + 2]! : target.scale.z;
    target.scale.set(values[scale]!, values[scale + 1]!, z);
  }
}

function assign({ owner, name }: Place, values: Float64Array, offset: number, width: number, isFlag: boolean): void {
  if (width === 1) {
    owner[name] = isFlag ? values[offset] !== 0 : values[offset]!;
    return;
  }
  const held = owner[name] as Record<string, unknown> | unknown[];
  if (!isObject(held)) return;
  if (Array.isArray(held)) for (let k = 0; k < width; k++) held[k] = values[offset + k]!;
  else if (width === 3 && isSettable(held))
    (held as unknown as Vector3).set(values[offset]!, values[offset + 1]!, values[offset + 2]!);
  else {
    const names = 'r' in held ? COLOR : VECTOR;
    for (let k = 0; k < width; k++) if (k < 3 || 'a' in held || names === VECTOR) held[names[k]!] = values[offset + k]!;
  }
}
