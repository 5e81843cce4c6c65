import type { Operation } from 'unspool/edit';
import { apply, needed, selectedCount, selectKeys, selectedRange, shown } from './actions.js';
import { FAR, wholeOf } from './axis.js';
import { writeAt } from './keys.js';
import { keysWhere } from './select.js';
import { get, set, setStatus, type Range, type Ripple } from './store.js';
import { endOfDrag, type TimeDrag } from './time-drag.js';
import { showPreview } from './session.js';

/** A range of time of the current clip: what plays in a loop, and what time commands are about. */

const NEEDED = 'Set a range first: drag with Shift on the ruler, or select two or more keys.';

/** The range that commands are about: the one on the ruler, or that of the selected keys. */
export function rangeOrSelection(): Range | undefined {
  return get().range ?? selectedRange();
}

/** Sets one end of the range, on a frame; the other is where it was, or at the end of the clip on that side. */
export function setRangeEnd(end: 'from' | 'until', seconds = get().time): void {
  const now = shown();
  if (!now) return;
  const [from, until] = get().range ?? [0, now.duration];
  const next: Range = end === 'from' ? [seconds, Math.max(until, seconds)] : [Math.min(from, seconds), seconds];
  set({ range: next[1] > next[0] ? next : undefined });
}

export function clearRange(): void {
  set({ range: undefined });
}

/** All keys in the range. */
export function selectKeysInRange(): void {
  const { range } = get();
  if (!range) return needed(NEEDED);
  const keys = keysWhere(({ at }) => isIn(range, at));
  if (selectedCount(keys) === 0) return setStatus('The range has no keys.');
  selectKeys(keys);
}

const isIn = ([from, until]: Range, at: number) => at >= from - 1e-9 && at <= until + 1e-9;

/** Inserts empty time at the playhead, as far as the ripple reaches. */
export function insertTime(frames: number): boolean {
  const now = shown();
  const { time, ripple } = get();
  const tracks = now && tracksIn(ripple);
  if (!now || tracks === null) return false;
  const at = writeAt(time, now.fps, now.clip);
  const by = writeAt(frames / now.fps, now.fps, now.clip);
  const operation: Operation = { do: 'insert-time', clip: now.name, at, by, ...(tracks && { tracks }) };
  if (!apply(operation)) return false;
  seeAll();
  return true;
}

/** Removes the range with all that is in it, as far as the ripple reaches. */
export function removeRange(): void {
  const now = shown();
  const range = rangeOrSelection();
  if (!now) return;
  if (!range) return needed(NEEDED);
  const tracks = tracksIn(get().ripple);
  if (tracks === null) return;
  const [from, until] = range.map((seconds) => writeAt(Math.min(seconds, now.duration), now.fps, now.clip));
  if (!apply({ do: 'remove-time', clip: now.name, from: from!, until: until!, ...(tracks && { tracks }) })) return;
  set({ range: undefined, selectedKeys: {}, time: range[0] });
  seeAll();
}

/** The tracks that a ripple reaches from the current row; `undefined` for all. `null` is refused, and said. */
function tracksIn(ripple: Ripple): readonly string[] | undefined | null {
  if (ripple === 'clip') return undefined;
  const { row, role } = get();
  const of = ripple === 'track' ? row : role;
  const names = Object.keys(shown()?.clip.tracks ?? {});
  const found = names.filter((name) => (ripple === 'track' ? name === of : name.startsWith(`${of}.`)));
  if (found.length > 0) return found;
  needed(`Select a ${ripple} with keys first, or set the ripple to everything.`);
  return null;
}

/** The whole clip is seen again once it has become longer or shorter. */
function seeAll(): void {
  const now = shown();
  if (now) set({ view: wholeOf(now.duration, now.fps), time: Math.min(get().time, now.duration) });
}

/**
 * Drags the end of the clip: makes it longer or shorter.
 *
 * @returns a drag; with `ripple` everything in the clip is scaled along
 */
export function dragClipEnd(): TimeDrag | undefined {
  const now = shown();
  if (!now) return undefined;
  let by = 0;
  return {
    to(next, scales = false) {
      const most = Math.max(now.duration, 1 / now.fps) * FAR;
      const end = Math.min(most, Math.max(1 / now.fps, now.duration + next));
      by = end - now.duration;
      const duration = writeAt(end, now.fps, now.clip);
      const change: Operation = scales
        ? { do: 'fit', clip: now.name, duration }
        : { do: 'change', what: 'clip', name: now.name, to: { duration } };
      showPreview(by === 0 ? undefined : change);
    },
    ...endOfDrag(
      () => by !== 0,
      () => {},
    ),
  };
}

/** A drag of the length of the range: what is in it is scaled, what is later moves along. */
export function dragRangeLength(): TimeDrag | undefined {
  const now = shown();
  const range = get().range;
  if (!now || !range) return undefined;
  const [from, until] = range;
  const time = (seconds: number) => writeAt(seconds, now.fps, now.clip);
  const keys = { clip: now.name, from: time(from), until: time(until) };
  let by = 0;
  const { end, cancel } = endOfDrag(
    () => by !== 0,
    () => set({ range }),
  );
  return {
    to(next) {
      by = next;
      const factor = (until - from + by) / (until - from);
      if (!(factor > 0)) return;
      set({ range: [from, until + by] });
      showPreview(
        by === 0
          ? undefined
          : { do: 'scale-times', ...keys, factor, about: time(from), ripple: 'clip', lengthen: true },
      );
    },
    end() {
      end();
      seeAll();
    },
    cancel,
  };
}

/** Shows the current role in the range only: from the playhead to the end where there is none. */
export function showInRange(): void {
  const now = shown();
  const { role, time } = get();
  if (!now) return;
  if (role === undefined) return setStatus('Select a role first.', true);
  const [from, until] = rangeOrSelection() ?? [time, now.duration];
  const at = (seconds: number) => writeAt(seconds, now.fps, now.clip);
  const keys = [
    ...(from > 1e-9 ? [{ at: 0, value: false }] : []),
    { at: at(from), value: true },
    ...(until < now.duration - 1e-9 ? [{ at: at(until), value: false }] : []),
  ];
  const name = `${role}.visible`;
  const isThere = now.clip.tracks?.[name] !== undefined;
  const change = { do: 'change', what: 'track', clip: now.name, name, to: { keys } } as const;
  const add = { do: 'add', what: 'track', clip: now.name, name, value: keys } as const;
  const said = `showed ${role} from ${at(from)} to ${at(until)} only`;
  if (apply({ do: 'group', said, operations: [isThere ? change : add] })) set({ row: name });
}
