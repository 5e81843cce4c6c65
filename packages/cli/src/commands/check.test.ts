import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv } from 'ajv';
import { describe, expect, test } from 'vitest';
import { BROKEN, DEMO_REELS, scratchFolder, unspool } from '../../test/command.js';

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
    'misspelled-easing.json': ['8:42 reel/unknown-easing', '9:42 reel/unknown-easing'],
    'misspelled-member.json': ['3:3 reel/unknown-member', '8:38 reel/unknown-member'],
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
    'sequences.json': [
      '8:13 reel/chain-endless',
      '8:47 reel/unknown-span',
      '9:5 reel/chain-name',
      '9:14 reel/unknown-clip',
      '12:15 reel/unknown-side',
      '12:52 reel/unknown-mirror',
      '13:25 reel/no-direction',
    ],
    'shapes.json': [
      ...['4:59 reel/shape-name', '5:46 reel/choice', '10:45 reel/value', '11:9 reel/no-channel'],
      ...['12:9 reel/whole-and-channel', '13:9 reel/undeclared-shape'],
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
    expect(text.stdout.match(/^   = help: /gm)).toHaveLength(all.length);
  });

  test.each([
    ['binary.json', 'is not text: it has a zero byte at 8'],
    ['latin1.json', 'is not in UTF-8. Save it as UTF-8'],
    ['directory.json', 'is a directory'],
    ['comma.jsn', 'file not found: comma.jsn. Did you mean "comma.json"?'],
  ])('%s cannot be read: exit 2, and one line that says why', (file, message) => {
    const { exit, stdout, stderr } = unspool(['check', file], { cwd: BROKEN });
    expect([exit, stdout, stderr.trimEnd().split('\n').length]).toEqual([2, '', 1]);
    expect(stderr).toContain(message);
  });

  test('the demo reels are fine; standard input is read as -; warnings count when strict', () => {
    expect(unspool(['check', '--strict', ...DEMO_REELS])).toEqual({
      exit: 0,
      stdout: '',
      stderr: `${DEMO_REELS.length} reels checked: no problems\n`,
    });
    const input = '{ "unspool": 1, "clips": { "snap": { "duration": 1, "cues": [{ "at": 2, "name": "late" }] } } }';
    expect(unspool(['check', '-'], { input })).toMatchObject({
      exit: 0,
      stdout: expect.stringContaining('never fires') as string,
    });
    expect(unspool(['check', '-', '--strict'], { input }).exit).toBe(1);
  });

  test('a line is quoted with a mark under the problem', () => {
    const { stdout } = unspool(['check', 'unknown-role.json'], { cwd: BROKEN });
    expect(stdout).toBe(
      [
        'unknown-role.json:7:9: error: unknown role "clow" [reel/unknown-role]',
        '    7 |         "clow.rotation": [{ "at": 0, "value": 0 }]',
        '      |         ^^^^^^^^^^^^^^^',
        '   = help: did you mean "claw"?\n\n',
      ].join('\n'),
    );
  });
});

describe('likely mistakes', () => {
  const folder = scratchFolder();
  const late = {
    unspool: 1,
    clips: { snap: { duration: '9f', tracks: { 'claw.rotation': [{ at: '3f', value: 5 }, { at: '7f', value: 9 }] } } },
  }; // prettier-ignore
  const file = join(folder, 'late.reel.json');
  const write = (reel: object) => writeFileSync(file, JSON.stringify(reel));

  test('--fix follows what leaves the reel as it plays, and "all" the rest', () => {
    write(late);
    const before = unspool(['sample', file, 'snap', '--every', '1f', '--format', 'csv']).stdout;
    const safe = unspool(['check', file, '--fix']);
    expect(safe.stderr).toContain('inserted a key at 0 of claw.rotation on its curve');
    expect(safe.stdout).toMatch(/advice: snap does not change from 7f to its end at 9f/);
    expect(unspool(['sample', file, 'snap', '--every', '1f', '--format', 'csv']).stdout).toBe(before);
    const all = unspool(['check', file, '--fix', 'all']);
    expect([all.exit, all.stdout]).toEqual([0, '']);
    expect(readFileSync(file, 'utf8')).toContain('"duration": "7f"');
  });

  test('what has no fix is left alone', () => {
    write({ ...late, clips: {}, odd: 1 });
    const text = readFileSync(file, 'utf8');
    expect(unspool(['check', file, '--fix']).exit).toBe(1);
    expect(readFileSync(file, 'utf8')).toBe(text);
    expect(unspool(['check', '-', '--fix'], { input: text }).stderr).toContain('standard input cannot be fixed');
    // An option that stands before the files has not taken the first of them.
    expect(unspool(['check', '--fix', file]).exit).toBe(1);
    expect(unspool(['check', '--fix', 'nobody.json', file]).stderr).toContain('file not found: nobody.json');
  });

  test('--game reports names that a game never uses', () => {
    write({ ...late, clips: { ...late.clips, wave: { duration: '9f', cues: [{ at: 0, name: 'high' }] } } });
    const source = join(folder, 'game.ts');
    writeFileSync(source, `crab.play('snap'); crab.on('cue', ({ name }) => name === "low");`);
    const { stdout } = unspool(['check', file, '--game', source, '--format', 'json']);
    const unused = (JSON.parse(stdout) as { code: string; path: string }[]).filter(
      ({ code }) => code === 'advice/unused',
    );
    expect(unused.map(({ path }) => path)).toEqual(['/clips/wave', '/clips/wave/cues/0/name']);
    expect(unspool(['check', file, '--game', 'nowhere']).exit).toBe(2);
  });

  test('--format sarif is a valid log of SARIF 2.1.0', () => {
    write(late);
    const files = [
      file,
      ...['unknown-role.json', 'truncated.json', 'sequences.json'].map((name) => join(BROKEN, name)),
    ];
    const { stdout, exit } = unspool(['check', ...files, '--format', 'sarif']);
    const log = JSON.parse(stdout) as { runs: { results: { ruleId: string; level: string }[] }[] };
    const schema = JSON.parse(readFileSync(join(BROKEN, '../sarif-2.1.0-rtm.5.json'), 'utf8')) as Record<
      string,
      unknown
    >;
    const ajv = new Ajv({ strict: false, unicodeRegExp: false, validateFormats: false });
    const { $schema, id, ...rules } = schema;
    const isValid = ajv.compile(rules);
    expect(isValid(log), JSON.stringify(isValid.errors)).toBe(true);
    expect(log.runs[0]!.results.map(({ ruleId, level }) => `${ruleId} ${level}`)).toEqual(
      expect.arrayContaining(['advice/late-start note', 'reel/unknown-role error', 'reel/chain-endless warning']),
    );
    expect(exit).toBe(1);
  });
});
