import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { connect as connectTo } from 'node:net';
import { join } from 'node:path';
import type { Operation } from 'unspool/edit';
import { onTestFinished } from 'vitest';
import { WebSocket } from 'ws';
import { PROTOCOL, type ServerMessage } from '../src/serve/protocol.js';
import { BIN } from './command.js';

export const FULL_DISK = new URL('full-disk.mjs', import.meta.url).href;

/** While this file is there, the disk of who was started with this state folder is full. */
export const fullDisk = (state: string) => `${state}.full`;

/** `unspool edit` as a process of its own, and who speaks to it. */
export class Served {
  output = '';
  readonly port: number;
  readonly token: string;
  #exit: number | null | undefined;

  private constructor(
    readonly child: ChildProcess,
    address: string,
    output: string,
  ) {
    const url = new URL(address);
    [this.port, this.token, this.output] = [Number(url.port), url.hash.slice(1), output];
    child.stderr!.on('data', (chunk: Buffer) => (this.output += chunk.toString()));
    child.on('exit', (code) => (this.#exit = code));
  }

  /** Starts it, and ends it with the test. */
  static async start(files: readonly string[], state: string, args: readonly string[] = []): Promise<Served> {
    const env = { ...process.env, UNSPOOL_STATE: state, FULL_DISK: fullDisk(state) };
    const child = spawn(process.execPath, ['--import', FULL_DISK, BIN, 'edit', ...files, '--port', '0', ...args], {
      env,
    });
    onTestFinished(() => void child.kill('SIGKILL'));
    let output = '';
    const collect = (chunk: Buffer) => (output += chunk.toString());
    child.stderr.on('data', collect);
    const address = await new Promise<string>((resolve, reject) => {
      child.stdout.on('data', (chunk: Buffer) => {
        const found = /(http:\S+)/.exec(chunk.toString())?.[1];
        if (found) resolve(found);
      });
      child.on('exit', (code) => reject(new Error(`it ended early, with ${code}: ${output}`)));
    });
    child.stderr.off('data', collect);
    return new Served(child, address, output);
  }

  get isAlive(): boolean {
    return this.#exit === undefined;
  }

  /** A page on a reel, once it has received the reel. */
  async page(token = this.token, name = 'crab', patience = 20_000): Promise<PageOn> {
    const socket = new WebSocket(`ws://127.0.0.1:${this.port}/api/reel/${name}`, [PROTOCOL, token]);
    const page = new PageOn(socket);
    await page.heard(({ tell }) => tell === 'open', patience);
    return page;
  }

  /** Sends bytes as they are, and resets the connection. */
  reset(text: string): Promise<void> {
    return new Promise((resolve) => {
      const socket = connectTo(this.port, '127.0.0.1', () => socket.write(text, () => socket.resetAndDestroy()));
      socket.on('error', () => {});
      socket.on('close', () => resolve());
    });
  }

  /** Ends it. Returns the exit code. */
  async end(signal: NodeJS.Signals = 'SIGINT'): Promise<number | null> {
    if (this.#exit !== undefined) return this.#exit;
    const ended = new Promise<number | null>((resolve) => this.child.once('exit', resolve));
    this.child.kill(signal);
    return ended;
  }
}

let marks = 0;

export class PageOn {
  readonly received: ServerMessage[] = [];

  constructor(readonly socket: WebSocket) {
    socket.on('message', (data: Buffer) => this.received.push(JSON.parse(data.toString()) as ServerMessage));
    socket.on('error', () => {});
  }

  /** The first message that fits, of all so far and of those to come. */
  async heard(isSo: (message: ServerMessage) => boolean, patience = 20_000): Promise<ServerMessage> {
    for (const since = Date.now(); Date.now() - since < patience;) {
      const found = this.received.find(isSo);
      if (found) return found;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    throw new Error(
      `was not received: ${String(isSo)}; last: ${JSON.stringify(this.received.at(-1) ?? null).slice(0, 300)}`,
    );
  }

  /** Asks for an operation; the answer. */
  apply(operation: Operation): Promise<ServerMessage> {
    const mark = `t${++marks}`;
    this.socket.send(JSON.stringify({ ask: 'apply', mark, operation }));
    return this.heard((message) => 'mark' in message && message.mark === mark);
  }

  /** The state of the file in the last message that has it. */
  get file() {
    return this.received.findLast((one) => one.tell === 'file' || one.tell === 'open')?.file;
  }
}

/** Where the journal of the only reel is. */
export function journalIn(state: string): string {
  const folder = join(state, 'journals');
  return join(
    folder,
    readdirSync(folder).find((name) => name.endsWith('.journal'))!,
  );
}
