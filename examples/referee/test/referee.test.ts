import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { beforeAll, expect, test } from 'vitest';

/** The server as it is run: built, and a process of its own. The page's side is in the tidepool's test. */
const here = fileURLToPath(new URL('..', import.meta.url));

interface Line {
  readonly time: number;
  readonly by: string;
  readonly to: string;
}

function run(...args: string[]): Line[] {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['dist/referee.js', ...args], {
    cwd: here,
    encoding: 'utf8',
  });
  expect(status, stderr).toBe(0);
  return stdout
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as Line);
}
const reported = (lines: readonly Line[]) => lines.map(({ time, by, to }) => [Number(time.toFixed(6)), by, to]);

beforeAll(() => {
  const { status, stderr } = spawnSync('npm', ['run', '-s', 'build'], { cwd: here, encoding: 'utf8', shell: true });
  expect(status, stderr).toBe(0);
});

test('the same hits at 15, 30, 60, 144 and jittered frames a second', () => {
  const sixty = run();
  expect(sixty.length).toBeGreaterThanOrEqual(10);
  // Most of them between two frames.
  expect(sixty.filter(({ time }) => Math.abs(time * 60 - Math.round(time * 60)) > 1e-3).length).toBeGreaterThan(3);
  for (const args of [['15'], ['30'], ['144'], ['jitter', '1'], ['jitter', '2']])
    expect(reported(run(...args)), args.join(' ')).toEqual(reported(sixty));
});
