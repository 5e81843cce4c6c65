/**
 * Compiling and preparing a clip of 12 × 24 keys: the very first of a process, cold, which is in the frame that first
 * asks for a clip of a reel that `parseReel` has read (it compiles one itself), and warm after many.
 */
import { spawnSync } from 'node:child_process';
import { performance } from 'node:perf_hooks';
import { fileURLToPath } from 'node:url';
import { parseReel, prepareClip, readReel } from '../dist/index.js';
import { spread } from './measure.mjs';
import { makeReel } from './work.mjs';

const PROCESSES = 9;
const WARM = 200;

/** Milliseconds of some work, without garbage collection of earlier work. */
function timeOf(work) {
  globalThis.gc({ type: 'minor' });
  const start = performance.now();
  work();
  return performance.now() - start;
}

/** Milliseconds that a clip takes in a process that has done nothing but read its reel. */
const ONCE = {
  first() {
    const { reel } = readReel(makeReel({ clips: 2 }));
    return { compile: timeOf(() => reel.clip('clip0')) };
  },
  cold() {
    const reel = parseReel(makeReel({ clips: 2 }));
    const compile = timeOf(() => reel.clip('clip1'));
    return { compile, prepare: timeOf(() => prepareClip(reel.clip('clip1'))) };
  },
};

export function compiling() {
  const self = fileURLToPath(import.meta.url);
  const inProcesses = (which) =>
    Array.from({ length: PROCESSES }, () =>
      JSON.parse(spawnSync(process.execPath, ['--expose-gc', self, `--${which}`], { encoding: 'utf8' }).stdout),
    );
  const [first, cold] = [inProcesses('first'), inProcesses('cold')];
  const reel = parseReel(makeReel({ clips: WARM }));
  const warm = { compile: [], prepare: [] };
  const names = Object.keys(reel.clips);
  for (const name of names) warm.compile.push(timeOf(() => reel.clip(name)));
  for (const name of names) warm.prepare.push(timeOf(() => prepareClip(reel.clip(name))));
  const late = (list) => list.slice(WARM / 2);
  const row = (what, timings) => `| ${what} | ${timings.map((each) => (each ? spread(each) : '–')).join(' | ')} |`;
  const compile = [first, cold].map((all) => all.map((one) => one.compile));
  return {
    text: [
      '| | the first of a process, ms | cold, ms | warm, ms |',
      '| --- | ---: | ---: | ---: |',
      row('compile', [...compile, late(warm.compile)]),
      row('prepare for crowds', [undefined, cold.map((one) => one.prepare), late(warm.prepare)]),
    ].join('\n'),
  };
}

const which = Object.keys(ONCE).find((name) => process.argv.includes(`--${name}`));
if (which) console.log(JSON.stringify(ONCE[which]()));
