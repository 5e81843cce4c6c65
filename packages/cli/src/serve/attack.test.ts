import { spawnSync } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { BIN, REELS, scratchFolder } from '../../test/command.js';
import { checksum } from '../../../unspool/src/edit/checksum.js';
import { turn, valueIn } from '../../test/turn.js';
import { FULL_DISK, fullDisk, journalIn, Served } from '../../test/served.js';

/** What may befall a workbench: strangers, full disks, damaged journals, lost locks. Nothing is lost without a word. */

const scratch = scratchFolder();
let count = 0;
let file: string;
let state: string;

beforeEach(() => {
  const folder = join(scratch, String(++count));
  mkdirSync(folder);
  [file, state] = [join(folder, 'crab.reel.json'), join(folder, 'state')];
  copyFileSync(join(REELS, 'crab.reel.json'), file);
});

const saved = () => valueIn(readFileSync(file, 'utf8'));

describe('strangers', () => {
  it('without a token who reset their connections do not stop the server', async () => {
    const served = await Served.start([file], state);
    const upgrade = (more: string) =>
      `GET /api/reel/crab HTTP/1.1\r\nhost: 127.0.0.1:${served.port}\r\nconnection: upgrade\r\nupgrade: websocket\r\nsec-websocket-version: 13\r\nsec-websocket-key: AAAAAAAAAAAAAAAAAAAAAA==\r\n${more}\r\n\r\n`;
    for (let i = 0; i < 40; i++) {
      await Promise.all([
        served.reset(upgrade('origin: http://evil.example')),
        served.reset(upgrade('sec-websocket-protocol: unspool.workbench.1, nothing')),
        served.reset(upgrade(`sec-websocket-protocol: unspool.workbench.1, ${served.token}`)),
        served.reset('GET / HTTP/1.1\r\n'),
        served.reset(`GET /api/pictures HTTP/1.1\r\nhost: 127.0.0.1:${served.port}\r\n\r\n`),
      ]);
    }
    expect(served.isAlive, served.output).toBe(true);
    expect(await (await served.page()).apply(turn(-50))).toMatchObject({ tell: 'step' });
    expect(await served.end()).toBe(0);
    expect(served.output).toContain('everything is saved');
  });

  it('are refused with a token from two starts ago; an open page is accepted, and receives the new token', async () => {
    const first = await Served.start([file], state);
    await first.end('SIGKILL');
    const second = await Served.start([file], state);
    expect(second.token).not.toBe(first.token);
    expect((await second.page(first.token)).received[0]).toMatchObject({ tell: 'open', token: second.token });
    await second.end();
    const third = await Served.start([file], state);
    await expect(third.page(first.token, 'crab', 1000)).rejects.toThrow('was not received');
  }, 60_000);
});

describe('a disk that is full', () => {
  it('is reported at once; everything acknowledged is in the journal when there is space again', async () => {
    const served = await Served.start([file], state);
    const page = await served.page();
    await page.apply(turn(1));
    writeFileSync(fullDisk(state), '');
    for (let i = 2; i <= 60; i++) await page.apply(turn(i));
    expect(page.file).toMatchObject({
      problem: expect.stringContaining('the last steps are not in the journal') as string,
    });
    expect(served.output).toContain('the last steps are not in the journal');
    rmSync(fullDisk(state));
    for (let i = 61; i <= 65; i++) await page.apply(turn(i));
    await served.end('SIGKILL');
    const again = await Served.start([file], state);
    expect(again.output).toContain('65 steps');
    expect(await again.end()).toBe(0);
    expect(saved()).toBe(65);
  }, 60_000);

  it('that is full when it is started: exit 2, one line, and nothing is left behind', () => {
    writeFileSync(fullDisk(state), '');
    const args = ['--import', FULL_DISK, BIN, 'edit', file, '--port', '0'];
    const env = { ...process.env, UNSPOOL_STATE: state, FULL_DISK: fullDisk(state) };
    const { status, stderr } = spawnSync(process.execPath, args, { env, encoding: 'utf8' });
    expect([status, stderr.trimEnd().split('\n').length]).toEqual([2, 1]);
    expect(stderr).toContain('could not be created');
    expect(readdirSync(join(state, 'journals'))).toEqual([]);
  });

  it('that stays full until the end: the work is put where there is room, and exit is 1', async () => {
    const served = await Served.start([file], state);
    const page = await served.page();
    writeFileSync(fullDisk(state), '');
    for (let i = 1; i <= 3; i++) await page.apply(turn(i));
    expect(await served.end()).toBe(1);
    expect(served.output).toContain('crab.reel.json is NOT saved: ');
    // There is no room anywhere: so it is printed.
    expect(served.output).toContain('"at":"12f","value":3');
    expect(saved()).toBe(-48);
  }, 60_000);
});

