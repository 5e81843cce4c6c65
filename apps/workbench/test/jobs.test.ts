import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright';
import type { ReelDocument } from 'unspool';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DOCUMENTS, picture, REELS, sheetPicture, tone, type JobReel } from './job-files.js';
import { closeBrowser, command, dragOn, Hand, openPage, placesOn, savedReel, sharp, Workbench } from './workbench.js';

/** Thirteen jobs as animators do them, each with the actions that it takes. What they took before is in brackets. */

const media = mkdtempSync(join(tmpdir(), 'unspool-media-'));
const workbench = new Workbench(REELS, media);
let page: Page;
let faults: string[];

beforeAll(async () => {
  mkdirSync(media, { recursive: true });
  writeFileSync(join(media, 'walker.png'), sheetPicture());
  writeFileSync(join(media, 'click.wav'), tone());
  writeFileSync(
    join(media, 'arm.png'),
    picture(16, 16, '<rect width="8" height="16" fill="#000"/><rect x="8" width="8" height="16" fill="#fff"/>'),
  );
  for (const name of REELS) writeFileSync(workbench.file(name), JSON.stringify(DOCUMENTS[name]));
  await workbench.start();
  ({ page, faults } = await openPage(workbench.address, '', sharp));
});

afterAll(async () => {
  await closeBrowser();
  await workbench.remove();
  rmSync(media, { recursive: true });
});

/** Goes to a reel, which is not counted: an animator begins there. */
async function openReel(name: JobReel, clip?: string): Promise<Hand> {
  await page.getByLabel('Reel', { exact: true }).selectOption(name);
  await page
    .getByTestId('file')
    .filter({ hasText: /^saved$/ })
    .waitFor();
  if (clip !== undefined) {
    await page.getByRole('tab', { name: 'clips' }).click();
    await page.getByRole('button', { name: clip, exact: true }).click();
  }
  return new Hand(page);
}

const docOf = (name: JobReel): Promise<ReelDocument> => savedReel(page, workbench, name);
const tracksOf = (doc: ReelDocument, clip: string) =>
  (doc.clips[clip]!.tracks ?? {}) as Readonly<Record<string, readonly Readonly<Record<string, unknown>>[]>>;

