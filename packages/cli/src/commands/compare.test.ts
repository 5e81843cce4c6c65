import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { REELS, scratchFolder, unspool } from '../../test/command.js';

const folder = scratchFolder();
const crab = join(REELS, 'crab.reel.json');

/** The crab, altered. */
function altered(name: string, ...changes: readonly string[][]): string {
  const file = join(folder, `${name}.reel.json`);
  writeFileSync(file, readFileSync(crab));
  for (const args of changes) expect(unspool(['alter', file, ...args, '--write']).stderr).toBe(`wrote ${file}\n`);
  return file;
}

const operations = join(folder, 'operations.json');
writeFileSync(
  operations,
  JSON.stringify([
    { do: 'change', what: 'role', name: 'claw', to: { parent: null } },
    { do: 'change', what: 'cue', clip: 'snap', name: 'shut', to: { at: '17f' } },
    { do: 'remove', what: 'clip', name: 'stop' },
    { do: 'rename', what: 'clip', name: 'hide', to: 'duck' },
  ]),
);

describe('compare', () => {
  const changed = altered(
    'changed',
    ['snap', '--move', '2f', '--tracks', 'claw.rotation', '--from', '12f', '--until', '15f'],
    ['cheer', '--ease', 'quad-out', '--add', '-4', '--tracks', 'crab.rotation', '--at', '6f'],
    ['cheer', '--insert', '3f', '--tracks', 'claw.rotation'],
    ['cheer', '--remove-keys', '--tracks', 'crab.position', '--at', '18f'],
    ['hop', '--stretch', '1.5'],
    ['sway', '--copy', 'sway-more'],
    ['--apply', operations],
  );

  test('describes changes as an animator would', () => {
    const { stdout, exit } = unspool(['compare', crab, changed]);
    expect(exit).toBe(0);
    expect(stdout.split('\n')).toEqual(
      expect.arrayContaining([
        'role claw: parent: crab → none',
        'snap',
        '  claw.rotation: 2 keys from 12f on moved by +2f',
        '  cue shut: at: 15f → 17f',
        '  claw.rotation: differs by up to 59.6 on screen, at 15f',
        '  crab.rotation: at 6f: -5 → -9, eased ease-in-out → quad-out',
        '  claw.rotation: 1 key added, at 3f (-63.5)',
        '  crab.position: 1 key removed, at 18f',
        '  duration: 24f → 36f',
        '  crab.scale: 4 keys scaled to 150 % of their times',
        '  renamed from hide to duck',
        '  removed',
        '  new, a copy of sway',
      ]),
    );
  });

  test('of one clip, as data, and from standard input', () => {
    const args = ['compare', '-', changed, 'snap', '--format', 'json'];
    const found = JSON.parse(unspool(args, { input: readFileSync(crab, 'utf8') }).stdout) as object[];
    expect(found).toHaveLength(3);
    expect(found[0]).toEqual({
      clip: 'snap',
      track: 'claw.rotation',
      path: '/clips/snap/tracks/claw.rotation',
      summary: '2 keys from 12f on moved by +2f',
    });
  });

  test('reports when nothing changed', () => {
    expect(unspool(['compare', crab, crab])).toEqual({ exit: 0, stdout: '', stderr: 'no differences\n' });
  });

  test('draws the changed tracks of both over each other', () => {
    const svg = unspool(['compare', crab, changed, 'snap', '-o', '-']).stdout;
    expect(svg).toContain('snap, before and after');
    expect(svg.match(/>rotation</g)).toHaveLength(1);
    expect(svg).not.toContain('>tint<'); // it is as it was
    expect(svg.match(/stroke-dasharray="5 4" stroke-opacity/g)!.length).toBeGreaterThan(1);
    const png = join(folder, 'snap.png');
    expect(unspool(['compare', crab, changed, 'snap', '-o', png]).stderr).toContain('1280 × 800');
    expect(readFileSync(png).subarray(1, 4).toString()).toBe('PNG');
  });

  test.each([
    [['compare', crab, crab, 'snp'], 'Did you mean "snap"'],
    [['compare', crab, changed, '-o', 'x.png'], 'a picture needs a clip'],
    [['compare', '-', '-'], 'both reels are read from standard input'],
    [['compare', crab, changed, 'snap', '-o', 'x.gif'], 'does not end in .svg or .png'],
    [['compare', crab, 'nowhere'], 'file not found'],
  ])('%j is a wrong call', (args, summary) => {
    const { exit, stderr } = unspool(args);
    expect([exit, stderr.trimEnd().split('\n').length]).toEqual([2, 1]);
    expect(stderr).toContain(summary);
  });
});

describe('show', () => {
  test('shows the duration, spacing and pace of each segment', () => {
    const { stdout } = unspool(['show', crab, 'snap']);
    const rows = stdout.split('\n').map((row) => row.split(/ {2,}/));
    const of = (name: string, span: string) => rows.find(([track, time]) => track === name && time === span)!.slice(2);
    expect(of('claw.rotation', '0f – 12f')).toEqual([
      '12',
      '-48',
      '-4',
      'even, decelerates',
      '┼───┼──┼───┼─┼──┼─┼─┼┼┼┼┼',
      'quad-out',
    ]);
    expect(of('claw.rotation', '12f – 15f').slice(0, 4)).toEqual(['3', '62', '20.7', 'fast, accelerates']);
    expect(of('claw.rotation', '15f – 30f')[3]).toBe('slow, swings');
    expect(of('claw.scale', '12f – 15f').slice(0, 4)).toEqual(['3', '–', '–', 'hold']);
    const { timing } = JSON.parse(unspool(['show', crab, 'snap', '--format', 'json']).stdout) as {
      timing: { spacing: number[] }[];
    };
    expect(timing[0]!.spacing.map((share) => Math.round(share * 144))).toEqual([
      0, 23, 44, 63, 80, 95, 108, 119, 128, 135, 140, 143, 144,
    ]);
  });
});
