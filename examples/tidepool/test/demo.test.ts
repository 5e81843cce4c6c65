import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium, type Browser, type Page } from 'playwright';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { chromium as launch, coarse, drawFewFrames } from '../../../scripts/chromium.mjs';

/** The demo as a newcomer starts it: the game from its sources, and the workbench beside it. */
const DEMO = fileURLToPath(new URL('../../../scripts/demo.mjs', import.meta.url));

let taken: Server;
let demo: ChildProcess;
let printed = '';
let address = '';
let browser: Browser;
let page: Page;
const faults: string[] = [];

beforeAll(async () => {
  taken = createServer();
  await new Promise<void>((resolve) => taken.listen(0, '127.0.0.1', resolve));
  const { port } = taken.address() as AddressInfo;
  const env = { ...process.env, PORT: String(port), UNSPOOL_STATE: mkdtempSync(join(tmpdir(), 'unspool-demo-')) };
  demo = spawn(process.execPath, [DEMO, '--built'], { env });
  address = await new Promise<string>((resolve, reject) => {
    const read = (chunk: Buffer) => {
      printed += chunk.toString();
      const found = /served at (http:\S+)/.exec(printed)?.[1];
      if (found) resolve(found);
    };
    demo.stdout!.on('data', read);
    demo.stderr!.on('data', read);
    demo.on('exit', () => reject(new Error(`the demo ended early:\n${printed}`)));
  });
  browser = await chromium.launch(launch);
  page = await browser.newPage(coarse);
  // Without a graphics card, and with other tests beside it, a page may draw but a few frames a second.
  page.setDefaultTimeout(150_000);
  page.on('pageerror', (error) => faults.push(error.message));
  page.on('console', (message) => message.type() === 'error' && faults.push(message.text()));
  await drawFewFrames(page);
  await page.goto(address);
  await page.waitForSelector('body[data-ready]');
});

afterAll(async () => {
  await browser?.close();
  demo?.kill();
  taken?.close();
});

test('the demo checks the reels, shows values, goes to the next port, and prints its address', () => {
  expect(printed).toContain('9 reels checked: no problems');
  expect(printed).toMatch(/frame +seconds +claw.rotation/);
  expect(printed).toMatch(/Port \d+ is taken; using \d+\./);
});

test('the workbench beside it lists its players, and shows the crab as the game plays it', async () => {
  await expect.poll(() => printed, { timeout: 60_000 }).toMatch(/Workbench: http:\S+#\w+/);
  const bench = await browser.newPage(coarse);
  bench.setDefaultTimeout(150_000);
  await bench.goto(/Workbench: (http:\S+)/.exec(printed)![1]!);
  await bench.getByRole('tab', { name: 'game' }).click();
  const watch = (name: string) => bench.getByRole('button', { name: `Watch ${name} of Tidepool` });
  for (const name of ['jelly', 'gate', 'pearl']) await watch(name).waitFor();
  await watch('crab').click();
  const duration = () => bench.getByLabel('Duration', { exact: true }).inputValue();
  await expect.poll(duration, { timeout: 60_000 }).toBe('48f'); // it sways
  await page.keyboard.down('ArrowRight');
  await page.waitForSelector('tr[data-reel="crab"][data-clip="scuttle-right"]');
  await expect.poll(duration, { timeout: 60_000 }).toBe('24f');
  await page.keyboard.up('ArrowRight');
  // The crab is in a hit world: that stands still with it.
  await bench.getByRole('button', { name: /^Pause the game/ }).click();
  await bench.getByRole('button', { name: /^Resume the game/ }).waitFor();
  const frame = () => page.locator('tr[data-reel="crab"] td:nth-child(3)').textContent();
  const before = await frame();
  await page.waitForTimeout(500);
  expect(await frame()).toBe(before);
  await bench.close();
  await expect.poll(frame, { timeout: 60_000 }).not.toBe(before);
  expect(faults).toEqual([]);
});
