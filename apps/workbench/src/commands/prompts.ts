import type { Time } from 'unspool';
import type { Operation } from 'unspool/edit';
import { addClip, NEW_CLIP } from '../model/clip-actions.js';
import { apply, shown, type Shown } from '../model/actions.js';
import { writeAt } from '../model/keys.js';
import { insertTime } from '../model/range.js';
import { rowsOf } from '../model/rows.js';
import { get, showClip, setStatus, set, type Question } from '../model/store.js';
import { readData } from '../model/values.js';
import { evaluate, formatFrames, timeUnits } from '../numbers/expression.js';
import { wholeOf } from '../model/axis.js';

/** What is asked before it is done: the commands that need a name, a time or a value. */

/** What was wrong before is not this question's. */
export const ask = (question: Question) => set({ dialog: question, status: { message: '', isFault: false } });

/** Asks only while there is a clip. */
function askOf(make: (now: Shown) => Question): void {
  const now = shown();
  if (now) ask(make(now));
  else setStatus('No clips yet. Add one first (Alt+N).', true);
}

export function refuse(message: string): false {
  setStatus(message, true);
  return false;
}

/** Does something with a time that was typed, which is in frames unless it has another unit. */
function withTime(text: string, { fps, clip }: Shown, run: (time: Time, seconds: number) => boolean): boolean {
  const frames = evaluate(text, 0, timeUnits(fps));
  if (frames === undefined)
    return refuse(
      `${text || 'Nothing'} is not a valid time. Use frames (12f), seconds (0.2s) or milliseconds (200ms).`,
    );
  return run(writeAt(frames / fps, fps, clip), frames / fps);
}

export function askNewClip(): void {
  ask({
    title: 'New clip',
    action: 'Create',
    fields: [
      { label: 'Name', value: '' },
      { label: 'Duration', value: NEW_CLIP.duration },
      { label: 'Loop', value: NEW_CLIP.loop, options: ['once', 'loop', 'ping-pong'] },
      { label: 'Copy of', value: 'nothing', options: ['nothing', ...Object.keys(get().doc?.clips ?? {})] },
    ],
    run: (name, duration, loop, source) => addClip(name, duration, loop, source === 'nothing' ? undefined : source),
  });
}

export function askClipName(): void {
  askOf(({ name }) => ({
    title: `Rename ${name}`,
    action: 'Rename',
    fields: [{ label: 'Name', value: name }],
    run: (to = '') => {
      if (!apply({ do: 'rename', what: 'clip', name, to })) return false;
      showClip(to);
      return true;
    },
  }));
}

const NO_SOUND = 'none';

export function askCue(): void {
  const sounds = get().sounds?.names ?? [];
  askOf((now) => ({
    title: 'New cue at the playhead',
    action: 'Add',
    fields: [
      { label: 'Name', value: '' },
      { label: 'Data, as JSON', value: '' },
      ...(sounds.length > 0 ? [{ label: 'Sound', value: NO_SOUND, options: [NO_SOUND, ...sounds] }] : []),
    ],
    run: (name = '', text = '', sound = NO_SOUND) => {
      const { time } = get();
      const { ok, ...value } = readData(text);
      const isPlain = value.data === undefined || (typeof value.data === 'object' && value.data !== null);
      if (ok && isPlain && sound !== NO_SOUND) value.data = { ...(value.data as object | undefined), sound };
      if (!ok) return refuse(`${text} is not valid JSON. Write it like {"sound": "click"}.`);
      const at = writeAt(time, now.fps, now.clip);
      if (!apply({ do: 'add', what: 'cue', clip: now.name, name, at, value })) return false;
      set({ selectedMark: { what: 'cue', name, at: time }, selectedKeys: {} });
      return true;
    },
  }));
}

/** Asks for a new duration, to which the contents of the clip are scaled, or up to which it is extended. */
export function askDuration(how: 'fit' | 'extend'): void {
  askOf((now) => ({
    title: how === 'fit' ? `Scale ${now.name} to a new duration` : `Extend ${now.name}`,
    action: how === 'fit' ? 'Scale' : 'Extend',
    fields: [{ label: 'Duration', value: formatFrames(now.duration * now.fps) }],
    run: (text = '') =>
      withTime(text, now, (time, seconds) => {
        const to: Operation =
          how === 'fit' ? { do: 'fit', clip: now.name, duration: time } : { do: 'extend', clip: now.name, until: time };
        if (!apply(to)) return false;
        set({ view: wholeOf(seconds, now.fps), selectedKeys: {} });
        return true;
      }),
  }));
}

/** Asks how much empty time to insert at the playhead. */
export function askInsertTime(): void {
  askOf((now) => ({
    title: 'Insert time at the playhead',
    action: 'Insert',
    fields: [{ label: 'Length', value: '6f' }],
    run: (text = '') => withTime(text, now, (_, seconds) => insertTime(seconds * now.fps)),
  }));
}

/** The rows with visible curves or selected keys, each to be offset from the previous one. */
export function askStagger(): void {
  const { selectedKeys, curves, doc, reel, clip } = get();
  if (!doc || !reel || clip === undefined) return;
  const wanted = Object.keys(selectedKeys).length > 1 ? Object.keys(selectedKeys) : curves;
  // In the order in which they are seen.
  const rows = rowsOf(doc, reel, clip, new Set()).flatMap(({ is, name }) =>
    is === 'track' && wanted.includes(name) ? [name] : [],
  );
  if (rows.length < 2) return setStatus('Select two or more tracks first: Ctrl+click their names.', true);
  askOf((now) => ({
    title: `Offset ${rows.length} rows in time`,
    action: 'Offset',
    fields: [{ label: 'Offset per row', value: '2f' }],
    run: (text = '') => withTime(text, now, (by) => apply({ do: 'stagger', clip: now.name, tracks: rows, by })),
  }));
}

/** A property that is the game's own, keyed at the start of the clip. */
export function askProperty(): void {
  const { role } = get();
  if (role === undefined) return setStatus('Select a role first.', true);
  askOf((now) => ({
    title: `Add a property to ${role}`,
    action: 'Add',
    fields: [
      { label: 'Name', value: 'weights.bulge' },
      { label: 'Value at the start', value: '0' },
    ],
    run: (name = '', text = '') => {
      const track = `${role}.${name}`;
      const read = readData(text);
      // Text that is not JSON becomes a string.
      const value = read.ok && text !== '' ? read.data : text;
      if (!apply({ do: 'put-key', clip: now.name, track, at: 0, value })) return false;
      set({ row: track, curves: [track] });
      return true;
    },
  }));
}
