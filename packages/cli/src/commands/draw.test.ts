import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { REELS, scratchFolder, unspool } from '../../test/command.js';

const scratch = scratchFolder();

describe('draw', () => {
  test.each(['curves', 'keys'])('%s as SVG and PNG, light and dark, in the size asked for', (view) => {
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
    for (const message of ['seconds', 'frame', 'danger', 'shut', 'rotation', 'elastic-out', '#ffd9a0'])
      expect(svg).toContain(message);
    draw('snap.png', 'dark');
    const png = readFileSync(join(scratch, 'snap.png'));
    expect([png.toString('latin1', 1, 4), png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual(['PNG', 900, 700]);
  });

  test('a routine: inputs, rules, and what may cut what', () => {
    const draw = (name: string) => unspool(['draw', 'crab.reel.json', name, '-o', '-', '--view', 'routine']);
    const svg = draw('crab').stdout;
    for (const message of ['signal, kept 8f', 'snap-again', 'on attack, during snap (recovery)', 'free from recovery'])
      expect(svg).toContain(message);
    // Seven rules of one layer and three of another, each cut by those above it; and `snap` by itself in its recovery.
    expect([...svg.matchAll(/<circle [^>]*r="5"/g)]).toHaveLength(1 + 21 + 3);
    expect([...svg.matchAll(/<circle [^>]*r="4.5"/g)]).toHaveLength(1 + 1);
    // Speed drives a condition and a rate of one rule: one line. Standing is read by three rules, hidden by three.
    expect([...svg.matchAll(/<path /g)]).toHaveLength(1 + 1 + 3 + 3 + 2 + 1 + 1 + 2 + 2);
    expect(draw('crap')).toMatchObject({ exit: 2, stderr: expect.stringContaining('Did you mean "crab"?') as string });
  });

  test('poses: the cast at moments, with its pictures, and what reveals show of it', () => {
    const poses = ['crab.reel.json', 'snap', '-o', '-', '--view', 'poses'];
    const svg = unspool(['draw', ...poses, '--pictures', join(REELS, '../public')]).stdout;
    expect([...svg.matchAll(/>\d+f · /g)]).toHaveLength(8);
    // The body's sheet and the claw, in each.
    expect([...svg.matchAll(/<image /g)]).toHaveLength(16);
    expect(unspool(['draw', ...poses]).stdout).not.toContain('<image');
    const file = join(scratch, 'wipe.reel.json');
    const wipe = [{ at: 0, value: { center: [0, 0], size: [0, 40] } }, { at: '4f', value: { size: [40, 40] } }]; // prettier-ignore
    const roles = { door: { shapes: { wipe: { kind: 'box', tag: 'reveal' } } } };
    writeFileSync(file, JSON.stringify({ unspool: 1, roles, clips: { open: { tracks: { 'door.wipe': wipe } } } }));
    const cut = unspool(['draw', file, 'open', '-o', '-', '--view', 'poses']).stdout;
    const paths = [...cut.matchAll(/<clipPath id="p\d-door"><path d="([^"]*)"/g)].map(([, d]) => d);
    expect(paths).toHaveLength(5);
    expect([paths[0], paths[4]]).toEqual(['M0 0Z', 'M20 20L-20 20L-20 -20L20 -20Z']);
  });

  test.each(['curves', 'keys'])('%s of a clip without length', (view) => {
    const file = join(scratch, 'still.reel.json');
    const keys = [{ at: 0, value: 1 }];
    const tracks = { 'a.glow': keys, 'a.tint': [{ at: 0, value: '#fff' }], 'a.frame': keys };
    writeFileSync(file, JSON.stringify({ unspool: 1, clips: { still: { duration: 0, tracks } } }));
    expect(unspool(['draw', file, 'still', '-o', '-', '--view', view])).toMatchObject({
      exit: 0,
      stdout: expect.not.stringContaining('NaN') as string,
    });
  });

  test('draws shapes at their places, one per frame, with the swept area; reports a clip without shapes', () => {
    const draw = (clip: string) =>
      unspool(['draw', 'crab.reel.json', clip, '-o', '-', '--view', 'shapes', '--size', '900x700']).stdout;
    const svg = draw('snap');
    // Frames 12 to 15, outlined; and 32 poses for each of the four frames, filled.
    expect([...svg.matchAll(/<polygon [^>]*fill="none"/g)]).toHaveLength(4);
    expect([...svg.matchAll(/<polygon /g)]).toHaveLength(4 + 4 * 32);
    for (const message of ['hits', 'claw.pincer, a box', '12f–16f', '&quot;push&quot;:260'])
      expect(svg).toContain(message);
    expect(svg).not.toContain('NaN');
    expect(draw('sway')).toContain('sway keys no shape');
  });
});
