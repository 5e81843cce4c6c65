import type { Page } from 'playwright';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { closeBrowser, dragOn, openPage, placesOn, savedReel, type, undoAll, Workbench } from './workbench.js';

/** Keys are commands, whatever was clicked before; the playhead stands on frames; Escape lets go; nothing odd is taken. */

const workbench = new Workbench(['crab', 'starter']);
let page: Page;
let faults: string[];

beforeAll(async () => {
  expect(workbench.unspool('new', workbench.file('starter')).exit).toBe(0);
  await workbench.start();
});

beforeEach(async () => {
  ({ page, faults } = await openPage(workbench.address, 'reel=crab'));
  await page.getByRole('button', { name: 'snap', exact: true }).click();
});

afterEach(async () => {
  expect(faults).toEqual([]);
  await undoAll(page);
  await page.close();
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
});

const keys = async (track: string, clip = 'snap') =>
  ((await savedReel(page, workbench)).clips[clip]!.tracks?.[track] ?? []) as readonly { at: unknown; value: unknown }[];
const playing = () => page.getByRole('button', { name: 'Stop (Space)' }).count();
const playhead = () => page.getByLabel('Playhead', { exact: true }).inputValue();
const focused = () => page.evaluate(() => document.activeElement?.tagName);
const status = () => page.getByTestId('status').textContent();

describe('what was clicked does not keep the keyboard', () => {
  it.each([
    ['a row’s key button', () => page.getByRole('button', { name: /^Add a key of claw.rotation/ }).click()],
    ['Record', () => page.getByRole('button', { name: 'Record', exact: true }).click()],
    ['a tab', () => page.getByRole('tab', { name: 'roles' }).click()],
    ['a clip', () => page.getByRole('button', { name: 'sway', exact: true }).click()],
    [
      'the list of rates',
      () =>
        page
          .locator('label')
          .filter({ hasText: /^Preview rate/ })
          .locator('select')
          .selectOption('0.5'),
    ],
    ['a row', () => page.locator('.track-name').first().click()],
  ])('%s: Space plays, and letters are commands', async (_, click) => {
    await type(page, 'Playhead', '5');
    await click();
    const before = await page.getByTestId('file').textContent();
    const recording = await page.getByRole('button', { name: 'Recording' }).count();
    await page.keyboard.press(' ');
    await expect.poll(playing).toBe(1);
    await page.keyboard.press(' ');
    await expect.poll(playing).toBe(0);
    await page.keyboard.press('Home');
    await page.keyboard.press('.');
    expect(await playhead()).toBe('1f');
    expect(await page.getByRole('button', { name: 'Recording' }).count()).toBe(recording);
    if (recording) await page.keyboard.press('r');
    expect(before).toBeTruthy();
  });

  it('a checkbox: it is switched once, by the click', async () => {
    await page.locator('.role-head').filter({ hasText: 'claw' }).first().click();
    const box = page.getByLabel('claw.visible', { exact: true });
    await page.keyboard.press('r');
    await box.click();
    await expect.poll(async () => (await keys('claw.visible')).at(-1)?.value).toBe(false);
    await page.keyboard.press(' ');
    await expect.poll(playing).toBe(1);
    await page.keyboard.press(' ');
    await page.keyboard.press('r');
    expect(await box.isChecked()).toBe(false);
  });

  it('what was reached with Tab keeps its Space; Escape gives the keyboard back', async () => {
    await page.getByRole('button', { name: 'Save', exact: true }).focus();
    await page.keyboard.press('Tab');
    await page.keyboard.press('Shift+Tab');
    await page.keyboard.press(' ');
    expect(await playing()).toBe(0);
    expect(await focused()).toBe('BUTTON');
    await page.keyboard.press('Escape');
    expect(await focused()).toBe('BODY');
    await page.keyboard.press(' ');
    await expect.poll(playing).toBe(1);
    await page.keyboard.press(' ');
  });
});

