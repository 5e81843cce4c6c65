/**
 * `npm run bench`: all tables of docs/explain/speed.md. `npm run bench -- --write` writes it there.
 *
 * Names measure some things: crowd, players, idle, layers, routines, hits, samples, compile, keys, edits, commands, instances,
 * memory. `--quick` takes fewer rounds, for a first look. `--compare REV` measures another commit in turn and prints
 * ratios. `--json` prints the medians.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { parseArgs } from 'node:util';
import { commands } from './commands.mjs';
import { compare } from './compare.mjs';
import { compiling } from './compile.mjs';
import { crowdFrame } from './crowd.mjs';
import { editing } from './edits.mjs';
import { growthInInstances, growthInKeys } from './growth.mjs';
import { hitFrames, SIZES } from './hits.mjs';
import { layersFrame } from './layers.mjs';
import { memory } from './memory.mjs';
import { routinesFrame } from './routines.mjs';
import { median } from './measure.mjs';
import { idleFrame, playersFrame, singleSamples } from './players.mjs';
import { CHANNELS } from './work.mjs';

const PARTS = {
  crowd: ['One frame of a crowd: 10,000 instances × 12 channels × 24 keys', crowdFrame],
  players: ['200 players with a handler, writing into objects', playersFrame],
  idle: ['10,000 players that stand still', idleFrame],
  layers: ['1,000 players with two layers, one half shown, and cues', layersFrame],
  routines: ['1,000 players with a routine of 12 rules, and inputs that change in each frame', routinesFrame],
  hits: ['Hits between frames: swinging shapes among drifting targets', hitFrames],
  samples: ['Single samples at random times', singleSamples],
  compile: ['Compiling a clip of 12 × 24 keys', compiling],
  keys: ['Scaling with the number of keys', growthInKeys],
  edits: ['Editing: an operation and its undo, and a full check, by the number of keys', editing],
  commands: ['Commands on large reels, whole processes', commands],
  instances: ['Scaling with the number of instances', growthInInstances],
  memory: ['Memory', memory],
};

/** What takes long and says little about a change. */
const SLOW = ['edits', 'commands', 'instances', 'memory', 'keys'];

const { values: options, positionals: wanted } = parseArgs({
  allowPositionals: true,
  options: {
    write: { type: 'boolean' },
    quick: { type: 'boolean' },
    json: { type: 'boolean' },
    compare: { type: 'string' },
  },
});
for (const word of wanted) {
  if (!Object.hasOwn(PARTS, word)) {
    console.error(`unknown benchmark ${word}. Use one of: ${Object.keys(PARTS).join(', ')}`);
    process.exit(2);
  }
}
const isShort = options.quick || options.compare !== undefined;
const names = wanted.length > 0 ? wanted : Object.keys(PARTS).filter((name) => !isShort || !SLOW.includes(name));
if (options.compare !== undefined) {
  console.log(compare(options.compare, names));
  process.exit();
}

/** The medians of a part, by row and contender. */
function mediansOf({ timings = {} }) {
  const rows = Object.values(timings).every(Array.isArray) ? { '': timings } : timings;
  const ofRow = (row) => Object.fromEntries(Object.entries(row).map(([who, list]) => [who, median(list)]));
  return Object.fromEntries(Object.entries(rows).map(([name, row]) => [name, ofRow(row)]));
}

/** What the medians of all parts mean for a game: how many fit into a millisecond. */
function fits({ crowd, players, layers, routines, idle, hits }) {
  if (!crowd || !players || !layers || !routines || !idle || !hits) return [];
  const ns = 1e6;
  const [shapes, targets] = SIZES.at(-1);
  const ofHits = hits[`${shapes} × ${targets}`].unspool;
  const rows = [
    [`instances of a crowd, ${CHANNELS} channels each`, ns / (CHANNELS * crowd[''].unspool)],
    [`players that write ${CHANNELS} channels into objects`, ns / (CHANNELS * players[''].unspool)],
    ['players with two layers (1,000 at a time)', ns / layers[''].unspool],
    ['players with a routine of 12 rules (1,000 at a time)', ns / routines['']['with a routine']],
    ['players that are paused or have ended', 10_000 / idle['']['unspool, paused']],
    [`shapes that swing and hit, among ${targets / shapes} times as many targets`, shapes / ofHits],
  ];
  const round = (n) => Number(n.toPrecision(2)).toLocaleString('en');
  const lines = rows.map(([what, count]) => `| ${what} | ${round(count)} |`);
  return [
    ['### What fits into one millisecond of a frame', '', '| | number |', '| --- | ---: |', ...lines, ''].join('\n'),
  ];
}

const sections = [];
const medians = {};
for (const name of names) {
  const [title, measure] = PARTS[name];
  const measured = measure();
  medians[name] = mediansOf(measured);
  const section = `### ${title}\n\n${measured.text}\n`;
  sections.push(section);
  if (!options.json) console.log(section);
}
if (options.json) console.log(JSON.stringify(medians));
const meaning = fits(medians);
if (!options.json) for (const section of meaning) console.log(section);
if (options.write) {
  const file = new URL('../../../docs/explain/speed.md', import.meta.url);
  const [start, end] = ['<!-- measured -->', '<!-- /measured -->'];
  const text = readFileSync(file, 'utf8');
  const machine = `Measured on ${cpus()[0].model.trim()}, ${cpus().length} cores, Node ${process.versions.node}.`;
  const before = text.slice(0, text.indexOf(start) + start.length);
  writeFileSync(
    file,
    `${before}\n\n${machine}\n\n${[...meaning, ...sections].join('\n')}\n${text.slice(text.indexOf(end))}`,
  );
}
