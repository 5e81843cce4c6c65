import type { Slot } from '../clip/layout.js';
import { isShape } from '../value/kind.js';

/**
 * Where the values of one role stand in a pose: an offset for each known property, −1 for one that is not animated.
 * An adapter reads straight from there, so that a frame needs no look-up by name.
 */
export interface RoleBinding {
  readonly role: string;
  readonly position: number;
  readonly rotation: number;
  readonly scale: number;
  readonly opacity: number;
  readonly tint: number;
  readonly frame: number;
  readonly visible: number;
  readonly size: number;
  readonly pivot: number;
  /** How many numbers they have: 2 or 3; of a rotation 1 (degrees) or 4 (a quaternion). */
  readonly positionWidth: number;
  readonly rotationWidth: number;
  readonly scaleWidth: number;
  /** Properties of the game's own. */
  readonly others: readonly OtherSlot[];
  /** The texts that the numbers of kind `text` refer to. */
  readonly texts: readonly string[];
}

/** A property of the game's own, with the names that lead to it: `weights.bulge` in two steps. */
export interface OtherSlot extends Slot {
  readonly path: readonly string[];
}

/**
 * Writes poses into a kind of game object. Poses are in the units of reels: degrees, opacity 0–1, colours 0–1; what
 * an object wants instead is the business of its adapter, and of nothing else.
 */
export interface CastAdapter<Target = never> {
  /** Writes one role. Called once a frame for each; must not keep `values`. `opacity` and `frame` are within bounds. */
  write(target: Target, values: Float64Array, binding: RoleBinding): void;
  /**
   * What an object shows before anything animates it, as the numbers of the slot. It becomes the rest value where the
   * reel gives none. `undefined` when the object cannot tell.
   */
  read?(target: Target, slot: Slot): readonly number[] | undefined;
  /**
   * Why an object cannot be written to, as `its rotation is read-only`; `undefined` when it can. Asked for each property
   * when a player is made, so that no frame fails.
   */
  refuse?(target: Target, slot: Slot): string | undefined;
}

const KNOWN = ['position', 'rotation', 'scale', 'opacity', 'tint', 'frame', 'visible', 'size', 'pivot'] as const;

/** Binds the given slots of one role, but for its shapes. */
export function bindRole(role: string, slots: readonly Slot[], texts: readonly string[]): RoleBinding {
  const own = slots.filter((slot) => slot.role === role && !isShape(slot.kind));
  const offset = (property: string) => own.find((slot) => slot.property === property)?.offset ?? -1;
  const width = (property: string, usual: number) => own.find((slot) => slot.property === property)?.width ?? usual;
  return {
    role,
    position: offset('position'),
    rotation: offset('rotation'),
    scale: offset('scale'),
    opacity: offset('opacity'),
    tint: offset('tint'),
    frame: offset('frame'),
    visible: offset('visible'),
    size: offset('size'),
    pivot: offset('pivot'),
    positionWidth: width('position', 2),
    rotationWidth: width('rotation', 1),
    scaleWidth: width('scale', 2),
    others: own
      .filter(({ property }) => !(KNOWN as readonly string[]).includes(property))
      .map((slot) => ({ ...slot, path: slot.property.split('.') })),
    texts,
  };
}