describe('the playhead', () => {
  it('is on a whole frame after playing stops; what is keyed then is keyed there', async () => {
    const stops = [
      () => page.keyboard.press(' '),
      () => page.getByRole('button', { name: 'Stop (Space)' }).click(),
      () => type(page, 'claw.rotation', '33'),
    ];
    await page.keyboard.press('r');
    for (const stop of stops) {
      await page.keyboard.press(' ');
      await page.waitForTimeout(190);
      await stop();
      await expect.poll(playing).toBe(0);
      expect(await playhead()).toMatch(/^\d+f$/);
    }
    await page.keyboard.press('r');
    for (const { at } of await keys('claw.rotation')) expect(String(at)).toMatch(/^(0|\d+f)$/);
  });

  it('that moves discards unkeyed values, and says so; so does another clip', async () => {
    await type(page, 'claw.rotation', '33');
    await page.getByText('1 unkeyed value').waitFor();
    await page.keyboard.press('.');
    expect(await status()).toContain('claw.rotation was discarded');
    expect(await page.getByText('1 unkeyed value').count()).toBe(0);
    await type(page, 'claw.rotation', '34');
    await page.getByRole('button', { name: 'sway', exact: true }).click();
    expect(await status()).toContain('claw.rotation was discarded');
  });
});

it('a new key is selected: Delete removes it, and not another', async () => {
  const { x, y } = await placesOn(page);
  await page.mouse.click(x(0), await y('claw.rotation'));
  await type(page, 'Playhead', '20');
  await page.keyboard.press('r');
  await type(page, 'claw.rotation', '21');
  await expect.poll(async () => (await keys('claw.rotation')).length).toBe(5);
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await keys('claw.rotation')).map(({ at }) => at)).toEqual([0, '12f', '15f', '30f']);
  await page.keyboard.press('r');
});

it('a shape that is turned on before its first key is not active from the start', async () => {
  const before = await keys('claw.pincer');
  await type(page, 'Playhead', '5');
  await page.getByRole('button', { name: /^off: claw.pincer/ }).click();
  await expect.poll(async () => (await keys('claw.pincer'))[0]?.at).toBe('5f');
  expect((await keys('claw.pincer')).length).toBe(before.length + 1);
});

it('a new shape is moved by its middle, also where it lies on the place of its role', async () => {
  await type(page, 'Playhead', '5');
  await page.getByRole('button', { name: /^off: claw.pincer/ }).click();
  await page.locator('.role-head').filter({ hasText: 'claw' }).first().click();
  await page.keyboard.press('r');
  const box = (await page.getByRole('button', { name: 'claw.pincer: center' }).boundingBox())!;
  const middle = [box.x + box.width / 2, box.y + box.height / 2] as const;
  await dragOn(page, middle, [middle[0] + 30, middle[1] + 10]);
  await page.keyboard.press('r');
  const first = (await keys('claw.pincer'))[0] as { value?: { center?: readonly number[] } } | undefined;
  expect(first?.value?.center?.[0]).toBeGreaterThan(0);
  expect(await keys('claw.position')).toEqual([]);
});

describe('Escape cancels a drag', () => {
  it('in the rows: the key is where it was', async () => {
    const { x, y } = await placesOn(page);
    const row = await y('claw.rotation');
    await page.mouse.move(x(12), row);
    await page.mouse.down();
    await page.mouse.move(x(18), row, { steps: 4 });
    await page.keyboard.press('Escape');
    await page.mouse.move(x(20), row);
    await page.mouse.up();
    expect((await keys('claw.rotation')).map(({ at }) => at)).toEqual([0, '12f', '15f', '30f']);
  });

  it('on the stage: the role is where it was, and nothing is recorded', async () => {
    const before = JSON.stringify((await savedReel(page, workbench)).clips['snap']);
    await page.keyboard.press('r');
    const box = (await page.getByTestId('stage').boundingBox())!;
    const middle = [box.x + box.width / 2, box.y + box.height / 2] as const;
    await page.mouse.move(...middle);
    await page.mouse.down();
    await page.mouse.move(middle[0] + 40, middle[1] + 20, { steps: 4 });
    await page.keyboard.press('Escape');
    await page.mouse.move(middle[0] + 60, middle[1] + 20);
    await page.mouse.up();
    await page.keyboard.press('r');
    expect(JSON.stringify((await savedReel(page, workbench)).clips['snap'])).toBe(before);
  });
});

it('E replaces the easing; letters run no commands in a frame selection', async () => {
  const { x, y } = await placesOn(page);
  await page.mouse.click(x(12), await y('claw.rotation'));
  await page.keyboard.press('e');
  await page.keyboard.type('hold');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await keys('claw.rotation'))[1]).toMatchObject({ at: '12f', ease: 'hold' });
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'sway', exact: true }).click();
  const rows = Object.entries((await savedReel(page, workbench)).clips).find(([, { tracks = {} }]) =>
    Object.entries(tracks).some(([name, track]) => name === 'body.frame' && JSON.stringify(track).includes('"frames"')),
  )![0];
  await page.getByRole('button', { name: rows, exact: true }).click();
  await page
    .getByRole('button', { name: 'body.frame' })
    .first()
    .click()
    .catch(() => {});
  await page.keyboard.press('Control+a');
  await page.keyboard.press('e');
  await page.keyboard.type('linear');
  expect(await page.getByRole('button', { name: 'Recording' }).count()).toBe(0);
  await page.keyboard.press('Escape');
});

