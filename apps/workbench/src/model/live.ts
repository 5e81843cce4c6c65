import type { LiveMessage, LiveRequest, ServerMessage } from '@unspool/cli/protocol';
import type { Value } from 'unspool';
import type { ChangedValue, LiveMoment, LiveOrder, LiveSample } from 'unspool/live';
import { newMark } from '../link/marks.js';
import { isMultiplied } from './names.js';
import { isAlike, valuesAt } from './pose.js';
import { get, set, setStatus, shownClip, showClip, useStore, type LiveState, type State } from './store.js';

/**
 * The running game beside the page. While its player runs, the stage and the playhead follow it. Whoever moves the
 * playhead here pauses it and leads: then the game shows what the page shows. What somebody sets on its objects
 * meanwhile is a trial pose here.
 */

let send: (request: LiveRequest) => void = () => undefined;
/** Whether what changes now comes from the game, and not from a hand. */
let isHeard = false;
/** The order whose effect is not seen yet: moments before it are out of date. */
let awaited: { readonly mark: string; readonly since: number } | undefined;
/** So long (ms) an order is waited for. Somebody else may lead, too. */
const PATIENCE = 1500;
/** What has come of a recording so far. */
const coming: LiveSample[] = [];
/** The values that were last taken over from objects of the game, by name. */
let taken: Readonly<Record<string, Value>> = {};

/** @param ask sends a request to the server, while that is there */
export function connectLive(ask: typeof send): void {
  send = ask;
}

export function isLive(message: ServerMessage): message is LiveMessage {
  return ['games', 'moment', 'samples', 'problem'].includes(message.tell);
}

function change(live: Partial<LiveState>, more: Partial<State> = {}): void {
  set({ live: { ...get().live, ...live }, ...more });
}

/** Looks at a player of a running game, or at none any longer. The reel that it plays has to be open. */
export function watch(key: string | undefined): void {
  taken = {};
  coming.length = 0;
  change({ watched: key, moment: undefined, follows: true, problem: undefined, keepsPlace: false }, { playing: false });
  lookAgain();
}

/** Says to a server that has just come what is watched. */
export function lookAgain(): void {
  const { watched } = get().live;
  send({ ask: 'watch', ...(watched !== undefined && { key: watched }) });
}

/** Asks the watched player for something. */
export function lead(order: LiveOrder): void {
  const { watched } = get().live;
  if (watched === undefined) return setStatus('Watch a player of a running game first (game panel).', true);
  const mark = newMark();
  // `keep-place` is no order to the player.
  if (order.do !== 'keep-place') awaited = { mark, since: performance.now() };
  send({ ask: 'lead', key: watched, mark, order });
  if (order.do === 'keep-place') change({ keepsPlace: order.on });
  else if (order.do === 'record') change({ recorded: undefined, problem: undefined });
  else if (order.do === 'seek') change({ follows: false, problem: undefined });
  else if (order.do !== 'give-back' && order.do !== 'stop-recording') change({ follows: true, problem: undefined });
}

export function togglePaused(): void {
  lead({ do: get().live.moment?.paused ? 'resume' : 'pause' });
}

export function hearLive(message: LiveMessage): void {
  const { live } = get();
  if (message.tell === 'games') {
    const { players } = message;
    const isThere = players.some(({ key }) => key === live.watched);
    change({ players, ...(!isThere && { moment: undefined, follows: true }) });
    // It was loaded again: what was asked for is asked for again.
    if (isThere && !live.players.some(({ key }) => key === live.watched) && live.keepsPlace)
      lead({ do: 'keep-place', on: true });
  } else if (message.key !== live.watched) return;
  else if (message.tell === 'problem') change({ problem: message.message });
  else if (message.tell === 'samples') {
    coming.push(...message.samples);
    if (message.isLast) change({ recorded: coming.splice(0) });
  } else heard(() => takeMoment(message.moment));
}

/** What changes meanwhile does not lead the game. */
function heard(run: () => void): void {
  isHeard = true;
  try {
    run();
  } finally {
    isHeard = false;
  }
}

