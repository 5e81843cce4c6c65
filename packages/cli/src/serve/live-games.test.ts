import { copyFileSync, mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseReel, Player } from 'unspool';
import { link, LIVE_PROTOCOL, type GameMessage, type LiveOrder } from 'unspool/live';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { WebSocket } from 'ws';
import { REELS, scratchFolder } from '../../test/command.js';
import { Served, type PageOn } from '../../test/served.js';
import { turn, valueIn } from '../../test/turn.js';
import { readGameMessage, readOrder } from './live-messages.js';
import type { ServerMessage } from './protocol.js';

/** Running games beside the workbench: linked without Vite, strange, silent, or broken. */

const ORIGIN = 'http://localhost:8080';
const scratch = scratchFolder();
let count = 0;
let file: string;
let state: string;

beforeAll(() => void Object.assign(globalThis, { WebSocket }));
afterAll(() => void Reflect.deleteProperty(globalThis, 'WebSocket'));
beforeEach(() => {
  const folder = join(scratch, String(++count));
  mkdirSync(folder);
  [file, state] = [join(folder, 'crab.reel.json'), join(folder, 'state')];
  copyFileSync(join(REELS, 'crab.reel.json'), file);
});

async function start(): Promise<Served> {
  const served = await Served.start([file], state, ['--live', ORIGIN]);
  await expect.poll(() => served.output, { timeout: 10_000 }).toContain("to: '");
  return served;
}
const addressOf = ({ output }: Served) => /to: '(http:[^']+)'/.exec(output)![1]!;

const listOf = (message: ServerMessage) => (message.tell === 'games' ? message.players : []);
const players = (page: PageOn) => page.heard((one) => listOf(one).length > 0).then((one) => listOf(one));
let marks = 0;
const lead = (page: PageOn, key: string, order: LiveOrder) =>
  page.socket.send(JSON.stringify({ ask: 'lead', key, mark: `o${++marks}`, order }));

/** A game that says what it is told to. */
async function game(served: Served, headers: Readonly<Record<string, string>> = {}, token?: string) {
  const address = new URL(addressOf(served));
  const socket = new WebSocket(`ws://${address.host}/api/live`, [LIVE_PROTOCOL, token ?? address.hash.slice(1)], { headers }); // prettier-ignore
  const closed = new Promise<[code: number, reason: string]>((resolve) =>
    socket.on('close', (code, reason) => resolve([code, reason.toString()])),
  );
  const refused = new Promise<number>((resolve) =>
    socket.on('unexpected-response', (_, { statusCode }) => resolve(statusCode!)),
  );
  socket.on('error', () => {});
  const status = await Promise.race([refused, new Promise<101>((resolve) => socket.on('open', () => resolve(101)))]);
  const send = (message: GameMessage | object | string) =>
    socket.send(typeof message === 'string' ? message : JSON.stringify(message));
  return { socket, closed, status, send };
}
const HELLO = { tell: 'players', game: 'Pool', follows: true, players: [{ name: 'crab', reel: 'hermit crab', clips: ['snap'] }] }; // prettier-ignore
const MOMENT = { playing: [], paused: false, rate: 1, values: { 'claw.rotation': 3 } };

/** The workbench works as ever, and the file has what was done. */
async function isWell(served: Served, page: PageOn, value: number): Promise<void> {
  expect(await page.apply(turn(value))).toMatchObject({ tell: 'step' });
  expect(await served.end()).toBe(0);
  expect(served.output).toContain('everything is saved');
  expect(served.output).not.toContain('internal error');
  expect(valueIn(readFileSync(file, 'utf8'))).toBe(value);
}