describe('a journal', () => {
  async function killed(steps: number): Promise<string> {
    const served = await Served.start([file], state);
    const page = await served.page();
    for (let i = 1; i <= steps; i++) await page.apply(turn(i));
    await served.end('SIGKILL');
    return journalIn(state);
  }

  it('with one flipped bit is kept, and what could not be recovered is reported', async () => {
    const journal = await killed(10);
    const text = readFileSync(journal, 'utf8');
    const at = text.split('\n').slice(0, 6).join('\n').length + 20;
    const damaged = text.slice(0, at) + String.fromCharCode(text.charCodeAt(at) ^ 1) + text.slice(at + 1);
    writeFileSync(journal, damaged);
    const again = await Served.start([file], state);
    expect(again.output).toMatch(
      /5 steps.*the journal is damaged; its last \d lines could not be recovered. All of it is kept/s,
    );
    const kept = readdirSync(join(state, 'journals')).find((name) => name.endsWith('.unread'))!;
    expect(readFileSync(join(state, 'journals', kept), 'utf8')).toBe(damaged);
    await again.end();
    expect(saved()).toBe(5);
  }, 60_000);

  it('of many megabytes is taken up while the lock is renewed: no other opens the reel meanwhile', async () => {
    const journal = await killed(1);
    // The same steps over and over, as a long day has them.
    const [begun, step] = readFileSync(journal, 'utf8').split('\n');
    const texts = Array.from({ length: 1500 }, (_, i) =>
      step!
        .slice(9)
        .replace(/"mark":"[^"]*"/, `"mark":"m${i}"`)
        .replace('"value":1', `"value":${i % 2}`),
    );
    const about = { apply: { do: 'change', what: 'clip', name: 'snap', to: { about: 'x'.repeat(24_000) } } };
    const other = { apply: { do: 'change', what: 'clip', name: 'snap', to: { about: 'y'.repeat(24_000) } } };
    const long = texts.flatMap((text, i) => [text, JSON.stringify(i % 2 ? about : other)]);
    writeFileSync(journal, [begun, ...long.map((text) => `${checksum(text)} ${text}`), ''].join('\n'));
    expect(statSync(journal).size).toBeGreaterThan(30e6);
    // The lock of the killed one is still there; the first has it when it is renewed.
    const renewed = () => statSync(`${journal}.lock`, { throwIfNoEntry: false })?.mtimeMs;
    const before = renewed();
    const first = Served.start([file], state);
    await expect.poll(renewed, { timeout: 60_000 }).not.toBe(before);
    await new Promise((resolve) => setTimeout(resolve, 5000));
    const second = spawnSync(process.execPath, [BIN, 'edit', file, '--port', '0'], {
      env: { ...process.env, UNSPOOL_STATE: state },
      encoding: 'utf8',
      timeout: 60_000,
    });
    const opened = await first;
    expect(second.stderr).toContain('is open in another workbench');
    expect(opened.output).toMatch(/(3000|2\d{3}) steps/);
    expect(await opened.end()).toBe(0);
  }, 240_000);

  it('that cannot be read at all is put aside, and said', async () => {
    const journal = await killed(2);
    rmSync(journal);
    mkdirSync(join(journal, 'inner'), { recursive: true });
    const again = await Served.start([file], state);
    expect(again.output).toContain('its journal cannot be read (EISDIR');
    expect(readdirSync(join(state, 'journals')).filter((name) => name.endsWith('.unread'))).toHaveLength(1);
    expect(await (await again.page()).apply(turn(7))).toMatchObject({ tell: 'step' });
    expect(await again.end()).toBe(0);
    expect(saved()).toBe(7);
  }, 60_000);

  it('whose file or folder is removed is written again', async () => {
    const served = await Served.start([file], state);
    const page = await served.page();
    await page.apply(turn(1));
    rmSync(journalIn(state));
    await page.apply(turn(2));
    rmSync(state, { recursive: true });
    await page.apply(turn(3));
    await served.end('SIGKILL');
    const again = await Served.start([file], state);
    expect(again.output).toContain('3 steps');
    await again.end();
    expect(saved()).toBe(3);
  }, 60_000);
});

