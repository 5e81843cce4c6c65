import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, test } from 'vitest';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const BIN = at('../bin/unspool.js');
const REELS = at('../../../examples/tidepool/reels');
const BROKEN = at('../fixtures/broken');
const scratch = mkdtempSync(join(tmpdir(), 'unspool-'));
afterAll(() => rmSync(scratch, { recursive: true }));

/** Runs the command line as a person would: a process of its own. */
function unspool(args: readonly string[], { cwd = REELS, input = '' } = {}) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], { cwd, input, encoding: 'utf8' });
  expect(stderr, 'no stack trace').not.toMatch(/^\s+at .*:\d+/m);
  return { exit: status, stdout, stderr };
}

const ndjson = (text: string) =>
  text
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as Record<string, unknown>);

describe('check', () => {
  /** Every broken reel, and all that is to be said of it: line:column code. */
  const faults: Readonly<Record<string, readonly string[]>> = {
    'comma.json': ['4:28 reel/json'],
    'comment.json': ['2:17 reel/json'],
    'truncated.json': ['4:25 reel/json'],
    'nan.json': ['7:47 reel/json'],
    'empty.json': ['1:1 reel/empty'],
    'list.json': ['1:1 reel/type'],
    'version.json': ['2:14 reel/version'],
    'no-clips.json': ['1:1 reel/missing'],
    'twice.json': ['8:9 reel/duplicate-member'],
    'wrong-types.json': ['6:19 reel/time', '7:15 reel/choice', '9:47 reel/value', '9:64 reel/time'],
    'unknown-role.json': ['7:9 reel/unknown-role'],
    'misspelt-easing.json': ['8:42 reel/unknown-easing', '9:42 reel/unknown-easing'],
    'misspelt-member.json': ['3:3 reel/unknown-member', '8:38 reel/unknown-member'],
    'order.json': ['9:19 reel/key-order'],
    'same-time.json': ['9:19 reel/same-time'],
    'prototype.json': ['3:14 reel/forbidden-name', '4:36 reel/forbidden-name'],
    'deep.json': ['3:124 reel/too-deep'],
    'parents.json': ['4:25 reel/parent-circle', '6:24 reel/unknown-role'],
    'frames.json': ['7:61 reel/frames-each', '8:48 reel/frames'],
    'whole-and-channel.json': ['8:9 reel/whole-and-channel'],
    'intervals.json': ['6:39 reel/interval-order', '6:73 reel/negative-time', '7:33 reel/interval-order'],
    'names.json': ['4:5 reel/name', '4:49 reel/name'],
    'kinds.json': ['7:26 reel/kind-conflict', '8:43 reel/value', '9:43 reel/no-kind'],
    'later.json': ['4:24 reel/not-yet', '8:9 reel/not-yet'],
    'sequences.json': [
      '8:13 reel/chain-endless',
      '8:47 reel/unknown-span',
      '9:5 reel/chain-name',
      '9:14 reel/unknown-clip',
      '12:15 reel/unknown-side',
      '12:52 reel/unknown-mirror',
      '13:25 reel/no-direction',
    ],
    'parts.json': [
      ...['6:55 reel/part-overlap', '7:28 reel/part-endless', '8:64 reel/unknown-role', '8:88 reel/unknown-role'],
      '9:25 reel/part-circle',
    ],
    'curves.json': [
      ...['7:58 reel/handle-folds', '8:43 reel/handle', '8:58 reel/unknown-easing', '9:43 reel/handle-unused'],
      ...['11:9 reel/no-channel', '12:31 reel/choice', '13:36 reel/offset-kind'],
    ],
  };

  const json = unspool(['check', ...Object.keys(faults), '--format', 'json'], { cwd: BROKEN });
  const all = JSON.parse(json.stdout) as { source: string; line: number; column: number; code: string; hint: string }[];

  test.each(Object.entries(faults))('%s: one diagnostic for each fault, at its place', (file, expected) => {
    const found = all.filter(({ source }) => source === file);
    expect(found.map(({ line, column, code }) => `${line}:${column} ${code}`)).toEqual(expected);
    expect(found.every(({ hint }) => hint !== '')).toBe(true);
  });

  test('as text they are the same, each with its hint; exit 1', () => {
    const text = unspool(['check', ...Object.keys(faults)], { cwd: BROKEN });
    expect([json.exit, text.exit]).toEqual([1, 1]);
    expect(text.stdout.match(/^ +→ /gm)).toHaveLength(all.length);
  });

  test.each([
    ['binary.json', 'is no text: it has a zero byte at 8'],
    ['latin1.json', 'is not in UTF-8 — save it as UTF-8'],
    ['directory.json', 'is a directory'],
    ['comma.jsn', 'there is no file comma.jsn — did you mean "comma.json"?'],
  ])('%s cannot be read: exit 2, and one line that says why', (file, said) => {
    const { exit, stdout, stderr } = unspool(['check', file], { cwd: BROKEN });
    expect([exit, stdout, stderr.trimEnd().split('\n').length]).toEqual([2, '', 1]);
    expect(stderr).toContain(said);
  });

  test('the demo reels are fine; standard input is read as -; warnings count when strict', () => {
    const names = ['bubbles', 'crab', 'gate', 'gauge', 'jelly'].map((name) => `${name}.reel.json`);
    expect(unspool(['check', '--strict', ...names])).toEqual({
      exit: 0,
      stdout: '',
      stderr: '5 reels checked: no problems\n',
    });
    const input = '{ "unspool": 1, "clips": { "snap": { "duration": 1, "cues": [{ "at": 2, "name": "late" }] } } }';
    expect(unspool(['check', '-'], { input })).toMatchObject({
      exit: 0,
      stdout: expect.stringContaining('never fires') as string,
    });
    expect(unspool(['check', '-', '--strict'], { input }).exit).toBe(1);
  });

  test('a line is quoted with a mark under what is meant', () => {
    const { stdout } = unspool(['check', 'unknown-role.json'], { cwd: BROKEN });
    expect(stdout).toBe(
      [
        'unknown-role.json:7:9: error: no role is called "clow" [reel/unknown-role]',
        '    7 |         "clow.rotation": [{ "at": 0, "value": 0 }]',
        '      |         ^^^^^^^^^^^^^^^',
        '   → did you mean "claw"?\n\n',
      ].join('\n'),
    );
  });
});

