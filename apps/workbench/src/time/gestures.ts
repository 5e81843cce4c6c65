import {
  selectKeys,
  goTo,
  isSelected,
  mapSelection,
  selectedRange,
  selection,
  shown,
  toggled,
} from '../model/actions.js';
import { dragClipEnd } from '../model/range.js';
import { endOfDrag, dragKeys } from '../model/time-drag.js';
import { showPreview } from '../model/session.js';
import { get, set, type SelectedKeys } from '../model/store.js';
import { keysAt } from '../model/select.js';
import type { Row, SummaryRow } from '../model/rows.js';
import type { Axis } from '../model/axis.js';
import { scrubSounds } from './cue-sounds.js';
import type { Drawn } from './curve.js';
import { GRAB, ROW } from './draw-rows.js';

/** What the pointer does on the rows; each gesture starts with a press and lasts until the release. */
export interface Gesture {
  move(x: number, y: number, event: PointerEvent): void;
  end(): void;
  cancel(): void;
  /** Whether it may make the clip longer: then the view follows it beyond the end. */
  readonly lengthens?: boolean;
  /** Corners of the marked area, for drawing. */
  readonly marquee?: readonly [number, number, number, number];
}

export interface PointerContext {
  readonly rows: readonly Row[];
  readonly axis: Axis;
  readonly scrolled: number;
}

/** The row under a height. */
export function rowUnder({ rows, scrolled }: PointerContext, y: number): Row | undefined {
  return rows[Math.floor((y + scrolled) / ROW)];
}

/** The key of a row that is nearest to a place, within reach; of a summary the moment. */
export function keyUnder({ axis }: PointerContext, row: Row, x: number): number | undefined {
  let best: number | undefined;
  for (const at of row.is === 'track' ? row.keys.map((key) => key.at) : row.times)
    if (Math.abs(axis.x(at) - x) <= (best === undefined ? GRAB : Math.abs(axis.x(best) - x))) best = at;
  return best;
}

/** Drags the playhead; on frames, or between them with Alt. */
export function scrub(axis: Axis): Gesture {
  set({ playing: false });
  const move: Gesture['move'] = (x, _, event) => {
    const { time } = get();
    goTo(axis.seconds(x), !event.altKey);
    if (get().time !== time) scrubSounds(get().time);
  };
  return { move, end() {}, cancel() {} };
}

/** What a press on the rows begins. */
export function press(place: PointerContext, x: number, y: number, event: PointerEvent): Gesture {
  const row = rowUnder(place, y);
  const at = row && keyUnder(place, row, x);
  if (row?.is === 'track') set({ row: row.name, role: row.role, curves: [row.name] });
  const { selectedKeys } = get();
  if (row && row.is !== 'track' && at !== undefined) return pressSummary(place, row, x, at, event.shiftKey);
  if (row?.is !== 'track' || at === undefined) return marquee(place, x, y, event.shiftKey ? selectedKeys : {});
  const add = event.shiftKey || event.ctrlKey || event.metaKey;
  if (add) {
    selectKeys(toggled(selectedKeys, row.name, at));
    return { move() {}, end() {}, cancel() {} };
  }
  if (!isSelected(selectedKeys, row.name, at)) selectKeys({ [row.name]: [at] });
  return moveKeys(place.axis, x, at);
}

/** All keys of a moment, of a role or of the clip: they are selected, and go where it is dragged. */
function pressSummary(place: PointerContext, { role }: SummaryRow, x: number, at: number, add: boolean): Gesture {
  const { selectedKeys } = get();
  const there = keysAt(at, role);
  const isThere = Object.keys(there).every((track) => isSelected(selectedKeys, track, at));
  if (role !== undefined) set({ role });
  if (add || !isThere) selectKeys(add ? union(selectedKeys, there) : there);
  return moveKeys(place.axis, x, at);
}

/** Both selections as one. */
export function union(a: SelectedKeys, b: SelectedKeys): SelectedKeys {
  const next: Record<string, readonly number[]> = { ...a };
  for (const [track, times] of Object.entries(b))
    next[track] = [...new Set([...(a[track] ?? []), ...times])].sort((one, two) => one - two);
  return next;
}

/** Moves the selected keys by whole frames; with Alt later keys move too. */
function moveKeys(axis: Axis, start: number, grabbed: number): Gesture {
  const { fps } = shown()!;
  const moving = dragKeys()!;
  let isMoved = false;
  return {
    move(x, _, event) {
      // Far enough not to be a click.
      if (!isMoved && Math.abs(x - start) < 4) return;
      isMoved = true;
      moving.to(Math.round((grabbed + (x - start) / axis.scale) * fps) / fps - grabbed, event.altKey);
    },
    end: moving.end,
    cancel: moving.cancel,
    lengthens: true,
  };
}

