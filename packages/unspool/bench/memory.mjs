/** Bytes for each clip, instance and player: what the heap and its array buffers grow by. Needs --expose-gc. */
import { Crowd, parseReel, Player, prepareClip, trustReel } from '../dist/index.js';
import { CHANNELS, makeReel } from './work.mjs';

function used() {
  for (let i = 0; i < 4; i++) globalThis.gc();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
}

/** Bytes that each of `count` takes; `make` returns what must not be collected meanwhile. */
function each(count, make) {
  const before = used();
  const kept = make();
  const after = used();
  if (!kept) throw new Error('nothing was made');
  return (after - before) / count;
}

export function memory() {
  const clips = 800;
  // Not checked before, which hands clips on that it has read: what they took would be counted as gained.
  const reel = trustReel(makeReel({ clips }));
  const names = Object.keys(reel.clips);
  reel.clip(names[0]);
  prepareClip(reel.clip(names[0]));
  const compiled = each(clips - 1, () => names.map((name) => reel.clip(name)));
  const fitted = each(clips - 1, () => names.map((name) => prepareClip(reel.clip(name))));

  const small = parseReel(makeReel());
  const instances = 100_000;
  let crowd;
  const instance = each(instances, () => {
    crowd = new Crowd(small);
    for (let i = 0; i < instances; i++) crowd.add(`clip${i % 16}`, { phase: i / instances });
    crowd.tick(1 / 60);
    return crowd;
  });
  const players = 5000;
  const cast = () =>
    Object.fromEntries(['a', 'b', 'c', 'd'].map((role) => [role, { position: { x: 0, y: 0 }, rotation: 0 }]));
  const warm = new Player(small, { cast: cast() });
  for (let i = 0; i < 16; i++) {
    warm.play(`clip${i}`);
    warm.tick(1 / 60);
  }
  // Made after fractions were written into one: then the engine has room in these for theirs, which are the game's.
  const casts = Array.from({ length: players }, cast);
  const player = each(players, () =>
    casts.map((objects, i) => {
      const one = new Player(small, { cast: objects });
      one.play(`clip${i % 16}`, { rate: 0.5 + i / players });
      one.tick(1 / 60);
      return one;
    }),
  );
  const kept = [reel, crowd, casts, warm].length;
  const row = (what, bytes) => `| ${what} | ${Math.round(bytes)} |`;
  return {
    kept,
    figures: { compiled, fitted, instance, player },
    text: [
      '| | bytes |',
      '| --- | ---: |',
      row(`a compiled clip of ${CHANNELS} × 24 keys`, compiled),
      row('its fitted form, in addition', fitted),
      row(`an instance of a crowd, including its ${CHANNELS} values`, instance),
      row('a player with one playback', player),
    ].join('\n'),
  };
}
