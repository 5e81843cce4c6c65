import { existsSync, readdirSync } from 'node:fs';
import { basename, dirname, resolve as absolute } from 'node:path';
import { createInterface } from 'node:readline/promises';
import { watch } from 'chokidar';
import type { Command } from 'commander';
import { CallError, EXIT } from '../failure.js';
import { isFolder, STDIN } from '../files.js';
import { collected } from '../options.js';
import { PAGE } from '../package-files.js';
import { writeStarter } from '../starter-files.js';
import { OpenReel } from '../serve/open-reel.js';
import { startServer, type RunningServer } from '../serve/server.js';
import { liveToken, newTokens, stateFolder } from '../serve/state-folder.js';

const FIRST_PORT = 4640;
const PORTS = 20;
/** How often (ms) files are checked for changes by other programs. */
const LOOK = 300;

interface Options {
  readonly pictures?: readonly string[];
  readonly port?: string;
  readonly live?: readonly string[];
}

export function addEdit(program: Command): void {
  program
    .command('edit')
    .description('Starts the workbench, a page to author reels on, and saves to the files.')
    .argument('[file...]', 'reels (default: those of this folder; if there are none, a new one is offered)')
    .option('--pictures <folder>', 'a folder with pictures (repeatable; default: the folders of the reels)', collected)
    .option('--port <number>', `port to listen on (default: the first free port from ${FIRST_PORT})`)
    .option(
      '--live <origin>',
      'lets a running game from there connect, such as http://localhost:8080 (repeatable)',
      collected,
    )
    .addHelpText(
      'after',
      '\nExamples:\n  unspool edit reels/*.reel.json --pictures public\n  unspool edit crab.reel.json --port 4700\n  unspool edit crab.reel.json --live http://localhost:8080\n\nEvery step goes to a journal at once, and the files are saved automatically. Ctrl+C stops it.',
    )
    .action(edit);
}

async function edit(named: readonly string[], { pictures, port, live: places = [] }: Options): Promise<void> {
  const files = named.length > 0 ? named : await reelsHere();
  if (files.includes(STDIN)) throw new CallError('standard input cannot be saved to', 'name a file');
  if (!existsSync(`${PAGE}/index.html`))
    throw new CallError('the workbench page is not built', 'run `npm run build` first');
  const folders = pictures ?? [...new Set(files.map((file) => dirname(file)))];
  for (const folder of folders)
    if (!isFolder(folder))
      throw new CallError(`the folder ${folder} does not exist`, 'name an existing folder, such as --pictures public');
  const ports = portsFrom(port);
  const origins = places.map(originOf);
  const state = stateFolder();
  const live = origins.length > 0 ? { token: liveToken(state), origins } : undefined;
  const say = (message: string) => void process.stderr.write(`${message}\n`);
  const onFault = (error: unknown) =>
    say(`unspool: internal error of the workbench: ${String((error as Error).stack)}`);
  const reels: OpenReel[] = [];
  let isSaved = true;
  try {
    for (const file of files) reels.push(await OpenReel.open(nameOf(file, reels), file, state, say));
    tellParent(reels);
    const options = { reels, pictures: folders, page: PAGE, tokens: newTokens(state), onFault, live };
    const server = await startOn(ports, (port) => startServer({ ...options, port }));
    // Polled by name: a watcher of a file that is replaced may miss what is written at that moment.
    const watcher = watch([...files], { ignoreInitial: true, usePolling: true, interval: LOOK })
      .on('all', (_, path) => {
        for (const reel of reels) if (absolute(reel.file) === absolute(path)) void reel.look();
      })
      .on('error', onFault);
    process.stdout.write(`Workbench: http://127.0.0.1:${server.port}/#${options.tokens.present}\n`);
    if (live) tellOfLive(`http://127.0.0.1:${server.port}/#${live.token}`, say);
    say(`${files.length === 1 ? files[0] : `${files.length} reels`}. Press Ctrl+C to save and stop.`);
    await new Promise<void>((resolve) => {
      for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => resolve());
      // What has started it is gone.
      process.once('disconnect', resolve);
    });
    await watcher.close();
    await server.close();
  } finally {
    for (const reel of reels) isSaved = (await reel.close()) && isSaved;
  }
  if (isSaved) say('everything is saved');
  else process.exitCode = EXIT.problems;
}

/** Sends each step to the parent process, if there is one, before it is saved: `{ reel, document }`. */
function tellParent(reels: readonly OpenReel[]): void {
  for (const reel of reels)
    reel.join(({ tell }) => {
      if (process.connected && (tell === 'open' || tell === 'step'))
        process.send?.({ reel: absolute(reel.file), document: reel.doc });
    });
}

/** Where running games connect: the parent process tells them, or a line that is pasted into their code. */
function tellOfLive(address: string, say: (message: string) => void): void {
  if (process.connected) process.send?.({ live: address });
  else say(`Paste into the game, after its player: link(player, { name: 'crab', to: '${address}' });  // unspool/live`);
}

function originOf(text: string): string {
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (!url || !/^https?:$/.test(url.protocol))
    throw new CallError(`${JSON.stringify(text)} is not the address of a page`, 'use --live http://localhost:8080');
  return url.origin;
}

const FIRST = 'hermit-crab.reel.json';

/** The reels of the current folder; where there are none, a new one if it is wanted. */
async function reelsHere(): Promise<readonly string[]> {
  const here = readdirSync('.').filter((name) => name.endsWith('.reel.json'));
  if (here.length > 0) return here.sort();
  const missing = new CallError('this folder has no reels', `name a file, or make one: unspool new ${FIRST}`);
  if (!process.stdin.isTTY) throw missing;
  const terminal = createInterface({ input: process.stdin, output: process.stderr });
  const answer = await terminal.question(`This folder has no reels. Make ${FIRST}? [Y/n] `);
  terminal.close();
  if (/^n/i.test(answer.trim())) throw missing;
  await writeStarter(FIRST, false);
  return [FIRST];
}

/** `crab` of `reels/crab.reel.json`; a number behind it where another has that. */
function nameOf(file: string, others: readonly OpenReel[]): string {
  const name =
    basename(file)
      .replace(/(\.reel)?\.json$/i, '')
      .replace(/[^\w-]+/g, '-') || 'reel';
  const taken = others.filter((one) => one.name.replace(/-\d+$/, '') === name).length;
  return taken === 0 ? name : `${name}-${taken + 1}`;
}

function portsFrom(text: string | undefined): readonly number[] {
  if (text === undefined) return Array.from({ length: PORTS }, (_, i) => FIRST_PORT + i);
  const port = Number(text);
  if (!/^\d{1,5}$/.test(text) || port > 65535)
    throw new CallError(`invalid port ${JSON.stringify(text)}`, 'use 1 to 65535, or 0 for any free port');
  return [port];
}

async function startOn(
  [port, ...others]: readonly number[],
  start: (port: number) => Promise<RunningServer>,
): Promise<RunningServer> {
  try {
    return await start(port!);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EADDRINUSE' && others.length > 0) return startOn(others, start);
    if (code === 'EADDRINUSE') throw new CallError(`port ${port} is in use`, 'use another port: --port 4700');
    if (code === 'EACCES')
      throw new CallError(`port ${port} needs more permissions`, 'use a port from 1024 on: --port 4700');
    throw error;
  }
}
