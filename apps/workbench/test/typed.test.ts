import { writeFileSync } from 'node:fs';
import type { Page } from 'playwright';
import { formatReel, type ReelDocument } from 'unspool';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { closeBrowser, command, openPage, placesOn, savedReel, type, Workbench } from './workbench.js';

/** Every value can be typed: those of poses and keys of each kind, and what clips, cues, spans and parts say. */

const workbench = new Workbench(['crab', 'buoy']);
let page: Page;
let faults: string[];

/** Three numbers for a place, a quaternion for a turn, a shape of which one key says only a part. */
const buoy = {
  unspool: 1,
  fps: 60,
  roles: { buoy: { shapes: { edge: { kind: 'capsule', tag: 'push' } } } },
  clips: {
    bob: {
      duration: '60f',
      tracks: {
        'buoy.position': [
          {
            at: 0,
            value: [0, 0, 0],
            ease: 'curve',
            out: [
              ['6f', 0],
              ['6f', 0],
              ['6f', 0],
            ],
          },
          { at: '30f', value: [0, 8, 2], ease: 'smooth' },
          { at: '60f', value: [0, 0, 0] },
        ],
        'buoy.rotation': [
          { at: 0, value: { euler: [0, 0, 10] } },
          { at: '60f', value: [0, 0, 0, 1] },
        ],
        'buoy.edge': [
          { at: 0, value: { from: [0, 0], to: [10, 0], radius: 4 } },
          { at: '30f', value: { radius: 6 } },
        ],
        'buoy.label': [{ at: 0, value: 'up' }],
        'buoy.tint': [{ at: 0, value: '#ff8800' }],
      },
      spans: { rise: [0, '30f'] },
      cues: [{ at: '30f', name: 'top' }],
    },
    twice: { duration: '120f', parts: [{ clip: 'bob', at: 0 }] },
  },
} as unknown as ReelDocument;

beforeAll(async () => {
  writeFileSync(workbench.file('buoy'), formatReel(buoy));
  await workbench.start();
});

beforeEach(async () => {
  ({ page, faults } = await openPage(workbench.address, 'reel=buoy'));
  await page.getByRole('button', { name: 'bob', exact: true }).click();
});

afterEach(async () => {
  expect(faults).toEqual([]);
  await page.close();
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
});

const clip = async (name = 'bob') => (await savedReel(page, workbench, 'buoy')).clips[name]!;

type Keys = readonly { readonly at: unknown; readonly value: unknown; readonly [member: string]: unknown }[];
const keys = async (track: string) => (await clip()).tracks![track] as unknown as Keys;

/** Chooses the key of a row at a frame. */
async function chooseKey(row: string, frame: number): Promise<void> {
  const { x, y } = await placesOn(page, 60);
  await page.mouse.click(x(frame), await y(row));
}

describe('values at the playhead', () => {
  it('have a field for each number: of a place in space, and of a turn in space in degrees', async () => {
    await page.keyboard.press('r');
    await type(page, 'Playhead', '45');
    await type(page, 'buoy.position z', '5');
    expect((await keys('buoy.position')).find(({ at }) => at === '45f')?.value).toEqual([0, expect.anything(), 5]);
    await type(page, 'buoy.rotation x', '90');
    const turn = (await keys('buoy.rotation')).find(({ at }) => at === '45f')?.value as number[];
    expect(Math.hypot(...turn)).toBeCloseTo(1, 8);
    expect(await page.getByLabel('buoy.rotation x', { exact: true }).inputValue()).toBe('90');
    // What stood there about z is not lost: a quarter of ten degrees.
    expect(Number(await page.getByLabel('buoy.rotation z', { exact: true }).inputValue())).toBeCloseTo(2.5, 1);
  });

  it('of a shape are in the row, with and without recording', async () => {
    await page.getByRole('button', { name: 'edge', exact: true }).click();
    await type(page, 'Playhead', '15');
    await type(page, 'buoy.edge to x', '*1.5');
    await page.getByText('1 unkeyed value').waitFor();
    await page.keyboard.press('k');
    expect((await keys('buoy.edge')).find(({ at }) => at === '15f')?.value).toMatchObject({ to: [15, 0], radius: 5 });
    await page.keyboard.press('Escape');
    await page.keyboard.press('r');
    await type(page, 'buoy.edge radius', '+2');
    expect((await keys('buoy.edge')).find(({ at }) => at === '15f')?.value).toMatchObject({ radius: 7 });
  });

  it('of a color are its alpha too', async () => {
    await page.keyboard.press('r');
    await type(page, 'buoy.tint alpha', '50%');
    const [{ value } = { value: undefined }] = await keys('buoy.tint');
    expect(value).toEqual([1, expect.closeTo(0x88 / 255, 5), 0, 0.5]);
    await page.keyboard.press('Control+z');
  });
});

