import { execFileSync, spawn } from 'node:child_process';
import {
  chmodSync,
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, onTestFinished, test } from 'vitest';
import { BIN, REELS, scratchFolder, unspool } from '../../test/command.js';

const folder = scratchFolder();
let count = 0;
/** A crab of one's own. */
function crab(): string {
  const file = join(folder, `crab-${count++}.reel.json`);
  copyFileSync(join(REELS, 'crab.reel.json'), file);
  return file;
}
const original = readFileSync(join(REELS, 'crab.reel.json'), 'utf8');

/** Starts it without waiting. */
function start(args: readonly string[], cwd = folder) {
  const child = spawn(process.execPath, [BIN, ...args], { cwd });
  let stderr = '';
  child.stderr.on('data', (chunk: Buffer) => (stderr += chunk.toString()));
  const done = new Promise<{ exit: number | null; stderr: string }>((resolve) =>
    child.on('close', (exit) => resolve({ exit, stderr })),
  );
  return { child, done };
}

describe('operations from a file', () => {
  test.each([
    ['null', 'null is not an operation'],
    ['[]', 'has no operations'],
    ['[{ "do": "reverse", "clip": "snap" }, 5]', '/1: 5 is not an operation'],
    [
      '{ "do": "patch", "said": "x", "changes": [{ "path": "/clips/snap/cues", "member": "x", "at": 0 }] }',
      'is not a list of changes',
    ],
    ['{ "do": "nothing" }', '[edit/operation]'],
  ])('%s: one line, and exit 2', (input, summary) => {
    const { exit, stderr, stdout } = unspool(['alter', 'crab.reel.json', '--apply', '-'], { input });
    expect([exit, stdout]).toEqual([2, '']);
    expect(stderr).toContain(summary);
    expect(stderr.trimEnd().split('\n')).toHaveLength(1);
  });
});

