import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from 'playwright';
import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from 'vitest';
import { parseReel, Player } from 'unspool';
import type crabReel from '../reels/crab.reel.json';
import { HOME, Match } from '../src/match.js';
import { serveExample } from '../../../scripts/built-example.mjs';

/** The game as players get it, driven as a person would: by keys, looking at the page. */
let served: Awaited<ReturnType<typeof serveExample>>;
let page: Page;
let faults: string[];

beforeAll(async () => {
  served = await serveExample('tidepool');
});
afterAll(() => served?.close());

async function open(query = ''): Promise<void> {
  page = await served.open(query, {}, faults);
  // The first time takes longest: what is waited for later could be over by then.
  await page.waitForFunction(() => true);
}
beforeEach(async () => {
  faults = [];
  await open();
});
afterEach(async () => {
  expect(faults).toEqual([]);
  await page.context().close();
});

const clipOf = (reel: string) => page.getAttribute(`tr[data-reel="${reel}"]`, 'data-clip');
const place = async () => {
  const [, x, y] = /crab at (\d+), (\d+)/.exec((await page.textContent('#where'))!)!;
  return { x: Number(x), y: Number(y) };
};
const hasEvent = (text: string) =>
  page.waitForFunction((message) => document.getElementById('events')!.textContent.includes(message), text);
/** One of the clips of the rule that is left when no other applies. */
const idle = () => page.waitForSelector('tr[data-reel="crab"]:is([data-clip="sway"], [data-clip="stretch"])');
const rule = (name: string, text: string) =>
  page.waitForFunction(
    ([bold, message]) =>
      [...document.querySelectorAll('#rules li')].some(
        (item) => item.querySelector('b')!.textContent === bold && item.textContent.includes(message),
      ),
    [name, text] as const,
  );
const playing = (reel: string, clip: string) => page.waitForSelector(`tr[data-reel="${reel}"][data-clip="${clip}"]`);

test.each([
  ['ArrowRight', 'scuttle-right', 1, 0],
  ['ArrowLeft', 'scuttle-left', -1, 0],
  ['ArrowUp', 'scuttle-up', 0, -1],
  ['ArrowDown', 'scuttle-down', 0, 1],
])('%s: the crab plays %s and goes there', async (key, clip, x, y) => {
  const before = await place();
  await page.keyboard.down(key);
  await playing('crab', clip);
  await hasEvent('step');
  await page.keyboard.up(key);
  await idle();
  const after = await place();
  expect([Math.sign(after.x - before.x), Math.sign(after.y - before.y)]).toEqual([x, y]);
});

test('the snap’s cue makes a ripple and startles the jelly; then both go back', async () => {
  expect(await clipOf('jelly')).toBe('pulse');
  // Short clips are waited for before they begin: a slow page could miss them otherwise.
  const seen = [
    page.waitForFunction(() => /\+ snap/.test(document.getElementById('playheads')!.textContent)),
    hasEvent('crab, snap: shut'),
    playing('ripple', 'ripple'),
    playing('jelly', 'startle'),
  ];
  await page.keyboard.press('Space');
  await Promise.all(seen);
  await idle();
  await playing('jelly', 'pulse');
});

test('a hop is relative to the crab, and leaves it there', async () => {
  const before = await place();
  const seen = [playing('crab', 'hop'), hasEvent('crab, hop: landed')];
  await page.keyboard.press('x');
  await Promise.all(seen);
  await idle();
  const after = await place();
  expect([after.x - before.x, after.y - before.y]).toEqual([42, 0]); // 28 of its own units, which are 1.5 px
});

test('it snaps while it scuttles; a pearl rolls away, and what sparkles above it ends with it', async () => {
  // In slow motion: however few frames a page draws, some have both.
  await page.keyboard.press('t');
  await page.keyboard.down('ArrowRight');
  const both = page.waitForFunction(() =>
    /scuttle-right \+ snap/.test(document.getElementById('playheads')!.textContent),
  );
  const seen = [hasEvent('pearl, roll: bounce'), playing('sparkle', 'twinkle')];
  await page.keyboard.press('Space');
  await both;
  await page.keyboard.press('t');
  await Promise.all(seen);
  await page.keyboard.up('ArrowRight');
  await page.waitForFunction(() => {
    const message = (reel: string) => document.querySelector(`tr[data-reel="${reel}"] td:nth-child(2)`)!.textContent;
    return message('pearl') === 'roll, over' && message('sparkle') === 'twinkle, over';
  });
});

test('a victory is a chain: one after the other, then idle again', async () => {
  const seen = [playing('crab', 'hop'), playing('crab', 'cheer'), hasEvent('crab, snap: shut')];
  await page.keyboard.press('v');
  await Promise.all(seen);
  await idle();
});

test('hiding holds its last drawing and uses air; a bigger shell holds more, and keeps the share', async () => {
  await page.keyboard.press('h');
  await hasEvent('hidden');
  await page.waitForFunction(() => /air [89]\d of 100/.test(document.getElementById('where')!.textContent));
  expect(await clipOf('crab')).toBe('hide');
  await page.keyboard.press('b');
  await page.waitForFunction(() => /air 1[01]\d of 125/.test(document.getElementById('where')!.textContent));
  await page.keyboard.press('h');
  await idle();
});

