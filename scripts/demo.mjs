/**
 * `npm run demo`: builds, shows what the command line says of the demo reels, and serves the example game with the
 * workbench beside it: each step there is in the running game at once, and its players are watched and led there. The
 * other examples are served beside it.
 */
import { readdirSync } from 'node:fs';
import { installPackages, must, root, run, tool } from './steps.mjs';

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
const { createLogger, createServer } = await import('vite');
// What the workbench says is printed; of the server only what is wrong.
const logger = createLogger('info', { allowClearScreen: false });
const info = logger.info.bind(logger);
logger.info = (message, options) => /➜/.test(message) && info(message, options);
const server = await createServer({
  root: game.cwd,
  customLogger: logger,
  server: { host: '127.0.0.1', port: wanted },
});
const others = await Promise.all(
  ['lagoon', 'harbor-board'].map(async (name) => {
    const other = await createServer({
      root: `${root}examples/${name}`,
      logLevel: 'error',
      server: { host: '127.0.0.1', port: wanted + 1 },
    });
    return { name, other };
  }),
);
let isEnding = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, end);
await server.listen();
const { port } = server.httpServer.address();
if (port !== wanted) console.log(`Port ${wanted} is taken; using ${port}.`);
console.log(`The game is served at http://127.0.0.1:${port}/  (Ctrl+C ends it and the workbench)`);
for (const { name, other } of others) {
  await other.listen();
  console.log(`The example ${name} is at http://127.0.0.1:${other.httpServer.address().port}/`);
}

/** Ends the server, and with it the workbench, which saves what is left to save by itself. */
async function end() {
  if (isEnding) return;
  isEnding = true;
  setTimeout(() => process.exit(), 10_000).unref();
  await Promise.all([server, ...others.map(({ other }) => other)].map((one) => one.close()));
  process.exit();
}
