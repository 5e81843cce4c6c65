import { spawn, type ChildProcess } from 'node:child_process';
import {
  copyFileSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { request, type IncomingHttpHeaders } from 'node:http';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { PROTOCOL, type PageRequest, type ServerMessage } from '../serve/protocol.js';
import { BIN, REELS, scratchFolder, unspool } from '../../test/command.js';

const folder = scratchFolder();
const file = join(folder, 'crab.reel.json');
const env = { ...process.env, UNSPOOL_STATE: join(folder, 'state') };
let server: ChildProcess;
let port: number;
let token: string;

beforeAll(async () => {
  copyFileSync(join(REELS, 'crab.reel.json'), file);
  const pictures = join(folder, 'pictures');
  mkdirSync(join(pictures, 'inner'), { recursive: true });
  for (const name of ['claw.png', 'inner/lamp.png'])
    copyFileSync(join(REELS, '../public', name.replace('inner/', '')), join(pictures, name));
  writeFileSync(join(folder, 'secret.png'), 'nobody reads this');
  writeFileSync(join(pictures, 'note.txt'), 'no picture');
  writeFileSync(join(pictures, '.hidden.png'), 'hidden');
  symlinkSync(join(folder, 'secret.png'), join(pictures, 'link.png'));
  symlinkSync(folder, join(pictures, 'out'));
  server = spawn(process.execPath, [BIN, 'edit', file, '--pictures', pictures, '--port', '0'], { env });
  const address = await new Promise<URL>((resolve, reject) => {
    server.stdout!.on('data', (chunk: Buffer) => {
      const found = /(http:\S+)/.exec(chunk.toString())?.[1];
      if (found) resolve(new URL(found));
    });
    server.on('exit', () => reject(new Error('the server ended early')));
  });
  port = Number(address.port);
  token = address.hash.slice(1);
});

afterAll(async () => {
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill();
  await ended;
});

interface Answer {
  readonly status: number;
  readonly headers: IncomingHttpHeaders;
  readonly body: Buffer;
}

/** Asks as any program could: the path as it was written, and any headers. */
function ask(
  path: string,
  {
    method = 'GET',
    headers = {},
    body,
  }: { method?: string; headers?: Record<string, string>; body?: Iterable<Buffer> } = {},
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const asking = request({
      host: '127.0.0.1',
      port,
      path,
      method,
      headers: { host: `127.0.0.1:${port}`, ...headers },
    });
    asking.on('response', (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('error', () => {});
      response.on('close', () =>
        resolve({ status: response.statusCode!, headers: response.headers, body: Buffer.concat(chunks) }),
      );
    });
    // A connection that is ended while a body is sent: what was answered before counts.
    asking.on('error', (error) => setTimeout(() => reject(error), 500));
    for (const chunk of body ?? []) asking.write(chunk);
    asking.end();
  });
}

const known = () => ({ authorization: `Bearer ${token}` });

/** A connection as a page makes it. */
function connect({
  name = 'crab',
  protocols = [PROTOCOL, token],
  headers = {},
}: { name?: string; protocols?: string[]; headers?: Record<string, string> } = {}): Promise<WebSocket> {
  return new Promise((resolve, reject) => {
    const socket = new WebSocket(`ws://127.0.0.1:${port}/api/reel/${name}`, protocols, { headers });
    socket.on('open', () => resolve(socket));
    socket.on('unexpected-response', (_, { statusCode }) => reject(new Error(String(statusCode))));
    socket.on('error', reject);
  });
}

