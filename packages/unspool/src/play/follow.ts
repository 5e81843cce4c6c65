import { UnspoolError } from '../wording/error.js';
import { show } from '../wording/show.js';
import { Playback } from './playback.js';

/** What can be followed: a game object with a position, a player, or one of its playbacks. */
export type FollowSource = Playback | Followed | { readonly position: { readonly x: number; readonly y: number } };

/** A player, as far as it is followed: where its first role without a parent is, and whether anything plays. */
export interface Followed {
  readonly isPlaying: boolean;
  /** @internal */
  rootInto(out: Float64Array): void;
}

/** Stays above something else, and ends with it. */
export class Follow {
  readonly #source: FollowSource;
  readonly #offset: readonly [x: number, y: number];
  readonly #at = new Float64Array(2);

  constructor(source: FollowSource, offset: readonly [x: number, y: number]) {
    this.#source = source;
    this.#offset = offset;
    if (!offset.every(Number.isFinite) || offset.length !== 2)
      throw new UnspoolError('play/follow', `${show(offset)} is no offset`, 'give [x, y], two finite numbers');
    this.position();
  }

  /** Whether what is followed is still there. */
  get isThere(): boolean {
    const source = this.#source;
    if (source instanceof Playback) return source.active || source.waiting;
    return !('isPlaying' in source) || source.isPlaying;
  }

  /** Where to be now. */
  position(): readonly [x: number, y: number] {
    const source = this.#source;
    const at = this.#at;
    if (source instanceof Playback) source.layer?.rootInto(at);
    else if ('rootInto' in source) source.rootInto(at);
    else {
      at[0] = source.position?.x;
      at[1] = source.position?.y;
    }
    if (!at.every(Number.isFinite))
      throw new UnspoolError(
        'play/follow',
        'what is followed has no position',
        'give an object with position { x, y }',
      );
    return [at[0]! + this.#offset[0], at[1]! + this.#offset[1]];
  }
}