describe('sample', () => {
  const snap = (...args: string[]) => unspool(['sample', 'crab.reel.json', 'snap', ...args]).stdout;

  test('json and ndjson have the values by kind', () => {
    const [first, second] = JSON.parse(snap('--at', '12f,150ms', '--format', 'json')) as [unknown, unknown];
    expect(first).toEqual({
      time: 0.2,
      values: { 'claw.rotation': -48, 'claw.scale': [1.15, 1.15], 'claw.tint': [1, 1, 1, 1], 'crab.rotation': -6 },
    });
    expect(second).toMatchObject({ time: 0.15, values: { 'claw.rotation': expect.closeTo(-45, 9) as number } });
    expect(ndjson(snap('--every', '3f', '--format', 'ndjson')).map(({ time }) => time)).toEqual(
      Array.from({ length: 11 }, (_, i) => (3 * i) / 60),
    );
  });

  test('csv is RFC 4180, a column for each channel', () => {
    expect(snap('--at', '0,0.5', '--tracks', 'claw.s*', '--format', 'csv')).toBe(
      'time,claw.scale.x,claw.scale.y\r\n0,1,1\r\n0.5,1,1\r\n',
    );
  });

  test('a table is aligned, and says frames and seconds', () => {
    expect(snap('--every', '15f', '--tracks', '*.rotation').split('\n')).toEqual([
      ...['frame  seconds  claw.rotation  crab.rotation', '─────  ───────  ─────────────  ─────────────'],
      ...['   0f        0              0              0', '  15f     0.25             14              5'],
      ...['  30f      0.5              0              0', ''],
    ]);
  });
});

