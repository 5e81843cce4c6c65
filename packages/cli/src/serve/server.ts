import { readFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Duplex } from 'node:stream';
import { getRequestListener } from '@hono/node-server';
import { Hono } from 'hono';
import { getMimeType } from 'hono/utils/mime';
import { LIMITS } from 'unspool';
import { LIVE_PROTOCOL } from 'unspool/live';
import { WebSocketServer, type WebSocket } from 'ws';
import { addPicture, fileIn, pictureIn, picturesIn, soundIn, soundsIn } from './folders.js';
import { HEADERS, isToken, refusalOf } from './request-guard.js';
import { LiveGames, type LivePage } from './live-games.js';
import { readOrder } from './live-messages.js';
import type { OpenReel } from './open-reel.js';
import { PROTOCOL, type PageRequest, type Served, type ServerMessage } from './protocol.js';
import type { Tokens } from './state-folder.js';

export interface ServerOptions {
  readonly reels: readonly OpenReel[];
  /** Folders whose pictures and sounds are served; of two of one name, that of the first. */
  readonly pictures: readonly string[];
  /** The folder of the built page. */
  readonly page: string;
  readonly tokens: Tokens;
  /** Called with internal errors, which are not the caller's fault. */
  readonly onFault: (error: unknown) => void;
  /** 0 takes any that is free. */
  readonly port: number;
  /** Running games that may connect: their token, and the origins of their pages. */
  readonly live?: { readonly token: string; readonly origins: readonly string[] } | undefined;
}

/** The largest message of a running game, in bytes. */
const MAX_LIVE_BYTES = 4_000_000;

/** So long (ms) pages have to say goodbye. */
const FAREWELL = 500;

/** Bytes that may wait for a page to read them. */
const MAX_WAITING_BYTES = 8 * LIMITS.bytes;
/** Bytes behind which no moment of a running game is sent. */
const MOMENT_BYTES = 500_000;
const FAULT = 'internal error, nothing was changed. See the terminal for details';

export interface RunningServer {
  readonly port: number;
  close(): Promise<void>;
}

/** Serves the workbench on the loopback interface. Everything but the page itself needs the token. */
export async function startServer({
  reels,
  pictures,
  page,
  tokens,
  port,
  onFault,
  live,
}: ServerOptions): Promise<RunningServer> {
  const app = new Hono();
  app.use(async (context, next) => {
    await next();
    for (const [name, value] of Object.entries(HEADERS)) context.header(name, value);
  });
  app.use('/api/*', async (context, next) => {
    const given = /^Bearer (\w+)$/.exec(context.req.header('authorization') ?? '')?.[1];
    if (!isToken(given, tokens)) return context.text('the token is missing or wrong', 401);
    return next();
  });
  app.get('/api/reels', (context) => {
    const served = reels.map(({ name, file, doc }): Served => ({ name, file, title: doc.name ?? name }));
    return context.json(served);
  });
  app.get('/api/pictures', (context) => context.json(picturesIn(pictures)));
  app.get('/api/sounds', (context) => context.json(soundsIn(pictures)));
  app.get('/api/sounds/:name{.+}', (context) => {
    const name = context.req.param('name');
    const sound = soundIn(pictures, name);
    if (!sound) return context.text(`unknown sound ${name}`, 404);
    return context.body(new Uint8Array(sound), 200, { 'content-type': getMimeType(name) ?? 'audio/wav' });
  });
  app.get('/api/pictures/:name{.+}', (context) => {
    const name = context.req.param('name');
    const picture = pictureIn(pictures, name);
    if (!picture) return context.text(`unknown picture ${name}`, 404);
    return context.body(new Uint8Array(picture), 200, { 'content-type': getMimeType(name) ?? 'image/png' });
  });
  app.put('/api/pictures/:name', async (context) => {
    const fault = addPicture(pictures, context.req.param('name'), Buffer.from(await context.req.arrayBuffer()));
    return fault === undefined ? context.text('added', 201) : context.text(fault, 409);
  });
  app.get('/', (context) => context.html(readFileSync(`${page}/index.html`, 'utf8')));
  app.get('/assets/:name', (context) => {
    const name = context.req.param('name');
    const file = fileIn(`${page}/assets`, name);
    if (file === undefined) return context.text('not found', 404);
    return context.body(new Uint8Array(readFileSync(file)), 200, { 'content-type': getMimeType(name) ?? 'text/plain' });
  });

  app.onError((error, context) => {
    onFault(error);
    return context.text('internal error. See the terminal for details', 500);
  });

  const answer = getRequestListener(app.fetch);
  const server = createServer((request, response) => {
    // The client has gone.
    response.on('error', () => request.socket.destroy());
    const refusal = refusalOf(request.method ?? '', request.headers, portOf(server), request.url);
    if (!refusal) {
      void answer(request, response);
      return;
    }
    // It is not read, and its connection is ended.
    response.writeHead(refusal.status, { ...HEADERS, 'content-type': 'text/plain', connection: 'close' });
    response.end(`${refusal.message}\n`, () => request.socket.destroy());
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  server.on('error', onFault);
  const sockets = new WebSocketServer({ noServer: true, maxPayload: LIMITS.bytes });
  const gameSockets = new WebSocketServer({ noServer: true, maxPayload: MAX_LIVE_BYTES });
  const games = new LiveGames(reels);
  server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    // From here on nobody else listens to it: a reset would end the program.
    socket.on('error', () => socket.destroy());
    const [protocol, given] = (request.headers['sec-websocket-protocol'] ?? '').split(',').map((one) => one.trim());
    if (request.url === '/api/live') {
      const refusal = refusalOf(request.method ?? '', request.headers, portOf(server), undefined, live?.origins);
      const isKnown = live && protocol === LIVE_PROTOCOL && isToken(given, { present: live.token, last: undefined });
      if (refusal) refuse(socket, refusal.status, refusal.message);
      else if (!isKnown) refuse(socket, 401, 'the token is missing or wrong');
      else gameSockets.handleUpgrade(request, socket, head, (game) => games.joinGame(game));
      return;
    }
    const name = /^\/api\/reel\/([\w-]+)$/.exec(request.url ?? '')?.[1];
    const reel = reels.find((one) => one.name === name);
    const refusal = refusalOf(request.method ?? '', request.headers, portOf(server));
    if (refusal) refuse(socket, refusal.status, refusal.message);
    else if (protocol !== PROTOCOL || !isToken(given, tokens)) refuse(socket, 401, 'the token is missing or wrong');
    else if (!reel) refuse(socket, 404, 'unknown reel');
    else sockets.handleUpgrade(request, socket, head, (page) => connect(page, reel, games, tokens, onFault));
  });
  return {
    port: portOf(server),
    async close() {
      games.close();
      // Pending answers are still sent: a lost one would be requested again from a server that has forgotten it.
      const ended = [...sockets.clients].map((page) => new Promise((resolve) => page.once('close', resolve)));
      for (const page of sockets.clients) page.close(1001);
      await Promise.race([Promise.all(ended), new Promise((resolve) => setTimeout(resolve, FAREWELL))]);
      for (const page of sockets.clients) page.terminate();
      sockets.close();
      await new Promise((resolve) => {
        server.close(resolve);
        server.closeAllConnections();
      });
    },
  };
}

