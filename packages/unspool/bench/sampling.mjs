/**
 * Sampling against what people write by hand: a linear scan over key objects with easing closures, and a fresh object
 * for each pose. Both do the same work in the same run, in turns; medians, and their ratio.
 *
 * The work: 16 clips of 12 channels with 24 keys over 2 s (40 % linear, 50 % eased, 10 % hold), sampled by 200
 * playheads at 60 frames a second.
 */
import { performance } from 'node:perf_hooks';
import { easing, parseReel } from '../dist/index.js';

const CLIPS = 16;
const CHANNELS = 12;
const KEYS = 24;
const SECONDS = 2;
const PLAYHEADS = 200;
const FRAMES = 60;
const ROUNDS = 15;

let seed = 12345;
const random = () => (seed = (Math.imul(seed, 1103515245) + 12345) >>> 0) / 2 ** 32;
const WAYS = [
  'linear',
  'linear',
  'linear',
  'linear',
  'cubic-bezier(0.4, 0, 0.2, 1)',
  'ease',
  'ease-in-out',
  'cubic-out',
  'back-out',
  'hold',
];

const clipDocument = () => {
  const tracks = {};
  for (let channel = 0; channel < CHANNELS; channel++) {
    tracks[`crab.channel${channel}`] = Array.from({ length: KEYS }, (_, i) => ({
      at: (i * SECONDS) / (KEYS - 1),
      value: random() * 100,
      ease: WAYS[Math.floor(random() * WAYS.length)],
    }));
  }
  return { loop: 'loop', tracks };
};
const reel = {
  unspool: 1,
  clips: Object.fromEntries(Array.from({ length: CLIPS }, (_, i) => [`clip${i}`, clipDocument()])),
};

/** What one writes on an afternoon. */
function byHand(document) {
  const tracks = Object.entries(document.tracks).map(([name, keys]) => ({
    name,
    keys: keys.map((key) => ({ ...key, ease: key.ease === 'hold' ? () => 0 : easing(key.ease) })),
  }));
  return (time) => {
    const local = ((time % SECONDS) + SECONDS) % SECONDS;
    const pose = {};
    for (const { name, keys } of tracks) {
      const next = keys.findIndex((key) => key.at > local);
      if (next < 0) pose[name] = keys[keys.length - 1].value;
      else if (next === 0) pose[name] = keys[0].value;
      else {
        const a = keys[next - 1];
        const b = keys[next];
        pose[name] = a.value + (b.value - a.value) * a.ease((local - a.at) / (b.at - a.at));
      }
    }
    return pose;
  };
}

const clips = Object.values(parseReel(reel).clips);
const plain = Object.values(reel.clips).map(byHand);
const playheads = Array.from({ length: PLAYHEADS }, (_, i) => ({
  clip: i % CLIPS,
  phase: random() * SECONDS,
  pose: clips[i % CLIPS].createPose(),
}));

let sink = 0;
const contenders = {
  unspool(time) {
    for (const { clip, phase, pose } of playheads) sink += clips[clip].sample(time + phase, pose).values[0];
  },
  'by hand'(time) {
    for (const { clip, phase } of playheads) sink += plain[clip](time + phase)['crab.channel0'];
  },
};

for (const { clip, phase, pose } of playheads) {
  const mine = clips[clip].sample(1 + phase, pose).toObject();
  for (const [name, value] of Object.entries(plain[clip](1 + phase))) {
    if (Math.abs(mine[name] - value) > 1e-9) throw new Error(`${name}: ${mine[name]} and ${value} differ`);
  }
}

const timings = Object.fromEntries(Object.keys(contenders).map((name) => [name, []]));
for (let round = 0; round < ROUNDS + 3; round++) {
  for (const [name, frame] of Object.entries(contenders)) {
    const start = performance.now();
    for (let i = 0; i < FRAMES; i++) frame(i / 60);
    const each = ((performance.now() - start) * 1e6) / (FRAMES * PLAYHEADS * CHANNELS);
    if (round >= 3) timings[name].push(each); // the first rounds are the compiler's
  }
}

const sorted = (list) => [...list].sort((a, b) => a - b);
const median = (list) => sorted(list)[list.length >> 1];
console.log(
  `sampling: ${PLAYHEADS} playheads, ${CLIPS} clips of ${CHANNELS} channels with ${KEYS} keys; ns per channel, median of ${ROUNDS} (least – most)`,
);
for (const [name, list] of Object.entries(timings)) {
  const [least, most] = [sorted(list)[0], sorted(list).at(-1)];
  console.log(
    `  ${name.padEnd(8)} ${median(list).toFixed(1).padStart(6)}   (${least.toFixed(1)} – ${most.toFixed(1)})`,
  );
}
const ratios = timings['by hand'].map((each, i) => each / timings.unspool[i]);
console.log(
  `  by hand / unspool: ${median(ratios).toFixed(2)}   (${sorted(ratios)[0].toFixed(2)} – ${sorted(ratios).at(-1).toFixed(2)})`,
);
if (!Number.isFinite(sink)) throw new Error('a value was not finite');
