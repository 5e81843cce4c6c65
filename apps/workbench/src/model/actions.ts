import type { Reel, ReelDocument, Time, Value } from 'unspool';
import { copyKeys, record, type Copied, type Operation, type Selection } from 'unspool/edit';
import { FIRST_SHAPES } from './first-shapes.js';
import { firstFrom, fpsOf, isMoment, keyAt, keysOf, writeAt } from './keys.js';
import { FAR } from './axis.js';
import { partsOf } from './names.js';
import { valuesAt } from './pose.js';
import { apply } from './session.js';
import { get, leaveTrial, setStatus, set, shownClip, type SelectedKeys, type State } from './store.js';

/** What an animator does, as operations on the selection and the playhead. */

export interface Shown {
  readonly doc: ReelDocument;
  readonly reel: Reel;
  readonly name: string;
  readonly clip: ReelDocument['clips'][string];
  readonly fps: number;
  readonly duration: number;
}

/** The current clip; `undefined` when there is none. */
export function shown(state: State = get()): Shown | undefined {
  const { doc, reel, clip: name } = state;
  const clip = name === undefined ? undefined : doc?.clips[name];
  if (!doc || !reel || !clip || name === undefined) return undefined;
  return { doc, reel, name, clip, fps: fpsOf(doc, clip), duration: reel.clip(name).duration };
}

// The playhead

/**
 * Moves the playhead, on a frame unless told otherwise. It may go beyond the end of the clip, where a key makes the clip
 * longer.
 */
export function goTo(seconds: number, onFrame = true): void {
  const now = shown();
  if (!now) return;
  const wanted = onFrame ? Math.round(seconds * now.fps) / now.fps : seconds;
  const time = Math.min(Math.max(now.duration, 1 / now.fps) * FAR, Math.max(0, wanted));
  if (!isMoment(time, get().time)) leaveTrial();
  set({ time });
}

export function goToEnd(): void {
  const now = shown();
  if (now) goTo(now.duration, false);
}

/** Steps stop at the end; from beyond it they go on. */
export function stepFrames(frames: number): void {
  const now = shown();
  if (!now) return;
  const { time } = get();
  const next = (Math.round(time * now.fps) + frames) / now.fps;
  const isInside = time <= now.duration + 1e-9;
  goTo(isInside ? Math.min(now.duration, next) : next);
}

/** Goes to the next or previous key of the selected rows, or of all rows when none is selected. */
export function goToKey(direction: 1 | -1): void {
  const now = shown();
  if (!now) return;
  const { row, time } = get();
  const tracks = Object.entries(now.clip.tracks ?? {}).filter(([name]) => row === undefined || name === row);
  const times = tracks.flatMap(([, track]) => keysOf(track, now.fps).map(({ at }) => at));
  const ahead = times.filter((at) => (at - time) * direction > 1e-9);
  if (ahead.length > 0) goTo(direction > 0 ? Math.min(...ahead) : Math.max(...ahead), false);
  else setStatus(`No ${direction > 0 ? 'later' : 'earlier'} key${row === undefined ? '' : ` of ${row}`}.`);
}

// Choosing

export function selectKeys(chosen: SelectedKeys): void {
  set({ selectedKeys: chosen, selectedMark: undefined });
}

export function isSelected(chosen: SelectedKeys, track: string, at: number): boolean {
  const times = chosen[track];
  if (!times) return false;
  const next = times[firstFrom(times, at, (time) => time)];
  return next !== undefined && isMoment(next, at);
}

export function selectedCount(chosen: SelectedKeys): number {
  return Object.values(chosen).reduce((sum, times) => sum + times.length, 0);
}

/** The range from the first to the last selected key, if it has a length. */
export function selectedRange(
  chosen: SelectedKeys = get().selectedKeys,
): readonly [first: number, last: number] | undefined {
  let [first, last] = [Infinity, -Infinity];
  for (const times of Object.values(chosen)) {
    first = Math.min(first, times[0] ?? Infinity);
    last = Math.max(last, times.at(-1) ?? -Infinity);
  }
  return last > first ? [first, last] : undefined;
}

/** With one more, or without it. */
export function toggled(chosen: SelectedKeys, track: string, at: number): SelectedKeys {
  const times = chosen[track] ?? [];
  const next = isSelected(chosen, track, at)
    ? times.filter((one) => !isMoment(one, at))
    : [...times, at].sort((a, b) => a - b);
  const { [track]: _, ...others } = chosen;
  return next.length > 0 ? { ...others, [track]: next } : others;
}