describe('trace', () => {
  const modes = ['once', 'loop', 'ping-pong'];
  const cases = modes.flatMap((mode) => ['1', '-0.7'].map((rate) => [mode, rate] as const));

  test.each(cases)('%s, rate %s: the same however time is cut', (loop, rate) => {
    const trace = (...args: string[]) =>
      unspool(['trace', 'crab.reel.json', 'snap', '--loop', loop, '--rate', rate, '--for', '5s', ...args]).stdout;
    const first = trace('--jitter', '1');
    expect(ndjson(first).length).toBeGreaterThan(3);
    expect(trace('--jitter', '2')).toBe(first);
    expect(trace('--step', '1ms')).toBe(first);
  });

  test('says every moment', () => {
    expect(ndjson(unspool(['trace', 'crab.reel.json', 'snap']).stdout)).toEqual([
      { time: 0.2, event: 'cue-start', clip: 'snap', name: 'danger', iteration: 0 },
      { time: 0.25, event: 'cue', clip: 'snap', name: 'shut', iteration: 0 },
      { time: 16 / 60, event: 'cue-end', clip: 'snap', name: 'danger', iteration: 0 },
      { time: 0.5, event: 'end', clip: 'snap', iteration: 0 },
    ]);
  });

  test('of a chain, each link from where the one before ended', () => {
    const told = ndjson(unspool(['trace', 'crab.reel.json', 'victory']).stdout) as {
      time: number;
      event: string;
      clip: string;
    }[];
    expect(
      told.filter(({ event }) => event === 'end').map(({ time, clip }) => [Number(time.toFixed(9)), clip]),
    ).toEqual([
      [0.4, 'hop'],
      [1.2, 'cheer'],
      [1.7, 'snap'],
    ]);
  });

  test.each([
    ['crab', 'fight', { time: 0.8, event: 'read', values: { 'body.frame': 22 } }],
    ['gauge', 'air', { time: 1.5, event: 'read', values: { 'bar.scale': [0.6, 1], 'lost.scale': [0.84375, 1] } }],
    ['gate', 'gate', { time: 3, event: 'cue', name: 'closing' }],
  ])('of a script for the %s: %s.json, the same whatever the frames', (reel, name, one) => {
    const trace = (...args: string[]) =>
      unspool(['trace', `${reel}.reel.json`, '--script', `../scripts/${name}.json`, ...args]).stdout;
    const told = trace();
    expect(ndjson(told)).toContainEqual(
      expect.objectContaining({
        ...one,
        ...('values' in one && { values: expect.objectContaining(one.values as object) as unknown }),
      }),
    );
    for (const args of [
      ['--jitter', '1'],
      ['--jitter', '2'],
      ['--step', '1ms'],
      ['--step', '1s'],
    ])
      expect(trace(...args)).toBe(told);
  });

  test.each([
    ['[]', 'has no list of steps'],
    ['{"steps":[{"at":0,"paly":"snap"}]}', '/steps/0: names no command — did you mean "play"?'],
    [
      '{"steps":[{"at":0,"play":"snpa"}]}',
      '/steps/0/play: the reel "hermit crab" has no clip "snpa" — did you mean "snap"?',
    ],
    ['{"steps":[{"at":1,"play":"snap"},{"at":0,"play":"snap"}]}', '/steps/1/at: lies before the step above it'],
    ['{"steps":[{"at":"soon","play":"snap"}]}', '/steps/0/at: "soon" is no time'],
    ['{"steps":[{"at":0,"pause":"base"}]}', '/steps/0/pause: nothing has been played there'],
    ['{"steps":[],"fro":1}', '/fro: is not known here — did you mean "for"?'],
    ['{"steps":[', 'is no JSON'],
  ])('a script %s is refused with its place', (script, said) => {
    const file = join(scratch, 'script.json');
    writeFileSync(file, script);
    const { exit, stderr } = unspool(['trace', 'crab.reel.json', '--script', file]);
    expect([exit, stderr.split('\n').length]).toEqual([2, 2]);
    expect(stderr).toContain(said);
  });
});