describe('alter', () => {
  test('shows what would change, and writes nothing without --write', () => {
    const file = crab();
    const shown = unspool(['alter', file, 'snap', '--move', '2f', '--tracks', 'claw.rotation', '--from', '12f']);
    expect(shown.stdout).toBe(
      [
        '• moved 3 keys of claw.rotation by +2f',
        '',
        `${file}:${original.split('\n').indexOf('    "snap": {') + 6}`,
        '           { "at": 0, "value": 0, "ease": "quad-out" },',
        '-          { "at": "12f", "value": -48, "ease": "cubic-bezier(0.7, 0, 0.9, 0.4)" },',
        '-          { "at": "15f", "value": 14, "ease": "back-out" },',
        '-          { "at": "30f", "value": 0 }',
        '+          { "at": "14f", "value": -48, "ease": "cubic-bezier(0.7, 0, 0.9, 0.4)" },',
        '+          { "at": "17f", "value": 14, "ease": "back-out" },',
        '+          { "at": "32f", "value": 0 }',
        '         ],',
        '',
      ].join('\n'),
    );
    expect(shown.exit).toBe(0);
    expect(shown.stderr).toMatch(/nothing written; add --write to write the file\n$/);
    expect(readFileSync(file, 'utf8')).toBe(original);
  });

  test('says what the edit brings that check would complain of, and nothing that was there before', () => {
    const file = crab();
    const move = (by: string, ...more: string[]) =>
      unspool(['alter', file, 'snap', '--move', by, '--tracks', 'claw.rotation', '--from', '12f', ...more]).stderr;
    expect(move('-2f')).toBe('nothing written; add --write to write the file\n');
    // With its place in the text as it is after the edit.
    const line = original.split('\n').findIndex((text) => text.includes('"30f", "value": 0 }')) + 1;
    expect(move('2f', '--write')).toBe(
      `${file}:${line}:19: warning: the key at 0.533333 s is after the end of the clip at 0.5 s, so it is cut off [reel/key-after-end]\n` +
        `${String(line).padStart(5)} |           { "at": "32f", "value": 0 }\n      |                   ^^^^^\n` +
        `   = help: move the key, or increase "duration"\n\nthis edit brings 1 warning\nwrote ${file}\n`,
    );
    expect(unspool(['check', file]).stdout).toContain('[reel/key-after-end]');
    const other = unspool(['alter', file, 'cheer', '--copy', 'wave']);
    expect(other.stderr).toBe('nothing written; add --write to write the file\n');
  });

  test('applies edits in the given order, and writes them', () => {
    const file = crab();
    const args = [
      'cheer',
      '--stretch',
      '1.5',
      '--move',
      '-50ms',
      '--tracks',
      'claw.rotation',
      '--from',
      '9f',
      '--write',
    ];
    expect(unspool(['alter', file, ...args]).stderr.endsWith(`wrote ${file}\n`)).toBe(true);
    const shown = unspool(['show', file, 'cheer', '--format', 'json']).stdout;
    const { tracks } = JSON.parse(shown) as { tracks: { name: string; keys: { at: number }[] }[] };
    const times = tracks.find(({ name }) => name === 'claw.rotation')!.keys.map(({ at }) => Math.round(at * 60));
    // Those from 9 frames on: half as far apart again from the first of them, and then three frames earlier.
    expect(times).toEqual([0, 6, 9, 18, 27]);
    expect(unspool(['check', file]).exit).toBe(0);
  });

  test.each([
    [['cheer', '--reverse'], 'reversed cheer'],
    [['cheer', '--stretch', '0.5', '--about', '12f', '--tracks', 'claw.rotation'], '"at": "9f", "value": -78'],
    [['cheer', '--mirror'], 'mirrored cheer'],
    [['cheer', '--copy', 'cheer-more', '--rename', 'cheer-less'], 'copied cheer to cheer-more'],
    [['cheer', '--trim', '6f..18f'], 'trimmed cheer to 6f – 18f'],
    [['cheer', '--extend', '40f'], 'extended cheer to 40f'],
    [['cheer', '--duration', '1s'], 'fitted cheer to 1s'],
    [['cheer', '--stagger', '1f', '--tracks', 'claw.*,crab.*'], 'offset 3 tracks by +1f each'],
    [['cheer', '--split', 'crab.position', '--join', 'crab.position'], 'joined 2 channels of crab.position'],
    [['cheer', '--ease', 'smooth', '--add', '5', '--tracks', 'crab.rotation', '--at', '6f,18f'], 'set 2 keys of crab.rotation to smooth'],
    [['cheer', '--scale', '1,2', '--tracks', 'crab.position'], 'scaled the values of 5 keys of crab.position by [1, 2]'],
    [['cheer', '--value', '[0, -12]', '--tracks', 'crab.position', '--at', '6f'], 'set 1 key of crab.position to [0, -12]'],
    [['cheer', '--insert', '3f', '--tracks', 'claw.rotation'], 'inserted a key at 3f of claw.rotation on its curve'],
    [['snap', '--insert', '20f', '--tracks', 'claw.scale', '--tolerance', '0.01'], 'inserted a key at 20f of claw.scale'],
    [['cheer', '--remove-keys', '--tracks', 'claw.rotation', '--from', '12f'], 'removed 3 keys of claw.rotation'],
    [['sway', '--match-ends', 'speed', '--tracks', 'crab.scale'], 'matched the ends of 1 track of sway'],
  ])('%j', (args, summary) => {
    const { exit, stdout, stderr } = unspool(['alter', 'crab.reel.json', ...args]);
    expect(exit).toBe(0);
    expect(stderr.endsWith('nothing written; add --write to write the file\n')).toBe(true);
    expect(stdout).toContain(summary);
  }); // prettier-ignore

  test('reports when there is nothing to do, and leaves the file alone', () => {
    const file = crab();
    const before = statSync(file).mtimeMs;
    for (const write of [[], ['--write']]) {
      const { exit, stdout, stderr } = unspool(['alter', file, 'cheer', '--snap', '2f', ...write]);
      expect([exit, stdout]).toEqual([0, '• snap: nothing would change\n']);
      expect(stderr).toBe('nothing to write: the reel would not change\n');
    }
    expect(statSync(file).mtimeMs).toBe(before);
  });

  test('reports when a file will also be reformatted', () => {
    const file = crab();
    writeFileSync(file, JSON.stringify(JSON.parse(original)));
    const { stdout, stderr } = unspool([
      'alter',
      file,
      'cheer',
      '--move',
      '1f',
      '--tracks',
      'claw.rotation',
      '--at',
      '6f',
    ]);
    expect(stdout.match(/^[-+]/gm)).toHaveLength(2);
    expect(stderr).toContain('is not in canonical form');
  });

  test('applies operations from a file or standard input, and pipes a reel through', () => {
    const operation = { do: 'rename', what: 'role', name: 'claw', to: 'pincher' };
    const file = crab();
    const piped = unspool(['alter', file, '--apply', '-', '--format', 'json'], { input: JSON.stringify(operation) });
    expect(JSON.parse(piped.stdout)).toMatchObject({ changes: ['renamed the role claw to pincher'], written: false });
    const through = unspool(['alter', '-', 'cheer', '--rename', 'yay'], { input: original });
    expect(through.stdout).toContain('"clip": "yay"');
  });

  test.each([
    [['alter', 'crab.reel.json', 'snp', '--reverse'], 'Did you mean "snap"?'],
    [['alter', 'crab.reel.json', 'snap'], 'nothing to do'],
    [['alter', 'crab.reel.json', '--reverse'], 'missing clip'],
    [['alter', 'crab.reel.json', 'snap', '--reverse'], 'spring(0.45) at 15f of claw.scale settles at its end and cannot be reversed'],
    [['alter', 'crab.reel.json', 'snap', '--trim', '5f'], 'Write A..B'],
    [['alter', 'crab.reel.json', 'snap', '--value', 'up'], '--value is not JSON'],
    [['alter', 'crab.reel.json', 'snap', '--stretch', 'abc'], 'invalid number "abc" for --stretch'],
    [['alter', 'crab.reel.json', 'cheer', '--add', '1,x'], 'invalid number "x" for --add'],
    [['alter', 'crab.reel.json', 'cheer', '--mirror', '--swap', 'left'], 'Write A:B'],
    [['alter', 'crab.reel.json', 'cheer', '--extend', '9f'], 'cheer already lasts 24f'],
    [['alter', 'crab.reel.json', 'snap', '--move', 'soon'], '"by": invalid time "soon"'],
    [['alter', 'nowhere.reel.json', 'snap', '--reverse'], 'file not found'],
  ])('%j is a wrong call: exit 2, one line', (args, summary) => {
    const { exit, stderr } = unspool(args);
    expect([exit, stderr.trimEnd().split('\n').length]).toEqual([2, 1]);
    expect(stderr).toContain(summary);
  }); // prettier-ignore
});

