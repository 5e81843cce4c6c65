import { writeFileSync } from 'node:fs';
import type { Page } from 'playwright';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import {
  closeBrowser,
  command,
  dragOn,
  openPage,
  placesOn,
  savedReel,
  type,
  undoAll,
  Workbench,
  type Spot,
} from './workbench.js';

/** What an animator's hand does on the stage, the rows, the curves and the panels. */

const workbench = new Workbench(['crab', 'gate']);
let page: Page;
let faults: string[];

beforeAll(() => workbench.start());

beforeEach(async () => {
  ({ page, faults } = await openPage(workbench.address, 'reel=crab'));
  await page.getByRole('button', { name: 'snap', exact: true }).click();
});

/** Each begins with the reel as it was: what was done is taken back. */
afterEach(async () => {
  expect(faults).toEqual([]);
  await undoAll(page);
  await page.close();
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
});

const doc = () => savedReel(page, workbench);

async function track(
  name: string,
  clip = 'snap',
): Promise<readonly { at: unknown; value?: unknown; ease?: string; frames?: unknown }[]> {
  return (await doc()).clips[clip]!.tracks![name] as never;
}

const places = (duration?: number) => placesOn(page, duration);
const drag = (from: Spot, to: Spot, modifier?: 'Alt' | 'Shift') => dragOn(page, from, to, modifier);
const message = () => page.getByTestId('status').textContent();

describe('the rows', () => {
  it('move a key by frames, and with Alt all later keys', async () => {
    const { x, y } = await places();
    const row = await y('claw.rotation');
    await drag([x(12), row], [x(10), row]);
    expect((await track('claw.rotation')).map(({ at }) => at)).toEqual([0, '10f', '15f', '30f']);
    await drag([x(10), row], [x(13), row], 'Alt');
    expect((await track('claw.rotation')).map(({ at }) => at)).toEqual([0, '13f', '18f', '33f']);
  });

  it('refuse to move one key onto another, and say so', async () => {
    const { x, y } = await places();
    const row = await y('claw.rotation');
    await drag([x(12), row], [x(15), row]);
    expect(await message()).toContain('two keys of claw.rotation would be at 15f');
    expect((await track('claw.rotation')).map(({ at }) => at)).toEqual([0, '12f', '15f', '30f']);
  });

  it('select an area, which the bracket in the ruler scales', async () => {
    const { x, y, ruler } = await places();
    await drag([x(11), (await y('claw.rotation')) - 8], [x(16), (await y('claw.scale')) + 8]);
    await page.getByRole('group', { name: 'Selected keys' }).filter({ hasText: '4 keys' }).waitFor();
    await drag([x(15) + 5, ruler.y + 10], [x(18) + 5, ruler.y + 10]);
    for (const name of ['claw.rotation', 'claw.scale'])
      expect((await track(name)).map(({ at }) => at)).toEqual([0, '12f', '18f', '30f']);
  });

  it('copy, paste at the playhead, and delete', async () => {
    const { x, y } = await places();
    await page.mouse.click(x(12), await y('crab.rotation'));
    await page.keyboard.press('Control+c');
    await type(page, 'Playhead', '21');
    await page.keyboard.press('Control+v');
    expect(await track('crab.rotation')).toContainEqual({ at: '21f', value: -6, ease: 'expo-in' });
    await page.keyboard.press('Delete');
    expect((await track('crab.rotation')).map(({ at }) => at)).toEqual([0, '12f', '15f', '30f']);
  });

  it('put a key on the curve where they are double-clicked', async () => {
    const { x, y } = await places();
    await page.mouse.dblclick(x(6), await y('claw.rotation'));
    const keys = await track('claw.rotation');
    expect(keys.map(({ at }) => at)).toEqual([0, '6f', '12f', '15f', '30f']);
    expect(keys[1]!.value).toBeCloseTo(-36, 6); // half way in time, three quarters by quad-out
  });

  it('drag a cue with its data, and the end of an interval', async () => {
    const { x, ruler } = await places();
    const y = ruler.y + 30;
    await drag([x(15) + 3, y], [x(18) + 3, y]);
    await drag([x(16), y], [x(20), y]);
    expect((await doc()).clips['snap']!.cues).toEqual([
      { at: '12f', until: '20f', name: 'danger' },
      { at: '18f', name: 'shut', data: { sound: 'click', strength: 0.8 } },
    ]);
  });

  it('zoom to a frame and back', async () => {
    const { x, y } = await places();
    await page.mouse.move(x(12), await y('claw.rotation'));
    await page.keyboard.down('Control');
    for (let i = 0; i < 12; i++) await page.mouse.wheel(0, -400);
    await page.keyboard.up('Control');
    // A pixel is now far less than a frame: a drag of half the width moves by no whole frame.
    const row = await y('claw.rotation');
    await page.keyboard.press('0');
    await page.mouse.click(x(15), row);
    expect(await page.getByLabel('Time of the key').inputValue()).toBe('15f');
  });
});

