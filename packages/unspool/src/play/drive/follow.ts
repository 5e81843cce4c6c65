import { checkOptions } from '../../errors/check-options.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { Playback } from './playback.js';
import { type StopSignal } from '../time/settings.js';

/** What a player can follow: a game object with a position, a player, or one of its playbacks. */
export type FollowSource = Playback | Followed | { readonly position: { readonly x: number; readonly y: number } };

/** A player, as a source to follow: at the position of its first role without a parent, until it is disposed. */
export interface Followed {
  /** Whether it was disposed. */
  readonly isDisposed: boolean;
  /** @internal */
  rootInto(out: Float64Array): void;
}

/** Options of `player.follow(source, offset, options)`. */
export interface FollowOptions {
  /** Called at the end of every tick; return false to stop following and stop the player. */
  readonly while?: () => boolean;
  /** An `AbortSignal` that stops following and stops the player. */
  readonly signal?: Pick<StopSignal, 'aborted'>;
}

/** Keeps a player's cast at the position of a source plus an offset, updated at the end of every tick. */
export class Follow {
  readonly #source: FollowSource;
  readonly #offset: readonly [x: number, y: number];
  readonly #options: FollowOptions;
  readonly #at = new Float64Array(2);

  constructor(source: FollowSource, offset: readonly [x: number, y: number], options: FollowOptions) {
    this.#source = source;
    this.#offset = offset;
    this.#options = options;
    checkOptions(options, ['while', 'signal'], 'follow');
    if (typeof source !== 'object' || (source as unknown) === null)
      throw new UnspoolError('play/follow', `${show(source)} cannot be followed`, HINT);
    if (!Array.isArray(offset) || offset.length !== 2 || !offset.every(Number.isFinite))
      throw new UnspoolError('play/follow', `${show(offset)} is not an offset`, 'use [x, y], two finite numbers');
    this.position();
  }

  /** Returns whether the source still exists. */
  get isThere(): boolean {
    const source = this.#source;
    const { while: goesOn, signal } = this.#options;
    if (signal?.aborted || goesOn?.() === false) return false;
    if (source instanceof Playback) return source.active || source.waiting;
    return !('isDisposed' in source) || !source.isDisposed;
  }

  /** Where to be now. */
  position(): readonly [x: number, y: number] {
    const source = this.#source;
    const at = this.#at;
    if (source instanceof Playback) source.layer?.rootInto(at);
    else if ('rootInto' in source) source.rootInto(at);
    else {
      const { position } = source as { readonly position?: { readonly x?: unknown; readonly y?: unknown } };
      at[0] = typeof position?.x === 'number' ? position.x : NaN;
      at[1] = typeof position?.y === 'number' ? position.y : NaN;
    }
    if (!at.every(Number.isFinite)) throw new UnspoolError('play/follow', 'the followed object has no position', HINT);
    return [at[0]! + this.#offset[0], at[1]! + this.#offset[1]];
  }
}

const HINT = 'follow an object with position { x, y }, a player, or a playback';
