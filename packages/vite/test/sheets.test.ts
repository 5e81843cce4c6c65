import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build, createServer } from 'vite';
import { afterAll, expect, test } from 'vitest';
import { unspool } from '../src/index.js';

const ROOT = fileURLToPath(new URL('../../../', import.meta.url));
const TIDEPOOL = join(ROOT, 'examples/tidepool');
mkdirSync(join(ROOT, '.tsout'), { recursive: true });
const folder = mkdtempSync(join(ROOT, '.tsout/sheets-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A game whose reel names the image of a sheet beside it. */
cpSync(join(TIDEPOOL, 'reels/crab.reel.json'), join(folder, 'crab.reel.json'));
cpSync(join(TIDEPOOL, 'public/crab.png'), join(folder, 'crab.png'));
writeFileSync(join(folder, 'index.html'), '<script type="module" src="./main.js"></script>');
writeFileSync(
  join(folder, 'main.js'),
  "import crab from './crab.reel.json';\nconsole.log(crab.sheetOf('crab').image);\n",
);
const warnings: string[] = [];
const quiet = () => undefined;
const customLogger = { info: quiet, error: quiet, clearScreen: quiet, hasErrorLogged: () => false, hasWarned: false, warn: (text: string) => void warnings.push(text), warnOnce: quiet }; // prettier-ignore
const options = {
  ...{ root: folder, configFile: false as const, base: './', customLogger },
  // The library from its sources, as in the other tests.
  resolve: { conditions: ['unspool-source', 'module', 'browser', 'development|production'] },
  plugins: [unspool({ types: false })],
};

test('the image of a sheet is an asset of the build, and its address in the reel', async () => {
  await build(options);
  const assets = readdirSync(join(folder, 'dist/assets'));
  const image = assets.find((name) => /^crab-.*\.png$/.test(name))!;
  expect(readFileSync(join(folder, 'dist/assets', image))).toEqual(readFileSync(join(folder, 'crab.png')));
  const code = readFileSync(
    join(
      folder,
      'dist/assets',
      assets.find((name) => name.endsWith('.js'))!,
    ),
    'utf8',
  );
  expect(code).toContain(image);
  expect(warnings).toEqual([]);
});

test('in development it is served; one that is not there is said, and left as it is', async () => {
  const server = await createServer({ ...options, server: { middlewareMode: true, ws: false, watch: null } });
  const code = async () => (await server.environments.client.transformRequest('/crab.reel.json.js'))!.code;
  expect(await code()).toContain('from "/crab.png?import&url"');
  await server.close();
  rmSync(join(folder, 'crab.png'));
  const other = await createServer({ ...options, server: { middlewareMode: true, ws: false, watch: null } });
  const without = (await other.environments.client.transformRequest('/crab.reel.json.js'))!.code;
  expect(without).not.toContain('?url');
  await other.close();
  expect(warnings.join()).toContain('crab.reel.json: the image "crab.png" of a sheet is not there');
});
