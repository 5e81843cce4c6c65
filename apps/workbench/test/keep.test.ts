import { chmodSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { Page } from 'playwright';
import type { ReelDocument } from 'unspool';
import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import { closeBrowser, openPage, saved, type, Workbench } from './workbench.js';

/** No work is lost: whatever dies, whoever else writes. */

let workbench: Workbench;
let page: Page;

beforeEach(async () => {
  workbench = new Workbench();
  await workbench.start();
  ({ page } = await openPage(workbench.address));
  await page.getByRole('button', { name: 'snap', exact: true }).click();
});

afterEach(async () => {
  await page.close();
  await workbench.remove();
});

afterAll(closeBrowser);

const keys = (track = 'claw.rotation') =>
  (JSON.parse(workbench.read()) as ReelDocument).clips['snap']!.tracks![track] as readonly {
    at: unknown;
    value: unknown;
  }[];

/** Sets the value of a key of the claw's rotation: the one at a frame. */
async function turn(on: Page, frame: number, value: string): Promise<void> {
  if ((await on.getByRole('button', { name: 'Recording' }).count()) === 0) await on.keyboard.press('r');
  await type(on, 'Playhead', String(frame));
  await type(on, 'claw.rotation', value);
}

/** What the page shows of the claw at a frame. */
async function shown(on: Page, frame: number): Promise<string> {
  await type(on, 'Playhead', String(frame));
  return on.getByLabel('claw.rotation', { exact: true }).inputValue();
}

/** Another program writes the file. */
function writeOutside(change: (text: string) => string): void {
  const before = workbench.read();
  const after = change(before);
  expect(after).not.toBe(before);
  writeFileSync(workbench.file(), after);
}

it('the token is not in the visible address, and still valid after a reload', async () => {
  expect(page.url()).not.toContain(workbench.token);
  await page.reload();
  await saved(page);
  expect(page.url()).toBe(`http://127.0.0.1:${workbench.port}/?reel=crab`);
});

describe('the server', () => {
  it('is killed in the middle: nothing is lost, and the page continues', async () => {
    const begun = workbench.read();
    await turn(page, 12, '-50');
    // Killed before the file is saved: what was done is in the journal alone.
    await expect.poll(() => page.locator('.file-mark').textContent()).toBe('saving …');
    await workbench.stop('SIGKILL');
    expect(workbench.read()).toBe(begun);
    await page.getByTestId('file').filter({ hasText: 'offline' }).waitFor();
    // Work goes on without it, even through a reload of what is in the page.
    await turn(page, 15, '20');
    await workbench.start();
    expect(workbench.message).toContain('recovered 1 step from the journal');
    await saved(page);
    expect(keys().map(({ value }) => value)).toEqual([0, -50, 20, 0]);
    // And can be undone, one and the other.
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect.poll(() => workbench.read(), { timeout: 20_000 }).toBe(begun);
  });

  it('that is ended properly leaves no journal, and everything in the file', async () => {
    await turn(page, 12, '-50');
    await workbench.stop('SIGTERM');
    expect(keys()[1]).toMatchObject({ value: -50 });
    await workbench.start();
    expect(workbench.message).not.toContain('journal');
  });

  it('lets a second one not have the same file', () => {
    const second = workbench.unspool('edit', workbench.file(), '--port', '0');
    expect(second).toMatchObject({ exit: 2, stdout: '' });
    expect(second.stderr).toContain('is open in another workbench');
  });
});

describe('a file that cannot be saved', () => {
  it('is reported, and the work is kept until it can be saved', async () => {
    chmodSync(workbench.file(), 0o444);
    await turn(page, 12, '-50');
    await page.getByTestId('file').filter({ hasText: 'not saved' }).waitFor();
    expect(await page.getByTestId('status').textContent()).toContain('is read-only and unchanged');
    await workbench.stop('SIGTERM');
    chmodSync(workbench.file(), 0o644);
    await workbench.start();
    await saved(page);
    expect(keys()[1]).toMatchObject({ value: -50 });
  });
});

describe('a change outside', () => {
  it('is shown, and is a step that can be undone', async () => {
    writeOutside((text) => text.replace('"at": "12f", "value": -48', '"at": "12f", "value": -33'));
    await expect.poll(() => shown(page, 12), { timeout: 20_000 }).toBe('−33');
    await page.getByRole('tab', { name: 'history' }).click();
    await page.getByRole('list').getByText('changed on disk: snap, claw.rotation').waitFor();
    await page.keyboard.press('Control+z');
    await expect.poll(() => keys()[1]!.value, { timeout: 20_000 }).toBe(-48);
  });

  it('is put together with what was done here meanwhile', async () => {
    await turn(page, 12, '-50');
    writeOutside((text) => text.replace('"at": "15f", "value": 14', '"at": "15f", "value": 22'));
    await expect.poll(() => keys().map(({ value }) => value), { timeout: 20_000 }).toEqual([0, -50, 22, 0]);
    expect(await shown(page, 15)).toBe('22');
  });

  it('of the same thing is shown side by side, and settled by a person', async () => {
    for (const [button, value] of [
      ['Use the file', -33],
      ['Overwrite the file with mine', -50],
      ['Merge; keep mine in conflicts', -60],
    ] as const) {
      await turn(page, 12, { [-33]: '-49', [-50]: '-50', [-60]: '-60' }[value]);
      writeOutside((text) =>
        text
          .replace(/"at": "12f", "value": -\d+/, '"at": "12f", "value": -33')
          .replace('"at": "15f", "value": 14', '"at": "15f", "value": 16'),
      );
      const dialog = page.getByRole('alertdialog');
      await dialog.waitFor();
      expect(await dialog.textContent()).toContain('Changes in the file');
      expect(await dialog.textContent()).toContain('at 12f: -48 → -33');
      const outside = workbench.read();
      await page.waitForTimeout(1200);
      expect(workbench.read(), 'nothing is saved meanwhile').toBe(outside);
      await dialog.getByRole('button', { name: button }).click();
      await saved(page);
      await expect.poll(() => keys()[1]!.value, { timeout: 20_000 }).toBe(value);
      expect(keys()[2]!.value).toBe(value === -50 ? 14 : 16);
      writeOutside((text) =>
        text
          .replace(/"at": "12f", "value": -\d+/, '"at": "12f", "value": -48')
          .replace(/"at": "15f", "value": \d+/, '"at": "15f", "value": 14'),
      );
      await expect.poll(() => shown(page, 12), { timeout: 20_000 }).toBe('−48');
    }
  });

  it('that leaves an invalid reel, or no file, is reported and does not lose the work', async () => {
    const text = workbench.read();
    writeFileSync(workbench.file(), text.slice(0, 900));
    const dialog = page.getByRole('alertdialog');
    await dialog.waitFor();
    expect(await dialog.textContent()).toContain('has errors');
    await dialog.getByRole('button', { name: 'Overwrite the file with mine' }).click();
    await expect.poll(() => workbench.read(), { timeout: 20_000 }).toBe(text);
    rmSync(workbench.file());
    await dialog.waitFor();
    expect(await dialog.textContent()).toContain('was deleted');
    await dialog.getByRole('button', { name: 'Overwrite the file with mine' }).click();
    await expect.poll(() => readFileSync(workbench.file(), 'utf8'), { timeout: 20_000 }).toBe(text);
  });
});

describe('two pages on one file', () => {
  it('see each other’s edits, lose none, and share one history', async () => {
    const { page: other } = await openPage(workbench.address);
    await other.getByRole('button', { name: 'snap', exact: true }).click();
    await turn(page, 12, '-50');
    await turn(other, 15, '20');
    await turn(page, 15, '+5');
    await Promise.all([turn(page, 30, '3'), turn(other, 12, '+-5')]);
    await expect.poll(() => keys().map(({ value }) => value), { timeout: 20_000 }).toEqual([0, -55, 25, 3]);
    expect([await shown(page, 12), await shown(other, 30)]).toEqual(['−55', '3']);
    for (let i = 0; i < 5; i++) await other.keyboard.press('Control+z');
    await expect.poll(() => keys().map(({ value }) => value), { timeout: 20_000 }).toEqual([0, -48, 14, 0]);
    expect(await shown(page, 12)).toBe('−48');
    await other.close();
  });
});