const portOf = (server: Server) => (server.address() as AddressInfo).port;

function refuse(socket: Duplex, status: number, message: string): void {
  socket.end(
    `HTTP/1.1 ${status} Refused\r\nconnection: close\r\ncontent-type: text/plain\r\ncontent-length: ${Buffer.byteLength(message)}\r\n\r\n${message}`,
  );
}

function connect(
  page: WebSocket,
  reel: OpenReel,
  games: LiveGames,
  { present }: Tokens,
  onFault: (error: unknown) => void,
): void {
  const tell = (message: ServerMessage) => {
    // A page that does not read is not waited for: it reconnects and receives everything.
    if (page.bufferedAmount > MAX_WAITING_BYTES) page.terminate();
    else page.send(JSON.stringify(message.tell === 'open' ? { ...message, token: present } : message), () => {});
  };
  const live: LivePage = { tell, isBehind: () => page.bufferedAmount > MOMENT_BYTES, watches: undefined };
  const leave = reel.join(tell);
  const stopLooking = games.joinPage(live);
  page.on('close', () => {
    leave();
    stopLooking();
  });
  // The socket closes itself and says why: to end it here could lose the reason on the way.
  page.on('error', () => {});
  page.on('message', (data) => {
    const request = readRequest((data as Buffer).toString());
    if (!request) page.close(1008, 'unknown request');
    else {
      try {
        if (request.ask === 'watch') games.watch(live, request.key);
        else if (request.ask === 'lead') games.lead(request);
        else reel.receive(request, tell);
      } catch (error) {
        // An error of the server itself: the reel is as before, and other requests continue.
        onFault(error);
        if ('mark' in request) tell({ tell: 'refused', mark: request.mark, code: 'workbench/fault', message: FAULT });
      }
    }
  });
}

/** A message of a page, if it has the right form. Operations are checked where they are applied. */
function readRequest(text: string): PageRequest | undefined {
  let request: Partial<Record<string, unknown>>;
  try {
    request = JSON.parse(text) as typeof request;
  } catch {
    return undefined;
  }
  if (typeof request !== 'object' || request === null) return undefined;
  const { ask, mark, take, operation, key, order } = request;
  const isMarked = typeof mark === 'string' && /^[\w-]{1,64}$/.test(mark);
  if (ask === 'lead' && typeof key === 'string' && isMarked) {
    const read = readOrder(order);
    return read && { ask, key, mark, order: read };
  }
  const isAsked =
    ask === 'save' ||
    ask === 'take-back' ||
    (ask === 'watch' && (key === undefined || typeof key === 'string')) ||
    (ask === 'settle' && (take === 'ours' || take === 'theirs' || take === 'merged')) ||
    (isMarked && (ask === 'undo' || ask === 'redo' || (ask === 'apply' && typeof operation === 'object')));
  return isAsked ? (request as unknown as PageRequest) : undefined;
}
