import { PROTOCOL, type PageRequest, type ServerMessage } from '@unspool/cli/protocol';
import type { Token } from './token.js';

/** So long (ms) until a lost connection is tried again: longer each time. */
const FIRST_WAIT = 300;
const LONGEST_WAIT = 3000;

export interface ConnectionEvents {
  readonly onMessage: (message: ServerMessage) => void;
  /** Whether the server is there. Also called when trying again has come to nothing. */
  readonly onState: (connected: boolean) => void;
}

/** A connection to the server for one reel, which comes back by itself. */
export class Connection {
  #socket: WebSocket | undefined;
  #wait = FIRST_WAIT;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;

  constructor(
    readonly reel: string,
    private readonly token: Token,
    private readonly events: ConnectionEvents,
  ) {
    this.#connect();
  }

  /** Sends a request while the server is connected; unanswered ones are repeated by their owner. */
  send(request: PageRequest): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(request));
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
    this.#socket?.close();
  }

  #connect(): void {
    const url = new URL(`api/reel/${this.reel}`, location.href);
    url.protocol = url.protocol === 'https:' ? 'wss:' : 'ws:';
    url.hash = '';
    const socket = new WebSocket(url, [PROTOCOL, this.token.text]);
    this.#socket = socket;
    socket.addEventListener('open', () => {
      this.#wait = FIRST_WAIT;
      this.events.onState(true);
    });
    socket.addEventListener('message', ({ data }) => this.events.onMessage(JSON.parse(String(data)) as ServerMessage));
    socket.addEventListener('close', () => {
      if (this.#closed) return;
      this.events.onState(false);
      this.#timer = setTimeout(() => this.#connect(), this.#wait);
      this.#wait = Math.min(LONGEST_WAIT, this.#wait * 1.6);
    });
  }
}
