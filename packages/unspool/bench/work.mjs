/** The work that every benchmark does: reels made from a seed, and the same documents for whoever evaluates them. */

/** Random numbers 0–1 from a seed (a linear congruential generator): the same on every machine. */
export function randomNumbers(seed) {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

export const CLIPS = 16;
export const CHANNELS = 12;
export const KEYS = 24;
export const SECONDS = 2;
const FPS = 60;

const BEZIERS = [
  ...['ease', 'ease-in-out', 'cubic-bezier(0.4, 0, 0.2, 1)', 'cubic-bezier(0.3, 0.2, 0.2, 1.4)'],
  ...['cubic-bezier(0.7, 0, 0.9, 0.4)', 'ease-out', 'ease-in', 'cubic-bezier(0.5, -0.4, 0.5, 1.4)'],
];

/** 40 % linear, 30 % cubic-bezier, 20 % cubic (a Hermite curve, by handles a third of the way along), 10 % hold. */
function wayOf(random) {
  const share = random();
  if (share < 0.4) return 'linear';
  if (share < 0.7) return BEZIERS[Math.floor(random() * BEZIERS.length)];
  return share < 0.9 ? 'curve' : 'hold';
}

/** Keys of one channel: `count` of them, on whole frames while those last, over all of the seconds. */
export function keysOf(random, count, seconds = SECONDS) {
  const frames = seconds * FPS;
  const times = new Set([0, seconds]);
  while (times.size < count) {
    times.add(count < frames / 2 ? Math.floor(random() * frames) / FPS : random() * seconds);
  }
  const keys = [...times].sort((a, b) => a - b).map((at) => ({ at, value: random() * 100, ease: wayOf(random) }));
  keys.forEach((key, i) => {
    const next = keys[i + 1];
    if (key.ease !== 'curve' || !next) return;
    const third = (next.at - key.at) / 3;
    key.out = [third, (random() - 0.5) * 40];
    next.in = [-third, (random() - 0.5) * 40];
  });
  return keys;
}

/** A reel of clips of numeric channels, four roles with x, y and rotation each, all looping. */
export function makeReel({ clips = CLIPS, keys = KEYS, seed = 1 } = {}) {
  const random = randomNumbers(seed);
  const clip = () => {
    const tracks = {};
    for (let channel = 0; channel < CHANNELS; channel++) {
      const name = `${'abcd'[Math.floor(channel / 3)]}.${['position.x', 'position.y', 'rotation'][channel % 3]}`;
      tracks[name] = keysOf(random, keys);
    }
    return { duration: SECONDS, loop: 'loop', tracks, cues: [{ at: 0.5, name: 'step' }] };
  };
  return { unspool: 1, clips: Object.fromEntries(Array.from({ length: clips }, (_, i) => [`clip${i}`, clip()])) };
}

/** Which clip, phase and rate each of so many instances has. */
export function makeInstances(count, seed = 2) {
  const random = randomNumbers(seed);
  return Array.from({ length: count }, (_, i) => ({
    clip: `clip${i % CLIPS}`,
    phase: random(),
    rate: 0.5 + random(),
  }));
}
