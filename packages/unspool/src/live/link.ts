import { checkOptions } from '../errors/check-options.js';
import type { ReelNames } from '../clip/names.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { Player } from '../play/drive/player.js';
import { GameConnection } from './game-connection.js';
import { platform } from './platform.js';

/** Options of `link(player, options)`. */
export interface LinkOptions {
  /** What the workbench calls the player: 1 to 60 characters. Default: its name. */
  readonly name?: string;
  /**
   * The address that `unspool edit --live` prints. Default: that of the workbench that `@unspool/vite` has started;
   * without one, nothing is linked.
   */
  readonly to?: string;
}

/** One connection for each address: all players of a page share it. */
const connections = new Map<string, GameConnection>();

/**
 * Links a player to the workbench while a game is made: there it is listed with what it plays, watched, paused, moved
 * and recorded, and what was changed on its objects becomes keys. It connects by itself, again and again, and never
 * disturbs the game. In a build for production (the export condition `production`, as bundlers set it) it is a function
 * that does nothing.
 *
 * @returns what ends it
 * @throws UnspoolError `live/link` for anything but a player, a name that is none, or an address that is none
 * @example
 * link(crab, { name: 'crab' });
 */
export function link<N extends ReelNames>(player: Player<N, never>, options: LinkOptions = {}): () => void {
  if (!(player instanceof Player))
    throw new UnspoolError('live/link', `expected a player, found ${show(player)}`, 'pass what new Player(…) returns');
  checkOptions(options, ['name', 'to'], 'link', 'live');
  const { name = player.name || 'player', to } = options;
  if (typeof name !== 'string' || name.trim() === '' || name.length > 60)
    throw new UnspoolError('live/link', `the name ${show(name)} is not valid`, 'use a text of 1 to 60 characters');
  if (to !== undefined && !isAddress(to))
    throw new UnspoolError('live/link', `${show(to)} is not an address of the workbench`, 'paste the line that unspool edit --live prints'); // prettier-ignore
  const asked = platform.document?.querySelector('meta[name="unspool-live"]')?.getAttribute('content') ?? undefined;
  const key = to ?? asked;
  if (key === undefined || !platform.WebSocket) return () => undefined;
  let connection = connections.get(key);
  if (!connection) {
    // Of an unknown workbench the steps come from here; Vite has its own way for them.
    const find = to === undefined ? () => addressFrom(key) : () => Promise.resolve(to);
    connections.set(key, (connection = new GameConnection(find, to === undefined)));
  }
  return connection.add(player, name);
}

const isAddress = (text: unknown): boolean =>
  typeof text === 'string' && /^http:\/\/(127\.0\.0\.1|localhost|\[::1\]):\d{1,5}\/#[0-9a-f]{16,}$/.test(text);

/** Where the development server says that the workbench is; `undefined` while it does not know. */
async function addressFrom(url: string): Promise<string | undefined> {
  const answer = await platform.fetch?.(url);
  const text = answer?.ok ? (await answer.text()).trim() : '';
  return isAddress(text) ? text : undefined;
}
