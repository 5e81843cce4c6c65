import { togglePaused } from '../model/live.js';
import { goTo, selectedRange, shown } from '../model/actions.js';
import { clearSounds, playSounds } from './cue-sounds.js';
import { get, leaveTrial, set, useStore } from '../model/store.js';

/** Plays the current clip or the selected range, looped or as its loop mode says. */

let last = 0;
let frame = 0;
/** Seconds since the play began, as the clip counts them: on the way back of a ping-pong they still grow. */
let gone = 0;

function advance(now: number): void {
  frame = requestAnimationFrame(advance);
  const clip = shown();
  const { rate, range, reel } = get();
  if (!clip || !reel) return;
  const dt = Math.min(0.25, Math.max(0, (now - last) / 1000));
  last = now;
  const { repeat, rate: own } = reel.clip(clip.name);
  gone += dt * rate * own;
  const [from, until] = range ?? [0, clip.duration];
  const length = until - from;
  if (!(length > 0)) return stop();
  const isPingPong = !range && repeat.mode === 'ping-pong';
  const isOnce = !range && repeat.mode === 'once';
  const late = Math.max(0, performance.now() - now) / 1000;
  playSounds(gone, rate * own, [from, until], late, (pass) => isPingPong && pass % 2 === 1, isOnce);
  const pass = Math.floor(gone / length);
  const within = gone - pass * length;
  // One that plays once is shown again after a breath: what is looked for is how it ends.
  if (!range && repeat.mode === 'once' && gone > length) {
    set({ time: until });
    if (gone > length + 0.4) {
      gone = 0;
      clearSounds();
    }
    return;
  }
  set({ time: !range && repeat.mode === 'ping-pong' && pass % 2 === 1 ? until - within : from + within });
}

function stop(): void {
  cancelAnimationFrame(frame);
  frame = 0;
  if (get().playing) set({ playing: false });
  // What is keyed now is keyed on a frame, and inside the clip.
  const now = shown();
  if (!now) return;
  const time = Math.round(get().time * now.fps) / now.fps;
  goTo(Math.min(time, now.duration), false);
}

export function togglePlaying(): void {
  leaveTrial();
  // A running game that is watched plays, and not this page.
  if (get().live.moment) return togglePaused();
  set({ playing: !get().playing });
}

/** The range of the selected keys, or from the playhead to the end. */
export function toggleRange(): void {
  const { range, time } = get();
  const now = shown();
  if (!now) return;
  const rest = time < now.duration ? ([time, now.duration] as const) : undefined;
  set({ range: range ? undefined : (selectedRange() ?? rest) });
}

useStore.subscribe((state, was) => {
  if (state.playing === was.playing) return;
  if (!state.playing) return stop();
  const [from, until] = state.range ?? [0, shown(state)?.duration ?? 0];
  gone = state.time >= until - 1e-9 ? 0 : Math.max(0, state.time - from);
  last = performance.now();
  clearSounds();
  frame ||= requestAnimationFrame(advance);
});
