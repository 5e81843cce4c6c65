import { compileReel, readReel } from 'unspool';
import type { GameMessage, GameRequest, LinkedReel } from 'unspool/live';
import type { WebSocket } from 'ws';
import type { OpenReel } from './open-reel.js';
import { readGameMessage } from './live-messages.js';
import type { LivePlayer, LiveRequest, ServerMessage } from './protocol.js';

/** What one game may send: so many messages a second for a while, and so many at once. */
const PER_SECOND = 400;
const AT_ONCE = 1200;
const MOST_GAMES = 16;
/** A game that has said nothing for so long (ms) does not answer. */
const SILENCE = 3000;
/** How often (ms) the list of players is told, at most. */
const LIST_GAP = 250;
/** Bytes that may wait for a game to read them. */
const MAX_WAITING_BYTES = 4_000_000;
/** What a reel and a player have in common at least, to be taken for the same: the share of all clips of both. */
const LEAST_SHARE = 0.5;

/** A page of the workbench. */
export interface LivePage {
  readonly tell: (message: ServerMessage) => void;
  /** Whether it is behind with reading: then moments are left out. */
  readonly isBehind: () => boolean;
  /** The key of the player that it watches. */
  watches: string | undefined;
}

interface Game {
  readonly socket: WebSocket;
  title: string;
  follows: boolean;
  players: Map<string, Omit<LivePlayer, 'quiet'>>;
  heardAt: number;
  /** Messages that it may send at once now. */
  allowance: number;
}

/** The running games that are linked to the workbench, and the pages that look at them. Neither can disturb the other. */
export class LiveGames {
  readonly #games = new Set<Game>();
  readonly #pages = new Set<LivePage>();
  #listed: string | undefined;
  #listTimer: NodeJS.Timeout | undefined;
  readonly #look: NodeJS.Timeout;

  constructor(private readonly reels: readonly OpenReel[]) {
    for (const reel of reels)
      reel.join(({ tell }) => {
        if (tell === 'step') this.#send(reel);
      });
    this.#look = setInterval(() => this.#games.size > 0 && this.#tellList(), SILENCE / 3).unref();
  }