describe('the stage', () => {
  async function middleOf(name: string): Promise<readonly [number, number]> {
    const box = (await page.getByRole('button', { name }).boundingBox())!;
    return [box.x + box.width / 2, box.y + box.height / 2];
  }

  it('without recording leaves unkeyed values, which are discarded or keyed', async () => {
    await page.getByRole('button', { name: 'crab', exact: true }).click();
    const at = await middleOf('crab: position');
    await drag(at, [at[0] + 40, at[1]]);
    await page.getByText('1 unkeyed value').waitFor();
    await page.keyboard.press('Escape');
    expect((await doc()).clips['snap']!.tracks!['crab.position']).toBeUndefined();
    await type(page, 'Playhead', '6');
    await drag(at, [at[0] + 40, at[1] - 20]);
    await page.keyboard.press('k');
    const keys = await track('crab.position');
    expect(keys).toMatchObject([{ at: 0, value: [0, 0] }, { at: '6f' }]);
    const [x, y] = keys[1]!.value as [number, number];
    expect(x / y).toBeCloseTo(-2, 1);
  });

  it('scales about the pivot, and edits a shape by its points', async () => {
    await page.keyboard.press('r');
    await page.getByRole('button', { name: 'claw', exact: true }).click();
    await type(page, 'Playhead', '12');
    const [size, origin] = [await middleOf('claw: scale'), await middleOf('claw: position')];
    await drag(size, [origin[0] + (size[0] - origin[0]) * 1.2, origin[1] + (size[1] - origin[1]) * 1.2]);
    const [sx, sy] = (await track('claw.scale'))[1]!.value as [number, number];
    expect([sx, sy].map((n) => n / 1.15)).toEqual([expect.closeTo(1.2, 1), expect.closeTo(1.2, 1)]);
    const radius = page.getByRole('button', { name: 'claw.pincer: size' });
    await radius.focus();
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
    const {
      size: [width],
    } = (await track('claw.pincer'))[0]!.value as { size: [number, number] };
    expect(width).toBeGreaterThan(33);
  });

  it('shows motion path, ghost poses, comparison and ground', async () => {
    await page.getByRole('button', { name: 'Motion path of the selected role, one mark per frame' }).click();
    await page.getByLabel('Ghost poses').selectOption('±2');
    await page.getByLabel('Compare with').selectOption('sway');
    await page.getByRole('button', { name: 'side by side' }).click();
    await page.getByLabel('Background').selectOption('pool.png');
    await page.getByLabel('Compare with').selectOption('before the last step');
    await page.getByRole('button', { name: 'Play (Space)' }).click();
    await expect.poll(() => page.getByLabel('Playhead', { exact: true }).inputValue()).not.toBe('0f');
    await page.keyboard.press('Space');
  });
});

describe('the curves', () => {
  it('drag a key in value, and a handle of its easing', async () => {
    const { x, y } = await places();
    await page.mouse.click(x(12), await y('claw.rotation'));
    const box = (await page.getByTestId('curves').boundingBox())!;
    // −48 … 14, with a margin of 8 % and of 16 pixels: see how a curve is laid out.
    const room = 62 * 0.08;
    const at = (value: number) => box.y + box.height - 16 - ((value + 48 + room) / (62 + 2 * room)) * (box.height - 32);
    await drag([x(12 + 0.7 * 3), at(-48)], [x(12 + 0.2 * 3), at(-48)]);
    expect((await track('claw.rotation'))[1]!.ease).toMatch(/^cubic-bezier\(0\.(1|2)\d?, -?0(\.0\d)?, 0\.9, 0\.4\)$/);
    await drag([x(12), at(-48)], [x(12), at(-40)]);
    expect((await track('claw.rotation'))[1]!.value).toBeCloseTo(-40, -0.5);
  });
});