export function selectAll(): void {
  const now = shown();
  if (!now) return;
  const all = Object.entries(now.clip.tracks ?? {}).map(
    ([name, track]) => [name, keysOf(track, now.fps).map(({ at }) => at)] as const,
  );
  selectKeys(Object.fromEntries(all));
}

/** The selection as an operation names it. */
export function selection(chosen: SelectedKeys = get().selectedKeys): Selection | undefined {
  const now = shown();
  if (!now || selectedCount(chosen) === 0) return undefined;
  const keys = Object.entries(chosen).map(([name, times]) => {
    const track = now.clip.tracks?.[name];
    const isAll = track !== undefined && keysOf(track, now.fps).length === times.length;
    return [name, isAll ? 'all' : times] as const;
  });
  return { clip: now.name, keys: Object.fromEntries(keys) };
}

/** Tells what has to be done first. */
export function needed(what = 'Select keys first: click them, or select a track and press Enter.'): undefined {
  setStatus(what, true);
  return undefined;
}

// Keys

/** Keys at the playhead, on the curve, for the row that the keyboard is in; or what was tried. */
export function insertKey(track = get().row, seconds = get().time): void {
  const now = shown();
  if (!now) return;
  if (Object.keys(get().trial).length > 0) return keyTrial();
  if (track === undefined) return needed('Select a track first, so that there is a property to key.');
  const at = writeAt(seconds, now.fps, now.clip);
  const there = now.clip.tracks?.[track];
  if (there) {
    if (keyAt(keysOf(there, now.fps), seconds)) {
      selectKeys({ [track]: [seconds] });
      return setStatus(`${track} already has a key here.`);
    }
    if (apply(keyInserted(now, track, at, seconds))) selectKeys({ [track]: [seconds] });
    return;
  }
  const value = valuesAt(now.reel, shownClip(get()), seconds)[track] ?? firstShape(now.doc, track);
  if (value === undefined) return needed(`${track} has no value yet. Type one.`);
  if (apply({ do: 'put-key', clip: now.name, track, at, value, lengthen: true })) selectKeys({ [track]: [seconds] });
}

/** A key on the curve; after the end one with the last value, up to which the clip then lasts. */
function keyInserted(now: Shown, track: string, at: Time, seconds: number): Operation {
  if (seconds <= now.duration + 1e-9) return { do: 'insert-key', clip: now.name, track, at };
  const list = keysOf(now.clip.tracks![track]!, now.fps);
  const { value, frames } = list.at(-1)!;
  return { do: 'put-key', clip: now.name, track, at, value: frames ? frames[1] : value, lengthen: true };
}

export function firstShape({ roles }: ReelDocument, track: string): unknown {
  const [role, shape] = partsOf(track);
  const kind = roles?.[role]?.shapes?.[shape]?.kind;
  return kind && FIRST_SHAPES[kind];
}

/** Turns a shape on from the playhead, with its last value, or off. */
export function switchShape(track: string, on: boolean): void {
  const now = shown();
  if (!now) return;
  const { time } = get();
  const list = now.clip.tracks?.[track];
  const before = list && keysOf(list, now.fps).findLast(({ at, value }) => at <= time + 1e-9 && value !== null)?.value;
  const value = on ? (before ?? firstShape(now.doc, track)) : null;
  if (apply({ do: 'put-key', clip: now.name, track, at: writeAt(time, now.fps, now.clip), value, lengthen: true }))
    selectKeys({ [track]: [time] });
}

/** The selected keys moved by frames. With a ripple what is later comes along, as far as the animator has chosen. */
export function keysMoved(keys: Selection, frames: number, ripple: boolean): Operation {
  return { do: 'move-keys', ...keys, by: `${frames}f`, ...(ripple && { ripple: get().ripple }), lengthen: true };
}

/** Moved keys stay selected. */
export function shiftSelection(by: number): void {
  mapSelection((at) => at + by);
}

export function mapSelection(map: (at: number) => number): void {
  const { selectedKeys } = get();
  const next = Object.entries(selectedKeys).map(([track, times]) => [track, times.map(map)] as const);
  set({ selectedKeys: Object.fromEntries(next) });
}

export function removeSelection(): void {
  const { selectedMark, clip } = get();
  if (selectedMark && clip !== undefined) {
    const at = 'at' in selectedMark ? { at: selectedMark.at } : {};
    if (apply({ do: 'remove', what: selectedMark.what, clip, name: selectedMark.name, ...at }))
      set({ selectedMark: undefined });
    return;
  }
  const keys = selection();
  if (!keys) return needed();
  if (apply({ do: 'remove-keys', ...keys })) selectKeys({});
}

