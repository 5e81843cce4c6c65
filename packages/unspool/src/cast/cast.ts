import type { Slot } from '../clip/layout.js';
import type { ReelFacts } from '../clip/compiled.js';
import { isShape, type ShapeKind } from '../value/kind.js';
import { revealOf, type Reveal } from '../value/shape.js';

/**
 * The offsets of one role's values in a pose, one per known property; −1 when it is not animated. Adapters read values
 * by offset, so that no frame looks up names.
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
  /** What is drawn later, and so in front, has the greater one. */
  readonly order: number;
  /** Number of values: 2 or 3; for a rotation 1 (degrees) or 4 (a quaternion). */
  readonly positionWidth: number;
  readonly rotationWidth: number;
  readonly scaleWidth: number;
  /** Custom properties. */
  readonly others: readonly OtherSlot[];
  /** All shapes that show a part of the role, also those that nothing animates now; none where none is due. */
  readonly reveals: readonly RevealSlot[];
  /** The strings that the numbers of kind `text` refer to. */
  readonly texts: readonly string[];
}

/** A shape that shows a part of its role: its numbers, in the coordinates of the role, the last of them 1 while active. */
export interface RevealSlot extends Slot {
  readonly kind: ShapeKind;
  /** Whether it shows what is inside of it, or what is outside. */
  readonly shows: Reveal;
}

/** A custom property, with its path: `weights.bulge` has two steps. */
export interface OtherSlot extends Slot {
  readonly path: readonly string[];
}

/**
 * Writes poses into one type of game object. Poses use the units of reels: degrees, opacity and colors from 0 to 1. The
 * adapter converts them to the units of the object.
 */
export interface CastAdapter<Target = never> {
  /**
   * Writes one role. Called once per frame for each role. Do not keep `values`. `opacity` and `frame` are within
   * bounds.
   */
  write(target: Target, values: Float64Array, binding: RoleBinding): void;
  /**
   * Returns what an object shows before anything animates it, as the numbers of the slot, or `undefined` when it cannot
   * be read. Used as the rest value when the reel has none.
   */
  read?(target: Target, slot: Slot): readonly number[] | undefined;
  /**
   * The object may have been changed by others, for example when a player was restored: an adapter that writes only
   * what is new writes all of it next time.
   */
  forget?(target: Target): void;
  /**
   * Returns why an object cannot be written to, such as `its rotation is read-only`, or `undefined`. Called for each
   * property when a player is created, so that no frame fails.
   */
  refuse?(target: Target, slot: Slot): string | undefined;
}

const KNOWN = ['position', 'rotation', 'scale', 'opacity', 'tint', 'frame', 'visible', 'size', 'pivot'] as const;

type Shapes = ReelFacts['shapes'];

const revealIn = (shapes: Shapes, { name }: Slot) => revealOf(shapes[name]?.tag);

/** Whether a property is written into objects. Shapes are for hits, but for those that show a part of their role. */
export function isWritten(slot: Slot, { shapes }: ReelFacts): boolean {
  return !isShape(slot.kind) || revealIn(shapes, slot) !== undefined;
}

/**
 * The shapes that show a part of a role, where one of them is to be written: then all are, because they are shown
 * together.
 */
export function revealsOf(role: string, due: readonly Slot[], all: readonly Slot[], shapes: Shapes): RevealSlot[] {
  const revealing = (slot: Slot): RevealSlot[] => {
    const { kind } = slot;
    const shows = revealIn(shapes, slot);
    return slot.role === role && isShape(kind) && shows ? [{ ...slot, kind, shows }] : [];
  };
  return due.flatMap(revealing)[0] ? all.flatMap(revealing) : [];
}

/** Returns the binding of a role's properties, without the shapes that hit. */
export function bindRole(
  role: string,
  slots: readonly Slot[],
  texts: readonly string[],
  reveals: readonly RevealSlot[] = [],
): RoleBinding {
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
    // Also a property of its own name, as plain objects have it.
    order: offset('order'),
    positionWidth: width('position', 2),
    rotationWidth: width('rotation', 1),
    scaleWidth: width('scale', 2),
    others: own
      .filter(({ property }) => !(KNOWN as readonly string[]).includes(property))
      .map((slot) => ({ ...slot, path: slot.property.split('.') })),
    reveals,
    texts,
  };
}
