import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname } from 'node:path';
import { createInterface } from 'node:readline';
import type { ViteDevServer } from 'vite';
import { resolvedFrom } from './resolved.js';

/**
 * Starts the workbench beside a development server, and stops it with it. Its address is printed when it listens.
 *
 * @param onStep called with a reel after each step, before it is saved
 */
export function startWorkbench(
  { config, httpServer }: ViteDevServer,
  reels: readonly string[],
  onStep: (file: string, document: unknown) => void,
): void {
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
  const server = spawn(process.execPath, [program, 'edit', ...reels, ...pictures], {
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  });
  server.on('message', (message: { readonly reel: string; readonly document: unknown }) =>
    onStep(message.reel, message.document),
  );
  for (const output of [server.stdout, server.stderr])
    createInterface({ input: output! }).on('line', (line) => logger.info(`  ➜  ${line}`));
  const stop = () => server.kill('SIGTERM');
  httpServer?.once('close', stop);
  process.once('exit', stop);
  server.once('exit', () => process.off('exit', stop));
}