test('a key that comes in the recovery of a snap snaps again; E says why it plays what it plays', async () => {
  // In slow motion: the window lasts two seconds then, however few frames a page draws.
  await page.keyboard.press('t');
  await page.keyboard.press('e');
  await rule('snap', 'waits for the signal "attack"');
  await rule('idle', 'in force since');
  const seen = [
    rule('snap', 'in force since'),
    rule('snap-again', 'in force since'),
    page.waitForFunction(() => /\+ snap-two/.test(document.getElementById('playheads')!.textContent)),
  ];
  await page.keyboard.press('Space');
  await hasEvent('crab, snap: shut'); // its recovery begins one frame later, and a press is kept for eight
  await page.keyboard.press('Space');
  await Promise.all(seen);
  await hasEvent('crab, snap-two: shut');
  await page.keyboard.press('e');
  expect(await page.isVisible('#rules')).toBe(false);
});

test('it is hidden until asked again, whatever else is asked', async () => {
  await page.keyboard.press('e');
  await page.keyboard.press('h');
  await rule('hidden', 'in force since');
  await page.keyboard.press('x');
  await page.keyboard.down('ArrowRight');
  await page.keyboard.press('Space');
  await rule('idle', '"hidden" is stronger');
  await rule('scuttle', 'speed 0 is not above 12');
  const seen = rule('emerge', 'in force since');
  await page.keyboard.press('h');
  await seen;
  await playing('crab', 'scuttle-right');
  await page.keyboard.up('ArrowRight');
  await idle();
});

test.each([1, 0.4])('at pace %s a pass of its steps takes it as far, so that its feet do not slide', (pace) => {
  const home = { ...HOME };
  const text = readFileSync(new URL('../reels/crab.reel.json', import.meta.url), 'utf8');
  const crab = new Player(parseReel(text) as unknown as typeof crabReel);
  const match = new Match(crab, [], home);
  for (let frame = 0; frame < 120; frame++) match.tick(1 / 60, [1, 0], pace);
  expect(match.act.rule()).toBe('scuttle');
  const { iteration, time, clip } = crab.playback!;
  expect((home.x - HOME.x) / (iteration * clip.duration + time)).toBeCloseTo(150, 6);
});

test('the gate is reversed half way, opens, and closes by itself', async () => {
  await page.keyboard.press('g');
  await page.waitForFunction(
    () => Number(document.querySelector('tr[data-reel="gate"] td:nth-child(3)')!.textContent) > 8,
  );
  await page.keyboard.press('g'); // back
  await page.waitForFunction(
    () => document.querySelector('tr[data-reel="gate"] td:nth-child(2)')!.textContent === 'gate, over',
  );
  await page.keyboard.press('g');
  await hasEvent('gate, gate: opened');
  await hasEvent('gate, gate: closed');
});

test('paused, one frame at a time moves each playhead by just that frame', async () => {
  await page.click('#pause');
  await expect.poll(() => page.getAttribute('#pause', 'aria-pressed')).toBe('true');
  await page.waitForTimeout(200);
  // Frames that have gone by since the beginning: the pulse goes there and back, 72 frames each way.
  const passed = async () => {
    const cells = await page.locator('tr[data-reel="jelly"] td').allTextContents();
    const [frame, pass] = [Number(cells[2]), Number(cells[3])];
    return pass * 72 + (pass % 2 === 0 ? frame : 72 - frame);
  };
  const before = await passed();
  await page.waitForTimeout(200);
  expect(await passed()).toBe(before);
  for (let i = 0; i < 3; i++) await page.click('#step');
  await expect.poll(passed).toBeGreaterThanOrEqual(before + 2);
  expect(await passed()).toBeLessThanOrEqual(before + 4);
});

test('the rate is set by keyboard, and shown', async () => {
  await page.focus('#rate');
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowLeft');
  expect(await page.textContent('#rate-value')).toBe('0.5');
  expect(await clipOf('crab')).toMatch(/^(sway|stretch)$/);
});

test('T is slow motion, and O shows the shapes that hit and are hit', async () => {
  await page.keyboard.press('t');
  expect(await page.textContent('#rate-value')).toBe('0.1');
  await page.keyboard.press('t');
  expect(await page.textContent('#rate-value')).toBe('1');
  await page.keyboard.press('o');
  await page.keyboard.press(' ');
  await hasEvent('danger');
});

test('the page decides a recorded match as a server does, to the last digit', async () => {
  const referee = fileURLToPath(new URL('../../referee', import.meta.url));
  const start = spawnSync('npm', ['start', '-s'], { cwd: referee, encoding: 'utf8', shell: true });
  expect(start.status, start.stderr).toBe(0);
  await page.context().close();
  await open('?replay');
  const shown = await page.textContent('#replay');
  expect(shown!.split('\n').length).toBeGreaterThanOrEqual(10);
  expect(shown).toBe(start.stdout.trimEnd());
});
