/**
 * `npm run demo`: builds, shows what the command line says of the demo reels, and serves the example game, and the
 * workbench on its reels: what is saved there, the game plays anew at once.
 */
import { readdirSync } from 'node:fs';
import { installPackages, must, root, run, start, tool } from './steps.mjs';

const FIRST_PORT = 4321;

const wanted = process.env.PORT ? Number(process.env.PORT) : FIRST_PORT;
if (!Number.isInteger(wanted) || wanted < 1 || wanted > 65535) {
  console.error(`PORT=${process.env.PORT} is no port: give a number from 1 to 65535.`);
  process.exit(2);
}

installPackages();

const [node, tsc] = tool('typescript/bin/tsc');
const unspool = [`${root}packages/cli/bin/unspool.js`];
const game = { cwd: `${root}examples/tidepool` };
const reels = readdirSync(`${game.cwd}/reels`)
  .filter((name) => name.endsWith('.reel.json'))
  // The one that has most to see is opened first.
  .sort((a, b) => Number(b.startsWith('crab')) - Number(a.startsWith('crab')))
  .map((name) => `reels/${name}`);

// `--built` takes what is built already.
if (!process.argv.includes('--built')) {
  console.log('Building …');
  must(node, [...tsc, '-b']);
  for (const folder of ['packages/cli', 'apps/workbench'])
    must(node, [...tool('vite/bin/vite.js')[1], 'build', folder, '--logLevel', 'warn']);
}

console.log('\n$ unspool check reels/*.reel.json');
must(node, [...unspool, 'check', ...reels], game);

console.log('\n$ unspool sample reels/crab.reel.json snap --every 3f');
run(node, [...unspool, 'sample', 'reels/crab.reel.json', 'snap', '--every', '3f'], game);

console.log('');
const { createServer } = await import('vite');
const server = await createServer({
  root: game.cwd,
  logLevel: 'warn',
  server: { host: '127.0.0.1', port: wanted },
});
await server.listen();
const { port } = server.httpServer.address();
if (port !== wanted) console.log(`Port ${wanted} is taken; using ${port}.`);
const workbench = start(node, [...unspool, 'edit', ...reels, '--pictures', 'public', '--port', '0'], game);
const isOpen = () => workbench.exitCode === null && workbench.signalCode === null;
// However this ends, nothing of it stays behind.
process.on('exit', () => isOpen() && workbench.kill('SIGKILL'));
let isEnding = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, end);
workbench.on('exit', (status) => {
  if (status && !isEnding) console.log('The workbench has ended; the game is there without it.');
});
console.log(`The game is served at http://127.0.0.1:${port}/  (Ctrl+C ends both)`);

/** Ends both: the workbench saves what is left to save first. */
function end() {
  isEnding = true;
  if (!isOpen()) process.exit();
  workbench.once('exit', () => process.exit());
  workbench.kill('SIGTERM');
  setTimeout(() => process.exit(), 10_000).unref();
}