describe('jobs of animators', () => {
  it('1. a ball bounces, from nothing: at most 25 actions', async () => {
    const hand = await openReel('ball');
    await hand.press('Alt+n');
    await page.getByRole('dialog').waitFor();
    await hand.fill('Name', 'bounce');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await hand.press('r', ']');
    for (const [frame, y, ease] of [
      [0, 0, ''],
      [12, 60, ''],
      [24, 0, ''],
    ] as const) {
      await hand.fill('Playhead', `${frame}f`);
      await hand.fill('ball.position y', String(y));
      if (ease) await hand.fill('Easing', ease);
    }
    await hand.fill('Duration', '24f');
    await hand.choose('Loop', 'loop');
    await hand.press('r');
    const doc = await docOf('ball');
    expect(tracksOf(doc, 'bounce')['ball.position']!.map(({ at, value }) => [at, value])).toEqual([
      [0, [0, 0]],
      ['12f', [0, 60]],
      ['24f', [0, 0]],
    ]);
    expect(doc.clips['bounce']).toMatchObject({ duration: '24f', loop: 'loop' });
    expect(hand.count).toBeLessThanOrEqual(25);
  });

  it('2. a door opens later, with all that follows: at most 6 actions', async () => {
    const hand = await openReel('door', 'open');
    await hand.fill('Playhead', '10f');
    await hand.command('Insert time at the playhead');
    await hand.fill('Length', '12f');
    const doc = await docOf('door');
    expect(tracksOf(doc, 'open')['door.rotation']!.map(({ at }) => at)).toEqual(['0f', '22f', '42f']);
    expect(doc.clips['open']).toMatchObject({
      duration: '52f',
      cues: [{ at: '42f', name: 'open' }],
      spans: { swing: ['22f', '42f'] },
    });
    expect(hand.count).toBeLessThanOrEqual(6);
  });

  it('3. eight clips of a sheet, four sides each of walk and idle: at most 14 actions', async () => {
    const hand = await openReel('walker');
    await hand.click('roles', 'tab');
    await hand.choose('New sheet from a picture', 'walker.png');
    await hand.fill('columns of the sheet walker', '6');
    await hand.fill('rows of the sheet walker', '8');
    await hand.click('sheets', 'tab');
    await hand.click('Use it for a new role');
    await hand.click('Clips from rows …');
    const sides = ['down', 'up', 'left', 'right'];
    const names = ['walk', 'idle'].flatMap((what) => sides.map((side) => `${what}-${side}`));
    await hand.fill('Names', names.join(', '));
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    const doc = await docOf('walker');
    expect(Object.keys(doc.clips)).toEqual(names);
    expect(doc.sheets!['walker']).toMatchObject({ columns: 6, rows: 8, cell: [16, 16] });
    expect(doc.clips['idle-up']).toMatchObject({
      duration: '18f',
      loop: 'loop',
      tracks: { 'walker.frame': [{ at: 0, frames: [30, 35], each: '3f' }] },
    });
    expect(doc.facings).toMatchObject({ walk: { up: 'walk-up' }, idle: { right: 'idle-right' } });
    expect(hand.count).toBeLessThanOrEqual(14);
  });

  it('4. a tool follows a body drawn in 14 frames: at most 40 actions', async () => {
    const hand = await openReel('tool', 'dig');
    await hand.press('r', ']', ']');
    // One value and one step for each drawing.
    for (let i = 0; i < 14; i++) {
      await hand.fill('tool.rotation', String(10 * i - 40));
      await hand.press('}');
    }
    await hand.press('r');
    const keys = tracksOf(await docOf('tool'), 'dig')['tool.rotation']!;
    expect(keys.map(({ at, value }) => [at, value])).toEqual(
      Array.from({ length: 14 }, (_, i) => [i === 0 ? 0 : `${i}f`, 10 * i - 40]),
    );
    expect(hand.count).toBeLessThanOrEqual(40);
  });

  it('5. a hit shape over six frames: at most 24 actions', async () => {
    const hand = await openReel('sword', 'swing');
    await hand.press(']', 'r');
    await hand.fill('Playhead', '3f');
    await hand.click('off: arm.blade; turn it on from here on');
    await hand.fill('Playhead', '9f');
    await hand.click('on: arm.blade; turn it off from here on');
    // Back through the frames in which it is there.
    for (let i = 0; i < 5; i++) {
      await hand.press(',');
      const end = (await page.getByRole('button', { name: 'arm.blade: end' }).boundingBox())!;
      const spot = [end.x + end.width / 2, end.y + end.height / 2] as const;
      await hand.drag(spot, [spot[0] + 9, spot[1] + 4]);
    }
    await hand.press('r');
    const keys = tracksOf(await docOf('sword'), 'swing')['arm.blade']!;
    expect(keys.map(({ at }) => at)).toEqual(['3f', '4f', '5f', '6f', '7f', '8f', '9f']);
    expect(keys.at(-1)!['value']).toBeNull();
    expect(new Set(keys.map(({ value }) => JSON.stringify(value))).size).toBe(7);
    expect(hand.count).toBeLessThanOrEqual(24);
  });

  it('6. a scene with three life spans and a nested clip: at most 40 actions', async () => {
    const hand = await openReel('scene', 'cut-scene');
    const { x, ruler } = await placesOn(page, 120);
    for (const [from, until] of [
      [0, 90],
      [20, 60],
      [40, 120],
    ] as const) {
      await hand.press(']');
      await hand.drag([x(from), ruler.y + 6], [x(until), ruler.y + 6], 'Shift');
      await hand.click('Role only here');
    }
    await hand.fill('Playhead', '70f');
    await hand.command('Add wave as a part at the playhead');
    const doc = await docOf('scene');
    expect(Object.keys(tracksOf(doc, 'cut-scene')).filter((name) => name.endsWith('.visible'))).toEqual([
      'crab.visible',
      'gull.visible',
      'boat.visible',
    ]);
    expect(tracksOf(doc, 'cut-scene')['gull.visible']).toEqual([
      { at: 0, value: false },
      { at: '20f', value: true },
      { at: '60f', value: false },
    ]);
    expect(doc.clips['cut-scene']!.parts).toEqual([{ clip: 'wave', at: '70f' }]);
    expect(hand.count).toBeLessThanOrEqual(40);
    // The end of the part trims it; with Alt it plays slower.
    const bar = (end: number) => [x(end) - 2, ruler.y + 20 + 28 + 6] as const;
    await dragOn(page, bar(100), bar(110), 'Alt');
    await expect.poll(async () => (await docOf('scene')).clips['cut-scene']!.parts![0]!.rate).toBeCloseTo(0.75, 6);
    await dragOn(page, bar(110), bar(90));
    await expect.poll(async () => (await docOf('scene')).clips['cut-scene']!.parts![0]!.until).toBe('90f');
  });

  it('6b. a part has other roles by a dialog, and a cue has its data as fields', async () => {
    await openReel('scene', 'cut-scene');
    await page.getByLabel('Cues, spans and parts').selectOption({ label: 'part wave' });
    await page.getByRole('button', { name: 'Roles …' }).click();
    await page.getByLabel('crab', { exact: true }).selectOption('gull');
    await page.getByRole('button', { name: 'Set', exact: true }).click();
    const part = async () => (await docOf('scene')).clips['cut-scene']!.parts![0];
    await expect.poll(part).toMatchObject({ roles: { crab: 'gull' } });
    await command(page, 'Add a cue at the playhead');
    await page.getByLabel('Name', { exact: true }).fill('call');
    await page.getByLabel('Sound', { exact: true }).selectOption('click.wav');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByLabel('Add data: name = value').fill('strength = 0.8');
    await page.keyboard.press('Enter');
    const data = async () => (await docOf('scene')).clips['cut-scene']!.cues![0]!.data;
    await expect.poll(data).toEqual({ sound: 'click.wav', strength: 0.8 });
    await page.getByLabel('data: strength').fill('');
    await page.keyboard.press('Enter');
    await expect.poll(data).toEqual({ sound: 'click.wav' });
  });

  it('7. time is taken out, and a clip made longer and scaled by its end', async () => {
    const hand = await openReel('edits', 'long');
    const { x, ruler } = await placesOn(page, 60);
    await hand.drag([x(10), ruler.y + 6], [x(20), ruler.y + 6], 'Shift');
    await hand.click('Remove time');
    const doc = await docOf('edits');
    expect(doc.clips['long']).toMatchObject({ duration: '50f', cues: [{ at: '30f' }] });
    expect(tracksOf(doc, 'long')['body.rotation']!.map(({ at }) => at)).toEqual(['0f', '10f', '30f', '50f']);
    expect(hand.count).toBe(2);
    const at = await placesOn(page, 50);
    await hand.drag([at.x(50) + 5, at.ruler.y + 15], [at.x(40) + 5, at.ruler.y + 15], 'Alt');
    expect(tracksOf(await docOf('edits'), 'long')['body.rotation']!.map(({ at }) => at)).toEqual([
      '0f',
      '8f',
      '24f',
      '40f',
    ]);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect.poll(async () => (await docOf('edits')).clips['long']!.duration).toBe('60f');
  });

  it('8. keys of one easing get another, which is copied; a track is pasted to another role', async () => {
    const hand = await openReel('edits', 'long');
    const { x, y } = await placesOn(page, 60);
    await hand.at([x(40), await y('body.rotation')]);
    await hand.command('Copy the easing');
    await hand.at([x(20), await y('body.rotation')]);
    await hand.command('Select the keys with the same easing');
    await hand.command('Paste the easing');
    const doc = await docOf('edits');
    const eases = (track: string) => tracksOf(doc, 'long')[track]!.map(({ ease }) => ease ?? 'linear');
    expect(eases('body.rotation')).toEqual(['quad-out', 'quad-out', 'quad-out', 'linear']);
    expect(eases('body.opacity')).toEqual(['linear', 'quad-out', 'linear']);
    await hand.at([x(20), await y('body.rotation')]);
    await hand.command('Select all keys of the track');
    await hand.press('Control+c', 'Home');
    await page.locator('.track-name[title^="arm.rotation:"]').click();
    await hand.command('Paste to the selected track');
    const pasted = tracksOf(await docOf('edits'), 'long')['arm.rotation']!;
    expect(pasted.map(({ at, value }) => [at, value])).toEqual([
      ['0f', 0],
      ['20f', 40],
      ['30f', 90],
      ['40f', 10],
      ['60f', 0],
    ]);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
  });

  it('9. a moment of the whole clip is moved by its summary; curves are marked, moved and scaled by their box', async () => {
    await openReel('edits', 'long');
    const { x, y } = await placesOn(page, 60);
    const keys = (await page.getByTestId('keys').boundingBox())!;
    await dragOn(page, [x(20), keys.y + 12], [x(24), keys.y + 12]);
    let tracks = tracksOf(await docOf('edits'), 'long');
    expect([tracks['body.rotation']![1]!['at'], tracks['body.opacity']![1]!['at']]).toEqual(['24f', '24f']);
    await page.locator('.track-name[title^="body.rotation:"]').click();
    const curves = (await page.getByTestId('curves').boundingBox())!;
    const mark = () => dragOn(page, [x(12), curves.y + 3], [x(52), curves.y + curves.height - 3]);
    await mark();
    await expect.poll(() => page.locator('.key-line strong').textContent()).toBe('2 keys');
    // The key at 24 is at the top of the curve; both go along.
    await dragOn(
      page,
      [x(24), curves.y + 16 + (curves.height - 32) * 0.069],
      [x(26), curves.y + 16 + (curves.height - 32) * 0.069],
    );
    tracks = tracksOf(await docOf('edits'), 'long');
    expect(tracks['body.rotation']!.map(({ at }) => at)).toEqual(['0f', '26f', '42f', '60f']);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    expect(await y('body.rotation')).toBeGreaterThan(0);
  });

  it('10. captured keys become few, within a tolerance that shows what it does', async () => {
    const hand = await openReel('edits', 'captured');
    await hand.press('Control+a');
    await hand.click('Simplify …');
    await hand.fill('Tolerance: how much a value may change', '1');
    expect(await page.getByTestId('status').textContent()).toMatch(/^simplified 31 keys of a track to \d$/);
    // Escape leaves all as it was.
    await page.keyboard.press('Escape');
    expect(tracksOf(await docOf('edits'), 'captured')['body.rotation']).toHaveLength(31);
    await hand.click('Simplify …');
    await hand.fill('Tolerance: how much a value may change', '1');
    await page.getByRole('button', { name: 'Simplify', exact: true }).click();
    await expect.poll(async () => tracksOf(await docOf('edits'), 'captured')['body.rotation']!.length).toBeLessThan(8);
  });

  it('11. pixel art has sharp edges: 16 px at 800 %', async () => {
    await openReel('sword', 'swing');
    await command(page, 'Pixel art: sharp pixels');
    await page.keyboard.press('Home');
    const stage = page.getByTestId('stage');
    await stage.click({ position: { x: 4, y: 4 } });
    await command(page, 'Show or hide shapes');
    for (let i = 0; i < 12; i++) await page.getByRole('button', { name: 'Zoom in' }).click();
    // Straight, so that columns of the picture are columns of the screen.
    await page.getByLabel('arm.rotation', { exact: true }).fill('0');
    await page.getByLabel('arm.rotation', { exact: true }).press('Enter');
    const shot = await stage.screenshot();
    // The page itself may load nothing from a text: another one reads it.
    const reader = await page.context().browser()!.newPage();
    const row = await reader.evaluate(async (base64) => {
      const bitmap = await createImageBitmap(await (await fetch(`data:image/png;base64,${base64}`)).blob());
      const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
      const pen = canvas.getContext('2d')!;
      pen.drawImage(bitmap, 0, 0);
      const { data } = pen.getImageData(0, Math.round(bitmap.height / 2) - 30, bitmap.width, 1);
      return Array.from({ length: bitmap.width }, (_, i) => data[4 * i]!);
    }, shot.toString('base64'));
    await reader.close();
    // From black to white there is no grey, or one column of it.
    const last = row.findLastIndex((grey) => grey < 8);
    expect(row.filter((grey) => grey < 8).length).toBeGreaterThan(40);
    expect(Math.max(...row.slice(last + 1, last + 3))).toBeGreaterThan(247);
    await page.keyboard.press('Escape');
  });

  it('12. the sound of a cue is drawn, and heard at its moment', async () => {
    await openReel('door', 'open');
    // An analyser beside the loudspeaker: when its samples begin to be loud is known to the sample.
    await page.evaluate(() => {
      // eslint-disable-next-line @typescript-eslint/unbound-method -- it is called with its owner
      const connect = AudioNode.prototype.connect as (this: AudioNode, to: AudioNode) => AudioNode;
      let analyser: AnalyserNode | undefined;
      AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode) {
        analyser ??= new AnalyserNode(this.context, { fftSize: 32_768 });
        if (to instanceof AudioDestinationNode) connect.call(this, analyser);
        return connect.call(this, to);
      } as typeof AudioNode.prototype.connect;
      const heard = async () => {
        const start = await new Promise<number>((resolve) => {
          const hear = ({ key }: KeyboardEvent) => key === ' ' && resolve(performance.now());
          addEventListener('keydown', hear, { capture: true });
        });
        for (;;) {
          await new Promise((resolve) => setTimeout(resolve, 10));
          if (!analyser) continue;
          const samples = new Float32Array(analyser.fftSize);
          analyser.getFloatTimeDomainData(samples);
          const now = performance.now();
          const first = samples.findIndex((n) => Math.abs(n) > 0.05);
          const at = now - ((samples.length - first) / analyser.context.sampleRate) * 1000 - start;
          // What is left of an earlier sound is before the press.
          if (first >= 0 && at > 0) return at;
        }
      };
      Object.assign(globalThis, { hear: () => void Object.assign(globalThis, { heard: heard() }) });
    });
    // The cue is at frame 42 of 60 a second. Where others share the processors, the best of a few counts.
    const off: number[] = [];
    while (off.length < 4 && !off.some((ms) => ms < 20)) {
      await page.evaluate(() => (globalThis as unknown as { hear: () => void }).hear());
      await page.keyboard.press('Home');
      await page.keyboard.press('Space');
      const heard = await page.evaluate(() => (globalThis as unknown as { heard: Promise<number> }).heard);
      await page.keyboard.press('Space');
      off.push(Math.abs(heard - 700));
      // Until the analyser has forgotten it.
      if (off.at(-1)! >= 20) await page.waitForTimeout(1000);
    }
    expect(Math.min(...off), off.join()).toBeLessThan(20);
    // Drawn: the ruler is not empty after the cue.
    const { x, ruler } = await placesOn(page, 52);
    const coloured = await page.evaluate(
      ([left, top]) => {
        const canvas = document.querySelector<HTMLCanvasElement>('[data-testid="ruler"]')!;
        const box = canvas.getBoundingClientRect();
        const { data } = canvas.getContext('2d')!.getImageData(left - box.left + 4, top, 6, 12);
        return data.filter((n, i) => i % 4 === 3 && n > 60).length;
      },
      [x(43), 28] as const,
    );
    expect(ruler.height).toBeGreaterThan(40);
    expect(coloured).toBeGreaterThan(20);
  });

  it('13. drawings stay longer, turn round, and go to the next inside a row', async () => {
    const hand = await openReel('walker', 'walk-down');
    await hand.press('Home', '}', '}');
    expect(await page.getByLabel('Playhead', { exact: true }).inputValue()).toBe('6f');
    await hand.command('Start with the next drawing');
    const frames = async () => tracksOf(await docOf('walker'), 'walk-down')['walker.frame']!;
    expect(await frames()).toEqual([
      { at: 0, frames: [1, 5], each: '3f' },
      { at: '15f', value: 0 },
    ]);
    await page.keyboard.press('End');
    const { x, y } = await placesOn(page, 18);
    await hand.at([x(15), await y('walker.frame')]);
    await hand.fill('How long the drawing lasts; later ones move along', '6f');
    await expect.poll(async () => (await docOf('walker')).clips['walk-down']!.duration).toBe('21f');
    expect(faults).toEqual([]);
  });
});

