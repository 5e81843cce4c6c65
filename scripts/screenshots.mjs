/**
 * `npm run screenshots`: makes docs/screenshots anew from the demo data: pictures by `unspool draw`, the game in
 * Chromium, the workbench as it is while the snap is made, and the other commands in a terminal window (xterm under
 * Xvfb, both Debian's).
 */
import { spawn, spawnSync } from 'node:child_process';
import {
  appendFileSync,
  copyFileSync,
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright';
import { preview } from 'vite';
import { findBrowser, must, root, run, tool } from './steps.mjs';

const OUT = `${root}docs/screenshots`;
const GAME = `${root}examples/tidepool`;
const UNSPOOL = `${root}packages/cli/bin/unspool.js`;
const PACKAGE = `${root}packages/cli`;
const BROKEN = `${PACKAGE}/fixtures/broken`;
mkdirSync(OUT, { recursive: true });
process.env.CHROMIUM = await findBrowser();
const { chromium: launch } = await import('./chromium.mjs');

must(process.execPath, [...tool('typescript/bin/tsc')[1], '-b']);
must(process.execPath, [...tool('vite/bin/vite.js')[1], 'build', 'packages/cli', '--logLevel', 'warn']);
installDebian();
drawings();
await terminals();
await game();
await lagoon();
await board();
await workbench();
await starterGame();

function drawings() {
  const draw = (reel, clip, out, ...options) =>
    must(process.execPath, [UNSPOOL, 'draw', `reels/${reel}.reel.json`, clip, '-o', `${OUT}/${out}.png`, ...options], {
      cwd: GAME,
    });
  draw('crab', 'snap', 'draw-curves');
  draw('crab', 'snap', 'draw-keys', '--view', 'keys', '--theme', 'dark');
  draw('crab', 'snap', 'draw-shapes', '--view', 'shapes');
  draw('crab', 'crab', 'draw-routine', '--view', 'routine');
  draw('crab', 'snap', 'draw-poses', '--view', 'poses', '--pictures', 'public');
  const altered = `${mkdtempSync(join(tmpdir(), 'unspool-'))}/crab.reel.json`;
  copyFileSync(`${GAME}/reels/crab.reel.json`, altered);
  const snap = (...options) => must(process.execPath, [UNSPOOL, 'alter', altered, 'snap', ...options, '--write']);
  snap('--move', '2f', '--tracks', 'claw.rotation', '--from', '12f', '--until', '15f');
  snap('--scale', '1.2,0.8', '--tracks', 'claw.scale', '--at', '15f');
  snap('--value', '"#ff8800"', '--tracks', 'claw.tint', '--at', '15f');
  must(process.execPath, [
    UNSPOOL,
    'compare',
    `${GAME}/reels/crab.reel.json`,
    altered,
    'snap',
    '-o',
    `${OUT}/compare.png`,
  ]);
}

/** What makes pictures of terminal windows, and puts pictures together. */
function installDebian() {
  const needed = ['Xvfb', 'xterm', '/usr/bin/import', '/usr/bin/convert'];
  const missing = needed.filter((name) => spawnSync('which', [name]).status !== 0);
  if (missing.length > 0 && process.getuid?.() === 0 && existsSync('/etc/debian_version')) {
    const quiet = {
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      stdio: ['ignore', 'ignore', 'inherit'],
    };
    run('apt-get', ['update', '-qq'], quiet);
    run('apt-get', ['install', '-y', '-qq', 'xvfb', 'xterm', 'imagemagick', 'fonts-dejavu-core'], quiet);
  } else if (missing.length > 0) {
    console.error(
      `The pictures need ${missing.join(', ')}. Debian: apt-get install xvfb xterm imagemagick fonts-dejavu-core`,
    );
    process.exit(1);
  }
}

async function terminals() {
  await terminal('check', GAME, [
    'unspool check reels/*.reel.json',
    `cd ${BROKEN}; unspool check {unknown-role,misspelled-easing,wrong-types,same-time}.json`,
  ]);
  await terminal('show', GAME, ['unspool show reels/crab.reel.json snap']);
  await terminal('sample', GAME, [
    'unspool sample reels/crab.reel.json snap --every 3f',
    'unspool sample reels/gate.reel.json gate --every 15f --tracks "gate.*,wheel.*" --format csv',
    'rm -f /tmp/snap.css; unspool convert reels/crab.reel.json /tmp/snap.css snap',
  ]);
  await terminal('trace', GAME, [
    'unspool trace reels/crab.reel.json snap',
    'unspool trace reels/crab.reel.json scuttle-up --for 1s',
    'unspool trace reels/gate.reel.json --script scripts/gate.json --jitter 1',
  ]);
  await terminal('alter', GAME, [
    'unspool alter reels/crab.reel.json snap --move -2f --tracks claw.rotation --from 12f',
    'unspool alter reels/crab.reel.json cheer --stretch 1.25 --snap --tracks crab.rotation',
    'unspool alter reels/crab.reel.json emerge --copy peek --format json | head -4',
  ]);
  await terminal('advice', '/tmp', [
    `cp ${PACKAGE}/fixtures/advice.reel.json lamp.reel.json; unspool check lamp.reel.json --fix`,
  ]);
}

/** Runs commands one after the other in a terminal window, and takes a picture of it. */
async function terminal(name, cwd, commands) {
  const display = ':87';
  const env = { ...process.env, DISPLAY: display, FORCE_COLOR: undefined, NO_COLOR: undefined };
  const typed = commands.map(
    (command) =>
      `printf '\\033[1;36m$\\033[0m %s\\n' ${quoted(command.replace(/^(rm|cd|cp) [^;]*; /, ''))}; ${command}; echo`,
  );
  const script = `${root}.tsout/terminal.sh`;
  mkdirSync(`${root}.tsout`, { recursive: true });
  writeFileSync(
    script,
    `unspool() { ${process.execPath} ${UNSPOOL} "$@"; }\ncd ${cwd}\n${typed.join('\n')}\nsleep 60\n`,
  );
  const screen = spawn('Xvfb', [display, '-screen', '0', '1280x800x24'], { stdio: 'ignore' });
  await wait(800);
  const look = [
    '-fa',
    'DejaVu Sans Mono',
    '-fs',
    '10.5',
    '-bg',
    '#10181d',
    '-fg',
    '#e6ecef',
    '-geometry',
    '138x43+0+0',
    '-b',
    '14',
    '+sb',
  ];
  const window = spawn('xterm', [...look, '-e', 'bash', script], { env, stdio: 'ignore' });
  await wait(1500 + 900 * commands.length);
  must('/usr/bin/import', ['-window', 'root', `${OUT}/terminal-${name}.png`], { env });
  window.kill();
  screen.kill();
  await wait(400);
}

async function game() {
  must(process.execPath, [...tool('vite/bin/vite.js')[1], 'build', '--logLevel', 'warn'], { cwd: GAME });
  const server = await preview({ root: GAME, preview: { port: 4399, host: '127.0.0.1' }, logLevel: 'error' });
  const browser = await chromium.launch(launch);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
  await page.goto('http://127.0.0.1:4399/');
  await page.waitForSelector('body[data-ready]');
  await page.keyboard.press('g');
  await page.keyboard.down('ArrowRight');
  await wait(900);
  await page.keyboard.up('ArrowRight');
  // Paused, and on by single frames: the same picture however slow the machine is.
  await page.keyboard.press('p');
  await page.keyboard.press('Space');
  for (let i = 0; i < 26; i++) await page.keyboard.press('.');
  await wait(300);
  await page.screenshot({ path: `${OUT}/tidepool-light.png` });
  await browser.close();
  await server.close();
}

/** An example as it was built, in a page. */
async function inExample(name, query, colorScheme, look) {
  const folder = `${root}examples/${name}`;
  must(process.execPath, [...tool('vite/bin/vite.js')[1], 'build', '--logLevel', 'warn'], { cwd: folder });
  const server = await preview({ root: folder, configFile: false, preview: { port: 0, host: '127.0.0.1' } });
  const browser = await chromium.launch(launch);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
  await page.goto(server.resolvedUrls.local[0] + query);
  await page.waitForSelector('body[data-ready]');
  await look(page);
  await page.screenshot({ path: `${OUT}/${name}.png` });
  await browser.close();
  await server.close();
}

/** The boat is in sight, the first line is being typed. */
async function lagoon() {
  await inExample('lagoon', '?steady&gulls=1500', 'light', async (page) => {
    await page.keyboard.press(' ');
    await page.evaluate(() => {
      globalThis.story.player.playback.seek(9.9, { cues: true });
      globalThis.story.tick(0.6);
      globalThis.gulls.tick(9);
    });
    await wait(3000);
  });
}

/** Tools cool down, the hull was hit, the menu is open. */
async function board() {
  await inExample('harbor-board', '', 'dark', async (page) => {
    await page.keyboard.press('1');
    await wait(900);
    await page.keyboard.press('3');
    await page.keyboard.press('4');
    await wait(500);
    await page.click('#bump');
    await page.click('#bump');
    await page.keyboard.press('m');
    await wait(420);
  });
}

/** The workbench, light and dark: a whole page of each, and all panels in one picture. */
async function workbench() {
  must(process.execPath, [...tool('vite/bin/vite.js')[1], 'build', 'apps/workbench', '--logLevel', 'warn']);
  const browser = await chromium.launch(launch);
  for (const colorScheme of ['light', 'dark']) {
    const folder = mkdtempSync(join(tmpdir(), 'unspool-'));
    cpSync(`${GAME}/reels`, folder, { recursive: true });
    const env = { ...process.env, UNSPOOL_STATE: `${folder}/state` };
    const args = [UNSPOOL, 'edit', `${folder}/crab.reel.json`, '--pictures', `${GAME}/public`, '--port', '0'];
    const server = spawn(process.execPath, args, { env });
    const address = await new Promise((resolve) => {
      server.stdout.on('data', (chunk) => resolve(/(http:\S+)/.exec(chunk.toString())[1]));
    });
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
    await page.goto(address);
    await page.getByRole('button', { name: 'snap', exact: true }).click();
    await page.getByRole('button', { name: 'claw', exact: true }).click();
    const frame = async (text) => {
      await page.getByLabel('Playhead', { exact: true }).fill(text);
      await page.keyboard.press('Enter');
    };
    const shot = async (name, locator = page) => {
      await wait(700);
      await locator.screenshot({ path: `${folder}/${name}.png` });
    };
    // The key that opens the claw is chosen: its curve, its handles and its easing are shown.
    await frame('12');
    await page.getByRole('button', { name: 'rotation', exact: true }).last().click();
    await page.keyboard.press('t');
    await page.keyboard.press('Enter');
    if (colorScheme === 'light') {
      await page.getByLabel('Ghost poses').selectOption('±2');
      await shot('page');
    } else {
      await frame('18');
      await page.keyboard.press('r');
      await page.getByRole('button', { name: 'scale', exact: true }).last().click();
      await page.getByRole('button', { name: /^speed/ }).click();
      await page.getByRole('tab', { name: 'roles' }).click();
      await shot('page');
      await page.keyboard.press('r');
    }
    copyFileSync(`${folder}/page.png`, `${OUT}/workbench-${colorScheme}.png`);
    const panels = page.locator('.places');
    const places = ['clips', 'roles', 'sheets', 'routines', 'try-out', 'history', 'advice'];
    for (const place of colorScheme === 'light' ? places : []) {
      await page.getByRole('tab', { name: place }).click();
      if (place === 'sheets') {
        await page.getByRole('button', { name: 'Cell 32' }).press('Enter');
        for (let i = 33; i < 36; i++) await page.getByRole('button', { name: `Cell ${i}` }).press('Shift+Enter');
      }
      if (place === 'routines') await page.getByRole('button', { name: 'Give attack' }).press('Enter');
      if (place === 'try-out') {
        await page.getByRole('application', { name: /^Try-out/ }).focus();
        await page.keyboard.press('7');
      }
      if (place === 'history') {
        // A step to undo, and a turn that takes the longer direction, for advice.
        await page.keyboard.press('r');
        await frame('15');
        for (const [label, value] of [
          ['claw.rotation', '+4'],
          ['crab.rotation', '+200'],
        ]) {
          await page.getByLabel(label, { exact: true }).fill(value);
          await page.keyboard.press('Enter');
        }
        await page.keyboard.press('r');
        await page.keyboard.press('Control+z');
      }
      if (place === 'advice') await page.keyboard.press('Control+Shift+z');
      await shot(place, panels);
    }
    const row = (...names) => ['(', ...names.map((name) => `${folder}/${name}.png`), '+append', ')'];
    if (colorScheme === 'light') {
      const rows = [...row(...places.slice(0, 4)), ...row(...places.slice(4))];
      must('/usr/bin/convert', [...rows, '-background', '#ece6db', '-append', `${OUT}/workbench-panels.png`]);
    }
    await page.close();
    server.kill();
    await new Promise((resolve) => server.on('exit', resolve));
  }
  await browser.close();
}

/** The game that `unspool new game` writes, beside the workbench that leads it: its claw was turned by hand. */
async function starterGame() {
  const folder = `${mkdtempSync(join(tmpdir(), 'unspool-'))}/rock-pool`;
  must(process.execPath, [UNSPOOL, 'new', 'game', folder]);
  appendFileSync(join(folder, 'src/main.ts'), 'Object.assign(window, { claw });');
  symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'), 'junction');
  const env = { ...process.env, UNSPOOL_STATE: `${folder}/state` };
  const server = spawn(process.execPath, [...tool('vite/bin/vite.js')[1], '--port', '4398'], { cwd: folder, env });
  const address = await new Promise((resolve) => {
    let said = '';
    server.stdout.on('data', (chunk) => {
      const found = /Workbench: (http:\S+)/.exec((said += chunk.toString()));
      if (found) resolve(found[1]);
    });
  });
  const browser = await chromium.launch(launch);
  const game = await browser.newPage({ viewport: { width: 520, height: 400 } });
  await game.goto('http://localhost:4398/');
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
  await page.goto(address);
  await page.getByRole('tab', { name: 'game' }).click();
  await page.getByRole('button', { name: /^Watch crab/ }).click();
  await page.getByRole('button', { name: /^Pause the game/ }).waitFor();
  await page.getByRole('tab', { name: 'clips' }).click();
  await page.getByRole('button', { name: 'snap', exact: true }).click();
  await page.getByRole('tab', { name: 'game' }).click();
  await page.getByLabel('Playhead', { exact: true }).fill('12f');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^Resume the game/ }).waitFor();
  await wait(300);
  await game.evaluate(() => {
    globalThis.claw.rotation = -75;
  });
  await page.getByRole('list', { name: 'Not kept yet' }).waitFor();
  await wait(700);
  await page.screenshot({ path: `${folder}/workbench.png` });
  await game.screenshot({ path: `${folder}/game.png` });
  const both = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const image = (name) => `data:image/png;base64,${readFileSync(`${folder}/${name}.png`).toString('base64')}`;
  const frame = 'position:absolute;right:24px;bottom:24px;border:3px solid #24323a;border-radius:6px';
  await both.setContent(
    `<body style="margin:0"><img src="${image('workbench')}"><img style="${frame}" src="${image('game')}">`,
  );
  await both.screenshot({ path: `${OUT}/starter-game.png` });
  await browser.close();
  server.kill();
}

function quoted(text) {
  return `'${text.replaceAll("'", `'\\''`)}'`;
}

function wait(milliseconds) {
  return new Promise((resolve) => setTimeout(resolve, milliseconds));
}