function takeMoment(moment: LiveMoment): void {
  if (awaited && awaited.mark !== moment.mark && performance.now() - awaited.since < PATIENCE) return;
  awaited = undefined;
  // It runs again though it was led from here: somebody else has let it, or it was loaded again.
  if (!moment.paused && !get().live.follows) change({ follows: true });
  const { live, clip, reel, time } = get();
  const running = moment.playing.filter(({ active }) => active);
  const candidates = running.length > 0 ? running : moment.playing;
  // The clip that is open, if it plays on any layer; else that of the lowest.
  const main = candidates.find((one) => one.clip === clip) ?? candidates[0];
  if (!live.follows || !main || !reel?.clipNames.includes(main.clip)) return change({ moment }, trialWith(moment));
  if (live.opensClips && main.clip !== clip) showClip(main.clip);
  const isShown = main.clip === get().clip;
  change({ moment }, { time: isShown ? Math.min(main.time, reel.clip(main.clip).duration) : time });
  if (moment.paused && isShown && main.active) standOnFrame();
}

/** What is keyed while the game stands still is keyed on a frame: it stands on the nearest one. */
function standOnFrame(): void {
  const { time } = get();
  const { fps, duration } = shownClip(get())!;
  const at = Math.min(duration, Math.round(time * fps) / fps);
  set({ time: at });
  leadTo();
}

/** The trial pose with what was set on the objects of a player that stands still. */
function trialWith({ paused, changed = [] }: LiveMoment): Partial<State> {
  const { reel, trial, time } = get();
  const shown = shownClip(get());
  if (!reel || !shown) return {};
  const own = valuesAt(reel, shown, time);
  const next = Object.fromEntries(
    (paused ? changed : []).flatMap((one): [string, Value][] => {
      const value = tried(one, own[one.name]);
      return value === undefined ? [] : [[one.name, value]];
    }),
  );
  const before = taken;
  if (JSON.stringify(next) === JSON.stringify(before)) return {};
  taken = next;
  const others = Object.entries(trial).filter(([name]) => !Object.hasOwn(before, name) && !Object.hasOwn(next, name));
  return { trial: { ...Object.fromEntries(others), ...next } };
}

/** What is tried for a property: what its object shows; of an offset, as far as that has moved. */
function tried({ name, value, was }: ChangedValue, own: Value | undefined): Value | undefined {
  if (own === undefined || !isAlike(own, value) || !isAlike(own, was)) return undefined;
  const { doc, clip } = get();
  const tracks = Object.entries(doc?.clips[clip!]?.tracks ?? {});
  const track = tracks.find(([one]) => one === name || one.startsWith(`${name}.`))?.[1];
  if (Array.isArray(track) || !track || !('space' in track) || track.space !== 'offset') return value;
  const [base, now, then] = [own, value, was].map((one) => (Array.isArray(one) ? one : [one])) as [number[], number[], number[]]; // prettier-ignore
  const moved = base.map((n, k) =>
    !isMultiplied(name) ? n + now[k]! - then[k]! : then[k] === 0 ? n : (n * now[k]!) / then[k]!,
  );
  return Array.isArray(own) ? moved : moved[0]!;
}

/** The frame of the page in which the game is asked for the place of the playhead. */
let seeking = 0;

/** Once a frame of the page: a drag has more places than can be seen. */
function leadTo(): void {
  // What the game shows until then is no longer of interest.
  awaited = { mark: '', since: performance.now() };
  change({ follows: false });
  seeking ||= requestAnimationFrame(() => {
    seeking = 0;
    const { clip, reel, live, time } = get();
    if (live.watched === undefined || clip === undefined || !reel) return;
    lead({ do: 'seek', clip, time: Math.min(time, reel.clip(clip).duration) });
  });
}

useStore.subscribe((state, was) => {
  const { live, clip, time, trial, reel } = state;
  if (isHeard || !live.moment || live.watched !== was.live.watched) return;
  if (state.discarded !== was.discarded) {
    const names = state.discarded.filter((name) => Object.hasOwn(taken, name));
    if (names.length > 0) lead({ do: 'give-back', names });
  }
  // A shorter clip moves the playhead, too, but nobody has meant to.
  if (clip === undefined || reel !== was.reel) return;
  const isTried = trial !== was.trial && Object.keys(trial).length > 0;
  if (time !== was.time || (clip !== was.clip && live.opensClips)) leadTo();
  else if (isTried && live.follows && !live.moment.paused) lead({ do: 'pause' });
});