test('a game is linked by the line that is printed: listed, watched, led, and it has each step', async () => {
  const served = await start();
  const page = await served.page();
  const reel = parseReel(readFileSync(file, 'utf8'));
  const claw = { rotation: 0, position: { x: 0, y: 0 }, scale: { x: 1, y: 1 } };
  const player = new Player(reel, { cast: { claw } });
  const heard: string[] = [];
  player.on('cue', ({ name }) => heard.push(name));
  const unlink = link(player, { name: 'crab', to: addressOf(served) });
  const [listed] = await players(page);
  expect(listed).toMatchObject({ key: 'game/crab', game: 'game', name: 'crab', reel: 'crab', quiet: false });
  page.socket.send(JSON.stringify({ ask: 'watch', key: listed!.key }));
  // It has the reel of the workbench, once.
  await expect.poll(() => player.reel).not.toBe(reel);
  const adopted = player.reel;
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(player.reel).toBe(adopted);
  player.play('snap');
  const timer = setInterval(() => player.tick(1 / 60), 10);
  const moment = async (isSo: (one: Extract<ServerMessage, { tell: 'moment' }>['moment']) => boolean) => {
    await page.heard((one) => one.tell === 'moment' && isSo(one.moment));
    page.received.length = 0;
  };
  await moment(({ playing, values }) => playing[0]?.clip === 'snap' && 'claw.rotation' in (values ?? {}));
  lead(page, listed!.key, { do: 'seek', clip: 'snap', time: 0.2 });
  await moment(({ paused, playing, mark }) => paused && playing[0]?.time === 0.2 && mark === `o${marks}`);
  expect(claw.rotation).toBe(-48);
  // A step: the key at 12 frames, where it stands.
  await page.apply(turn(-51));
  await moment(({ values }) => values!['claw.rotation'] === -51);
  expect(claw.rotation).toBe(-51);
  // What is set on the object is told of, and given back.
  claw.rotation = 7;
  await moment(({ changed }) => JSON.stringify(changed) === '[{"name":"claw.rotation","value":7,"was":-51}]');
  lead(page, listed!.key, { do: 'give-back' });
  await moment(({ changed }) => changed!.length === 0);
  expect(claw.rotation).toBe(-51);
  lead(page, listed!.key, { do: 'play', clip: 'snpa' });
  const problem = await page.heard((one) => one.tell === 'problem');
  expect(problem).toMatchObject({ message: expect.stringContaining('Did you mean "snap"?') as string });
  // Whoever watches goes: nothing stands still for ever.
  const before = player.time;
  page.socket.terminate();
  await expect.poll(() => heard).toContain('shut');
  expect(player.time).toBeGreaterThan(before);
  clearInterval(timer);
  unlink();
  expect(Object.hasOwn(player, 'tick')).toBe(false);
  await isWell(served, await served.page(), -52);
});

test('strangers are refused: a wrong token, another origin, a game without --live; its token opens no reel', async () => {
  const served = await start();
  expect((await game(served, {}, 'f'.repeat(48))).status).toBe(401);
  expect((await game(served, { origin: 'http://evil.example' })).status).toBe(403);
  expect((await game(served, { host: 'evil.example' })).status).toBe(403);
  expect((await game(served, { origin: ORIGIN })).status).toBe(101);
  const token = new URL(addressOf(served)).hash.slice(1);
  await expect(served.page(token, 'crab', 500)).rejects.toThrow('was not received');
  const headers = { authorization: `Bearer ${token}` };
  expect((await fetch(`http://127.0.0.1:${served.port}/api/reels`, { headers })).status).toBe(401);
  // A page of the game may connect its game, and nothing else.
  const asGame = { authorization: `Bearer ${served.token}`, origin: ORIGIN };
  expect((await fetch(`http://127.0.0.1:${served.port}/api/reels`, { headers: asGame })).status).toBe(403);
  const address = addressOf(served);
  await isWell(served, await served.page(), 4);
  const plain = await Served.start([file], state);
  plain.output = `to: 'http://127.0.0.1:${plain.port}/${new URL(address).hash}'`;
  expect((await game(plain)).status).toBe(401);
  expect((await game(plain, { origin: ORIGIN })).status).toBe(403);
});

