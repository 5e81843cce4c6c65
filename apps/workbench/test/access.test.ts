import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from 'playwright';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeBrowser, openPage, saved, Workbench } from './workbench.js';

const workbench = new Workbench(['crab', 'gate']);
let page: Page;
let faults: string[];
let before: string;

beforeAll(async () => {
  before = workbench.read();
  await workbench.start();
  ({ page, faults } = await openPage(workbench.address));
  await page.getByRole('button', { name: 'snap', exact: true }).click();
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
});

/** What axe-core finds that is serious or worse, each with where. */
async function seriousFaults(): Promise<readonly string[]> {
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 160)}`));
}

describe('for everybody', () => {
  it.each(['light', 'dark'] as const)('axe finds no serious fault on any panel, %s', async (colorScheme) => {
    await page.emulateMedia({ colorScheme });
    const found: string[] = [];
    for (const place of ['clips', 'roles', 'sheets', 'routines', 'try-out', 'advice', 'history']) {
      await page.getByRole('tab', { name: place }).click();
      for (const fault of await seriousFaults()) found.push(`${place}: ${fault}`);
    }
    expect(found).toEqual([]);
    expect(faults).toEqual([]);
  });

  it('a finger finds every control: 44 px where the pointer is coarse; nothing is lost at 1000 × 640', async () => {
    const browser = page.context().browser()!;
    const touch = await browser.newPage({ viewport: { width: 1280, height: 800 }, hasTouch: true, isMobile: true });
    await touch.goto(workbench.address);
    await touch.getByRole('button', { name: 'snap', exact: true }).tap();
    await touch.locator('.track-name[title^="claw.rotation:"]').tap();
    const small = await touch.locator('button, select, input, [role="tab"]').evaluateAll((list) =>
      list.flatMap((element) => {
        const { width, height } = element.getBoundingClientRect();
        // Handles are grabbed from farther than they look; a picture in a field and a box of a check lie in larger ones.
        const isLarge = height >= 43.5 || width === 0 || element.matches('.handle, .cell, [type="checkbox"]');
        return isLarge ? [] : [`${element.className} ${element.getAttribute('aria-label') ?? element.textContent}`];
      }),
    );
    expect(small).toEqual([]);
    await touch.close();
    const narrow = await browser.newPage({ viewport: { width: 1000, height: 640 } });
    await narrow.goto(workbench.address);
    await narrow.getByRole('button', { name: 'snap', exact: true }).click();
    const lost = await narrow.locator('.transport *, .top-bar *, .stage-bar *, .key-line *').evaluateAll((list) =>
      list.flatMap((element) => {
        const { right, bottom, width } = element.getBoundingClientRect();
        return width > 0 && (right > innerWidth + 1 || bottom > innerHeight + 1)
          ? [element.outerHTML.slice(0, 80)]
          : [];
      }),
    );
    expect(lost).toEqual([]);
    await narrow.close();
  });

  it('nor with a selected key, recording, or in a dialog', async () => {
    await page.keyboard.press('Control+a');
    expect(await seriousFaults(), 'keys').toEqual([]);
    await page.getByRole('button', { name: /^Easing/ }).click();
    await page.getByRole('dialog').waitFor();
    expect(await seriousFaults(), 'easings').toEqual([]);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Escape');
    await page.keyboard.press('r');
    expect(await seriousFaults(), 'recording').toEqual([]);
    await page.keyboard.press('r');
    for (const key of ['Control+k', '?', 'Alt+n', 'c']) {
      await page.keyboard.press(key);
      await page.getByRole('dialog').waitFor();
      expect(await seriousFaults(), key).toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
    }
    expect(faults).toEqual([]);
  });

  it('a screen reader gets the keys of a row, and what was done', async () => {
    await page.keyboard.press('t');
    await page.keyboard.press('ArrowDown');
    const keys = page.getByRole('listbox', { name: 'Keys of crab.rotation, 4' });
    expect(await keys.getByRole('option').allTextContents()).toEqual([
      '0f: 0, quad-out',
      '12f: -6, expo-in',
      '15f: 5, elastic-out',
      '30f: 0, linear',
    ]);
    await page.keyboard.press('Home');
    await page.keyboard.press('Enter');
    await keys.getByRole('option', { selected: true }).filter({ hasText: '0f: 0' }).waitFor();
    await page.keyboard.press('Delete');
    await page.getByRole('status').filter({ hasText: 'removed 1 key of crab.rotation' }).waitFor();
    await page.keyboard.press('Control+z');
  });

  it('axe finds nothing in popovers, or with pictures behind the cast', async () => {
    await page.getByLabel('Background', { exact: true }).selectOption('pool.png');
    await page.getByLabel('Reference', { exact: true }).selectOption('urchin.png');
    await page.getByRole('tab', { name: 'clips' }).click();
    for (const name of [/^More options of the clip snap/, /: options in victory$/]) {
      await page.getByRole('button', { name }).first().click();
      await page.getByRole('dialog').waitFor();
      expect(await seriousFaults(), String(name)).toEqual([]);
      await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
    }
    await page.getByRole('button', { name: 'claw', exact: true }).click();
    await page.locator('.track-name[title^="claw.pincer:"]').click();
    await page.getByLabel('Playhead', { exact: true }).fill('13');
    await page.keyboard.press('Enter');
    await page.getByRole('group', { name: 'claw.pincer at the playhead' }).waitFor();
    expect(await seriousFaults(), 'shape').toEqual([]);
    await page.getByLabel('Background', { exact: true }).selectOption('none');
    await page.getByLabel('Reference', { exact: true }).selectOption('none');
    expect(faults).toEqual([]);
  });
});

describe('every command', () => {
  /** The names in the list of commands: it has the rows in view, and is scrolled through. */
  async function listed(): Promise<readonly string[]> {
    await page.keyboard.press('Control+k');
    await page.getByRole('menuitem').first().waitFor();
    const found = await page.getByRole('menu', { name: 'Commands' }).evaluate(async (list) => {
      const names = new Set<string>();
      for (let top = 0; top <= list.scrollHeight; top += list.clientHeight / 2) {
        list.scrollTop = top;
        for (let i = 0; i < 2; i++) await new Promise((resolve) => requestAnimationFrame(resolve));
        for (const { textContent } of list.querySelectorAll('[role=menuitem] .name')) names.add(textContent);
      }
      return [...names];
    });
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    return found;
  }

  it('can be run at any time, and breaks nothing', async () => {
    const all = await listed();
    expect(all.length).toBeGreaterThan(100);
    // Of those that differ by a name of the reel or a picture, two.
    const FAMILIES = [/^Add .* as a part/, /^Add a sheet from /, /^Add a polygon with /];
    const names = all.filter((name) => {
      if (/^(Open|Go to clip|Find) /.test(name)) return false;
      const family = all.filter((other) => FAMILIES.some((one) => one.test(name) && one.test(other)));
      return family.indexOf(name) < 2;
    });
    expect(names.length).toBeGreaterThan(80);
    for (const name of names) {
      await page.keyboard.press('Control+a');
      await page.keyboard.press('Control+k');
      const field = page.getByPlaceholder('Search commands');
      await field.fill(name);
      // As a screen reader runs it: without a way of the pointer there.
      await page
        .getByRole('menuitem')
        .filter({ has: page.getByText(name, { exact: true }) })
        .dispatchEvent('click');
      await field.waitFor({ state: 'detached' });
      // Those that ask something are asked nothing.
      await page.evaluate(() => new Promise((resolve) => setTimeout(resolve, 30)));
      if ((await page.getByRole('dialog').count()) > 0) await page.keyboard.press('Escape');
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
      expect(faults, name).toEqual([]);
    }
    await saved(page);
    expect(workbench.unspool('check', workbench.file())).toMatchObject({ exit: 0 });
    // And all of it can be taken back.
    await page.getByRole('tab', { name: 'history' }).click();
    const count = Number(/^(\d+) steps/.exec((await page.locator('.steps').getAttribute('aria-label'))!)![1]);
    for (let i = 0; i < count; i++) await page.keyboard.press('Control+z');
    await expect.poll(() => workbench.read(), { timeout: 30_000 }).toBe(before);
  });
});
