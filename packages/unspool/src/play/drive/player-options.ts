import { checkOptions } from '../../errors/check-options.js';
import { mustBeReel } from '../../clip/expect.js';
import { isWritten, type CastAdapter } from '../../cast/cast.js';
import { plainCast } from '../../cast/plain.js';
import { isObject, playerOf, type Cast, type Using } from '../../cast/using.js';
import type { ReelNames } from '../../clip/names.js';
import type { Reel } from '../../clip/reel.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import type { Stage } from '../pose/stage.js';

/**
 * Options of `new Player(reel, options)`.
 *
 * @example
 * const crab = new Player(reel, { cast: { crab: crabSprite, claw: clawSprite }, seed: 7 });
 */
export interface PlayerOptions<N extends ReelNames, Target> {
  /**
   * The game objects, by role. A role without an object plays, but nothing is written. One with an adapter of its own
   * is given as `using(adapter, object)`.
   */
  readonly cast?: { readonly [R in N['role']]?: Target | Using };
  /** Writes poses into the other objects of the cast. Default: `plainCast`, for plain objects. */
  readonly adapter?: CastAdapter<Target>;
  /** Name of the player in messages. Default: the name of the reel. */
  readonly name?: string;
  /** Seed of the random variation (`PlayOptions.vary`). Players with the same seed vary alike. Default: 1. */
  readonly seed?: number;
  /** The most `cue` and `loop` events per frame; a `skip` event reports how many were left out. Default: no limit. */
  readonly cueLimit?: number;
  /**
   * Called with a warning when something is probably wrong but playback can continue, for example when two players
   * write the same object. Default: `console.warn`.
   */
  readonly onWarning?: (problem: UnspoolError) => void;
  /** Called with errors that event handlers throw. Default: `tick` rethrows the first at the end of the frame. */
  readonly onError?: (error: unknown) => void;
}

const OPTIONS = ['cast', 'adapter', 'name', 'seed', 'cueLimit', 'onWarning', 'onError'];

/** Checks the arguments of `new Player`. Throws for an invalid reel, unknown options or roles, and invalid values. */
export function checkPlayer<N extends ReelNames, Target>(reel: Reel<N>, options: PlayerOptions<N, Target>): void {
  mustBeReel(reel, 'new Player(parseReel(document))');
  checkOptions(options, OPTIONS, 'Player');
  const { cast = {}, seed = 1, cueLimit = Infinity } = options;
  checkOptions(cast, Object.keys(cast), 'cast');
  for (const role of Object.keys(cast)) {
    if (reel.roles.includes(role)) continue;
    throw new UnspoolError('play/unknown-role', `${reel.message} has no role ${show(role)}`, suggest(role, reel.roles));
  }
  for (const [role, target] of Object.entries(cast)) {
    if (target === undefined || isObject(target)) continue;
    const message = `the role ${show(role)} expects an object, found ${show(target)}`;
    throw new UnspoolError('play/cast', message, 'pass the object that plays it, or omit the role');
  }
  if (!Number.isFinite(seed))
    throw new UnspoolError('play/seed', `the seed ${show(seed)} is not a number`, 'use a number');
  if (!(cueLimit >= 0))
    throw new UnspoolError('play/cue-limit', `the cueLimit ${show(cueLimit)} is not a number ≥ 0`, 'use a number');
}

/** Throws for an object that its adapter cannot write to: here, and not in the first frame that does. */
export function checkTargets(reel: Reel, cast: Cast, usual: CastAdapter): void {
  for (const slot of reel.layout.slots) {
    const { object, adapter = usual } = playerOf(cast, slot.role);
    const why = object && isWritten(slot, reel.facts) ? adapter.refuse?.(object as never, slot) : undefined;
    if (why === undefined) continue;
    const message = `the object of the role ${show(slot.role)} cannot take the property ${slot.property}: ${why}`;
    const hint = 'pass a plain object, or an adapter: { adapter: { write(object, values, binding) { … } } }';
    throw new UnspoolError('play/cast', message, hint);
  }
}

/** An object whose `x` and `y` are its own is not what the plain adapter writes: it would silently gain a `position`. */
export function warnOfFlat({ reel, cast, adapter: usual, warn }: Stage): void {
  reel.roles.forEach((role) => {
    const { object, adapter = usual } = playerOf(cast, role);
    if ((adapter as unknown) !== plainCast) return;
    const flat = object as { x?: unknown; y?: unknown; position?: unknown } | undefined;
    if (typeof flat?.x !== 'number' || typeof flat.y !== 'number' || flat.position !== undefined) return;
    if (!reel.layout.find(`${role}.position`)) return;
    const message = `the object of the role ${show(role)} has x and y but no position; the player writes position.x and position.y`;
    warn(new UnspoolError('play/flat-object', message, 'give it position: { x, y }, or use an adapter'));
  });
}

export function warnOnConsole({ message }: UnspoolError): void {
  const { console } = globalThis as { readonly console?: { warn(message: string): void } };
  console?.warn(message);
}

export function ticked(name: string): Error {
  const message = `tick was called on the player ${show(name)}, which a hit world already ticks`;
  return new UnspoolError('play/ticked-twice', message, 'tick only the world, or remove the player from it');
}

/** Throws for anything but a player. */
export function mustBePlayer(player: unknown): void {
  const { parts } = (player as { readonly parts?: unknown } | null | undefined) ?? {};
  if (isObject(parts)) return;
  throw new UnspoolError(
    'play/no-player',
    `expected a player, found ${show(player)}`,
    'pass what new Player(reel) returned',
  );
}
