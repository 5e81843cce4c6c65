/**
 * The README, followed to the letter in an empty folder, with the packages as they would be published: its commands, its
 * programs, and its page in Chromium, which has to move.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from 'playwright';
import { createServer } from 'vite';
import { chromium as launch } from './chromium.mjs';
import { packedProject } from './packed.mjs';
import { root } from './steps.mjs';

const project = packedProject();
const text = readFileSync(join(root, 'README.md'), 'utf8');
const blocks = [...text.matchAll(/^```(\w+)\n([\s\S]*?)^```$/gm)].map(([, language, content]) => ({
  language,
  content,
}));
let failed = false;

function say(name, ok, detail = '') {
  console.log(`${ok ? 'ok    ' : 'FAILED'}  ${name}`);
  if (ok) return;
  failed = true;
  console.log(detail);
}

function run(name, ...args) {
  const { status, stdout, stderr } = spawnSync(process.execPath, args, { cwd: project, encoding: 'utf8' });
  say(name, status === 0, `${stdout}${stderr}`);
}

const UNSPOOL = join('node_modules', '@unspool', 'cli', 'bin', 'unspool.js');
for (const [index, { language, content }] of blocks.entries()) {
  if (language === 'sh') {
    for (const line of content.trim().split('\n')) run(line, UNSPOOL, ...line.split(' ').slice(1));
  } else if (language === 'js') {
    const file = `program-${index}.mjs`;
    writeFileSync(join(project, file), content);
    run(`the program: ${content.trim().split('\n').at(-1)}`, file);
  } else if (language === 'html') {
    writeFileSync(join(project, 'index.html'), content);
    await open();
  }
}
// What the steps above have left is a reel without a fault.
run('unspool check crab.reel.json --strict, at the end', UNSPOOL, 'check', 'crab.reel.json', '--strict');
rmSync(project, { recursive: true });
process.exit(failed ? 1 : 0);

/** Opens the page a few times, as a browser does: what it draws has to change, and nothing to fail. */
async function open() {
  const server = await createServer({ root: project, configFile: false, logLevel: 'error', server: { port: 0 } });
  await server.listen();
  const browser = await chromium.launch(launch);
  for (let time = 1; time <= 3; time++) {
    const page = await browser.newPage();
    const faults = [];
    page.on('pageerror', (error) => faults.push(error.message));
    await page.goto(server.resolvedUrls.local[0]);
    await page.waitForSelector('canvas');
    const drawn = new Set();
    for (let i = 0; i < 100 && drawn.size < 5; i++) {
      drawn.add(await page.evaluate(() => globalThis.document.querySelector('canvas').toDataURL()));
      await page.waitForTimeout(50);
    }
    say(`the page moves (${time})`, drawn.size >= 5 && faults.length === 0, `${drawn.size} pictures; ${faults.join()}`);
    await page.close();
  }
  await browser.close();
  await server.close();
}
