import { existsSync } from 'node:fs';
import { chromium as playwright } from 'playwright';

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** The Chromium that CHROMIUM names, else one where Linux puts it, else the one that Playwright has installed. */
export function findChromium() {
  const all = [process.env.CHROMIUM, ...BROWSERS, playwright.executablePath()];
  return all.find((path) => path && existsSync(path));
}

const executablePath = findChromium();

/** How the tests and the screenshots start Chromium: without a screen, with WebGL in software, without the network. */
export const chromium = {
  ...(executablePath && { executablePath }),
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--use-gl=angle',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};