  close(): void {
    clearInterval(this.#look);
    clearTimeout(this.#listTimer);
    for (const { socket } of this.#games) socket.terminate();
  }

  /** A page comes. Returns what ends its visit. */
  joinPage(page: LivePage): () => void {
    this.#pages.add(page);
    if (this.#games.size > 0) page.tell({ tell: 'games', players: this.#list() });
    return () => {
      this.#pages.delete(page);
      this.#tellWatched();
    };
  }

  watch(page: LivePage, key: string | undefined): void {
    page.watches = key;
    this.#tellWatched();
  }

  lead({ key, mark, order }: Extract<LiveRequest, { ask: 'lead' }>): void {
    const [game, name] = this.#find(key) ?? [];
    if (game && name !== undefined) this.#ask(game, { ask: 'lead', player: name, mark, order });
  }

  joinGame(socket: WebSocket): void {
    if (this.#games.size >= MOST_GAMES) {
      socket.close(1013, 'too many games are linked');
      return;
    }
    const game: Game = {
      ...{ socket, title: 'game', follows: true, players: new Map(), heardAt: Date.now(), allowance: AT_ONCE },
    };
    this.#games.add(game);
    // The socket closes itself and says why: to end it here could lose the reason on the way.
    socket.on('error', () => {});
    socket.on('close', () => {
      this.#games.delete(game);
      this.#tellList();
    });
    socket.on('message', (data) => {
      const now = Date.now();
      game.allowance = Math.min(AT_ONCE, game.allowance + ((now - game.heardAt) / 1000) * PER_SECOND) - 1;
      game.heardAt = now;
      const message = game.allowance < 0 ? 'too many messages' : readGameMessage((data as Buffer).toString());
      if (typeof message !== 'string') this.#hear(game, message);
      else if (socket.readyState === socket.OPEN) socket.close(1008, message.slice(0, 100));
    });
  }

  #hear(game: Game, message: GameMessage): void {
    if (message.tell === 'players') {
      game.title = message.game;
      game.follows = message.follows;
      const before = game.players;
      game.players = new Map(message.players.map((one) => [one.name, this.#playerOf(game, one, before.get(one.name))]));
      this.#tellList();
      this.#tellWatched();
      // A game that has adopted a reel introduces its players again: it is sent to new ones only.
      if (message.players.some(({ name }) => !before.has(name)))
        for (const reel of this.reels) this.#send(reel, [game]);
      return;
    }
    const player = game.players.get(message.player);
    if (!player) return;
    const { key } = player;
    if (message.tell === 'moment') {
      const { moment } = message;
      const playing = moment.playing.filter(({ active }) => active).map(({ clip }) => clip);
      game.players.set(message.player, { ...player, playing: playing.join(' + ') });
      this.#tellList();
      this.#tellPages(key, { tell: 'moment', key, moment }, true);
    } else if (message.tell === 'samples') {
      this.#tellPages(key, { tell: 'samples', key, samples: message.samples, isLast: message.isLast });
    } else {
      this.#tellPages(key, { tell: 'problem', key, message: message.message });
    }
  }

  #tellPages(key: string, message: ServerMessage, canWait = false): void {
    for (const page of this.#pages) if (page.watches === key && !(canWait && page.isBehind())) page.tell(message);
  }

  /** A key is the same when a game was loaded again: pages find its players by it. */
  #playerOf(game: Game, { name, reel, clips }: LinkedReel, was: Omit<LivePlayer, 'quiet'> | undefined) {
    const others = [...this.#games].filter((one) => one !== game);
    const taken = new Set(others.flatMap(({ players }) => [...players.values()].map(({ key }) => key)));
    let key = was?.key ?? `${game.title}/${name}`;
    for (let n = 2; taken.has(key); n++) key = `${game.title} (${n})/${name}`;
    const open = this.#reelOf(reel, clips);
    return { key, game: game.title, name, playing: was?.playing ?? '', ...(open && { reel: open.name }) };
  }

  /** The reel of this name; else the one that has most clips in common. */
  #reelOf(name: string, clips: readonly string[]): OpenReel | undefined {
    const named = name === '' ? undefined : this.reels.find(({ doc }) => doc.name === name);
    if (named) return named;
    const shares = this.reels.map((reel) => {
      const own = Object.keys(reel.doc.clips);
      const common = own.filter((clip) => clips.includes(clip)).length;
      return { reel, share: common / Math.max(1, own.length + clips.length - common) };
    });
    const [best] = shares.sort((a, b) => b.share - a.share);
    return best && best.share >= LEAST_SHARE ? best.reel : undefined;
  }

  /** Sends a reel to the games that play it and do not have its steps otherwise. */
  #send(reel: OpenReel, games: Iterable<Game> = this.#games): void {
    let packed: ReturnType<typeof compileReel> | undefined;
    for (const game of games) {
      const players = [...game.players.values()].filter((one) => one.reel === reel.name).map(({ name }) => name);
      if (game.follows || players.length === 0) continue;
      packed ??= packedOf(reel);
      // A reel with mistakes is not sent: the game plays on with the last one.
      if (packed) this.#ask(game, { ask: 'adopt', players, packed });
    }
  }

  #tellWatched(): void {
    const keys = new Set([...this.#pages].map(({ watches }) => watches));
    for (const game of this.#games) {
      const players = [...game.players.values()].filter(({ key }) => keys.has(key)).map(({ name }) => name);
      this.#ask(game, { ask: 'watch', players });
    }
  }

  #ask({ socket }: Game, request: GameRequest): void {
    if (socket.readyState !== socket.OPEN) return;
    // One that does not read is let go: it comes back by itself.
    if (socket.bufferedAmount > MAX_WAITING_BYTES) socket.terminate();
    else socket.send(JSON.stringify(request), () => {});
  }

  #find(key: string): readonly [Game, string] | undefined {
    for (const game of this.#games)
      for (const [name, player] of game.players) if (player.key === key) return [game, name];
    return undefined;
  }

  #list(): readonly LivePlayer[] {
    const now = Date.now();
    return [...this.#games].flatMap(({ players, heardAt }) =>
      [...players.values()].map((player) => ({ ...player, quiet: now - heardAt > SILENCE })),
    );
  }

  /** Tells all pages who is there, if that is another than before, and not too often. */
  #tellList(): void {
    this.#listTimer ??= setTimeout(() => {
      this.#listTimer = undefined;
      const players = this.#list();
      const text = JSON.stringify(players);
      if (text === this.#listed) return;
      this.#listed = text;
      for (const page of this.#pages) page.tell({ tell: 'games', players });
    }, LIST_GAP);
  }
}

function packedOf(reel: OpenReel): ReturnType<typeof compileReel> | undefined {
  const read = readReel(reel.doc);
  return read.reel && compileReel(read.reel);
}