describe('the selected key', () => {
  it('with some members of a shape keeps just those', async () => {
    await chooseKey('buoy.edge', 30);
    await type(page, 'Value of the key radius', '9');
    expect((await keys('buoy.edge')).find(({ at }) => at === '30f')?.value).toEqual({ radius: 9 });
  });

  it('keeps a turn as it is written: as three turns, or as a quaternion', async () => {
    await chooseKey('buoy.rotation', 0);
    await type(page, 'Value of the key euler z', '-20');
    await chooseKey('buoy.rotation', 60);
    await type(page, 'Value of the key z', '180');
    const rotation = await keys('buoy.rotation');
    expect(rotation[0]!.value).toEqual({ euler: [0, 0, -20] });
    expect(rotation.at(-1)!.value).toEqual([0, 0, 1, 0]);
  });

  it('is typed as it is written where it has no numbers', async () => {
    await chooseKey('buoy.label', 0);
    await type(page, 'Value of the key', 'down');
    expect(await keys('buoy.label')).toEqual([{ at: 0, value: 'down' }]);
    await chooseKey('buoy.tint', 0);
    await type(page, 'Value of the key', 'orange-ish');
    expect(await page.getByTestId('status').textContent()).toContain('orange-ish');
    // What was refused is still there to be mended.
    expect(await page.getByLabel('Value of the key', { exact: true }).inputValue()).toBe('orange-ish');
    await page.keyboard.press('Escape');
  });

  it('has handles that can be typed when its segment is a curve', async () => {
    await chooseKey('buoy.position', 0);
    await type(page, 'Handle out of the key', '[["12f", 0], ["12f", 4], ["12f", 0]]');
    expect((await keys('buoy.position'))[0]!['out']).toEqual([
      ['12f', 0],
      ['12f', 4],
      ['12f', 0],
    ]);
    await type(page, 'Handle out of the key', '["12f", ');
    expect(await page.getByLabel('Handle out of the key', { exact: true }).getAttribute('aria-invalid')).toBe('true');
    await page.keyboard.press('Escape');
    await chooseKey('buoy.position', 30);
    await page.getByLabel('Handle in of the key', { exact: true }).waitFor();
  });

  it('is one of many whose values are changed together', async () => {
    await page.reload();
    await page.getByRole('button', { name: 'bob', exact: true }).click();
    await chooseKey('buoy.position', 0);
    await page.keyboard.down('Shift');
    await chooseKey('buoy.position', 30);
    await page.keyboard.up('Shift');
    const before = await keys('buoy.position');
    await type(page, 'Change the selected values', '*2');
    await type(page, 'Change the selected values', '-3');
    await page.keyboard.press('Tab'); // leaving the field is no second time
    const after = await keys('buoy.position');
    const of = (list: Keys, at: unknown) => list.find((key) => key.at === at)!.value as number[];
    for (const at of [0, '30f']) expect(of(after, at)).toEqual(of(before, at).map((n) => n * 2 - 3));
    expect(of(after, '60f')).toEqual(of(before, '60f'));
  });
});

