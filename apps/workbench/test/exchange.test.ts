import { readFileSync } from 'node:fs';
import type { Page } from 'playwright';
import { fromCss, toGltf } from '@unspool/open';
import { parseReel } from 'unspool';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeBrowser, command, openPage, saved, savedReel, Workbench } from './workbench.js';

/** Import and export in open formats. */

const workbench = new Workbench(['crab']);
let page: Page;
let faults: string[];

beforeAll(async () => {
  await workbench.start();
  ({ page, faults } = await openPage(workbench.address));
});

afterAll(async () => {
  expect(faults).toEqual([]);
  await closeBrowser();
  await workbench.remove();
});

const dialog = () => page.getByRole('dialog');

async function choose(name: string, content: string | Uint8Array): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await command(page, 'Import…');
  await (await chooser).setFiles([{ name, mimeType: 'application/octet-stream', buffer: Buffer.from(content) }]);
}

async function drop(name: string, text: string): Promise<void> {
  await page.evaluate(
    ([name, text]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([text!], name!));
      document.querySelector('.workbench')!.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true })); // prettier-ignore
    },
    [name, text],
  );
}

const reel = async () => savedReel(page, workbench);

describe('import', () => {
  it('a path becomes a clip of the role that is asked for, and one undo takes it away', async () => {
    const before = Object.keys((await reel()).clips);
    await drop('way.svg', '<svg xmlns="http://www.w3.org/2000/svg"><path id="a" d="M0 0H40V30"/></svg>');
    await dialog().getByLabel('Role', { exact: true }).fill('crab');
    await dialog().getByLabel('Seconds').fill('none');
    await dialog().getByRole('button', { name: 'Import' }).click();
    expect(await dialog().getByRole('alert').textContent()).toContain('The duration is none');
    await dialog().getByLabel('Seconds').fill('2');
    await dialog().getByRole('button', { name: 'Import' }).click();
    await expect.poll(async () => Object.keys((await reel()).clips)).toEqual([...before, 'way']);
    expect((await reel()).clips['way']!.duration).toBe(2);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+z');
    await expect.poll(async () => Object.keys((await reel()).clips)).toEqual(before);
  });

  it('subtitles become cues; a name that is taken is made free, and what is left out is listed', async () => {
    const before = Object.keys((await reel()).clips);
    await choose('snap.vtt', 'WEBVTT\n\nSTYLE\n::cue { }\n\n00:00.500 --> 00:01.500\n<v Old Crab>Ahoy!\n');
    await dialog().getByText('Dropped: STYLE').waitFor();
    await dialog().getByRole('button', { name: 'Close' }).click();
    const { clips } = await reel();
    const added = Object.keys(clips).find((name) => !before.includes(name))!;
    expect(added).toMatch(/^snap/);
    expect(clips[added]!.cues).toEqual([
      { at: 0.5, until: 1.5, name: 'line', data: { text: 'Ahoy!', voice: 'Old Crab' } },
    ]);
  });

  it('a model brings its roles and clips', async () => {
    const source = parseReel<unknown>(readFileSync(new URL('../../../examples/tidepool/reels/pearl.reel.json', import.meta.url), 'utf8')); // prettier-ignore
    const { result } = await toGltf(source);
    await choose('pearl.glb', result);
    await dialog().getByRole('button', { name: 'Import' }).click();
    await expect.poll(async () => Object.keys((await reel()).clips)).toContain('roll');
    expect((await reel()).roles).toMatchObject({ pearl: {}, sparkle: {} });
    await page.keyboard.press('Escape');
  });

  it('what cannot be read changes nothing, and says why', async () => {
    const before = workbench.read();
    await drop('broken.glb', 'glTF');
    await dialog().getByRole('button', { name: 'Import' }).click();
    await expect.poll(() => page.getByRole('status').allTextContents()).toContainEqual(expect.stringContaining('broken.glb was not imported: the file ends after 4 bytes')); // prettier-ignore
    expect(workbench.read()).toBe(before);
  });
});

describe('export', () => {
  it('gives the chosen clip as a file of the chosen format', async () => {
    await page.keyboard.press('Escape');
    await command(page, 'Export…');
    await dialog().getByLabel('Format').selectOption('CSS animations');
    await dialog().getByLabel('Clips').selectOption('sway');
    const download = page.waitForEvent('download');
    await dialog().getByRole('button', { name: 'Export' }).click();
    const file = await download;
    expect(file.suggestedFilename()).toBe('sway.css');
    const { result } = fromCss(readFileSync(await file.path(), 'utf8'));
    expect(result.clips['sway']!.duration).toBe(0.8);
    await dialog().getByRole('button', { name: 'Close' }).click();
    await saved(page);
  });
});
