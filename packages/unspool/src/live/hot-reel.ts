import { mustBeReel } from '../clip/expect.js';
import { UnspoolError } from '../errors/error.js';
import { isObject } from '../errors/is-object.js';
import { show } from '../errors/show.js';
import type { ReelNames } from '../clip/names.js';
import type { Reel } from '../clip/reel.js';
import { Crowd } from '../crowd/crowd.js';
import { Player } from '../play/drive/player.js';
import { adopt } from './adopt.js';

/** What the versions of a module have in common, such as `import.meta.hot.data` of Vite. */
export interface HotData {
  /** @internal */
  reel?: Reel;
  /** @internal */
  readers?: ((reel: never) => void)[];
}

/**
 * Lets a running game follow a module whose value is a reel: each time the module is evaluated anew, everything that was
 * made of its reel adopts the new one (see `adopt`). What `@unspool/vite` writes into modules; for other tools.
 *
 * @param data the same object for all versions of the module
 * @param read called with each later reel, to export that from now on
 * @returns for reels that come otherwise: everything adopts it, as if the module had it
 * @example
 * let reel = loadReel(packed);
 * if (import.meta.hot) {
 *   import.meta.hot.accept();
 *   hotReel(import.meta.hot.data, reel, (next) => (reel = next));
 * }
 * export { reel as default };
 */
export function hotReel<N extends ReelNames>(
  data: HotData,
  reel: Reel<N>,
  read: (reel: Reel<N>) => void,
): (next: Reel<N>) => void {
  const shared: unknown = data;
  if (!isObject(shared) || typeof read !== 'function')
    throw new UnspoolError(
      'live/hot',
      `hotReel expects an object and a function, found ${show(data)} and ${show(read)}`,
      'pass import.meta.hot.data and (next) => (reel = next)',
    );
  const readers = (data.readers ??= []);
  const follow = (next: Reel<N>) => {
    mustBeReel(next);
    next.users = data.reel?.users ?? new Set();
    data.reel = next;
    for (const tell of readers) tell(next as never);
    const errors: unknown[] = [];
    for (const ref of next.users) {
      const user = ref.deref();
      const isThere = user instanceof Crowd || (user instanceof Player && !user.isDisposed);
      if (!isThere) next.users.delete(ref);
      else {
        try {
          adopt(user as never, next as never);
        } catch (error) {
          errors.push(error); // It plays on as before; the others follow.
        }
      }
    }
    if (errors.length > 0) throw errors[0];
  };
  follow(reel);
  readers.push(read);
  return follow;
}
