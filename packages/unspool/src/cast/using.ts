import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import type { CastAdapter } from './cast.js';

/** An object of a cast with an adapter of its own. See `using`. */
export class Using {
  /** @internal use `using` */
  constructor(
    /** Writes poses into the object. */
    readonly adapter: CastAdapter,
    /** The object that plays the role. */
    readonly object: object,
  ) {}
}

/**
 * Gives one object of a cast an adapter of its own, so that sprites, elements and plain objects can play in one cast.
 *
 * @throws UnspoolError `play/cast` for anything but an adapter and an object
 * @example
 * const adapter = pixiCast();
 * new Player(reel, { cast: { hero: sprite, health: using(domCast(), bar), camera: using(plainCast, camera) }, adapter });
 */
export function using<Target extends object>(adapter: CastAdapter<Target>, object: Target): Using {
  const hint = 'pass an adapter and the object that it writes: using(plainCast, camera)';
  if (typeof (adapter as Partial<typeof adapter> | undefined)?.write !== 'function')
    throw new UnspoolError('play/cast', `expected an adapter, found ${show(adapter)}`, hint);
  if (!isObject(object)) throw new UnspoolError('play/cast', `expected an object, found ${show(object)}`, hint);
  return new Using(adapter, object);
}

/** The objects by role, some with an adapter of their own. */
export type Cast = Readonly<Record<string, object | undefined>>;

/** The object that plays a role, if one does, and its own adapter. */
export function playerOf(cast: Cast, role: string): Partial<Using> {
  const given = Object.hasOwn(cast, role) ? cast[role] : undefined;
  return given instanceof Using ? given : given ? { object: given } : {};
}

/** Whether something can be in a cast. */
export const isObject = (value: unknown) => value !== null && ['object', 'function'].includes(typeof value);
