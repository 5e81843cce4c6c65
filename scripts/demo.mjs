/**
 * `npm run demo`: builds, shows what the command line says of the demo reels, and serves the example game, and the
 * workbench on its reels: what is saved there, the game plays anew at once.
 */
import { readdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { installPackages, must, root, run, start, tool } from './steps.mjs';

const FIRST_PORT = 4321;
const LAST_PORT = 65535;

const wanted = process.env.PORT ? Number(process.env.PORT) : FIRST_PORT;
if (!Number.isInteger(wanted) || wanted < 1 || wanted > LAST_PORT) {
  console.error(`PORT=${process.env.PORT} is no port: give a number from 1 to ${LAST_PORT}.`);
  process.exit(2);
}

installPackages();

const [node, tsc] = tool('typescript/bin/tsc');
const vite = tool('vite/bin/vite.js')[1];
const unspool = [`${root}packages/cli/bin/unspool.js`];
const game = { cwd: `${root}examples/tidepool` };
const reels = readdirSync(`${game.cwd}/reels`)
  .filter((name) => name.endsWith('.reel.json'))
  // The one that has most to see is opened first.
  .sort((a, b) => Number(b.startsWith('crab')) - Number(a.startsWith('crab')))
  .map((name) => `reels/${name}`);

console.log('Building …');
must(node, [...tsc, '-b']);

console.log('\n$ unspool check reels/*.reel.json');
must(node, [...unspool, 'check', ...reels], game);

console.log('\n$ unspool sample reels/crab.reel.json snap --every 3f');
run(node, [...unspool, 'sample', 'reels/crab.reel.json', 'snap', '--every', '3f'], game);

console.log('');
must(node, [...vite, 'build', 'apps/workbench', '--logLevel', 'warn']);
const port = await freePort(wanted);
const vitePort = ['--host', '127.0.0.1', '--port', String(port), '--strictPort'];
const server = start(node, [...vite, ...vitePort, '--logLevel', 'warn'], game);
const workbench = start(node, [...unspool, 'edit', ...reels, '--pictures', 'public', '--port', '0'], game);
const children = [server, workbench];
const isRunning = (child) => child.exitCode === null && child.signalCode === null;
// However this ends, nothing of it stays behind.
process.on('exit', () => children.filter(isRunning).forEach((child) => child.kill('SIGKILL')));
let code = 0;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end(0));
workbench.on('exit', (status) => {
  if (status) console.log('The workbench could not be opened, or has ended; the game is there without it.');
});
server.on('exit', (status) => end(status ?? 0));
await answers(port);
console.log(`The game is served at http://127.0.0.1:${port}/  (Ctrl+C ends both)`);

/** Ends both: the workbench saves what is left to save first. */
function end(status) {
  code ||= status;
  for (const child of children) {
    if (isRunning(child)) child.kill('SIGTERM');
    child.once('exit', () => children.some(isRunning) || process.exit(code));
  }
  if (!children.some(isRunning)) process.exit(code);
  setTimeout(() => process.exit(code), 10_000).unref();
}

/** The first port from `port` on that nobody listens on. */
async function freePort(port) {
  const free = await new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
  if (free) return port;
  if (port === LAST_PORT) {
    console.error(`No port from ${wanted} to ${LAST_PORT} is free.`);
    process.exit(2);
  }
  console.log(`Port ${port} is taken; trying ${port + 1}.`);
  return freePort(port + 1);
}

/** Waits until the server answers, so that the printed address works at once. */
async function answers(port) {
  for (let tries = 0; tries < 100; tries++) {
    try {
      if ((await fetch(`http://127.0.0.1:${port}/`)).ok) return;
    } catch {
      // not yet
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  console.error('The server did not answer within 10 s.');
  end(1);
}
