/** 1,000 players that write into objects, with a routine of 12 rules whose inputs change in each frame, and without. */
import { parseReel, Player, startRoutine } from '../dist/index.js';
import { newCast } from './cast.mjs';
import { interleave, timesTable } from './measure.mjs';
import { CHANNELS, makeInstances, makeReel } from './work.mjs';

const DT = 1 / 60;
const PLAYERS = 1000;

/** Eleven rules that are asked in each frame and do not apply, and one that plays. */
function routineOf(clip) {
  const waits = ['hurt', 'jump', 'attack'].map((on) => ({ name: on, on, play: clip }));
  const tests = Array.from({ length: 8 }, (_, i) => ({
    name: `rule${i}`,
    if: { speed: { above: 20 + i, until: 15 + i }, ...(i % 2 === 0 && { wet: { equals: false, for: '4f' } }) },
    ...(i % 4 === 0 && { during: { rule: 'idle' } }),
    play: clip,
  }));
  return {
    inputs: {
      speed: { kind: 'number' },
      way: { kind: 'vec2' },
      wet: { kind: 'flag' },
      ...Object.fromEntries(waits.map(({ on }) => [on, { kind: 'signal', keep: '8f' }])),
    },
    rules: [...waits, ...tests, { name: 'idle', play: clip, rate: { input: 'speed', at: 10 } }],
  };
}

export function routinesFrame() {
  const document = makeReel();
  const { duration } = document.clips.clip0;
  const routines = Object.fromEntries(Object.keys(document.clips).map((clip) => [clip, routineOf(clip)]));
  const reel = parseReel({ ...document, routines });
  const all = makeInstances(PLAYERS);
  const make = () =>
    all.map(({ clip, phase }) => {
      const player = new Player(reel, { cast: newCast() });
      player.play(clip, { from: phase * duration, loop: 'loop' });
      return player;
    });
  const plain = make();
  const ruled = all.map(({ clip }) => {
    const player = new Player(reel, { cast: newCast() });
    return { player, act: startRoutine(player, clip) };
  });
  let frame = 0;
  const timings = interleave(
    {
      unspool: () => {
        for (const player of plain) player.tick(DT);
      },
      'with a routine': () => {
        frame++;
        for (let i = 0; i < ruled.length; i++) {
          const { player, act } = ruled[i];
          act.set('speed', 10 + ((frame + i) % 7));
          act.set('wet', (frame + i) % 5 === 0);
          player.tick(DT);
        }
      },
    },
    PLAYERS,
    { rounds: 60, warm: 30 },
  );
  if (ruled.some(({ act }) => act.rule() !== 'idle')) throw new Error('another rule plays');
  return { timings, text: timesTable(timings, `ns per player (${CHANNELS} channels)`) };
}
