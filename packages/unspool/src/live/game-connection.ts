import type { ReelNames } from '../clip/names.js';
import { loadReel } from '../clip/packed.js';
import type { Player } from '../play/drive/player.js';
import { adopt } from './adopt.js';
import { readPlace, writePlace } from './kept-place.js';
import { Lead } from './lead.js';
import { LIVE_PROTOCOL, type GameMessage, type GameRequest } from './messages.js';
import { platform, type Socket, type Timer } from './platform.js';

/** So long (ms) until a lost connection is tried again: longer each time. */
const FIRST_WAIT = 500;
const LONGEST_WAIT = 5000;
/** The least time (ms) between two moments of a watched player; and how often it is looked at while it does not move. */
const GAP = 15;
const LOOK = 100;
/** How often (ms) one that nobody watches is told of. */
const SELDOM = 500;
/** Bytes that may wait to be sent, and samples of a message. */
const MAX_WAITING_BYTES = 1_000_000;
const MOST_SAMPLES = 200;

/** The connection of a game to the workbench, which comes back by itself. Nothing that it hears disturbs the game. */
export class GameConnection {
  readonly #leads = new Map<Lead, { sent: number }>();
  #socket: Socket | undefined;
  #wait = FIRST_WAIT;
  #retry: Timer | undefined;
  #look: Timer | undefined;
  #isPageGone = false;

