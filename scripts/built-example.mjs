/** An example as players get it, for tests: built, served, and opened in Chromium. */
import { fileURLToPath } from 'node:url';
import { chromium } from 'playwright';
import { build, preview } from 'vite';
import { chromium as launch, coarse, drawFewFrames } from './chromium.mjs';

/** @typedef {import('playwright').BrowserContextOptions & { everyFrame?: boolean }} PageOptions `everyFrame`: frames are measured */

/** @param {string} name of a folder in examples/ */
export async function serveExample(name) {
  const root = fileURLToPath(new URL(`../examples/${name}`, import.meta.url));
  await build({ root, logLevel: 'error' });
  const server = await preview({ root, configFile: false, preview: { port: 0, host: '127.0.0.1' } });
  const browser = await chromium.launch(launch);
  return {
    /**
     * A page in a context of its own, once it is ready. Close its context after use: it draws as long as it is open.
     *
     * @param {string} query added to the address
     * @param {PageOptions} options
     * @param {string[]} faults receives what the page complains of
     * @param {string[]} heard the types of messages on its console that are faults
     */
    async open(query, { everyFrame = false, ...options }, faults, heard = ['error']) {
      const context = await browser.newContext({ ...coarse, ...options });
      const page = await context.newPage();
      page.setDefaultTimeout(60_000);
      page.on('pageerror', (error) => faults.push(error.message));
      page.on('console', (message) => heard.includes(message.type()) && faults.push(message.text()));
      if (!everyFrame) await drawFewFrames(page);
      await page.goto(server.resolvedUrls.local[0] + query);
      await page.waitForSelector('body[data-ready]');
      return page;
    },
    async close() {
      await browser.close();
      await server.close();
    },
  };
}
