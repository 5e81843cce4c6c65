import { spawnSync } from 'node:child_process';
import {
  closeSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { checkReel, declarationOf, LIMITS, parseReel } from 'unspool';
import { describe, expect, test } from 'vitest';
import { BIN, BROKEN, DEMO_REELS, REELS, scratchFolder, unspool } from '../test/command.js';
import { FULL_DISK } from '../test/served.js';

const scratch = scratchFolder();

describe('show, compile, new and types', () => {
  test('show lists the clips, and of one its keys', () => {
    expect(unspool(['show', 'crab.reel.json']).stdout).toMatch(/snap +30f +0.5 s +once +5 +19 +danger, shut/);
    expect(unspool(['show', 'crab.reel.json']).stdout).toContain(
      'chain   victory: hop → cheer (loop ×2, fade 4f) → snap (fade 4f)\nfacing  scuttle: right scuttle-right, left',
    );
    expect(unspool(['show', 'crab.reel.json', 'snap']).stdout).toMatch(
      /12f +0.2 +-48 → cubic-bezier\(0.7, 0, 0.9, 0.4\)/,
    );
    expect(unspool(['show', 'jelly.reel.json', 'startle']).stdout).toMatch(
      /66f +1.1 +1 → sine-in-out +#fff0a8 → ease-in/,
    );
    expect(unspool(['show', 'jelly.reel.json', 'startle']).stdout).toMatch(
      /^part pulse: 0.5s – 1.7s, rate 2, ping-pong ×2$/m,
    );
    const json = JSON.parse(unspool(['show', 'gauge.reel.json', 'level', '--format', 'json']).stdout) as {
      tracks: unknown[];
    };
    expect(json.tracks[3]).toMatchObject({
      name: 'label.reading',
      kind: 'text',
      keys: [{ at: 0, value: 'empty' }, {}, {}, {}],
    });
  });

  test('compile writes what the library loads, and no reel over a reel', async () => {
    const out = join(scratch, 'crab.compiled.json');
    expect(unspool(['compile', 'crab.reel.json', '-o', out]).stderr).toContain('16 clips');
    const { loadReel } = await import('unspool');
    const loaded = loadReel<unknown>(JSON.parse(readFileSync(out, 'utf8')));
    expect(loaded.clip('snap').sample(0.2).get('claw.rotation')).toBe(-48);
    expect(unspool(['compile', 'crab.reel.json', '-o', 'crab.reel.json'])).toMatchObject({ exit: 2 });
  });

  test('new writes a reel that passes, and replaces nothing unasked', () => {
    const file = join(scratch, 'fresh.reel.json');
    expect(unspool(['new', file]).exit).toBe(0);
    expect(unspool(['check', '--strict', file]).exit).toBe(0);
    expect((JSON.parse(readFileSync(file, 'utf8')) as { name: string }).name).toBe('fresh');
    // Pictures that are there stay.
    const body = join(scratch, 'body.png');
    expect([...readFileSync(body).subarray(1, 4)]).toEqual([...Buffer.from('PNG')]);
    writeFileSync(body, 'mine');
    expect(unspool(['new', join(scratch, 'other.reel.json')]).stderr).not.toContain('body.png');
    expect(readFileSync(body, 'utf8')).toBe('mine');
    rmSync(body);
    rmSync(join(scratch, 'claw.png'));
    rmSync(join(scratch, 'other.reel.json'));
    writeFileSync(file, 'mine');
    expect(unspool(['new', file])).toMatchObject({
      exit: 2,
      stderr: expect.stringContaining('already exists') as string,
    });
    expect(readFileSync(file, 'utf8')).toBe('mine');
  });

  test('edit in a folder without reels says how to make one', () => {
    const empty = join(scratch, 'empty');
    mkdirSync(empty);
    const { exit, stderr } = unspool(['edit'], { cwd: empty });
    expect([exit, stderr]).toEqual([2, expect.stringContaining('make one: unspool new hermit-crab.reel.json')]);
  });

  test('types of reels are current', () => {
    const named = fileURLToPath(new URL('../../unspool/test/named.reel.', import.meta.url));
    copyFileSync(`${named}json`, join(scratch, 'named.reel.json'));
    expect(unspool(['types', join(scratch, 'named.reel.json')]).exit).toBe(0);
    expect(readFileSync(join(scratch, 'named.reel.d.json.ts'), 'utf8')).toBe(readFileSync(`${named}d.json.ts`, 'utf8'));
    // Those of the demo reels are kept by the plugin.
    for (const name of DEMO_REELS) {
      const reel = parseReel<unknown>(readFileSync(join(REELS, name), 'utf8'));
      const kept = readFileSync(join(REELS, name.replace(/json$/, 'd.json.ts')), 'utf8');
      expect(kept).toBe(declarationOf(reel, 'reel', '@unspool/vite'));
    }
  });
});

/** A folder with links that lead nowhere, or back. */
const links = scratchFolder();
copyFileSync(join(REELS, 'crab.reel.json'), join(links, 'crab.reel.json'));
mkdirSync(join(links, 'inner'));
for (const [to, name] of [
  ['nowhere', 'lost.reel.json'],
  ['round', 'round'],
  ['../inner', 'inner/again'],
] as const)
  symlinkSync(to, join(links, name));

describe('a wrong call', () => {
  test.each([
    [['sampl'], "unknown command 'sampl'"],
    [['check'], 'missing reel. Name a file: unspool check crab.reel.json'],
    [['check', '--game', 'nowhere', 'crab.reel.json'], 'file not found: nowhere'],
    [['alter', '--snap', 'crab.reel.json', 'snap'], '--snap takes crab.reel.json as its value'],
    [['check', 'crab.reel.json', '--format', 'xml'], 'unknown format "xml"'],
    [['show', 'crab.reel.json', 'snpa'], 'unknown clip "snpa". Did you mean "snap"?'],
    [['sample', 'crab.reel.json', 'snap', '--tracks', 'clow.*'], 'snap has no track clow.*'],
    [['sample', 'crab.reel.json', 'snap', '--at', 'soon'], 'invalid time "soon" for --at'],
    [['trace', 'crab.reel.json', 'snap', '--step', '0'], '--step 0 is not greater than 0'],
    [['trace', 'crab.reel.json', 'snap', '--loop', 'pingpong'], 'Did you mean "ping-pong"?'],
    [['draw', 'crab.reel.json', 'snap', '-o', 'snap.gif'], 'does not end in .svg or .png'],
    [['draw', 'crab.reel.json', 'snap', '-o', 'no/where/snap.svg'], 'the folder no/where does not exist'],
    [['draw', 'crab.reel.json', 'snap', '-o', 'a.svg', '--size', 'big'], 'invalid size big'],
  ])('%j: exit 2, and what to do', (args, message) => {
    const { exit, stdout, stderr } = unspool(args);
    expect([exit, stdout]).toEqual([2, '']);
    expect(stderr).toContain(message);
  });

  test.each([
    [['show', 'lost.reel.json'], 'lost.reel.json is a link to a file that does not exist'],
    [['show', 'round'], 'round is a link that leads back to itself'],
    [['check', 'crab.reel.json', '--game', 'round'], 'file not found: round'],
    [['edit', 'crab.reel.json', '--pictures', 'round'], 'the folder round does not exist'],
    [['edit', 'crab.reel.json', '--pictures', 'crab.reel.json/x'], 'the folder crab.reel.json/x does not exist'],
    [['new', 'crab.reel.json/x.reel.json'], 'the folder crab.reel.json does not exist'],
    [
      ['new', 'limpet'],
      'limpet does not end in .reel.json, by which folders are searched for reels. Write: unspool new limpet.reel.json',
    ],
    [['new', 'a b/limpet.json', '--force'], 'Write: unspool new a b/limpet.reel.json'],
    [['new', 'game'], 'the folder of the game is missing. Write: unspool new game rock-pool'],
    [['new', 'game', '.'], 'the folder . is not empty. Name a new folder: nothing is replaced'],
    [['new', 'a.reel.json', 'b'], 'b is one name too many'],
  ])('%j, with links that lead nowhere: exit 2, one line', (args, message) => {
    const { exit, stdout, stderr } = unspool(args, { cwd: links });
    expect([exit, stdout, stderr.trimEnd().split('\n').length]).toEqual([2, '', 1]);
    expect(stderr).toContain(message);
  });

  test('a folder of sources that leads into itself is looked through once', () => {
    expect(unspool(['check', '--game', 'inner', 'crab.reel.json'], { cwd: links }).exit).toBe(0);
  });

  test('standard input is read only up to the size limit', () => {
    const { exit, stderr } = unspool(['check', '-'], { input: ' '.repeat(LIMITS.bytes + 100_000) });
    expect([exit, stderr]).toEqual([2, expect.stringContaining('bytes, the limit is 16777216')]);
  });

  test('new writes to standard output, and a file completely or not at all', () => {
    const { stdout } = unspool(['new', '-'], { cwd: links });
    expect(checkReel(stdout)).toEqual([]);
    const [file, full] = [join(links, 'fresh.reel.json'), join(links, 'full')];
    writeFileSync(full, '');
    const env = { ...process.env, FULL_DISK: full };
    const { status, stderr } = spawnSync(process.execPath, ['--import', FULL_DISK, BIN, 'new', file], {
      env,
      encoding: 'utf8',
    });
    expect([status, stderr]).toEqual([2, expect.stringContaining('the disk is full')]);
    expect(existsSync(file)).toBe(false);
  });

  test.skipIf(!existsSync('/dev/full'))('an output that takes no more is said', () => {
    const full = openSync('/dev/full', 'w');
    const { status, stderr } = spawnSync(process.execPath, [BIN, 'show', 'crab.reel.json'], {
      ...{ cwd: REELS, encoding: 'utf8' },
      stdio: ['ignore', full, 'pipe'],
    });
    closeSync(full);
    expect([status, stderr]).toEqual([2, expect.stringContaining('the output is incomplete')]);
  });

  test('every command explains itself with an example', () => {
    for (const command of ['check', 'show', 'sample', 'trace', 'draw', 'new', 'types', 'compile']) {
      const { exit, stdout } = unspool([command, '--help']);
      expect(exit).toBe(0);
      expect(stdout).toContain(`Examples:\n  unspool ${command}`);
    }
  });

  test('a reel with errors is not played: exit 1, and the errors', () => {
    const { exit, stderr } = unspool(['trace', 'order.json', 'snap'], { cwd: BROKEN });
    expect(exit).toBe(1);
    expect(stderr).toContain('order.json:9:19: error');
  });
});
