/** 200 players with a handler and objects to write into, and single samples at random times. */
import { parseReel, Player } from '../dist/index.js';
import { byHand } from './by-hand.mjs';
import { newCast, passes, repeated, settersOf } from './cast.mjs';
import { interleave, spread, timesTable } from './measure.mjs';
import { OrdinaryClip, OrdinaryInstance } from './ordinary.mjs';
import { CHANNELS, makeInstances, makeReel, randomNumbers } from './work.mjs';

const DT = 1 / 60;
const PLAYERS = 200;
const FRAMES = 30;

export function makePlayers(document, heard) {
  const reel = parseReel(document);
  return makeInstances(PLAYERS).map(({ clip, phase, rate }) => {
    const cast = newCast();
    const player = new Player(reel, { cast });
    player.on('cue', heard);
    player.play(clip, { from: phase * reel.clip(clip).duration, rate });
    return { player, cast };
  });
}

export function playersFrame() {
  const document = makeReel();
  const { duration } = document.clips.clip0;
  const [{ at: cueAt }] = document.clips.clip0.cues;
  const heard = { unspool: 0, ordinary: 0, hand: 0 };
  const players = makePlayers(document, () => heard.unspool++);

  const clips = Object.fromEntries(
    Object.entries(document.clips).map(([name, clip]) => [name, new OrdinaryClip(clip)]),
  );
  const ordinary = makeInstances(PLAYERS).map(({ clip, phase, rate }) => {
    const cast = newCast();
    const instance = new OrdinaryInstance(clips[clip], phase * duration, rate);
    const setters = settersOf(instance.clip.names, cast);
    return { instance, cast, setters, handlers: [() => heard.ordinary++] };
  });

  const functions = Object.fromEntries(Object.entries(document.clips).map(([name, clip]) => [name, byHand(clip)]));
  const hand = makeInstances(PLAYERS).map(({ clip, phase, rate }) => ({
    ...{
      clip,
      rate,
      time: phase * duration,
      cast: newCast(),
      cues: document.clips[clip].cues,
      handlers: [() => heard.hand++],
    },
  }));

  const contenders = {
    unspool: () => {
      for (const { player } of players) player.tick(DT);
    },
    'ordinary objects (b)': () => {
      for (const { instance, setters, handlers } of ordinary) {
        const before = instance.time;
        instance.tick(DT);
        if (passes(cueAt, before, instance.time)) for (const handler of handlers) handler();
        const { names } = instance.clip;
        for (let i = 0; i < setters.length; i++) setters[i](instance.values[names[i]]);
      }
    },
    'naive (a)': () => {
      for (const one of hand) {
        const before = one.time % duration;
        one.time += DT * one.rate;
        for (const cue of one.cues.filter(() => passes(cueAt, before, one.time % duration)))
          one.handlers.forEach((handler) => handler(cue));
        for (const [name, value] of Object.entries(functions[one.clip](one.time))) {
          const [role, property, channel] = name.split('.');
          if (channel) one.cast[role][property][channel] = value;
          else one.cast[role][property] = value;
        }
      }
    },
  };
  const timings = interleave(repeated(contenders, FRAMES), FRAMES * PLAYERS * CHANNELS);
  for (let i = 0; i < PLAYERS; i++) {
    const [ours, theirs, plain] = [players[i].cast, ordinary[i].cast, hand[i].cast].map((cast) => cast.b.rotation);
    if (Math.abs(ours - plain) > 0.1 || Math.abs(theirs - plain) > 0.1)
      throw new Error(`player ${i}: ${ours}, ${theirs}, ${plain}`);
  }
  if (Math.abs(heard.unspool - heard.hand) > PLAYERS || Math.abs(heard.ordinary - heard.hand) > PLAYERS)
    throw new Error(`cues: ${JSON.stringify(heard)}`);
  return { timings, text: timesTable(timings, 'ns per channel') };
}

export function singleSamples() {
  const document = makeReel();
  const reel = parseReel(document);
  const random = randomNumbers(5);
  const wanted = Array.from({ length: 2000 }, (_, i) => ({ clip: `clip${i % 16}`, time: random() * 2 }));
  const clips = Object.fromEntries(
    Object.entries(document.clips).map(([name, clip]) => [name, new OrdinaryClip(clip)]),
  );
  const instances = Object.fromEntries(
    Object.entries(clips).map(([name, clip]) => [name, new OrdinaryInstance(clip, 0, 1)]),
  );
  const functions = Object.fromEntries(Object.entries(document.clips).map(([name, clip]) => [name, byHand(clip)]));
  const poses = Object.fromEntries(Object.keys(clips).map((name) => [name, reel.clip(name).createPose()]));
  let sink = 0;
  const timings = interleave(
    {
      unspool: () => {
        for (const { clip, time } of wanted) sink += reel.clip(clip).sample(time, poses[clip]).values[0];
      },
      'ordinary objects (b)': () => {
        for (const { clip, time } of wanted) {
          instances[clip].time = time;
          sink += instances[clip].sample()['a.rotation'];
        }
      },
      'naive (a)': () => {
        for (const { clip, time } of wanted) sink += functions[clip](time)['a.rotation'];
      },
    },
    wanted.length * CHANNELS,
  );
  if (!Number.isFinite(sink)) throw new Error('a value was not finite');
  return { timings, text: timesTable(timings, 'ns per channel') };
}

const IDLE = 10_000;

/** What stands still: paused, or at its end. The plain way asks each whether it plays, and adds up its time. */
export function idleFrame() {
  const reel = parseReel(makeReel());
  const make = (stop) =>
    makeInstances(IDLE).map(({ clip }) => {
      const player = new Player(reel, { cast: newCast() });
      stop(player.play(clip, { loop: 'once' }), player);
      return player;
    });
  const paused = make((playback) => playback.pause());
  const ended = make((_, player) => player.tick(3));
  const plain = makeInstances(IDLE).map(() => ({ isPlaying: false, time: 0.5, cast: newCast() }));
  const timings = interleave(
    {
      'unspool, paused': () => {
        for (const player of paused) player.tick(DT);
      },
      'unspool, ended': () => {
        for (const player of ended) player.tick(DT);
      },
      'objects with a flag': () => {
        for (const one of plain) if (!one.isPlaying) one.time += DT;
      },
    },
    1e6,
    { rounds: 60, warm: 20 },
  );
  const rows = Object.entries(timings).map(([name, list]) => `| ${name} | ${spread(list)} |`);
  return { timings, text: ['| | ms per frame of 10,000 |', '| --- | ---: |', ...rows].join('\n') };
}
