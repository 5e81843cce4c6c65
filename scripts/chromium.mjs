/* global window */
import { existsSync } from 'node:fs';
import { chromium as playwright } from 'playwright';

const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** The Chromium that CHROMIUM names, else one where Linux puts it, else the one that Playwright has installed. */
export function findChromium() {
  const all = [process.env.CHROMIUM, ...BROWSERS, playwright.executablePath()];
  return all.find((path) => path && existsSync(path));
}

const executablePath = findChromium();

/**
 * The page of most tests. Its layout is that of a screen of this size, but each pixel drawn stands for 16: drawing in
 * software takes most of the time of a page, and few tests look at pixels.
 */
export const coarse = { viewport: { width: 1280, height: 800 }, deviceScaleFactor: 0.25 };

/**
 * Lets what a page loads from now on draw some 25 frames a second: software draws sixty of a game with more than one core.
 *
 * @param {import('playwright').Page} page
 */
export function drawFewFrames(page) {
  return page.addInitScript(() => {
    const next = window.requestAnimationFrame.bind(window);
    const waiting = new Set();
    window.requestAnimationFrame = (run) => {
      const id = window.setTimeout(() => next((now) => waiting.delete(id) && run(now)), 30);
      waiting.add(id);
      return id;
    };
    window.cancelAnimationFrame = (id) => waiting.delete(id);
  });
}

/**
 * What Chromium leaves out. The list below its address bar is a page of hundreds of modules, twice in every new window:
 * it took more than a third of the time of opening a page. The other names are those that Playwright leaves out, as only the
 * last switch of this kind counts.
 */
const WITHOUT = [
  ...['WebUIOmniboxPopup', 'WebUIOmniboxAimPopup', 'WebUIOmniboxFullPopup'],
  ...['AvoidUnnecessaryBeforeUnloadCheckSync', 'DestroyProfileOnBrowserClose', 'HttpsFirstBalancedModeAutoEnable'],
  ...['HttpsUpgrades', 'LensOverlay', 'MediaRouter', 'NetworkTimeServiceQuerying', 'OptimizationHints', 'PaintHolding'],
  ...['AimEnabled', 'PreconnectToSearch', 'ThirdPartyStoragePartitioning'],
];

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
    `--disable-features=${WITHOUT.join(',')}`,
  ],
};
