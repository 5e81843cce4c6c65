import { mustBeReel } from '../clip/expect.js';
import type { Reel } from '../clip/reel.js';
import type { Point } from './plain.js';
import { using, type Using } from './using.js';

/** A role of a scene as a plain object, in the units of the reel. The game may change what nothing animates. */
export interface Part {
  /** The role that it plays. */
  readonly role: string;
  /** The part that it moves with. */
  readonly parent: Part | undefined;
  position: Point;
  /** Degrees, or a quaternion. */
  rotation: number | Point;
  scale: Point;
  pivot: Point;
  opacity: number;
  visible: boolean;
  /** What is drawn later, and so in front, has the greater one. */
  order: number;
  /** Index of the cell of its sheet. */
  frame: number;
  /** Color that its picture is multiplied by: `[r, g, b, a]`, 0–1. */
  tint: number[];
  /** The size that it is drawn with, where the reel says one. */
  size?: Point;
}

/** A role as nothing animates it. Its parent comes before it. */
function partOf(role: string, parent: Part | undefined): Part {
  return {
    ...{ role, parent, rotation: 0, opacity: 1, visible: true, order: 0, frame: 0, tint: [1, 1, 1, 1] },
    ...{ position: { x: 0, y: 0, z: 0 }, scale: { x: 1, y: 1, z: 1 }, pivot: { x: 0, y: 0 } },
  };
}

/** The roles of a reel as parts, each parent before its children; the others in the order of the reel. */
export function partsOf<P extends Part>(reel: Reel, make: (part: Part) => P): Map<string, P> {
  mustBeReel(reel);
  const parts = new Map<string, P>();
  const add = (role: string): P => {
    const known = parts.get(role);
    if (known) return known;
    const parent = Object.hasOwn(reel.facts.parents, role) ? reel.facts.parents[role] : undefined;
    const part = make(partOf(role, parent === undefined ? undefined : add(parent)));
    parts.set(role, part);
    return part;
  };
  // A parent need not be animated itself.
  for (const role of reel.roles) add(role);
  return parts;
}

/** The objects of a scene as the cast of a player. */
export function castOf<P extends Part, R extends string>(
  reel: Reel,
  parts: ReadonlyMap<string, P>,
  adapter: Parameters<typeof using<P>>[0],
): { readonly [K in R]: Using } {
  return Object.fromEntries(reel.roles.map((role) => [role, using(adapter, parts.get(role)!)])) as never;
}
