import { parseTime } from 'unspool';
import { partEnd } from '../model/moves.js';
import { shown } from '../model/actions.js';
import { isMoment } from '../model/keys.js';
import { dragMark } from '../model/time-drag.js';
import { set, type SelectedMark } from '../model/store.js';
import type { Axis } from '../model/axis.js';
import type { Gesture } from './gestures.js';

/** Heights of the line of cues and spans, and of that of parts, which only scenes have. */
export const CUES = 28;
export const PARTS = 17;

/** A cue, span or part as it is drawn. */
export interface MarkView {
  readonly mark: SelectedMark;
  readonly from: number;
  readonly until: number | undefined;
}

export function marksOf(): MarkView[] {
  const now = shown();
  if (!now) return [];
  const read = (time: Parameters<typeof parseTime>[0]) => parseTime(time, now.fps)!;
  const { spans = {}, cues = [], parts = [] } = now.clip;
  return [
    ...Object.entries(spans).map(([name, [from, until]]): MarkView => {
      return { mark: { what: 'span', name }, from: read(from), until: read(until) };
    }),
    ...cues.map(({ name, at, until }): MarkView => {
      const end = until === undefined ? undefined : read(until);
      return { mark: { what: 'cue', name, at: read(at) }, from: read(at), until: end };
    }),
    ...parts.map((part): MarkView => {
      const [from, end] = [read(part.at), partEnd(part, now)];
      const until = part.until === undefined ? Math.min(now.duration, end) : end;
      return { mark: { what: 'part', name: part.clip, at: from }, from, until };
    }),
  ];
}

export function isSameMark(a: SelectedMark | undefined, b: SelectedMark): boolean {
  if (a?.what !== b.what || a.name !== b.name) return false;
  return !('at' in a) || !('at' in b) || isMoment(a.at, b.at);
}

/** Takes hold of a cue, span or part: all of it, or one of its ends. `y` is counted from under the ruler. */
export function pressMark(axis: Axis, x: number, y: number): Gesture | undefined {
  const near = marksOf()
    .toReversed()
    .find(
      ({ mark, from, until }) =>
        (mark.what === 'part') === y > CUES &&
        x >= axis.x(from) - 6 &&
        x <= Math.max(axis.x(from) + 10, axis.x(until ?? from) + 5),
    );
  if (!near) {
    set({ selectedMark: undefined });
    return undefined;
  }
  const { mark, from, until } = near;
  const fps = shown()!.fps;
  const end =
    until !== undefined && Math.abs(axis.x(until) - x) < 6
      ? 'until'
      : until !== undefined && Math.abs(axis.x(from) - x) < 6
        ? 'from'
        : undefined;
  const grabbed = end === 'until' ? until! : from;
  set({ selectedMark: mark, selectedKeys: {} });
  const moving = dragMark(mark, end);
  let isMoved = false;
  return {
    move(to, _, event) {
      if (!isMoved && Math.abs(to - x) < 3) return;
      isMoved = true;
      moving.to(Math.round((grabbed + (to - x) / axis.scale) * fps) / fps - grabbed, event.altKey);
    },
    end: moving.end,
    cancel: moving.cancel,
  };
}