describe('the server of the workbench', () => {
  it('serves its page on this machine, and nothing else without the token', async () => {
    const page = await ask('/');
    expect(page.status).toBe(200);
    expect(page.headers['content-security-policy']).toContain("default-src 'none'; script-src 'self'");
    for (const path of ['/api/reels', '/api/pictures', '/api/pictures/claw.png']) {
      expect((await ask(path)).status, path).toBe(401);
      expect((await ask(path, { headers: { authorization: `Bearer ${token.replace(/.$/, 'x')}` } })).status).toBe(401);
      expect((await ask(path, { headers: known() })).status, path).toBe(200);
    }
    const names = JSON.parse((await ask('/api/pictures', { headers: known() })).body.toString()) as { name: string }[];
    expect(names.map(({ name }) => name)).toEqual(['claw.png', 'inner/lamp.png']);
  });

  it('takes new pictures, with the token, and nothing else; none is replaced', async () => {
    const png = Buffer.from('\x89PNG\r\n\x1a\n and more', 'latin1');
    const put = async (name: string, body: Buffer | string, headers: Record<string, string> = known()) => {
      const address = `http://127.0.0.1:${port}/api/pictures/${encodeURIComponent(name)}`;
      const answer = await fetch(address, { method: 'PUT', headers, body: new Uint8Array(Buffer.from(body)) });
      return [answer.status, await answer.text()] as const;
    };
    const art = join(folder, 'pictures');
    const listed = () => readdirSync(art).sort().join();
    const before = listed();
    expect((await put('shell.png', png, {}))[0]).toBe(401);
    for (const [name, body, message] of [
      ['../shell.png', png, 'cannot be the name of a picture'],
      ['.shell.png', png, 'cannot be the name of a picture'],
      ['shell.svg', '<svg/>', 'Use PNG, JPEG, WebP, GIF or AVIF'],
      ['shell.png', '<html>', 'does not contain a picture of its kind'],
      ['claw.png', Buffer.concat([png, png]), 'there is another claw.png already'],
    ] as const) {
      const [status, text] = await put(name, body);
      expect([status, listed()], name).toEqual([409, before]);
      expect(text).toContain(message);
    }
    expect(await put('shell.png', png)).toEqual([201, 'added']);
    expect(readFileSync(join(art, 'shell.png')).equals(png)).toBe(true);
    expect((await put('shell.png', png))[0], 'the same again').toBe(201);
    rmSync(join(art, 'shell.png'));
  });

  it('listens on loopback only', () => {
    const listening = readFileSync('/proc/net/tcp', 'utf8')
      .split('\n')
      .filter((line) => line.includes(`:${port.toString(16).toUpperCase()} `));
    expect(listening.length).toBeGreaterThan(0);
    for (const line of listening) expect(line).toMatch(/^\s*\d+: 0100007F:/);
  });

  it.each([
    ['a foreign Host', { host: 'evil.example' }],
    ['a Host with another port', { host: '127.0.0.1:1' }],
    ['a foreign Origin', { origin: 'http://evil.example' }],
    ['an Origin of another port', { origin: 'http://127.0.0.1:1' }],
    ['an Origin that is hidden', { origin: 'null' }],
  ])('refuses %s, also with the token', async (_, headers) => {
    for (const path of ['/', '/api/reels', '/api/pictures/claw.png'])
      expect((await ask(path, { headers: { ...known(), ...headers } })).status).toBe(403);
    await expect(connect({ headers: { ...headers } })).rejects.toThrow('403');
  });

  it.each([
    '../secret.png',
    '..%2fsecret.png',
    '%2e%2e/secret.png',
    'inner/../../secret.png',
    'inner%2f..%2f..%2fsecret.png',
    '..%5csecret.png',
    'link.png',
    'out/secret.png',
    'out/crab.reel.json',
    '.hidden.png',
    'note.txt',
    '%00claw.png',
    '%2fetc%2fpasswd',
    'nobody.png',
  ])('gives nothing for the picture %s', async (name) => {
    const { status, body } = await ask(`/api/pictures/${name}`, { headers: known() });
    expect(status).toBe(404);
    expect(body.toString()).not.toContain('nobody reads this');
  });

  it.each(['/assets/..%2findex.html', '/assets/%2e%2e/%2e%2e/package.json', '/index.html', '/../package.json'])(
    'gives nothing of its own folders for %s',
    async (path) => expect((await ask(path)).status).toBe(404),
  );

  it('refuses request bodies, with and without a declared length', async () => {
    const post = { method: 'POST', headers: known() };
    expect((await ask('/api/reels', post)).status).toBe(405);
    const large = 100 * 1024 * 1024;
    expect(
      (
        await ask('/api/reels', { ...post, headers: { ...known(), 'content-length': String(large) } }).catch(() => ({
          status: 413,
        }))
      ).status,
    ).toBe(413);
    const chunks = function* () {
      for (let i = 0; i < 100; i++) yield Buffer.alloc(1024 * 1024, 'x');
    };
    const sent = await ask('/api/reels', { ...post, body: chunks() }).catch((error: Error) => error);
    expect(sent instanceof Error ? sent.message : sent.status).toSatisfy(
      (message: unknown) => message === 405 || /EPIPE|ECONNRESET|hang up/.test(String(message)),
    );
    expect(server.exitCode).toBeNull();
    expect((await ask('/')).status).toBe(200);
  });

  it('connects pages with the token alone, and to reels that are open', async () => {
    await expect(connect({ protocols: [PROTOCOL] })).rejects.toThrow('401');
    await expect(connect({ protocols: [PROTOCOL, 'x'.repeat(token.length)] })).rejects.toThrow('401');
    await expect(connect({ name: 'nobody' })).rejects.toThrow('404');
    await expect(connect({ name: '../crab' })).rejects.toThrow(/40\d/);
    (await connect()).close();
  });

  it.each([
    'no JSON',
    '[]',
    '{"ask":"apply"}',
    '{"ask":"apply","mark":"a b","operation":{}}',
    '{"ask":"erase","mark":"a"}',
  ])('ends a connection that sends %s', async (text) => {
    const socket = await connect();
    const ended = new Promise<number>((resolve) => socket.on('close', resolve));
    socket.send(text);
    expect(await ended).toBe(1008);
  });

  it('closes a connection that sends more than a reel can have, and continues', async () => {
    const socket = await connect();
    socket.on('error', () => {});
    const ended = new Promise<number>((resolve) => socket.on('close', resolve));
    socket.send(Buffer.alloc(100 * 1024 * 1024, ' '));
    expect(await ended).toBe(1009);
    expect((await ask('/')).status).toBe(200);
  });

  it('refuses operations that do not apply, whatever they are, and changes nothing', async () => {
    const before = readFileSync(file, 'utf8');
    const socket = await connect();
    const reported: ServerMessage[] = [];
    socket.on('message', (data: Buffer) => reported.push(JSON.parse(data.toString()) as ServerMessage));
    const operations: unknown[] = [
      {},
      { do: 'patch', said: '', changes: [{ path: '/__proto__', member: 'x', now: 1 }] },
      { do: 'add', what: 'clip', name: '__proto__', value: {} },
      { do: 'change', what: 'clip', name: 'snap', to: { ['x'.repeat(10)]: 1 } },
      { do: 'move-keys', clip: 'snap', by: 'Infinityf' },
      { do: 'patch', said: 'x', changes: [{ path: '/clips/snap/cues', member: 'x', at: 0 }] },
      { do: 'patch', said: 7, changes: [] },
      { do: 'patch', said: 'x', changes: [null, 5, {}] },
    ];
    operations.forEach((operation, i) => {
      socket.send(JSON.stringify({ ask: 'apply', mark: `bad-${i}`, operation }));
    });
    await expect
      .poll(() => reported.filter(({ tell }) => tell === 'refused').length, { timeout: 20_000 })
      .toBe(operations.length);
    socket.close();
    expect(readFileSync(file, 'utf8')).toBe(before);
  });

  it('does the same thing once, however often it is asked', async () => {
    const socket = await connect();
    const reported: ServerMessage[] = [];
    socket.on('message', (data: Buffer) => reported.push(JSON.parse(data.toString()) as ServerMessage));
    const operation = { do: 'move-keys', clip: 'snap', keys: { 'claw.rotation': ['12f'] }, by: '-1f' } as const;
    const request: PageRequest = { ask: 'apply', mark: 'again-1', operation };
    for (let i = 0; i < 3; i++) socket.send(JSON.stringify(request));
    socket.send(JSON.stringify({ ask: 'undo', mark: 'again-2' }));
    socket.send(JSON.stringify({ ask: 'undo', mark: 'again-2' }));
    await expect.poll(() => reported.filter(({ tell }) => tell === 'refused').length, { timeout: 20_000 }).toBe(3);
    expect(reported.filter(({ tell }) => tell === 'step')).toHaveLength(2);
    socket.close();
  });
});

describe('the command', () => {
  it('keeps journals and the token where others cannot read them', () => {
    expect(statSync(join(env.UNSPOOL_STATE, 'token')).mode & 0o777).toBe(0o600);
    expect(statSync(join(env.UNSPOOL_STATE, 'journals')).mode & 0o777).toBe(0o700);
    for (const name of readdirSync(join(env.UNSPOOL_STATE, 'journals')).filter((one) => one.endsWith('.journal')))
      expect(statSync(join(env.UNSPOOL_STATE, 'journals', name)).mode & 0o777).toBe(0o600);
  });

  it.each([
    [['nobody.reel.json'], 'file not found: nobody.reel.json'],
    [['-'], 'standard input cannot be saved to'],
    [['crab.reel.json', '--port', 'many'], 'invalid port "many"'],
    [['crab.reel.json', '--pictures', 'nowhere'], 'the folder nowhere does not exist'],
    [['../../../packages/cli/fixtures/broken/wrong-types.json'], 'Fix the reel first'],
  ])('says what is wrong with %j', (args, message) => {
    const { exit, stdout, stderr } = unspool(['edit', ...args]);
    expect(exit).toBeGreaterThan(0);
    expect(stdout).toBe('');
    expect(stderr).toContain(message);
  });
});
