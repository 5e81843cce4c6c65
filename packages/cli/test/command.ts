import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, expect } from 'vitest';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
export const BIN = at('../bin/unspool.js');
export const REELS = at('../../../examples/tidepool/reels');
export const DEMO_REELS = readdirSync(REELS).filter((name) => name.endsWith('.reel.json'));
export const BROKEN = at('../fixtures/broken');

/** A folder for what a test writes: gone when its file is done. */
export function scratchFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'unspool-'));
  afterAll(() => rmSync(folder, { recursive: true }));
  return folder;
}

/** Runs the command line as a person would: a process of its own. */
export function unspool(args: readonly string[], { cwd = REELS, input = '' } = {}) {
  // As CI runs it: what is written to a pipe is the same there and on a desk.
  const env = { ...process.env, CI: 'true' };
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], {
    ...{ cwd, input, env },
    encoding: 'utf8',
    maxBuffer: 2 ** 28,
  });
  expect(stderr, 'no stack trace').not.toMatch(/^\s+at .*:\d+/m);
  return { exit: status, stdout, stderr };
}

export const ndjson = (text: string) =>
  text
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as Record<string, unknown>);