describe('and besides', () => {
  it('a picture that is dropped goes into the folder; its cells are found by their gaps', async () => {
    await openReel('walker', 'walk-down');
    const packed = picture(
      64,
      32,
      '<rect x="2" y="3" width="10" height="20"/><rect x="30" y="5" width="22" height="9"/>',
    );
    const drop = await page.evaluateHandle(
      (bytes) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([new Uint8Array(bytes)], 'packed.png', { type: 'image/png' }));
        return transfer;
      },
      [...packed],
    );
    await page.locator('.workbench').dispatchEvent('drop', { dataTransfer: drop });
    await page.getByTestId('status').filter({ hasText: 'Added packed.png' }).waitFor();
    expect(readFileSync(join(media, 'packed.png')).equals(packed)).toBe(true);
    await page.getByLabel('New sheet from a picture').selectOption('packed.png');
    await page.getByRole('tab', { name: 'sheets' }).click();
    await page.getByLabel('Sheet that is shown').selectOption('packed');
    await page.getByRole('button', { name: 'Find cells by gaps' }).click();
    await expect
      .poll(async () => (await docOf('walker')).sheets!['packed'])
      .toMatchObject({
        cells: [
          { x: 2, y: 3, width: 10, height: 20 },
          { x: 30, y: 5, width: 22, height: 9 },
        ],
      });
    await page.getByRole('button', { name: 'Draw cells' }).click();
    const box = (await page.getByTestId('sheet').boundingBox())!;
    const scale = box.width / 64;
    await dragOn(page, [box.x + 54 * scale, box.y + 20 * scale], [box.x + 60 * scale, box.y + 28 * scale]);
    await page.getByLabel('origin y of cell 2', { exact: true }).fill('7');
    await page.keyboard.press('Enter');
    const cells = async () =>
      ((await docOf('walker')).sheets!['packed'] as { readonly cells: readonly object[] }).cells;
    await expect.poll(async () => (await cells())[2]).toMatchObject({ origin: [expect.any(Number), 7] });
  });

  it('roles change their order by the keyboard, and are hidden on this page only', async () => {
    await openReel('scene', 'cut-scene');
    const before = await docOf('scene');
    await page.getByRole('tab', { name: 'roles' }).click();
    await page.getByRole('button', { name: /^Order of crab/ }).press('ArrowDown');
    await expect.poll(async () => Object.keys((await docOf('scene')).roles!)).toEqual(['gull', 'crab', 'boat']);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+z');
    await expect.poll(() => docOf('scene')).toEqual(before);
    const hide = page.getByRole('button', { name: 'Hide crab on the stage' });
    await hide.click();
    expect(await hide.getAttribute('aria-pressed')).toBe('true');
    expect(await docOf('scene')).toEqual(before);
  });

  it('the first clip is guided step by step', async () => {
    await openReel('ball');
    await command(page, 'Show the first steps');
    const steps = page.getByRole('region', { name: 'Your first clip' });
    const done = () => steps.locator('.is-done').count();
    await page.keyboard.press('Alt+n');
    await page.getByLabel('Name', { exact: true }).fill('first');
    await page.keyboard.press('Enter');
    await expect.poll(done).toBe(1);
    for (const key of ['r', ']']) await page.keyboard.press(key);
    await page.getByLabel('Playhead', { exact: true }).fill('15f');
    await page.keyboard.press('Enter');
    await expect.poll(done).toBe(3);
    await page.getByLabel('ball.rotation', { exact: true }).fill('40');
    await page.keyboard.press('Enter');
    await expect.poll(done).toBe(4);
    await page.keyboard.press('Space');
    await expect.poll(done).toBe(5);
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: 'Done' }).click();
    await steps.waitFor({ state: 'detached' });
    expect(faults).toEqual([]);
  });
});