describe('a lock', () => {
  it('that is removed, or expired while this process was suspended, is taken again', async () => {
    const served = await Served.start([file], state);
    const page = await served.page();
    await page.apply(turn(1));
    rmSync(`${journalIn(state)}.lock`, { recursive: true });
    await expect.poll(() => existsSync(`${journalIn(state)}.lock`), { timeout: 20_000 }).toBe(true);
    // The folder of the lock is there a moment before the program knows that it has it again.
    await expect.poll(async () => (await page.apply(turn(2))).tell).toBe('step');
    served.child.kill('SIGSTOP');
    await new Promise((resolve) => setTimeout(resolve, 6000));
    served.child.kill('SIGCONT');
    await new Promise((resolve) => setTimeout(resolve, 2000));
    expect(await page.apply(turn(3))).toMatchObject({ tell: 'step' });
    expect(await served.end()).toBe(0);
    expect(saved()).toBe(3);
  }, 90_000);

  it('that another process has taken: nothing is written, the page shows it, and can take over', async () => {
    const served = await Served.start([file], state);
    const page = await served.page();
    await page.apply(turn(1));
    await page.heard((message) => message.tell === 'file' && message.file.saved);
    // Not in the middle of renewing its lock: then the other would be the one that has lost it.
    const renewed = () => statSync(`${journalIn(state)}.lock`).mtimeMs;
    const before = renewed();
    await expect.poll(renewed, { interval: 5 }).not.toBe(before);
    await new Promise((resolve) => setTimeout(resolve, 100));
    served.child.kill('SIGSTOP');
    const other = await Served.start([file], state);
    const there = await other.page();
    await there.apply(turn(20));
    served.child.kill('SIGCONT');
    await expect
      .poll(() => served.output, { timeout: 20_000 })
      .toContain('is open in another workbench, because this one was suspended');
    expect(await page.apply(turn(2))).toMatchObject({ tell: 'refused', code: 'workbench/lost' });
    expect(await other.end()).toBe(0);
    expect(saved()).toBe(20);
    page.socket.send(JSON.stringify({ ask: 'take-back' }));
    await expect.poll(() => page.file?.lost, { timeout: 20_000 }).toBeUndefined();
    // What the other has done meanwhile is here too.
    await page.heard((message) => message.tell === 'step' && JSON.stringify(message).includes('20'));
    expect(await page.apply(turn(3))).toMatchObject({ tell: 'step' });
    expect(await served.end()).toBe(0);
    expect(saved()).toBe(3);
  }, 90_000);
});

describe('the end', () => {
  it.each([
    ['is read-only', () => spawnSync('chmod', ['444', file]), () => spawnSync('chmod', ['644', file])],
    ['was deleted', () => rmSync(file), () => {}],
    ['has errors', () => writeFileSync(file, '{'), () => {}],
    [
      'was replaced by a link',
      () => {
        renameSync(file, `${file}.other`);
        symlinkSync(`${file}.other`, file);
      },
      () => {},
    ],
  ] as const)(
    'with work that is not saved, where the file %s: says so, where it is, and how to get it back',
    async (reason, spoil, mend) => {
      const served = await Served.start([file], state);
      const page = await served.page();
      await page.apply(turn(5));
      await page.heard((message) => message.tell === 'file' && message.file.saved);
      spoil();
      const other = existsSync(`${file}.other`) ? readFileSync(`${file}.other`, 'utf8') : undefined;
      await page.apply(turn(6));
      expect(await served.end()).toBe(1);
      expect(served.output).toContain(`${file} is NOT saved: `);
      expect(served.output).toContain(reason);
      if (other === undefined) expect(served.output).toContain(`unspool edit ${file}`);
      expect(served.output).not.toContain('everything is saved');
      if (other !== undefined) {
        expect(readFileSync(`${file}.other`, 'utf8')).toBe(other);
        const kept = /is kept in (\S+)/.exec(served.output)![1]!;
        expect(valueIn(readFileSync(kept, 'utf8'))).toBe(6);
        rmSync(kept);
        return;
      }
      mend();
      const again = await Served.start([file], state);
      const back = await again.page();
      expect(again.output).toContain('from the journal');
      if (back.file?.outside) back.socket.send(JSON.stringify({ ask: 'settle', take: 'ours' }));
      await expect.poll(() => existsSync(file) && saved(), { timeout: 20_000 }).toBe(6);
      expect(await again.end()).toBe(0);
    },
    60_000,
  );
});