describe('an invalid value or clip option is reported, and not accepted', () => {
  it('a duration of many years, or below 0', async () => {
    await page.getByRole('button', { name: 'hurt', exact: true }).click();
    await type(page, 'Duration', '99999999999');
    expect(await status()).toContain('the limit is 86400');
    await type(page, 'Duration', '-5');
    expect(await status()).toContain('Duration: -5 is out of range. Enter 0f or more');
    expect((await savedReel(page, workbench)).clips['hurt']!.duration).toBe('18f');
    // As long as may be, it is still drawn at once.
    const begun = Date.now();
    await type(page, 'Duration', '80000s');
    await expect.poll(async () => (await savedReel(page, workbench)).clips['hurt']!.duration).not.toBe('18f');
    await page.keyboard.press('Home');
    await page.keyboard.press('0');
    expect(await playhead()).toBe('0f');
    expect(Date.now() - begun).toBeLessThan(20_000);
  });

  it('an opacity or a length below 0', async () => {
    await page.keyboard.press('r');
    await page.locator('.role-head').filter({ hasText: 'claw' }).first().click();
    await type(page, 'claw.opacity', '-5');
    expect(await status()).toContain('claw.opacity: -5 is out of range. Enter a value from 0 to 1');
    await type(page, 'claw.opacity', '0.5');
    await expect.poll(async () => (await keys('claw.opacity')).length).toBeGreaterThan(0);
    await page.keyboard.press('r');
    await page.keyboard.press('Escape');
    await type(page, 'Playhead', '13');
    await page.locator('.track-name').filter({ hasText: 'pincer' }).click();
    await type(page, 'claw.pincer size x', '-5');
    expect(await status()).toContain('claw.pincer size x: -5 is out of range. Enter 0 or more');
  });
});

it('clicks on one place go from role to role, and the body of a new reel can be taken hold of', async () => {
  const here = page.locator('.role-head.is-here .name');
  const besideHandle = async (role: string) => {
    const box = (await page.getByRole('button', { name: `${role}: position` }).boundingBox())!;
    return [box.x + box.width / 2 + 16, box.y + box.height / 2 + 4] as const;
  };
  const select = async (role: string) => {
    while ((await here.textContent().catch(() => '')) !== role) await page.keyboard.press(']');
  };
  await page.keyboard.press(']');
  await select('claw');
  const joint = await besideHandle('claw');
  const seen = new Set<string>();
  for (let i = 0; i < 3; i++) {
    await page.mouse.click(...joint);
    seen.add((await here.textContent())!);
  }
  // The claw lies on the body there.
  expect([...seen]).toEqual(expect.arrayContaining(['body', 'claw']));
  await page.close();
  ({ page, faults } = await openPage(workbench.address, 'reel=starter'));
  await page.getByRole('button', { name: 'snap', exact: true }).click();
  await page.keyboard.press(']');
  const spot = await besideHandle('body');
  await page.keyboard.press('[');
  await page.mouse.click(...spot);
  await page.locator('.role-head.is-here').filter({ hasText: 'body' }).waitFor();
  await page.keyboard.press('r');
  await dragOn(page, spot, [spot[0] + 30, spot[1]]);
  await expect
    .poll(async () => Object.keys((await savedReel(page, workbench, 'starter')).clips['snap']!.tracks!))
    .toContain('body.position');
  await page.keyboard.press('Control+z');
});

it('a command that is typed faster than the list follows runs on Enter', async () => {
  const devtools = await page.context().newCDPSession(page);
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: 6 });
  for (let i = 0; i < 3; i++) {
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('Search commands').waitFor();
    await page.keyboard.type('Go to end');
    await page.keyboard.press('Enter');
    await page.getByRole('dialog').waitFor({ state: 'detached', timeout: 10_000 });
    expect(await page.getByLabel('Playhead', { exact: true }).inputValue()).toBe('30f');
    await page.keyboard.press('Home');
  }
});
