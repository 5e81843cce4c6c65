/** Edits of documents: an operation with its undo, and a whole check, as the keys grow. */
import { performance } from 'node:perf_hooks';
import { checkReel, formatReel, parseReel, readReel } from '../dist/index.js';
import { advise, History } from '../dist/edit/index.js';
import { adviseShapes } from '../dist/hit/index.js';
import { median, spread } from './measure.mjs';

const EASES = ['linear', 'quad-out', 'ease-in-out', 'cubic-bezier(0.3, 0, 0.6, 1)', 'hold'];

/** A reel of so many clips, tracks in each, and keys in each track. */
export function reelOf(clips, tracks, keys) {
  const track = (t) =>
    Array.from({ length: keys }, (_, k) => ({
      at: k === 0 ? 0 : `${4 * k}f`,
      value: (k * 7 + t * 3) % 50,
      ease: EASES[(k + t) % EASES.length],
    }));
  const clip = () => ({
    duration: `${4 * (keys - 1)}f`,
    tracks: Object.fromEntries(Array.from({ length: tracks }, (_, t) => [`crab.glow${t}`, track(t)])),
    cues: [{ at: '8f', name: 'hit' }],
  });
  return {
    unspool: 1,
    fps: 60,
    roles: { crab: {} },
    clips: Object.fromEntries(Array.from({ length: clips }, (_, c) => [`clip${c}`, clip()])),
  };
}

/** What an animator does all day, on one track. */
const work = (round) => {
  const [clip, track] = ['clip0', `crab.glow${round % 10}`];
  const one = { clip, keys: { [track]: ['16f'] } };
  return [
    { do: 'move-keys', ...one, by: '1f' },
    { do: 'set-keys', ...one, value: round + 0.5 },
    { do: 'put-key', clip, track, at: '18f', value: 3 },
    { do: 'insert-key', clip, track, at: '21f' },
    { do: 'move-keys', clip, tracks: [track], from: '16f', by: '2f', ripple: 'track' },
    { do: 'scale-values', clip, tracks: [track], factor: 1.5 },
    { do: 'remove-keys', ...one },
  ];
};

function operations(doc) {
  const history = new History(doc);
  const times = [];
  for (let round = 0; round < 40; round++) {
    for (const operation of work(round)) {
      const start = performance.now();
      const made = history.apply(operation);
      history.undo();
      if (round >= 10) times.push(performance.now() - start);
      if (!made.ok) throw new Error(made.said);
    }
  }
  return times;
}

/** The same by the plain way: a deep copy of the document to undo to, the key changed in it, and the whole checked. */
function plainly(doc, rounds) {
  const times = [];
  for (let round = 0; round < rounds; round++) {
    const start = performance.now();
    const copy = structuredClone(doc);
    copy.clips.clip0.tracks['crab.glow0'][4].at = '17f';
    if (checkReel(copy).length > 0) throw new Error('the copy is not valid');
    times.push(performance.now() - start);
  }
  return times;
}

function checks(doc, rounds) {
  const text = formatReel(doc);
  const times = [];
  for (let round = 0; round < rounds; round++) {
    const start = performance.now();
    const { reel } = readReel(text);
    advise(reel.document, { text });
    adviseShapes(reel, { text });
    times.push(performance.now() - start);
  }
  return times;
}

export function editing() {
  const sizes = [
    ['1,000 (4 clips × 10 tracks × 25)', 4, 10, 25],
    ['10,000 (40 clips × 10 tracks × 25)', 40, 10, 25],
    ['10,000 (1 clip × 100 tracks × 100)', 1, 100, 100],
    ['10,000 (1 clip × 10 tracks × 1,000)', 1, 10, 1000],
    ['100,000 (400 clips × 10 tracks × 25)', 400, 10, 25],
  ];
  const rows = sizes.map(([message, clips, tracks, keys]) => {
    const doc = parseReel(reelOf(clips, tracks, keys)).document;
    const rounds = clips > 100 ? 5 : 11;
    const ours = operations(doc);
    const plain = plainly(doc, rounds);
    const check = checks(doc, rounds);
    return `| ${message} | ${spread(ours)} | ${spread(plain)} | ${(median(plain) / median(ours)).toFixed(0)} | ${spread(check)} |`;
  });
  const head = ['keys', 'operation and undo, ms', 'copy and check, ms', 'times', '`check`, ms'];
  return { text: [`| ${head.join(' | ')} |`, '| --- | ---: | ---: | ---: | ---: |', ...rows].join('\n') };
}
