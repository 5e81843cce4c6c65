import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { chromium, type Browser, type BrowserContextOptions, type Page } from 'playwright';
import type { ReelDocument } from 'unspool';
import { chromium as launch, coarse } from '../../../scripts/chromium.mjs';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
export const UNSPOOL = at('../../../packages/cli/bin/unspool.js');
const TIDEPOOL = at('../../../examples/tidepool');

/** A workbench on copies of the demo reels, in folders of its own. */
export class Workbench {
  readonly folder = mkdtempSync(join(tmpdir(), 'unspool-workbench-'));
  readonly env = { ...process.env, UNSPOOL_STATE: join(this.folder, 'state') };
  #server: ChildProcess | undefined;
  #port = 0;
  address = '';
  /** What the terminal shows. */
  message = '';

  /** @param pictures the folder of pictures and sounds */
  constructor(
    readonly reels: readonly string[] = ['crab'],
    readonly pictures = join(TIDEPOOL, 'public'),
  ) {
    cpSync(join(TIDEPOOL, 'reels'), this.folder, { recursive: true });
  }

  file(reel = this.reels[0]!): string {
    return join(this.folder, `${reel}.reel.json`);
  }

  read(reel?: string): string {
    return readFileSync(this.file(reel), 'utf8');
  }

  /** Starts the server; again on the port that it had. */
  async start(): Promise<void> {
    const files = this.reels.map((reel) => this.file(reel));
    const options = ['--pictures', this.pictures, '--port', String(this.#port)];
    const server = spawn(process.execPath, [UNSPOOL, 'edit', ...files, ...options], { env: this.env });
    this.#server = server;
    let printed = '';
    this.address = await new Promise<string>((resolve, reject) => {
      server.stderr.on('data', (chunk: Buffer) => (this.message += chunk.toString()));
      server.stdout.on('data', (chunk: Buffer) => {
        printed += chunk.toString();
        const found = /(http:\S+)\n/.exec(printed)?.[1];
        if (found) resolve(found);
      });
      server.on('exit', () => reject(new Error(`the workbench ended early:\n${printed}${this.message}`)));
    });
    this.#port = Number(new URL(this.address).port);
  }

  get port(): number {
    return this.#port;
  }

  get token(): string {
    return new URL(this.address).hash.slice(1);
  }

  /** `SIGKILL`: as a crash does. */
  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    const server = this.#server;
    if (!server || server.exitCode !== null || server.signalCode !== null) return;
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill(signal);
    await ended;
  }

  async remove(): Promise<void> {
    await this.stop();
    rmSync(this.folder, { recursive: true });
  }

  /** The command line, as another program beside it. */
  unspool(...args: string[]): { readonly exit: number | null; readonly stdout: string; readonly stderr: string } {
    const { status, stdout, stderr } = spawnSync(process.execPath, [UNSPOOL, ...args], {
      env: this.env,
      encoding: 'utf8',
    });
    return { exit: status, stdout, stderr };
  }
}

let browser: Browser | undefined;

/** The page of tests that look at pixels or measure time. */
export const sharp = { viewport: coarse.viewport };

/** A page on it, and what went wrong on the page. */
export async function openPage(
  address: string,
  path = '',
  screen: BrowserContextOptions = coarse,
): Promise<{ readonly page: Page; readonly faults: string[] }> {
  browser ??= await chromium.launch(launch);
  const page = await browser.newPage(screen);
  // Without a graphics card, and with other tests beside it, a page may draw but a few fps.
  page.setDefaultTimeout(Number(process.env.UNSPOOL_PATIENCE ?? 60_000));
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  page.on('console', (message) => message.type() === 'error' && faults.push(message.text()));
  const url = new URL(address);
  if (path) url.search = path;
  await page.goto(url.href);
  await page.getByRole('tab', { name: 'clips' }).waitFor();
  await saved(page);
  return { page, faults };
}

export async function closeBrowser(): Promise<void> {
  await browser?.close();
  browser = undefined;
}

/** Runs a command by its name, as one who does not know its key. */
export async function command(page: Page, name: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Search commands').fill(name);
  await page.getByRole('menuitem').filter({ hasText: name }).first().click();
  await page.getByPlaceholder('Search commands').waitFor({ state: 'detached' });
}

/** Types into a number's field. */
export async function type(page: Page, label: string, text: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true });
  await field.fill(text);
  await field.press('Enter');
}

/** Waits until the file on the disk is as the page shows it. */
export async function saved(page: Page): Promise<void> {
  await page
    .getByTestId('file')
    .filter({ hasText: /^saved$/ })
    .waitFor();
}

/** Takes back all that was done, so that the reel is as it was. */
export async function undoAll(page: Page): Promise<void> {
  await page.getByRole('tab', { name: 'history' }).click();
  for (let left = await page.locator('.steps button:not(.is-undone button)').count(); left > 0; left--)
    await page.keyboard.press('Control+z');
  await saved(page);
}

/** A reel as it is on the disk, once all of it is. */
export async function savedReel(page: Page, workbench: Workbench, reel?: string): Promise<ReelDocument> {
  await saved(page);
  return JSON.parse(workbench.read(reel)) as ReelDocument;
}

/** Where a frame lies in the rows, the ruler and the curves, and where a row does. */
export async function placesOn(page: Page, duration = 30) {
  const keys = (await page.getByTestId('keys').boundingBox())!;
  const ruler = (await page.getByTestId('ruler').boundingBox())!;
  const x = (frame: number) => keys.x + 14 + ((keys.width - 28) * frame) / duration;
  const y = async (name: string) => {
    const box = (await page.locator(`.track-name[title^="${name}:"], .track-name[title^="${name},"]`).boundingBox())!;
    return box.y + box.height / 2;
  };
  return { x, y, ruler };
}

/** Does what an animator does, and counts it: each press of a key or button, each drag, each text typed is one action. */
export class Hand {
  count = 0;

  constructor(readonly page: Page) {}

  async press(...keys: readonly string[]): Promise<void> {
    for (const key of keys) {
      this.count++;
      await this.page.keyboard.press(key);
    }
  }

  async click(name: string | RegExp, role: 'button' | 'tab' = 'button'): Promise<void> {
    this.count++;
    await this.page.getByRole(role, { name, exact: true }).click();
  }

  /** Types into a field, with the key that ends it. */
  async fill(label: string, text: string): Promise<void> {
    this.count++;
    await type(this.page, label, text);
  }

  async choose(label: string, option: string): Promise<void> {
    this.count++;
    await this.page.getByLabel(label, { exact: true }).selectOption(option);
  }

  async drag(from: Spot, to: Spot, modifier?: 'Alt' | 'Shift'): Promise<void> {
    this.count++;
    await dragOn(this.page, from, to, modifier);
  }

  async at(spot: Spot): Promise<void> {
    this.count++;
    await this.page.mouse.click(...spot);
  }

  /** Opens the command list, types, and presses Enter: three actions. */
  async command(name: string): Promise<void> {
    this.count += 3;
    await command(this.page, name);
  }
}

export type Spot = readonly [x: number, y: number];

export async function dragOn(page: Page, from: Spot, to: Spot, modifier?: 'Alt' | 'Shift'): Promise<void> {
  if (modifier) await page.keyboard.down(modifier);
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2);
  await page.mouse.move(...to);
  await page.mouse.up();
  if (modifier) await page.keyboard.up(modifier);
}
