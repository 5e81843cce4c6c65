import { writeFileSync } from 'node:fs';
import type { Page } from 'playwright';
import { formatReel, parseReel, Player, type ReelDocument } from 'unspool';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeBrowser, command, openPage, saved, type, Workbench } from './workbench.js';

/** The snap of the claw, made from nothing as an animator does: by hand, and by the keyboard alone. */

const workbench = new Workbench();
let page: Page;
let faults: string[];
/** The reel without its snap, as the file has it to begin with. */
let before: string;

beforeAll(async () => {
  const document = JSON.parse(workbench.read()) as { clips: Record<string, unknown>; chains?: unknown };
  document.clips = { sway: document.clips['sway'] };
  delete document.chains;
  delete (document as { facings?: unknown }).facings;
  delete (document as { routines?: unknown }).routines;
  before = formatReel(document as unknown as ReelDocument);
  writeFileSync(workbench.file(), before);
  await workbench.start();
  ({ page, faults } = await openPage(workbench.address));
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
});

const doc = () => JSON.parse(workbench.read()) as ReelDocument;
const rotation = (clip: string) =>
  doc().clips[clip]!.tracks!['claw.rotation'] as readonly { at: unknown; value: number; ease?: string }[];

/** Turns the claw by its handle, as far as the hand goes. */
async function turnClaw(degrees: number): Promise<void> {
  const [turn, origin] = await Promise.all(
    ['claw: rotation', 'claw: position'].map(async (name) => {
      const box = await page.getByRole('button', { name }).boundingBox();
      return { x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 };
    }),
  );
  const angle = (degrees * Math.PI) / 180;
  const [dx, dy] = [turn!.x - origin!.x, turn!.y - origin!.y];
  await page.mouse.move(turn!.x, turn!.y);
  await page.mouse.down();
  for (const share of [0.5, 1]) {
    const [cos, sin] = [Math.cos(angle * share), Math.sin(angle * share)];
    await page.mouse.move(origin!.x + dx * cos - dy * sin, origin!.y + dx * sin + dy * cos);
  }
  await page.mouse.up();
}

