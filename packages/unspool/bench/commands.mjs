/** Commands on large reels, as whole processes: including start, reading, checking and printing. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { fileURLToPath } from 'node:url';
import { formatReel } from '../dist/index.js';
import { reelOf } from './edits.mjs';
import { median, spread } from './measure.mjs';

const UNSPOOL = fileURLToPath(new URL('../../cli/bin/unspool.js', import.meta.url));
const ROUNDS = 5;

const COMMANDS = {
  'show FILE CLIP': (file) => ['show', file, 'clip0'],
  'alter … --move 1f': (file) => ['alter', file, 'clip0', '--move', '1f'],
  check: (file) => ['check', file],
};

/** Milliseconds of one run. */
function time(args) {
  const start = performance.now();
  const { status, stderr } = spawnSync(process.execPath, [UNSPOOL, ...args], { maxBuffer: 2 ** 28, encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return performance.now() - start;
}

export function commands() {
  const folder = mkdtempSync(join(tmpdir(), 'unspool-bench-'));
  try {
    const shapes = [[10, 250], [10, 2500], [10, 10_000], [80, 1250]]; // prettier-ignore
    const rows = Object.entries(COMMANDS).map(([name, args]) => {
      const times = shapes.map(([tracks, keys]) => {
        const file = join(folder, `${tracks}-${keys}.reel.json`);
        writeFileSync(file, formatReel(reelOf(1, tracks, keys)));
        return Array.from({ length: ROUNDS }, () => time(args(file)));
      });
      const growth = median(times[2].map((ms, i) => ms / times[1][i]));
      return `| ${name} | ${times.map(spread).join(' | ')} | ${growth.toFixed(1)} |`;
    });
    const head = shapes.map(([tracks, keys]) => `${(tracks * keys).toLocaleString('en')} keys (${tracks} tracks), ms`);
    const text = [
      `| | ${head.join(' | ')} | 100,000 / 25,000 |`,
      `| --- |${' ---: |'.repeat(shapes.length + 1)}`,
      ...rows,
    ].join('\n');
    return { text };
  } finally {
    rmSync(folder, { recursive: true });
  }
}
