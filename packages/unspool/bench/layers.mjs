/** 1,000 players with two layers, the upper one half shown and masked to half of the roles, with cues and writes. */
import { parseReel, Player } from '../dist/index.js';
import { byHand } from './by-hand.mjs';
import { newCast, passes, repeated, settersOf } from './cast.mjs';
import { interleave, timesTable } from './measure.mjs';
import { OrdinaryClip, OrdinaryInstance } from './ordinary.mjs';
import { CHANNELS, CLIPS, makeInstances, makeReel } from './work.mjs';

const DT = 1 / 60;
const PLAYERS = 1000;
const FRAMES = 6;
const MASK = ['a', 'b'];
const WEIGHT = 0.5;
const isMasked = (name) => MASK.includes(name.split('.')[0]);

/** What plays above a clip. */
const above = (clip) => `clip${(Number(clip.slice(4)) + 5) % CLIPS}`;

export function layersFrame() {
  const document = makeReel();
  const { duration, cues } = document.clips.clip0;
  const cueAt = cues[0].at;
  const heard = { unspool: 0, ordinary: 0, hand: 0 };
  const reel = parseReel(document);
  const all = makeInstances(PLAYERS);
  const players = all.map(({ clip, phase, rate }) => {
    const cast = newCast();
    const player = new Player(reel, { cast });
    player.on('cue', () => heard.unspool++);
    player.layer('top', { mask: MASK, weight: WEIGHT });
    player.play(clip, { from: phase * duration, rate });
    player.play(above(clip), { from: phase * duration, rate, layer: 'top' });
    return { player, cast };
  });

  const clips = Object.fromEntries(
    Object.entries(document.clips).map(([name, clip]) => [name, new OrdinaryClip(clip)]),
  );
  const ordinary = all.map(({ clip, phase, rate }) => {
    const cast = newCast();
    const [below, top] = [clip, above(clip)].map((name) => new OrdinaryInstance(clips[name], phase * duration, rate));
    const setters = settersOf(below.clip.names, cast);
    return { below, top, cast, setters, masked: below.clip.names.map(isMasked), handlers: [() => heard.ordinary++] };
  });

  const functions = Object.fromEntries(Object.entries(document.clips).map(([name, clip]) => [name, byHand(clip)]));
  const hand = all.map(({ clip, phase, rate }) => ({
    ...{ clip, rate, time: phase * duration, cast: newCast(), handlers: [() => heard.hand++] },
  }));

  const contenders = {
    unspool: () => {
      for (const { player } of players) player.tick(DT);
    },
    'ordinary objects (b)': () => {
      for (const { below, top, setters, masked, handlers } of ordinary) {
        for (const instance of [below, top]) {
          const before = instance.time;
          instance.tick(DT);
          if (passes(cueAt, before, instance.time)) for (const handler of handlers) handler();
        }
        const { names } = below.clip;
        for (let i = 0; i < setters.length; i++) {
          const value = below.values[names[i]];
          setters[i](masked[i] ? value + (top.values[names[i]] - value) * WEIGHT : value);
        }
      }
    },
    'naive (a)': () => {
      for (const one of hand) {
        const before = one.time % duration;
        one.time += DT * one.rate;
        for (let i = 0; i < 2; i++)
          if (passes(cueAt, before, one.time % duration)) one.handlers.forEach((handler) => handler());
        const top = functions[above(one.clip)](one.time);
        for (const [name, value] of Object.entries(functions[one.clip](one.time))) {
          const [role, property, channel] = name.split('.');
          const mixed = isMasked(name) ? value + (top[name] - value) * WEIGHT : value;
          if (channel) one.cast[role][property][channel] = mixed;
          else one.cast[role][property] = mixed;
        }
      }
    },
  };
  const timings = interleave(repeated(contenders, FRAMES), FRAMES * PLAYERS);
  for (let i = 0; i < PLAYERS; i++) {
    const [ours, theirs, plain] = [players[i].cast, ordinary[i].cast, hand[i].cast].map((cast) => cast.b.rotation);
    if (Math.abs(ours - plain) > 0.1 || Math.abs(theirs - plain) > 0.1)
      throw new Error(`player ${i}: ${ours}, ${theirs}, ${plain}`);
  }
  const odd = Object.values(heard).some((count) => Math.abs(count - heard.hand) > 2 * PLAYERS);
  if (odd) throw new Error(`cues: ${JSON.stringify(heard)}`);
  return { timings, text: timesTable(timings, `ns per player (${CHANNELS} + 6 channels)`) };
}
