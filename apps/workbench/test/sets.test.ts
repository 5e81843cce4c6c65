import { writeFileSync } from 'node:fs';
import type { Page } from 'playwright';
import type { ReelDocument } from 'unspool';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { closeBrowser, command, dragOn, openPage, placesOn, saved, savedReel, type, Workbench } from './workbench.js';

/** Work on whole clips and sets of them: commands, chains, directions, the pad; and what lies behind the stage. */

const workbench = new Workbench(['crab']);
let start = '';
let page: Page;
let faults: string[];

beforeAll(async () => {
  start = workbench.read();
  await workbench.start();
});

beforeEach(async () => {
  ({ page, faults } = await openPage(workbench.address));
  await page.getByRole('button', { name: 'snap', exact: true }).click();
});

/** Each begins with the reel as it was: put back from outside, as another program would. */
afterEach(async () => {
  expect(faults).toEqual([]);
  await saved(page);
  if (workbench.read() !== start) {
    writeFileSync(workbench.file(), start);
    await page.getByRole('tab', { name: 'history' }).click();
    await expect.poll(() => page.locator('.steps').textContent()).toMatch(/file|outside|disk/i);
  }
  await page.close();
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
});

const doc = () => savedReel(page, workbench);

const clip = async (name = 'snap') => (await doc()).clips[name]!;

interface PlainKey {
  readonly at: unknown;
  readonly value: unknown;
}
const keysOf = async (track: string, name = 'snap') => (await clip(name)).tracks![track] as unknown as PlainKey[];
const times = async (track: string) => (await keysOf(track)).map(({ at }) => at);

describe('a clip as a whole', () => {
  it('is scaled to another duration, while it plays', async () => {
    await command(page, 'Scale the clip to a new duration');
    const duration = page.getByRole('dialog').getByLabel('Duration', { exact: true });
    await duration.fill('soon');
    await page.keyboard.press('Enter');
    expect(await page.getByRole('alert').textContent()).toContain('soon is not a valid time');
    await duration.fill('20f');
    await page.keyboard.press('Enter');
    expect(await times('claw.rotation')).toEqual([0, '8f', '10f', '20f']);
    await command(page, 'Go to clip sway');
    const frames = 2 * parseFloat(String((await clip('sway')).duration));
    await command(page, 'Extend the clip');
    await duration.fill(`${frames}f`);
    await page.keyboard.press('Enter');
    expect((await clip('sway')).duration).toBe(`${frames}f`);
  });

  it('loops the selected range', async () => {
    await command(page, 'Trim the clip to');
    expect(await page.getByTestId('status').textContent()).toContain('Select at least two keys');
    const { x, y } = await placesOn(page);
    const row = await y('claw.rotation');
    await page.mouse.click(x(12), row);
    await page.keyboard.down('Shift');
    await page.mouse.click(x(30), row);
    await page.keyboard.up('Shift');
    await command(page, 'Trim the clip to');
    expect((await clip()).duration).toBe('18f');
    expect(await times('claw.rotation')).toEqual([0, '3f', '18f']);
  });

  it('is mirrored', async () => {
    await command(page, 'Mirror the clip');
    expect(await keysOf('claw.rotation')).toMatchObject([{}, { value: 48 }, {}, {}]);
  });

  it('lets its rows follow each other', async () => {
    await command(page, 'Offset rows in time');
    expect(await page.getByTestId('status').textContent()).toContain('two or more tracks');
    await page.keyboard.press('Control+a');
    await command(page, 'Offset rows in time');
    await type(page, 'Offset per row', '1');
    expect(await times('crab.rotation')).toEqual([0, '12f', '15f', '30f']);
    expect(await times('claw.rotation')).toEqual(['1f', '13f', '16f', '31f']);
  });

  it('has a vector as its channels, and as one again', async () => {
    await page.locator('.track-name[title^="claw.scale:"]').click();
    const before = await keysOf('claw.scale');
    await command(page, 'Split the track into channels');
    expect(Object.keys((await clip()).tracks!)).toEqual(expect.arrayContaining(['claw.scale.x', 'claw.scale.y']));
    await command(page, 'Join the channels into one track');
    expect(await keysOf('claw.scale')).toEqual(before);
  });

  it('has properties of the game’s own', async () => {
    await page.getByRole('button', { name: 'claw', exact: true }).click();
    await command(page, 'Add a custom property');
    await page.getByLabel('Name', { exact: true }).fill('weights.grip');
    await type(page, 'Value at the start', '0.25');
    expect(await keysOf('claw.weights.grip')).toEqual([{ at: 0, value: 0.25 }]);
    await page.keyboard.press('r');
    await type(page, 'Playhead', '12');
    await type(page, 'claw.weights.grip', '*4');
    expect(await keysOf('claw.weights.grip')).toEqual([
      { at: 0, value: 0.25 },
      { at: '12f', value: 1 },
    ]);
  });
});