describe('the panels', () => {
  it('pick cells of a sheet: consecutive ones become a row of frames, others single keys', async () => {
    await command(page, 'Go to clip stop');
    await page.getByRole('tab', { name: 'sheets' }).click();
    const sheet = (await page.getByTestId('sheet').boundingBox())!;
    const cell = (i: number) =>
      [
        sheet.x + (((i % 8) + 0.5) * sheet.width) / 8,
        sheet.y + ((Math.floor(i / 8) + 0.5) * sheet.height) / 5,
      ] as const;
    await drag(cell(8), cell(13));
    await type(page, 'Duration of each cell', '2f');
    await page.getByRole('button', { name: 'Key from the playhead' }).click();
    expect(await track('body.frame', 'stop')).toEqual([{ at: 0, frames: [8, 13], each: '2f' }]);
    expect((await doc()).clips['stop']!.duration).toBe('12f');
    await page.mouse.click(...cell(0));
    await page.keyboard.down('Shift');
    await page.mouse.click(...cell(5));
    await page.keyboard.up('Shift');
    await type(page, 'Playhead', '12');
    await page.getByRole('button', { name: 'Key from the playhead' }).click();
    expect((await track('body.frame', 'stop')).slice(1)).toEqual([
      { at: '12f', value: 0 },
      { at: '14f', value: 5 },
    ]);
  });

  it('duplicate and mirror a clip, and add clips to chains and facings', async () => {
    await page.getByRole('button', { name: 'Variant' }).click();
    await page.getByRole('button', { name: 'Mirrored' }).click();
    const { clips } = await doc();
    expect(Object.keys(clips)).toEqual(expect.arrayContaining(['snap-variant', 'snap-variant-mirrored']));
    expect(clips['snap-variant-mirrored']!.tracks!['claw.rotation']).toMatchObject([{}, { value: 48 }, {}, {}]);
    await page.getByLabel('Add a clip to victory').selectOption('sway');
    await page.getByRole('group', { name: 'Sides of scuttle' }).getByLabel('up-right').selectOption('hop');
    const after = await doc();
    expect(after.chains!['victory']!.at(-1)).toBe('sway');
    expect(after.facings!['scuttle']).toMatchObject({ 'up-right': 'hop' });
  });

  it('play by keys as the game would, with events', async () => {
    await page.getByRole('tab', { name: 'try-out' }).click();
    await page.getByRole('application', { name: /^Try-out/ }).focus();
    await page.keyboard.press('7');
    await page.getByText('cue shut of snap {"sound":"click","strength":0.8}').waitFor();
    await page.keyboard.press('ArrowLeft');
    await page.getByText('cue step of scuttle-left {"foot":"left"}').waitFor();
    expect(await message()).toBe('');
  });

  it('show advice beside its subject, and apply its fix', async () => {
    // As a hand that writes the file leaves it.
    const text = workbench.read();
    const opacity = '"claw.opacity": [{ "at": "0f", "value": 80 }],';
    writeFileSync(workbench.file(), text.replace(/("snap": \{[^]*?"tracks": \{)/, `$1 ${opacity}`));
    await page.getByRole('button', { name: /^Advice on claw.opacity/ }).click();
    const dialog = page.getByRole('dialog', { name: 'Advice on claw.opacity' });
    expect(await dialog.textContent()).toMatch(/0 to 1|percent|100/);
    await dialog.getByRole('button', { name: 'Fix', exact: true }).first().click();
    await expect.poll(async () => (await track('claw.opacity')).map(({ value }) => value)).toEqual([0.8]);
  });

  it('show names as text: never as markup', async () => {
    await page.keyboard.press('c');
    await page.getByLabel('Name', { exact: true }).fill('<img src=x onerror=alert(1)>');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    expect(await page.getByRole('alert').textContent()).toContain('<img');
    expect(await page.locator('img').count()).toBe(0);
    await page.keyboard.press('Escape');
  });

  it('go to another reel and back, each with its own steps', async () => {
    await page.getByLabel('Reel', { exact: true }).selectOption('gate');
    await page.getByRole('button', { name: 'gate', exact: true }).first().waitFor();
    await page.getByLabel('Reel', { exact: true }).selectOption('crab');
    await page.getByRole('button', { name: 'snap', exact: true }).waitFor();
  });
});
