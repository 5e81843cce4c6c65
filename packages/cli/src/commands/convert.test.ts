import { existsSync, mkdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { parseReel } from 'unspool';
import { REELS, scratchFolder, unspool } from '../../test/command.js';

const folder = scratchFolder();
const crab = join(REELS, 'crab.reel.json');
const at = (name: string) => join(folder, name);
const write = (name: string, content: string | Uint8Array) => {
  writeFileSync(at(name), content);
  return at(name);
};

describe('convert', () => {
  test.each(['crab.glb', 'crab.gltf', 'crab.css', 'crab.animations.json'])('a reel to %s and back', (name) => {
    const out = unspool(['convert', crab, at(name)]);
    expect(out.exit).toBe(0);
    expect(out.stdout).toBe('');
    expect(out.stderr).toMatch(/^wrote .* kept, \d+ approximated \(largest error 0\.\d+.*\), \d+ dropped\n/);
    const back = unspool(['convert', at(name), '-', '--to', 'reel']);
    expect(back.exit).toBe(0);
    expect(Object.keys(parseReel<unknown>(back.stdout).clips)).toContain('snap');
    expect(unspool(['check', '-'], { input: back.stdout }).exit).toBe(0);
  });

  test('only some clips, by pipe, with the report as JSON', () => {
    const { stdout, exit } = unspool(['convert', crab, at('two.css'), 'snap', 'sway', '--json']);
    expect(exit).toBe(0);
    const report = JSON.parse(stdout) as { kept: unknown[]; approximated: { error: number }[]; dropped: { what: string }[] }; // prettier-ignore
    expect(report).toMatchObject({ from: 'reel', to: 'css', renamed: [] });
    expect(report.dropped.map(({ what }) => what)).toEqual(['2 cues: CSS has none', 'CSS has no spans', 'claw.pincer: shapes are not written as CSS']); // prettier-ignore
    expect(readFileSync(at('two.css'), 'utf8')).not.toContain('hop');
    const piped = unspool(['convert', '-', '-', 'snap', '--from', 'reel', '--to', 'vtt'], { input: readFileSync(crab, 'utf8') }); // prettier-ignore
    expect(piped.stdout).toContain('WEBVTT');
  });

  test('subtitles, a table and a path: the clip is called like the file, or as is said', () => {
    write('talk.vtt', 'WEBVTT\n\n00:01.000 --> 00:02.000\n<v Crab>Ahoy!\n');
    expect(unspool(['convert', at('talk.vtt'), at('talk.reel.json')]).stderr).toContain('1 kept, 0 approximated, 0 dropped'); // prettier-ignore
    expect(unspool(['convert', at('talk.vtt'), '-', 'intro', '--to', 'reel']).stdout).toContain('"intro"');
    write('wave.csv', 'time,x,y\n0,0,0\n0.5,1,2\n1,4,8\n');
    const table = unspool(['convert', at('wave.csv'), '-', '--to', 'reel', '--exact', '--role', 'buoy']).stdout;
    expect(table).toContain('"buoy.position"');
    expect(table).toContain('"wave"');
    write('way.svg', '<svg><path id="tide" d="M0 0 L10 0"/></svg>');
    const path = unspool([
      'convert',
      at('way.svg'),
      '-',
      '--to',
      'reel',
      '--path',
      'tide',
      '--turn',
      '--duration',
      '3',
    ]);
    expect(path.stdout).toContain('"tide.rotation"');
    expect(parseReel<unknown>(path.stdout).clip('way').duration).toBe(3);
  });

  test('numbers in a file beside are read; those outside of its folder are not, nor by a link', () => {
    unspool(['convert', crab, at('whole.gltf')]);
    const json = JSON.parse(readFileSync(at('whole.gltf'), 'utf8')) as { buffers: { uri: string }[] };
    const bytes = Buffer.from(json.buffers[0]!.uri.split(',')[1]!, 'base64');
    const read = (uri: string) => {
      json.buffers[0]!.uri = uri;
      write('parts.gltf', JSON.stringify(json));
      return unspool(['convert', at('parts.gltf'), at('parts.reel.json'), '--force']);
    };
    write('crab data.bin', bytes);
    expect(read('crab%20data.bin').exit).toBe(0);
    mkdirSync(at('inner'));
    const outside = join(scratchFolder(), 'secret.bin');
    writeFileSync(outside, bytes);
    symlinkSync(outside, at('link.bin'));
    expect(read('link.bin')).toMatchObject({ exit: 1, stderr: expect.stringContaining('link.bin was not found') as string }); // prettier-ignore
    expect(read('../secret.bin').stderr).toContain('is not in the folder of the file');
  });

  test.each([
    [['convert', crab, 'a.xyz'], 2, 'the name "a.xyz" does not say its format. Add --to: glb, gltf, css'],
    [['convert', crab, '-'], 2, 'the name "-" does not say its format. Add --to'],
    [['convert', crab, '-', '--to', 'mp4'], 2, 'unknown format "mp4". Use one of: glb'],
    [['convert', crab, '-', '--to', 'css', '--json'], 2, '--json writes the report where the result goes'],
    [['convert', crab, '-', 'snpa', '--to', 'glb'], 2, 'has no clip "snpa". Did you mean "snap"?'],
    [['convert', crab, '-', '--to', 'vtt'], 2, 'Choose one of: sway'],
    [['convert', crab, '-', '--to', 'glb', '--scale', 'big'], 2, 'invalid number "big" for --scale'],
    [['convert', 'nothing.glb', '-', '--to', 'reel'], 2, 'file not found: nothing.glb'],
  ])('%j', (args, code, message) => {
    const { exit, stderr, stdout } = unspool(args, { cwd: folder });
    expect(stderr).toContain(message);
    expect([exit, stdout]).toEqual([code, '']);
  });

  test('hostile files: one clear error, nothing written, little time and memory', () => {
    const glb = readFileSync(at('crab.glb'));
    const cases: readonly [string, string | Uint8Array, string][] = [
      ['short.glb', glb.subarray(0, 1000), 'Export it again'],
      ['empty.glb', new Uint8Array(), 'is not JSON'],
      ['bomb.svg', '<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg><path d="&b;"/></svg>', 'not valid XML'], // prettier-ignore
      ['large.css', 'a{}'.repeat(7_000_000), 'the limit is'],
      ['not.vtt', 'nothing', 'WebVTT begins with a line WEBVTT'],
      ['bytes.css', new Uint8Array([0xff, 0xfe, 0x00]), 'is not in UTF-8'],
      ['deep.css', '@media a {'.repeat(100_000), 'nested deeper'],
    ];
    for (const [name, content, message] of cases) {
      write(name, content);
      const started = performance.now();
      const { exit, stderr } = unspool(['convert', at(name), at('never.reel.json')]);
      expect(performance.now() - started, name).toBeLessThan(20_000);
      expect(stderr, name).toContain(message);
      expect(stderr.trimEnd().split('\n'), name).toHaveLength(1);
      expect(exit, name).toBe(1);
    }
    expect(existsSync(at('never.reel.json'))).toBe(false);
  });
});