describe('writing', () => {
  test('two writers at the same time lose nothing of each other', async () => {
    const file = crab();
    const writers = [1, 2, 3, 4].map((n) => start(['alter', file, 'cheer', '--copy', `cheer-${n}`, '--write']));
    for (const { done } of writers) expect((await done).exit).toBe(0);
    const { clips } = JSON.parse(readFileSync(file, 'utf8')) as { clips: object };
    expect(Object.keys(clips)).toEqual(expect.arrayContaining(['cheer-1', 'cheer-2', 'cheer-3', 'cheer-4']));
    expect(readdirSync(folder).filter((name) => name.startsWith('crab-') && !name.endsWith('.reel.json'))).toEqual([]);
  }, 60_000);

  test('a kill at any moment leaves the reel as it was or as it should be', async () => {
    const file = crab();
    const text = unspool(['alter', file, 'cheer', '--reverse', '--format', 'json']).stdout;
    const reversed = (JSON.parse(text) as { document: object }).document;
    for (let wait = 120; wait < 420; wait += 25) {
      writeFileSync(file, original);
      const { child, done } = start(['alter', file, 'cheer', '--reverse', '--write']);
      await new Promise((resolve) => setTimeout(resolve, wait));
      child.kill('SIGKILL');
      await done;
      const now = JSON.parse(readFileSync(file, 'utf8')) as object;
      expect([JSON.stringify(JSON.parse(original)), JSON.stringify(reversed)]).toContain(JSON.stringify(now));
    }
    // What the killed ones left, a lock or half a file, is in nobody's way.
    writeFileSync(file, original);
    mkdirSync(`${file}.lock`, { recursive: true });
    utimesSync(`${file}.lock`, new Date(), new Date(Date.now() - 3000));
    writeFileSync(`${file}.99999.tmp`, '{ "unspool": 1, "cl');
    const after = await start(['alter', file, 'cheer', '--reverse', '--write']).done;
    expect(after).toEqual({ exit: 0, stderr: `wrote ${file}\n` });
    expect(readdirSync(folder).filter((name) => name.startsWith(file.slice(folder.length + 1)))).toHaveLength(1);
  }, 120_000);

  test('a read-only reel, and a folder that may not be written, are left alone', () => {
    const file = crab();
    chmodSync(file, 0o444);
    const { exit, stderr } = unspool(['alter', file, 'cheer', '--reverse', '--write']);
    expect([exit, readFileSync(file, 'utf8')]).toEqual([2, original]);
    expect(stderr).toContain(`is read-only and unchanged. Allow writing: chmod u+w ${file}`);
  });

  test('keeps a link a link, and the permissions', () => {
    const file = crab();
    chmodSync(file, 0o640);
    const link = join(folder, 'link.reel.json');
    symlinkSync(file, link);
    expect(unspool(['alter', link, 'cheer', '--reverse', '--write']).exit).toBe(0);
    expect(readFileSync(file, 'utf8')).toBe(readFileSync(link, 'utf8'));
    expect(readFileSync(file, 'utf8')).not.toBe(original);
    expect(statSync(file).mode & 0o777).toBe(0o640);
  });

  const small = mount();
  test.skipIf(!small)('a full disk leaves the reel as it was', () => {
    onTestFinished(() => {
      execFileSync('umount', [small!]);
      rmSync(small!, { recursive: true });
    });
    const file = join(small!, 'crab.reel.json');
    writeFileSync(file, original);
    writeFileSync(join(small!, 'filler'), Buffer.alloc(48 * 1024)); // of 64 KiB
    const { exit, stderr } = unspool(['alter', file, 'cheer', '--copy', 'cheer-more', '--write']);
    expect([exit, readFileSync(file, 'utf8')]).toEqual([2, original]);
    expect(stderr).toBe(`unspool: the disk is full: ${file} is unchanged. Free some space and run this again.\n`);
    expect(readdirSync(small!).sort()).toEqual(['crab.reel.json', 'filler']);
  });
});

/** A disk of 64 KiB; nothing where this program may not mount one. */
function mount(): string | undefined {
  const at = mkdtempSync(join(tmpdir(), 'unspool-small-'));
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', at], { stdio: 'ignore' });
    return at;
  } catch {
    rmSync(at, { recursive: true });
    return undefined;
  }
}
