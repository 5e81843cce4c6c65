import type { Page } from 'playwright';
import type { ReelDocument } from 'unspool';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeBrowser, command, openPage, savedReel, undoAll, Workbench } from './workbench.js';

/** Rules as an animator writes them: edited in a table, tried beside it, and kept in the file. */

const workbench = new Workbench();
let page: Page;
let faults: string[];

beforeAll(async () => {
  await workbench.start();
  ({ page, faults } = await openPage(workbench.address));
  await page.getByRole('tab', { name: 'routines' }).click();
});

afterAll(async () => {
  expect(faults).toEqual([]);
  await closeBrowser();
  await workbench.remove();
});

const rules = async (name = 'crab') => {
  const { routines } = await savedReel(page, workbench);
  return (routines as NonNullable<ReelDocument['routines']>)[name]!.rules;
};
const row = (rule: string) =>
  page.locator('.rules tbody tr').filter({ has: page.getByRole('button', { name: `${rule}: what` }) });
const inForce = (rule: string) => row(rule).and(page.locator('[data-why="in-force"]')).waitFor();

describe('the routines panel', () => {
  it('runs the routine: inputs by slider, stick, switch and button; the rule in force is marked, others say why', async () => {
    await inForce('idle');
    await page.getByText('speed 0 is not above 12').waitFor();
    await page.getByRole('slider', { name: 'speed' }).focus();
    await page.keyboard.press('End');
    await page.getByRole('button', { name: /^direction: 0, 0/ }).focus();
    await page.keyboard.down('ArrowLeft');
    await inForce('scuttle');
    await page.locator('.routine-stage p').filter({ hasText: 'scuttle-left' }).waitFor();
    await page.keyboard.up('ArrowLeft');
    await page.getByRole('button', { name: /^direction: 0, 0/ }).waitFor();
    // What a press begins takes half a second: it is waited for before it begins.
    const seen = Promise.all([inForce('snap'), row('snap-again').getByText('waits for the signal "attack"').waitFor()]);
    await page.getByRole('button', { name: 'Give attack' }).click();
    await seen;
    // Kept for longer, it is seen to wait. The routine begins anew after the change, with the inputs as they were.
    await page.getByLabel('attack: how long it is kept').fill('600f');
    await page.getByLabel('attack: how long it is kept').press('Enter');
    await page.getByRole('switch', { name: 'hidden' }).click();
    await inForce('scuttle');
    await page.getByRole('button', { name: 'Give attack' }).click();
    await row('snap').getByText('hidden is true; the signal "attack" is kept').waitFor();
    await page.getByRole('slider', { name: 'speed' }).focus();
    await page.keyboard.press('Home');
    await inForce('idle');
  });

  it('a rule gets stronger by the arrow keys, and weaker by dragging; the table is the order in the file', async () => {
    await page.getByRole('button', { name: /^Order of idle/ }).focus();
    await page.keyboard.press('ArrowUp');
    await expect.poll(async () => (await rules()).map(({ name }) => name).indexOf('idle')).toBe(5);
    // It always applies: now it hides the rule below it, and `check` says so.
    await page.getByRole('slider', { name: 'speed' }).focus();
    await page.keyboard.press('End');
    await row('scuttle').getByText('"idle" is stronger').waitFor();
    await page.getByRole('button', { name: /^Order of idle/ }).dragTo(row('scuttle'));
    await expect.poll(async () => (await rules()).map(({ name }) => name).indexOf('idle')).toBe(6);
    await inForce('scuttle');
  });

  it('typed fields change what a rule says; it is tried at once', async () => {
    await page.getByRole('button', { name: 'scuttle: what the rule says' }).click();
    const dialog = page.getByRole('dialog', { name: 'The rule scuttle' });
    await dialog.getByLabel('speed above', { exact: true }).fill('400');
    await dialog.getByLabel('speed above', { exact: true }).press('Enter');
    await dialog.getByLabel('speed until', { exact: true }).fill('300');
    await dialog.getByLabel('speed until', { exact: true }).press('Enter');
    await dialog.getByLabel('speed for', { exact: true }).fill('6f');
    await dialog.getByLabel('speed for', { exact: true }).press('Enter');
    await dialog.getByLabel('Add a condition').selectOption('standing');
    await dialog.getByLabel('free from').selectOption('step');
    await page.keyboard.press('Escape');
    expect((await rules()).find(({ name }) => name === 'scuttle')).toMatchObject({
      if: { speed: { above: 400, until: 300, for: '6f' }, standing: true },
      free: 'step',
    });
    await row('scuttle').getByText('is not above 400').waitFor();
  });

  it('a routine from nothing: a rule, an input, a name; and all of it undone', async () => {
    await undoAll(page);
    await page.getByRole('tab', { name: 'clips' }).click();
    await page.getByRole('button', { name: 'hop', exact: true }).click();
    await command(page, 'Add a routine');
    await page.getByLabel('Routine', { exact: true }).selectOption('routine');
    await inForce('idle');
    await page.getByRole('button', { name: /Rule for hop/ }).click();
    await page.getByLabel('Add an input to routine').selectOption('flag');
    await page.getByLabel('Name of the input flag').fill('awake');
    await page.getByLabel('Name of the input flag').press('Enter');
    await page.getByRole('button', { name: 'hop: what the rule says' }).click();
    const dialog = page.getByRole('dialog', { name: 'The rule hop' });
    await dialog.getByLabel('Add a condition').selectOption('awake');
    await dialog.getByLabel('Add a clip to pick').selectOption('snap');
    await page.keyboard.press('Escape');
    const { routines } = await savedReel(page, workbench);
    expect(routines!['routine']).toEqual({
      inputs: { hop: { kind: 'signal' }, awake: { kind: 'flag' } },
      rules: [
        { name: 'hop', on: 'hop', if: { awake: true }, play: ['hop', 'snap'] },
        { name: 'idle', play: 'hop' },
      ],
    });
    await page.getByRole('button', { name: 'Give hop' }).click();
    await page.getByRole('switch', { name: 'awake' }).click();
    await row('hop').getByText('waits for the signal "hop"').waitFor();
    const seen = inForce('hop');
    await page.getByRole('button', { name: 'Give hop' }).click();
    await seen;
    await undoAll(page);
    expect(Object.keys((await savedReel(page, workbench)).routines!)).toEqual(['crab']);
  });
});

it('a track carries on from loop to loop, by a command; and no longer, by the same', async () => {
  const turning = async () => (await savedReel(page, workbench)).clips['scuttle-right']!.tracks!['crab.position'];
  const before = await turning();
  await page.getByRole('tab', { name: 'clips' }).click();
  await page.getByRole('button', { name: 'scuttle-right', exact: true }).click();
  await page.locator('.track-name[title^="crab.position"]').click();
  await command(page, 'Carry the track on from loop to loop');
  expect(await turning()).toEqual({ accumulate: true, keys: before });
  await page.locator('.track-name[title^="crab.position"]').click();
  await command(page, 'Carry the track on from loop to loop');
  expect(await turning()).toEqual(before);
});
