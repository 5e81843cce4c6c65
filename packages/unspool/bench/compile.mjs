/** Compiling and preparing a clip of 12 × 24 keys: cold in a fresh process, warm in one that has done it often. */
import { spawnSync } from 'node:child_process';
import { performance } from 'node:perf_hooks';
import { fileURLToPath } from 'node:url';
import { parseReel, prepareClip } from '../dist/index.js';
import { spread } from './measure.mjs';
import { makeReel } from './work.mjs';

const PROCESSES = 9;
const WARM = 200;

function timeOf(work) {
  const start = performance.now();
  work();
  return performance.now() - start;
}

/** Milliseconds that the first clip of a reel takes after the reel was read. */
function once() {
  const reel = parseReel(makeReel({ clips: 2 }));
  const compile = timeOf(() => reel.clip('clip0'));
  return { compile, prepare: timeOf(() => prepareClip(reel.clip('clip0'))) };
}

export function compiling() {
  const self = fileURLToPath(import.meta.url);
  const cold = Array.from({ length: PROCESSES }, () =>
    JSON.parse(spawnSync(process.execPath, [self, '--once'], { encoding: 'utf8' }).stdout),
  );
  const reel = parseReel(makeReel({ clips: WARM }));
  const warm = { compile: [], prepare: [] };
  const names = Object.keys(reel.clips);
  for (const name of names) warm.compile.push(timeOf(() => reel.clip(name)));
  for (const name of names) warm.prepare.push(timeOf(() => prepareClip(reel.clip(name))));
  const late = (list) => list.slice(WARM / 2);
  const row = (what, first, often) => `| ${what} | ${spread(first)} | ${spread(often)} |`;
  return {
    text: [
      '| | cold, ms | warm, ms |',
      '| --- | ---: | ---: |',
      row(
        'compile',
        cold.map(({ compile }) => compile),
        late(warm.compile),
      ),
      row(
        'prepare for crowds',
        cold.map(({ prepare }) => prepare),
        late(warm.prepare),
      ),
    ].join('\n'),
  };
}

if (process.argv.includes('--once')) console.log(JSON.stringify(once()));