export function changeSelection(members: {
  readonly value?: unknown;
  readonly ease?: string | null;
  readonly out?: unknown;
  readonly in?: unknown;
}): void {
  const keys = selection(members.value === undefined ? posedOf(get().selectedKeys) : get().selectedKeys);
  if (!keys) return needed();
  apply({ do: 'set-keys', ...keys, ...members });
}

/** Of a selection, the keys that are not rows of frames: rows have neither an easing nor handles. */
export function posedOf(chosen: SelectedKeys): SelectedKeys {
  const now = shown();
  const posed = Object.entries(chosen).map(([name, times]) => {
    const keys = keysOf(now?.clip.tracks?.[name] ?? [], now?.fps ?? 60);
    return [name, times.filter((at) => !keyAt(keys, at)?.frames)] as const;
  });
  return Object.fromEntries(posed.filter(([, times]) => times.length > 0));
}

let clipboard: Copied | undefined;
/** The keys that were copied last. */
export const copied = () => clipboard;

export function copySelection(): boolean {
  const keys = selection();
  const { doc } = get();
  if (!keys || !doc) {
    needed();
    return false;
  }
  clipboard = copyKeys(doc, keys);
  setStatus(`Copied ${selectedCount(get().selectedKeys)} keys. Paste inserts them at the playhead.`);
  return true;
}

export function pasteKeys(): void {
  if (!clipboard) return needed('Nothing to paste. Copy keys first.');
  pasteTracks(clipboard.tracks, clipboard.fps);
}

/** Pastes copied tracks at the playhead; the new keys are the selection. */
export function pasteTracks(tracks: Copied['tracks'], fps: number): void {
  const now = shown();
  if (!now) return;
  const { time } = get();
  const at = writeAt(time, now.fps, now.clip);
  if (!apply({ do: 'paste', clip: now.name, at, fps, tracks, lengthen: true })) return;
  const pasted = Object.entries(tracks).map(([name, track]) => {
    return [name, keysOf(track, fps).map((key) => key.at + time)] as const;
  });
  selectKeys(Object.fromEntries(pasted));
}

// Posing

/** Values during a drag: shown at once, and keyed at its end while recording. */
export function tryValues(values: Readonly<Record<string, Value>>): void {
  // The playhead stops for it, on a frame.
  if (get().playing) set({ playing: false });
  set(({ trial }) => ({ trial: { ...trial, ...values } }));
}

/** Ends the drag. */
export function finishTrial(): void {
  if (get().recording) keyTrial();
  else if (Object.keys(get().trial).length > 0)
    setStatus('Not keyed yet: press K to key it or Escape to discard it. While recording, changes are keyed at once.');
}

/** What was tried becomes keys at the playhead. */
export function keyTrial(): void {
  const now = shown();
  const { trial, time } = get();
  if (!now || Object.keys(trial).length === 0) return;
  const at = writeAt(time, now.fps, now.clip);
  const all = valuesAt(now.reel, now.reel.clip(now.name), time);
  // A shape that is not there yet was nothing before.
  const of = Object.keys(trial).filter((name) => all[name] !== undefined && all[name] !== null);
  const operation = record(now.doc, {
    ...{ clip: now.name, at, values: trial },
    shown: Object.fromEntries(of.map((name) => [name, all[name]!])),
  });
  if (!operation) {
    set({ trial: {} });
    setStatus('Nothing to key: no value has changed.');
  } else if (apply(operation)) {
    const [property] = Object.keys(trial);
    const tracks = Object.keys(get().doc?.clips[now.name]?.tracks ?? {});
    const row = tracks.find((name) => isOf(property!, name));
    set({ trial: {}, ...(row !== undefined && { row, curves: [row], role: partsOf(row)[0] }) });
    selectKeysAt(time, Object.keys(trial));
  }
}

/** Whether a track animates a property, or a channel of it. */
const isOf = (property: string, track: string) => track === property || track.startsWith(`${property}.`);

/** The last keyed values are the selection, for the next command. */
function selectKeysAt(seconds: number, properties: readonly string[]): void {
  const now = shown();
  if (!now) return;
  const keyed = Object.entries(now.clip.tracks ?? {}).filter(
    ([name, track]) => properties.some((property) => isOf(property, name)) && keyAt(keysOf(track, now.fps), seconds),
  );
  selectKeys(Object.fromEntries(keyed.map(([name]) => [name, [seconds]])));
}

export function dropTrial(): void {
  const discarded = Object.keys(get().trial);
  if (discarded.length === 0) return;
  set({ trial: {}, discarded });
  setStatus('Discarded the unkeyed values.');
}

export function toggleRecording(): void {
  const recording = !get().recording;
  set({ recording });
  setStatus(recording ? 'Recording: changes are keyed at the playhead.' : 'Recording is off.');
}

export { apply };
