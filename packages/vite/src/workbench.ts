import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname } from 'node:path';
import { createInterface } from 'node:readline';
import type { ViteDevServer } from 'vite';
import { resolvedFrom } from './resolved.js';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** What the workbench says: a reel after each step, before it is saved; where running games connect. */
export interface WorkbenchEvents {
  readonly onStep: (file: string, document: unknown) => void;
  readonly onLive: (address: string | undefined) => void;
}

type Message = { readonly reel: string; readonly document: unknown } | { readonly live: string };

/**
 * Starts the workbench beside a development server once that listens, and stops it with it. Its address is printed.
 * Pages of the server may connect to it.
 */
export function startWorkbench(vite: ViteDevServer, reels: readonly string[], events: WorkbenchEvents): void {
  const { httpServer } = vite;
  if (!httpServer || httpServer.listening) start(vite, reels, events);
  else httpServer.once('listening', () => start(vite, reels, events));
}

function start({ config, httpServer }: ViteDevServer, reels: readonly string[], events: WorkbenchEvents): void {
  const { logger, root, publicDir } = config;
  const program = resolvedFrom(root, '@unspool/cli/package.json')?.replace(/package\.json$/, 'bin/unspool.js');
  if (!program || reels.length === 0) {
    const why = program ? `no reel below ${root}` : '@unspool/cli is not installed: npm install -D @unspool/cli';
    logger.warn(`unspool: the workbench was not started, ${why}`);
    return;
  }
  const folders = [
    ...new Set([...reels.map((reel) => dirname(reel)), ...(publicDir && existsSync(publicDir) ? [publicDir] : [])]),
  ];
  const pictures = folders.flatMap((folder) => ['--pictures', folder]);
  const address = httpServer?.address();
  const protocol = config.server.https ? 'https' : 'http';
  const port = typeof address === 'object' && address ? address.port : undefined;
  const origins = port === undefined ? [] : LOOPBACK.map((host) => `${protocol}://${host}:${port}`);
  const live = origins.flatMap((origin) => ['--live', origin]);
  const server = spawn(process.execPath, [program, 'edit', ...reels, ...pictures, ...live], {
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  });
  server.on('message', (message: Message) => {
    if ('live' in message) events.onLive(message.live);
    else events.onStep(message.reel, message.document);
  });
  for (const output of [server.stdout, server.stderr])
    createInterface({ input: output! }).on('line', (line) => logger.info(`  ➜  ${line}`));
  const stop = () => server.kill('SIGTERM');
  httpServer?.once('close', stop);
  process.once('exit', stop);
  server.once('exit', () => {
    process.off('exit', stop);
    events.onLive(undefined);
  });
}
