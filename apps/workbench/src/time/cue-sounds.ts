import { parseTime } from 'unspool';
import type { Sound } from '../link/sounds.js';
import { shown } from '../model/actions.js';
import { get } from '../model/store.js';

/** Cues whose `data.sound` names a file of the folder are heard: at their moments while it plays, in pieces while scrubbing. */

/** How far ahead (s) of the playhead sounds are handed to the audio clock, which keeps their moments exactly. */
const AHEAD = 0.12;
/** How long (s) the piece is that a scrub plays. */
const PIECE = 0.06;

let context: AudioContext | undefined;

/** A cue with a sound that has come. */
export interface CueSound {
  readonly at: number;
  readonly sound: Sound;
}

export function cueSounds(): readonly CueSound[] {
  const now = shown();
  const { sounds } = get();
  if (!now || !sounds) return [];
  return (now.clip.cues ?? []).flatMap(({ at, data }) => {
    const name = typeof data === 'object' && data !== null ? (data as { sound?: unknown }).sound : undefined;
    const sound = sounds.get(name);
    return sound ? [{ at: parseTime(at, now.fps)!, sound }] : [];
  });
}

function start(sound: Sound, when: number, offset = 0, length?: number): void {
  context ??= new AudioContext();
  if (context.state === 'suspended') void context.resume();
  const source = context.createBufferSource();
  source.buffer = sound.buffer;
  source.connect(context.destination);
  source.start(when, offset, length);
}

/** What was handed to the audio clock in this playing: each cue once in each pass. */
const handed = new Set<string>();

export function clearSounds(): void {
  handed.clear();
  // Made while a key or a button is pressed: later the browser would not let it play.
  if (cueSounds().length > 0) context ??= new AudioContext();
}

/**
 * Hands sounds to the audio clock that begin soon.
 *
 * @param gone   seconds of the clip since the play began, over all passes
 * @param speed  seconds of the clip a second
 * @param range  what plays
 * @param late   seconds between the moment that `gone` is of and now
 * @param isBack whether a pass goes backwards
 * @param isOnce whether the second pass is only for show, after a breath
 */
export function playSounds(
  gone: number,
  speed: number,
  [from, until]: readonly [number, number],
  late: number,
  isBack: (pass: number) => boolean,
  isOnce: boolean,
): void {
  const sounds = cueSounds();
  if (sounds.length === 0 || !(speed > 0)) return;
  const length = until - from;
  context ??= new AudioContext();
  const first = Math.floor(gone / length);
  for (const pass of isOnce ? [0] : [first, first + 1]) {
    sounds.forEach(({ at, sound }, i) => {
      if (at < from - 1e-9 || at > until + 1e-9) return;
      const moment = pass * length + (isBack(pass) ? until - at : at - from);
      const wait = moment - gone;
      const mark = `${pass} ${i}`;
      if (wait < -1e-9 || wait > AHEAD * speed || handed.has(mark)) return;
      handed.add(mark);
      start(sound, Math.max(0, context!.currentTime + wait / speed - late));
    });
  }
}

/** A short piece of what is heard at a moment. */
export function scrubSounds(time: number): void {
  for (const { at, sound } of cueSounds()) {
    const offset = time - at;
    if (offset < 0 || offset > sound.buffer.duration) continue;
    start(sound, 0, offset, PIECE);
  }
}
