import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { BIN, scratchFolder, unspool } from '../../test/command.js';

const folder = scratchFolder();

/** A reel of one clip, without a space in it, with so many keys in each of its tracks. */
function write(tracks: number, keys: number): string {
  const file = join(folder, `${tracks}x${keys}.reel.json`);
  const track = (t: number) => Array.from({ length: keys }, (_, k) => ({ at: `${2 * k}f`, value: (k * 7 + t) % 50 }));
  const all = Object.fromEntries(Array.from({ length: tracks }, (_, t) => [`crab.glow${t}`, track(t)]));
  writeFileSync(file, JSON.stringify({ unspool: 1, clips: { one: { duration: `${2 * keys}f`, tracks: all } } }));
  return file;
}

test.each([
  ['show', (file: string) => ['show', file, 'one', '--format', 'json']],
  ['show, as text', (file: string) => ['show', file, 'one']],
  ['alter', (file: string) => ['alter', file, 'one', '--move', '1f']],
  ['check', (file: string) => ['check', file]],
])(
  '%s: five times the keys take about five times as long',
  (_, args) => {
    const seconds = (file: string) => {
      const begun = performance.now();
      expect(unspool(args(file)).exit).toBe(0);
      return performance.now() - begun;
    };
    const [few, many] = [write(40, 100), write(40, 500)];
    // A busy machine may be slow once.
    let [small, large] = [0, Infinity];
    for (let i = 0; i < 4 && large >= 9 * small; i++) [small, large] = [seconds(few), seconds(many)];
    expect(large).toBeLessThan(9 * small);
  },
  60_000,
);

test('a reel near the size limit can be read again after it was written', () => {
  const file = write(40, 8000);
  expect(
    unspool(['alter', file, 'one', '--add', '1', '--tracks', 'crab.glow0', '--write', '--format', 'json']).exit,
  ).toBe(0);
  const { exit, stdout } = unspool(['show', file, '--format', 'json']);
  expect(exit).toBe(0);
  expect(stdout).toContain('crab.glow39');
}, 120_000);

test.each(['SIGINT', 'SIGTERM'] as const)(
  '%s ends a command at once while it computes',
  async (signal) => {
    const file = write(40, 8000);
    for (const args of [
      ['show', file, 'one'],
      ['alter', file, 'one', '--reverse', '--write'],
      ['check', file, '--fix', 'all'],
    ]) {
      const child = spawn(process.execPath, [BIN, ...args], { stdio: 'ignore' });
      await new Promise((resolve) => setTimeout(resolve, 900));
      expect(child.exitCode, `${args[0]} computes`).toBeNull();
      const begun = performance.now();
      const ended = new Promise<unknown>((resolve) => child.once('exit', (_, by) => resolve(by)));
      child.kill(signal);
      expect(await ended).toBe(signal);
      // What it computes takes several seconds more.
      expect(performance.now() - begun).toBeLessThan(2000);
    }
  },
  60_000,
);