describe('sets of clips', () => {
  it('say of each link of a chain how it is played', async () => {
    await page
      .getByRole('button', { name: /: options in victory$/ })
      .last()
      .click();
    const name = 'snap';
    await page.getByLabel(`Loop of ${name}`, { exact: true }).selectOption('loop');
    await type(page, `Loop of ${name}: number of iterations; leave empty to loop forever`, '2');
    await type(page, `Fade into ${name}`, '8');
    await type(page, `Rate of ${name}`, '0.5');
    expect((await doc()).chains!['victory']!.at(-1)).toEqual({
      ...{ clip: name, loop: { mode: 'loop', count: 2 }, fade: '8f', rate: 0.5 },
    });
    // What is as the clip itself has it is not written.
    await page.getByLabel(`Loop of ${name}`, { exact: true }).selectOption('from the clip');
    await type(page, `Fade into ${name}`, '0');
    await type(page, `Rate of ${name}`, '1');
    expect((await doc()).chains!['victory']!.at(-1)).toBe(name);
    await page.keyboard.press('Escape');
  });

  it('of any directions are a list', async () => {
    const reel = JSON.parse(start) as ReelDocument;
    const facings = { ...reel.facings, look: [{ toward: [1, 0], clip: 'sway' }] };
    writeFileSync(workbench.file(), JSON.stringify({ ...reel, facings }));
    await page.getByLabel('Add a direction to look').selectOption('hop');
    await type(page, 'Direction 2: x', '-0.5');
    await type(page, 'Direction 2: y', '1');
    await page.getByLabel('Clip of direction 1').selectOption('snap');
    expect((await doc()).facings!['look']).toEqual([
      { toward: [1, 0], clip: 'snap' },
      { toward: [-0.5, 1], clip: 'hop' },
    ]);
    await page.getByRole('button', { name: 'Remove direction 1' }).click();
    expect((await doc()).facings!['look']).toEqual([{ toward: [-0.5, 1], clip: 'hop' }]);
  });
});

describe('the try-out panel', () => {
  it('has the assigned keys, also after a reload', async () => {
    await page.getByRole('tab', { name: 'try-out' }).click();
    await page.getByRole('button', { name: 'Assign keys' }).click();
    await page
      .locator('.pad-keys button')
      .filter({ hasText: /^. snap$/ })
      .click();
    await page.keyboard.press('?');
    expect(await page.getByTestId('status').textContent()).toContain('cannot be assigned');
    await page
      .locator('.pad-keys button')
      .filter({ hasText: /^. snap$/ })
      .click();
    await page.keyboard.press('k');
    await page
      .locator('.pad-keys button')
      .filter({ hasText: /^K snap/ })
      .waitFor();
    await page.reload();
    await page.getByRole('tab', { name: 'try-out' }).click();
    await page.getByRole('application', { name: /^Try-out/ }).focus();
    await page.keyboard.press('k');
    await page.getByText('cue shut of snap').waitFor();
  });

  it('drives a gauge by keys', async () => {
    await page.getByRole('tab', { name: 'try-out' }).click();
    await page.getByLabel('gauge', { exact: false }).first().selectOption('snap');
    await page.getByRole('application', { name: /^Try-out/ }).focus();
    for (let i = 0; i < 12; i++) await page.keyboard.press('+');
    const gauge = page.getByLabel('Gauge of snap');
    expect(await gauge.inputValue()).toBe('1');
    for (let i = 0; i < 4; i++) await page.keyboard.press('-');
    expect(await gauge.inputValue()).toBe('0.6');
  });
});