/** Drags the end of the clip to another frame; with Alt everything in it is scaled along. */
export function dragEnd(axis: Axis, start: number): Gesture | undefined {
  const now = shown();
  const moving = dragClipEnd();
  if (!now || !moving) return undefined;
  let isMoved = false;
  return {
    move(x, _, event) {
      if (!isMoved && Math.abs(x - start) < 3) return;
      isMoved = true;
      const end = Math.round((now.duration + (x - start) / axis.scale) * now.fps) / now.fps;
      moving.to(end - now.duration, event.altKey);
    },
    end: moving.end,
    cancel: moving.cancel,
    lengthens: true,
  };
}

/** Sets the range from one frame to another, or moves one of its ends. */
export function markRange(axis: Axis, start: number, fixed?: number): Gesture {
  const now = shown()!;
  const before = get().range;
  const frameAt = (x: number) => Math.round(Math.min(now.duration, Math.max(0, axis.seconds(x))) * now.fps) / now.fps;
  const from = fixed ?? frameAt(start);
  return {
    move(x) {
      const to = frameAt(x);
      set({ range: to === from ? undefined : [Math.min(from, to), Math.max(from, to)] });
    },
    end() {},
    cancel() {
      set({ range: before });
    },
  };
}

/** Scales the times of the selected keys about their other end. */
export function dragRange(axis: Axis, start: number, side: 'from' | 'until'): Gesture | undefined {
  const now = shown();
  const keys = selection();
  const before = get().selectedKeys;
  const range = selectedRange();
  if (!now || !keys || !range) return undefined;
  const [first, last] = range;
  const [about, grabbed] = side === 'until' ? [first, last] : [last, first];
  let factor = 1;
  return {
    move(x) {
      const to = Math.round((grabbed + (x - start) / axis.scale) * now.fps) / now.fps;
      factor = (to - about) / (grabbed - about);
      set({ selectedKeys: before });
      showPreview(
        factor > 0 && factor !== 1 ? { do: 'scale-times', ...keys, factor, about, lengthen: true } : undefined,
      );
      if (factor > 0) mapSelection((at) => about + (at - about) * factor);
    },
    lengthens: true,
    ...endOfDrag(
      () => factor !== 1,
      () => set({ selectedKeys: before }),
    ),
  };
}

/** Marks an area of the rows: all keys in it are added to the selection. */
function marquee({ rows, axis, scrolled }: PointerContext, x: number, y: number, kept: SelectedKeys): Gesture {
  return markArea(axis, x, y, kept, ([left, top, right, bottom]) => {
    const [from, until] = [axis.seconds(left), axis.seconds(right)];
    const found: Record<string, readonly number[]> = {};
    rows.forEach((row, i) => {
      const middle = i * ROW + ROW / 2 - scrolled;
      if (row.is !== 'track' || middle < top - ROW / 2 || middle > bottom + ROW / 2) return;
      const times = row.keys.filter(({ at }) => at >= from && at <= until).map(({ at }) => at);
      if (times.length > 0) found[row.name] = times;
    });
    return found;
  });
}

/** Marks an area of the curves: all keys in it are added to the selection. */
export function markKeys({ axis, y: heightOf, grips }: Drawn, x: number, y: number, kept: SelectedKeys): Gesture {
  return markArea(axis, x, y, kept, ([left, top, right, bottom]) => {
    const found: Record<string, readonly number[]> = {};
    for (const { form, curve, key, at, value } of grips) {
      const [gx, gy] = [axis.x(at), heightOf(value)];
      if (form !== 'key' || gx < left || gx > right || gy < top || gy > bottom) continue;
      const { name } = curve.row;
      found[name] = [...(found[name] ?? []), key.at];
    }
    return found;
  });
}

type Corners = readonly [left: number, top: number, right: number, bottom: number];

/** Marks an area, in which keys are found. A click moves the playhead instead. */
function markArea(
  axis: Axis,
  startX: number,
  startY: number,
  kept: SelectedKeys,
  find: (corners: Corners) => SelectedKeys,
): Gesture {
  let corners: Corners = [startX, startY, startX, startY];
  return {
    get marquee() {
      return corners;
    },
    move(x, y) {
      corners = [Math.min(startX, x), Math.min(startY, y), Math.max(startX, x), Math.max(startY, y)];
      if (Math.abs(x - startX) < 4 && Math.abs(y - startY) < 4) return;
      selectKeys(union(kept, find(corners)));
    },
    end() {
      const [left, top, right, bottom] = corners;
      if (right - left >= 4 || bottom - top >= 4) return;
      selectKeys(kept);
      goTo(axis.seconds(startX));
    },
    cancel() {
      selectKeys(kept);
    },
  };
}