/** Drags the playhead to a frame, in the ruler. */
async function scrubTo(frame: number, of: number): Promise<void> {
  const box = (await page.getByTestId('ruler').boundingBox())!;
  const x = box.x + 14 + ((box.width - 28) * frame) / of;
  await page.mouse.move(x - 30, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(x, box.y + 8, { steps: 3 });
  await page.mouse.up();
  expect(await page.getByLabel('Playhead', { exact: true }).inputValue()).toBe(`${frame}f`);
}

/** What every snap comes to, whoever made it. */
async function expectSnap(name: string): Promise<void> {
  await saved(page);
  const text = workbench.read();
  expect(text, 'canonical').toBe(formatReel(JSON.parse(text) as ReelDocument));
  expect(workbench.unspool('check', '--strict', workbench.file())).toMatchObject({ exit: 0 });
  const clip = doc().clips[name]!;
  expect(clip).toMatchObject({ duration: '30f', cues: [{ at: '15f', name: 'shut', data: { sound: 'click' } }] });
  expect(clip.loop).toBeUndefined();
  expect(rotation(name).map(({ at }) => at)).toEqual([0, '12f', '15f', '30f']);
  expect(rotation(name)[1]!.ease).toBe('cubic-bezier(0.7, 0, 0.9, 0.4)');
  expect(clip.tracks!['claw.pincer']).toMatchObject([
    { at: '12f', value: { size: [24, 16] } },
    { at: '16f', value: null },
  ]);

  // The game plays what the page shows.
  const claw = { rotation: 0 };
  const player = new Player(parseReel(text), { cast: { claw } });
  const heard: string[] = [];
  player.on('cue', (cue) => heard.push(cue.name));
  player.play(name);
  await page.keyboard.press('Home');
  for (let frame = 0; frame <= 30; frame += 3) {
    if (frame > 0) for (let i = 0; i < 3; i++) player.tick(1 / 60);
    const shown = await page.getByLabel('claw.rotation', { exact: true }).inputValue();
    expect(Math.abs(Number(shown.replace('−', '-')) - claw.rotation), `frame ${frame}`).toBeLessThanOrEqual(0.005001);
    for (let i = 0; i < 3; i++) await page.keyboard.press('.');
  }
  expect(heard).toEqual(['shut']);
}

describe('the snap of the claw', () => {
  it('is authored by mouse: new clip, record, four poses, easing, cue, shape', async () => {
    await page.getByRole('button', { name: 'New', exact: true }).click();
    await page.getByLabel('Name', { exact: true }).fill('snap');
    await page.getByRole('button', { name: 'Create', exact: true }).click();
    await page.getByRole('button', { name: 'Record', exact: true }).click();
    await page.getByRole('button', { name: 'claw', exact: true }).click();
    // Pose 1 is made by itself: at 0, as nothing before the first pose may jump.
    for (const [frame, degrees] of [
      [12, -48],
      [15, 62],
      [30, -14],
    ] as const) {
      await scrubTo(frame, 30);
      await turnClaw(degrees);
    }
    await saved(page);
    expect(rotation('snap').map(({ value }) => value)).toEqual([0, -48, 14, 0]);

    // The stretch that shuts it: its key is chosen in the rows, its easing among the pictures.
    const keys = (await page.getByTestId('keys').boundingBox())!;
    const row = (await page
      .getByRole('button', { name: 'Add a key of claw.rotation at the playhead' })
      .or(page.getByRole('button', { name: 'Remove the key of claw.rotation at the playhead' }))
      .boundingBox())!;
    await page.mouse.click(keys.x + 14 + ((keys.width - 28) * 12) / 30, row.y + 11);
    await page.getByRole('button', { name: /Easing: linear/ }).click();
    await page.getByRole('button', { name: 'cubic-bezier(0.7, 0, 0.9, 0.4)' }).click();

    await scrubTo(12, 30);
    await page.getByRole('button', { name: 'off: claw.pincer; turn it on from here on' }).click();
    await scrubTo(16, 30);
    await page.getByRole('button', { name: 'on: claw.pincer; turn it off from here on' }).click();
    await scrubTo(15, 30);
    await command(page, 'Add a cue at the playhead');
    await page.getByLabel('Name', { exact: true }).fill('shut');
    await page.getByLabel('Data, as JSON').fill('{"sound": "click"}');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByRole('button', { name: 'Recording' }).click();
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expectSnap('snap');
    expect(faults).toEqual([]);
  });

  it('undone to its start is the file as it was, and done again the file as it became', async () => {
    const after = workbench.read();
    const steps = Number(/^(\d+) steps/.exec((await stepsSaid()) ?? '')?.[1]);
    expect(steps).toBeGreaterThan(6);
    for (let i = 0; i < steps; i++) await page.keyboard.press('Control+z');
    await expect.poll(() => workbench.read(), { timeout: 20_000 }).toBe(before);
    // Also after the page was loaded anew.
    await page.reload();
    await page.getByTestId('file').filter({ hasText: 'saved' }).waitFor();
    for (let i = 0; i < steps; i++) await page.keyboard.press('Control+Shift+z');
    await expect.poll(() => workbench.read(), { timeout: 20_000 }).toBe(after);
    expect(faults).toEqual([]);
  });

  it('is made with the keyboard alone', async () => {
    const press = async (...keys: string[]) => {
      for (const key of keys) await page.keyboard.press(key);
    };
    const write = (text: string) => page.keyboard.type(text);
    await press('Alt+n');
    await write('pinch');
    await press('Tab');
    await press('Control+a');
    await write('30f');
    await press('Enter');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await press('r');
    // To the claw, and down to the row of its turn.
    await press('[');
    await press('t');
    while ((await page.locator('.key-mirror').getAttribute('aria-label'))?.startsWith('Keys of claw.rotation') !== true)
      await press('ArrowDown');
    for (const [frame, value] of [
      ['12', '-48'],
      ['15', '14'],
      ['30', '0'],
    ] as const) {
      await press('g');
      await write(frame);
      await press('Enter');
      await press('Escape');
      await press('v');
      await press('Control+a');
      await write(value);
      await press('Enter', 'Escape');
    }
    // Back to the key at 12, and how it goes on from there.
    await press('t', 'Home', 'n', 'Enter');
    await press('e');
    await press('Control+a');
    await write('cubic-bezier(0.7, 0, 0.9, 0.4)');
    await press('Enter');
    await press('t');
    while ((await page.locator('.key-mirror').getAttribute('aria-label'))?.startsWith('Keys of claw.pincer') !== true)
      await press('ArrowDown');
    await press('k');
    for (let i = 0; i < 4; i++) await press('.');
    await command4('Turn off the shape from the playhead');
    await press(',');
    await press('c');
    await write('shut');
    await press('Tab');
    await write('{"sound": "click"}');
    await press('Enter');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await press('r', 'Control+s');
    await expectSnap('pinch');
    expect(faults).toEqual([]);

    /** A command found by typing its name. */
    async function command4(name: string): Promise<void> {
      await press('Control+k');
      await page.getByPlaceholder('Search commands').waitFor();
      await write(name);
      await press('Enter');
    }
  });

  it('is typed and computed: numbers take arithmetic', async () => {
    await page.keyboard.press('Home');
    await page.keyboard.press('r');
    await type(page, 'claw.rotation', '+8');
    await type(page, 'claw.rotation', '*1.5');
    await type(page, 'claw.rotation', 'nothing');
    await page.keyboard.press('r');
    await saved(page);
    expect(rotation('pinch')[0]).toMatchObject({ at: 0, value: 12 });
  });
});

async function stepsSaid(): Promise<string | null> {
  await page.getByRole('tab', { name: 'history' }).click();
  return page.locator('.steps').getAttribute('aria-label');
}