describe('show, draw, new and types', () => {
  test('show lists the clips, and of one its keys', () => {
    expect(unspool(['show', 'crab.reel.json']).stdout).toMatch(/snap +30f +0.5 s +once +4 +15 +danger, shut/);
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

  test.each(['curves', 'keys'])('draws %s as SVG and PNG, light and dark, in the size asked for', (view) => {
    const draw = (out: string, theme: string) =>
      unspool([
        'draw',
        'crab.reel.json',
        'snap',
        '-o',
        join(scratch, out),
        '--view',
        view,
        '--theme',
        theme,
        '--size',
        '900x700',
      ]);
    expect(draw('snap.svg', 'light').exit).toBe(0);
    const svg = readFileSync(join(scratch, 'snap.svg'), 'utf8');
    expect(svg).toMatch(/^<svg [^>]*width="900" height="700"/);
    for (const said of ['seconds', 'frame', 'danger', 'shut', 'rotation', 'elastic-out', '#ffd9a0'])
      expect(svg).toContain(said);
    draw('snap.png', 'dark');
    const png = readFileSync(join(scratch, 'snap.png'));
    expect([png.toString('latin1', 1, 4), png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual(['PNG', 900, 700]);
  });

  test.each(['curves', 'keys'])('draws %s of a clip without length', (view) => {
    const file = join(scratch, 'still.reel.json');
    const keys = [{ at: 0, value: 1 }];
    const tracks = { 'a.glow': keys, 'a.tint': [{ at: 0, value: '#fff' }], 'a.frame': keys };
    writeFileSync(file, JSON.stringify({ unspool: 1, clips: { still: { duration: 0, tracks } } }));
    expect(unspool(['draw', file, 'still', '-o', '-', '--view', view])).toMatchObject({
      exit: 0,
      stdout: expect.not.stringContaining('NaN') as string,
    });
  });

  test('compile writes what the library loads, and no reel over a reel', async () => {
    const out = join(scratch, 'crab.compiled.json');
    expect(unspool(['compile', 'crab.reel.json', '-o', out]).stderr).toContain('12 clips');
    const { loadReel } = await import('unspool');
    const loaded = loadReel<unknown>(JSON.parse(readFileSync(out, 'utf8')));
    expect(loaded.clip('snap').sample(0.2).get('claw.rotation')).toBe(-48);
    expect(unspool(['compile', 'crab.reel.json', '-o', 'crab.reel.json'])).toMatchObject({ exit: 2 });
  });

  test('new writes a reel that passes, and replaces nothing unasked', () => {
    const file = join(scratch, 'fresh.reel.json');
    expect(unspool(['new', file]).exit).toBe(0);
    expect(unspool(['check', '--strict', file]).exit).toBe(0);
    writeFileSync(file, 'mine');
    expect(unspool(['new', file])).toMatchObject({
      exit: 2,
      stderr: expect.stringContaining('is there already') as string,
    });
    expect(readFileSync(file, 'utf8')).toBe('mine');
  });

  test('types of the demo reels are current', () => {
    for (const name of ['bubbles', 'crab', 'gate', 'gauge', 'jelly']) {
      const [reel, types] = [`${name}.reel.json`, `${name}.reel.d.json.ts`];
      writeFileSync(join(scratch, reel), readFileSync(join(REELS, reel)));
      expect(unspool(['types', join(scratch, reel)]).exit).toBe(0);
      expect(readFileSync(join(scratch, types), 'utf8')).toBe(readFileSync(join(REELS, types), 'utf8'));
    }
  });
});

describe('a wrong call', () => {
  test.each([
    [['sampl'], "unknown command 'sampl'"],
    [['check'], "missing required argument 'file'"],
    [['check', 'crab.reel.json', '--format', 'xml'], 'check has no format "xml"'],
    [['show', 'crab.reel.json', 'snpa'], 'the reel has no clip "snpa" — did you mean "snap"?'],
    [['sample', 'crab.reel.json', 'snap', '--tracks', 'clow.*'], 'nothing in snap is called clow.*'],
    [['sample', 'crab.reel.json', 'snap', '--at', 'soon'], '--at "soon" is no time'],
    [['trace', 'crab.reel.json', 'snap', '--step', '0'], '--step 0 is not greater than 0'],
    [['trace', 'crab.reel.json', 'snap', '--loop', 'pingpong'], 'did you mean "ping-pong"?'],
    [['draw', 'crab.reel.json', 'snap', '-o', 'snap.gif'], 'ends neither in .svg nor in .png'],
    [['draw', 'crab.reel.json', 'snap', '-o', 'no/where/snap.svg'], 'the folder no/where is not there'],
    [['draw', 'crab.reel.json', 'snap', '-o', 'a.svg', '--size', 'big'], '--size big is no size'],
  ])('%j: exit 2, and what to do', (args, said) => {
    const { exit, stdout, stderr } = unspool(args);
    expect([exit, stdout]).toEqual([2, '']);
    expect(stderr).toContain(said);
  });

  test('every command explains itself with an example', () => {
    for (const command of ['check', 'show', 'sample', 'trace', 'draw', 'new', 'types', 'compile']) {
      const { exit, stdout } = unspool([command, '--help']);
      expect(exit).toBe(0);
      expect(stdout).toContain(`Example:\n  unspool ${command}`);
    }
  });

  test('a reel with errors is not played: exit 1, and the errors', () => {
    const { exit, stderr } = unspool(['trace', 'order.json', 'snap'], { cwd: BROKEN });
    expect(exit).toBe(1);
    expect(stderr).toContain('order.json:9:19: error');
  });
});