  /**
   * @param find    where the workbench is, as its address with a token
   * @param follows whether the game has the steps by itself
   */
  constructor(
    private readonly find: () => Promise<string | undefined>,
    private readonly follows: boolean,
  ) {
    platform.addEventListener?.('pagehide', () => this.#leave());
    platform.addEventListener?.('pageshow', ({ persisted }) => persisted && this.#comeBack());
    this.#connect();
  }

  /** @returns what takes the player away again */
  add(player: Player<ReelNames, never>, name: string): () => void {
    const free = this.#freeName(name);
    const place = readPlace(free);
    if (place?.state) writePlace(free, {});
    const lead: Lead = new Lead(player, free, () => this.#tell(lead, GAP), place?.state);
    this.#leads.set(lead, { sent: -Infinity });
    this.#introduce();
    return () => {
      lead.end();
      if (this.#leads.delete(lead)) this.#introduce();
    };
  }

  #freeName(name: string): string {
    const names = new Set([...this.#leads.keys()].map((lead) => lead.name));
    for (let n = 1; ; n++) {
      const free = n === 1 ? name : `${name} ${n}`;
      if (!names.has(free)) return free;
    }
  }

  #connect(): void {
    this.find().then(
      (address) => (address === undefined ? this.#again() : this.#open(address)),
      () => this.#again(),
    );
  }

  #open(address: string): void {
    const { host, hash } = /^http:\/\/(?<host>[^/]+)\/#(?<hash>\w+)$/.exec(address)!.groups!;
    const socket = new platform.WebSocket!(`ws://${host}/api/live`, [LIVE_PROTOCOL, hash!]);
    socket.addEventListener('open', () => {
      this.#socket = socket;
      this.#wait = FIRST_WAIT;
      this.#introduce();
      this.#lookOn();
    });
    // It is closed, too, which is what counts.
    socket.addEventListener('error', () => undefined);
    socket.addEventListener('message', ({ data }) => this.#hear(data));
    socket.addEventListener('close', () => {
      this.#socket = undefined;
      platform.clearTimeout(this.#look);
      // Nobody leads any longer: the game goes on.
      for (const lead of this.#leads.keys()) lead.watch(false);
      this.#again();
    });
  }

  #again(): void {
    if (this.#isPageGone) return;
    platform.clearTimeout(this.#retry);
    this.#retry = timer(() => this.#connect(), this.#wait);
    this.#wait = Math.min(LONGEST_WAIT, this.#wait * 1.6);
  }

  /** The page is left, or loaded again: players whose place is kept go on from here then. */
  #leave(): void {
    for (const { name, player } of this.#leads.keys()) {
      if (!readPlace(name) || player.isDisposed) continue;
      try {
        writePlace(name, { state: player.save() });
      } catch {
        // In the middle of a handler: then it starts anew.
      }
    }
    platform.clearTimeout(this.#retry);
    this.#isPageGone = true;
    this.#socket?.close();
  }

  /** The browser shows the page again as it was left. */
  #comeBack(): void {
    this.#isPageGone = false;
    this.#wait = FIRST_WAIT;
    this.#again();
  }

  #send(message: GameMessage): void {
    const socket = this.#socket;
    if (socket?.readyState === 1 && socket.bufferedAmount < MAX_WAITING_BYTES) socket.send(JSON.stringify(message));
  }

  #introduce(): void {
    for (const lead of this.#leads.keys()) if (lead.player.isDisposed) this.#leads.delete(lead);
    const players = [...this.#leads.keys()].map(({ name, player: { reel } }) => {
      return { name, reel: reel.name, clips: reel.clipNames };
    });
    this.#send({ tell: 'players', game: platform.document?.title || 'game', follows: this.follows, players });
  }

  /** Players that stand still are looked at, too: what is changed on their objects is seen. */
  #lookOn(): void {
    for (const lead of this.#leads.keys()) {
      if (lead.player.isDisposed) this.#introduce();
      else this.#tell(lead, LOOK - 1);
    }
    this.#look = timer(() => this.#lookOn(), LOOK);
  }

  /** Says what a player shows, unless that was less than `gap` ms ago; seldom while nobody watches it. */
  #tell(lead: Lead, gap: number): void {
    const told = this.#leads.get(lead);
    const now = platform.performance.now();
    if (!told || !this.#socket || now - told.sent < (lead.isWatched ? gap : SELDOM - 1)) return;
    told.sent = now;
    const { name: player } = lead;
    this.#attempt(player, () => lead.catchUp());
    this.#send({ tell: 'moment', player, moment: lead.moment() });
    const samples = lead.takeRecorded();
    if (!samples) return;
    for (let i = 0; i < samples.length || i === 0; i += MOST_SAMPLES) {
      const isLast = i + MOST_SAMPLES >= samples.length;
      this.#send({ tell: 'samples', player, samples: samples.slice(i, i + MOST_SAMPLES), isLast });
    }
  }

  #hear(data: unknown): void {
    try {
      const request = JSON.parse(String(data)) as GameRequest;
      if (request.ask === 'watch')
        for (const lead of this.#leads.keys()) lead.watch(request.players.includes(lead.name));
      else if (request.ask === 'adopt') this.#adopt(request);
      else if (request.ask === 'lead') this.#lead(request);
    } catch (error) {
      platform.console.warn(`unspool: the workbench asked for what this game cannot do: ${(error as Error).message}`);
    }
  }

  #adopt({ players, packed }: Extract<GameRequest, { ask: 'adopt' }>): void {
    const reel = loadReel<unknown>(packed);
    for (const { player, name } of this.#leads.keys())
      if (players.includes(name) && !player.isDisposed) adopt(player, reel as never);
    this.#introduce();
  }

  #lead({ player: name, mark, order }: Extract<GameRequest, { ask: 'lead' }>): void {
    const lead = [...this.#leads.keys()].find((one) => one.name === name);
    if (!lead || lead.player.isDisposed) return;
    if (order.do === 'keep-place') writePlace(name, order.on ? {} : undefined);
    else this.#attempt(name, () => lead.follow(order, mark));
    this.#tell(lead, 0);
  }

  /** Tells the workbench what the player refuses. */
  #attempt(player: string, run: () => void): void {
    try {
      run();
    } catch (error) {
      this.#send({ tell: 'problem', player, message: (error as Error).message });
    }
  }
}

/** A timer that does not keep a program running. */
function timer(run: () => void, ms: number): Timer {
  const made = platform.setTimeout(run, ms);
  if (typeof made === 'object') made.unref?.();
  return made;
}