describe('roles', () => {
  it('are added, named, hung under others, drawn, and given shapes', async () => {
    await page.getByRole('tab', { name: 'roles' }).click();
    await page.getByRole('button', { name: 'New role' }).click();
    const name = page.getByLabel('Name of the role').last();
    await name.fill('pearl');
    await name.press('Enter');
    const item = page.getByRole('list', { name: 'Roles' }).locator('> li').last();
    await item.getByLabel('under').selectOption('claw');
    await item.getByRole('combobox', { name: 'picture' }).selectOption('pearl.png');
    await type(page, 'Anchor of pearl x', '0.25');
    await type(page, 'Size of the picture of pearl', '*0.5');
    await item.getByLabel('Add a shape to pearl').selectOption('circle');
    await item.getByLabel('Tag of circle').selectOption('hurt');
    const { roles, clips } = await doc();
    expect(roles!['pearl']).toEqual({
      parent: 'claw',
      shapes: { circle: { kind: 'circle', tag: 'hurt' } },
      'x-picture': { image: 'pearl.png', anchor: [0.25, 0.5], scale: 0.5 },
    });
    expect(clips['snap']!.tracks!['pearl.circle']).toEqual([{ at: 0, value: { center: [0, 0], radius: 12 } }]);
    await page.getByRole('button', { name: 'Remove the shape circle' }).click();
    await page.getByRole('button', { name: 'Remove the role pearl' }).click();
    const after = await doc();
    expect([after.roles!['pearl'], after.clips['snap']!.tracks!['pearl.circle']]).toEqual([undefined, undefined]);
  });

  it('have sheets, whose cells are counted from the picture and can be typed over', async () => {
    await page.getByRole('tab', { name: 'roles' }).click();
    await page.getByLabel('New sheet from a picture').selectOption('crab.png');
    await page.getByRole('group', { name: 'The sheet crab-2' }).waitFor();
    // Half as many columns are twice as wide: they fill the picture.
    await type(page, 'columns of the sheet crab-2', '4');
    await expect.poll(async () => (await doc()).sheets!['crab-2']).toMatchObject({ cell: [256, 128] });
    await type(page, 'width of the sheet crab-2', '/2');
    await type(page, 'margin of the sheet crab-2', '2');
    await type(page, 'spacing of the sheet crab-2', '1.2');
    expect((await doc()).sheets!['crab-2']).toEqual({
      ...{ image: 'crab.png', columns: 4, rows: 5, cell: [128, 128], margin: 2, spacing: 1 },
    });
    await type(page, 'columns of the sheet crab-2', '0');
    expect(await page.getByTestId('status').textContent()).toContain('0 is out of range. Enter 1 or more');
    expect((await doc()).sheets!['crab-2']).toMatchObject({ columns: 4 });
  });
});

describe('behind the cast', () => {
  it('a reference picture is dragged, typed and faded, and restored after a reload', async () => {
    const model = page.getByLabel('Reference', { exact: true });
    await command(page, 'Move the reference picture');
    expect(await model.evaluate((element) => element === document.activeElement)).toBe(true);
    await model.selectOption('urchin.png');
    await page.getByRole('button', { name: 'Drag the reference on the stage' }).click();
    const stage = (await page.getByTestId('stage').boundingBox())!;
    const middle = [stage.x + stage.width / 2, stage.y + stage.height / 2] as const;
    await dragOn(page, middle, [middle[0] + 60, middle[1] - 30]);
    const at = (axis: string) => page.getByLabel(`Reference: ${axis}`, { exact: true });
    const [x, y] = [Number(await at('x').inputValue()), Number((await at('y').inputValue()).replace('−', '-'))];
    expect(x / y).toBeCloseTo(-2, 1);
    await type(page, 'Reference: size', '1.5');
    await type(page, 'Reference: opacity, 0 to 1', '25%');
    expect(await doc()).toEqual(JSON.parse(start));
    await page.reload();
    await expect.poll(() => model.inputValue()).toBe('urchin.png');
    expect(Number(await at('x').inputValue())).toBe(x);
    expect(await at('size').inputValue()).toBe('1.5');
    await model.selectOption('none');
    await at('x').waitFor({ state: 'detached' });
  });
});