describe('a number that is scrubbed', () => {
  /** Presses on a field and drags to the right, without letting go. */
  async function scrub(label: string, pixels: number): Promise<void> {
    const box = (await page.getByLabel(label, { exact: true }).boundingBox())!;
    await page.mouse.move(box.x + 20, box.y + 8);
    await page.mouse.down();
    await page.mouse.move(box.x + 20 + pixels / 2, box.y + 8);
    await page.mouse.move(box.x + 20 + pixels, box.y + 8);
  }
  const stepCount = async () => {
    await page.getByRole('tab', { name: 'history' }).click();
    return page.locator('.steps button').count();
  };

  it('is one step when a drag ends: of a clip, a key, a cue', async () => {
    const before = await stepCount();
    await scrub('Duration', 20);
    await page.mouse.up();
    expect((await clip()).duration).toBe('70f');
    await chooseKey('buoy.label', 0);
    await scrub('Time of the key', 8);
    await page.mouse.up();
    expect((await keys('buoy.label'))[0]!.at).toBe('4f');
    expect(await page.getByLabel('Time of the key', { exact: true }).inputValue()).toBe('4f');
    await page.getByLabel('Cues, spans and parts').selectOption({ label: 'cue top' });
    await scrub('Time of the cue', 10);
    await page.mouse.up();
    expect((await clip()).cues![0]).toMatchObject({ at: '35f', name: 'top' });
    expect(await stepCount()).toBe(before + 3);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  });

  it('is as it was after Escape', async () => {
    const before = await clip();
    await chooseKey('buoy.label', 0);
    await scrub('Time of the key', 30);
    expect(await page.getByLabel('Time of the key', { exact: true }).inputValue()).toBe('15f');
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect(await page.getByLabel('Time of the key', { exact: true }).inputValue()).toBe('0f');
    expect(await clip()).toEqual(before);
  });
});

describe('the other options of a clip', () => {
  it('of its loop, its rate and what comes after', async () => {
    await page.getByRole('button', { name: /^More options of the clip bob/ }).click();
    await page.getByLabel('Loop of the clip', { exact: true }).selectOption('ping-pong');
    await type(page, 'Loop of the clip: number of iterations; leave empty to loop forever', '3');
    await page.getByLabel('After the end').selectOption('rest');
    await type(page, 'Playback rate in the game', '1.25');
    await type(page, 'Description of the clip', 'It bobs.');
    expect(await clip()).toMatchObject({
      ...{ loop: { mode: 'ping-pong', count: 3 }, after: 'rest', rate: 1.25, about: 'It bobs.' },
    });
    await type(page, 'Loop of the clip: number of iterations; leave empty to loop forever', '');
    expect((await clip()).loop).toBe('ping-pong');
    await page.keyboard.press('Escape');
  });

  it('of the times of cues, spans and parts', async () => {
    const list = page.getByLabel('Cues, spans and parts');
    await list.selectOption({ label: 'cue top' });
    await page.getByRole('button', { name: 'Lasts' }).click();
    await type(page, 'End of the cue', '40');
    await type(page, 'Time of the cue', '32');
    expect((await clip()).cues).toEqual([{ at: '32f', until: '42f', name: 'top' }]);
    await list.selectOption({ label: 'span rise' });
    await type(page, 'End of the span', '0.25s');
    await type(page, 'name', 'up');
    expect((await clip()).spans).toEqual({ up: [0, '15f'] });
    await command(page, 'Go to clip twice');
    await list.selectOption({ label: 'part bob' });
    await page.getByLabel('Loop of the part').selectOption('once');
    await type(page, 'Rate of the part', '*2');
    await type(page, 'Time of the part', '30');
    expect((await clip('twice')).parts).toEqual([{ clip: 'bob', at: '30f', rate: 2, loop: 'once' }]);
  });
});