test('a game that floods is let go; one that says nonsense is told why; the workbench works on', async () => {
  const served = await start();
  const page = await served.page();
  const flood = await game(served);
  flood.send(HELLO);
  for (let i = 0; i < 20_000; i++) flood.send({ tell: 'moment', player: 'crab', moment: MOMENT });
  expect(await flood.closed).toEqual([1008, 'too many messages']);
  for (const [nonsense, why] of [
    ['{', 'it is not JSON'],
    ['null', 'Invalid type'],
    [{ tell: 'document', doc: {} }, 'tell: '],
    [{ ...HELLO, players: [{ name: '', reel: '', clips: [] }] }, 'players.0.name: '],
    [{ ...HELLO, players: Array(65).fill(HELLO.players[0]) }, 'players: '],
    [{ tell: 'moment', player: 'crab', moment: { ...MOMENT, values: { a: { b: { c: 1 } } } } }, 'moment.values.a'],
    [{ tell: 'moment', player: 'crab', moment: { ...MOMENT, values: { a: [1, 2, 3, 4, 5] } } }, 'moment.values.a'],
    [{ tell: 'moment', player: 'crab', moment: { ...MOMENT, playing: [{ layer: 'x' }] } }, 'moment.playing.0'],
  ] as const) {
    const one = await game(served);
    one.send(nonsense);
    const [code, reason] = await one.closed;
    expect([code, reason]).toEqual([1008, expect.stringContaining(why) as string]);
  }
  // Each is told why, however much of it was still on its way.
  const large = await Promise.all(Array.from({ length: 12 }, () => game(served)));
  for (const one of large) one.send({ tell: 'problem', player: 'crab', message: 'x'.repeat(5_000_000) });
  const ends = await Promise.all(large.map(({ closed }) => closed));
  expect(ends.map(([code]) => code)).toEqual(Array(large.length).fill(1009));
  const many = await Promise.all(Array.from({ length: 18 }, () => game(served)));
  expect((await Promise.race(many.map(({ closed }) => closed)))[0]).toBe(1013);
  await isWell(served, page, 5);
});

test('a game that hangs is marked, one that is killed is gone; a page is told what it watches only', async () => {
  const served = await start();
  const [page, other] = [await served.page(), await served.page()];
  const [first, second] = [await game(served), await game(served)];
  first.send(HELLO);
  await players(page);
  second.send(HELLO);
  const both = listOf(await page.heard((one) => listOf(one).length === 2));
  // The same title and name: each has a key of its own.
  expect(new Set(both.map(({ key }) => key)).size).toBe(2);
  page.socket.send(JSON.stringify({ ask: 'watch', key: 'Pool/crab' }));
  await new Promise((resolve) => setTimeout(resolve, 50));
  const told = { ...MOMENT, values: { ['__proto__']: 1, 'claw.rotation': 3 } };
  first.send({ tell: 'moment', player: 'crab', moment: told });
  first.send({ tell: 'moment', player: 'nobody', moment: MOMENT });
  await page.heard((one) => one.tell === 'moment');
  expect(other.received.some(({ tell }) => tell === 'moment')).toBe(false);
  await page.heard((one) => listOf(one).some(({ quiet }) => quiet));
  first.socket.terminate();
  await page.heard((one) => one.tell === 'games' && one.players.length === 1);
  // A page that asks for nonsense is let go, and no other.
  other.socket.send(JSON.stringify({ ask: 'lead', key: 'Pool/crab', mark: 'm', order: { do: 'rate', rate: 1e9 } }));
  await new Promise((resolve) => other.socket.once('close', resolve));
  await isWell(served, page, 6);
});

test('orders and messages are read with their limits', () => {
  expect(readOrder({ do: 'seek', clip: 'snap', time: -1 })).toBeUndefined();
  expect(readOrder({ do: 'step', frames: Infinity })).toBeUndefined();
  expect(readOrder({ do: 'pause', extra: 1 })).toEqual({ do: 'pause' });
  expect(readGameMessage(JSON.stringify(HELLO))).toEqual(HELLO);
});

test('an origin that is none is refused at the start', async () => {
  await expect(Served.start([file], state, ['--live', 'nowhere'])).rejects.toThrow('"nowhere" is not the address of a page'); // prettier-ignore
});
