import { parseTime, type Time } from 'unspool';
import type { Operation } from 'unspool/edit';
import { keysMoved, needed, selection, shiftSelection, shown, type Shown } from './actions.js';
import { isMoment, writeAt } from './keys.js';
import { apply } from './session.js';
import { get, set, type SelectedMark } from './store.js';

/** What is selected, at other times: keys, cues, spans and parts. */

/** Moves the selected keys, cue or span by frames. */
export function moveSelection(frames: number, ripple = false): void {
  const now = shown();
  const { selectedMark } = get();
  if (now && selectedMark) return moveMark(selectedMark, frames / now.fps);
  const keys = selection();
  if (!now || !keys) return needed();
  if (apply(keysMoved(keys, frames, ripple))) shiftSelection(frames / now.fps);
}

export function moveMark(mark: SelectedMark, by: number): void {
  const operation = markMoved(mark, by);
  if (operation && apply(operation) && 'at' in mark) set({ selectedMark: { ...mark, at: mark.at + by } });
}

/** The cue or part that is meant, as it is written. */
export function listedAs(mark: Extract<SelectedMark, { at: number }>, { clip, fps }: Shown) {
  const isThere = (at: Time) => isMoment(parseTime(at, fps)!, mark.at);
  return mark.what === 'cue'
    ? clip.cues?.find(({ name, at }) => name === mark.name && isThere(at))
    : clip.parts?.find(({ clip: name, at }) => name === mark.name && isThere(at));
}

/** A cue, span or part at another time. A part is trimmed at its end, or plays faster or slower up to there. */
export function markMoved(
  mark: SelectedMark,
  by: number,
  end?: 'from' | 'until',
  isRetimed = false,
): Operation | undefined {
  const now = shown();
  if (!now) return undefined;
  const write = (seconds: number) => writeAt(Math.max(0, seconds), now.fps, now.clip);
  if (mark.what === 'span') {
    const [from, until] = now.clip.spans![mark.name]!.map((time) => parseTime(time, now.fps)!) as [number, number];
    const to = [write(from + (end === 'until' ? 0 : by)), write(until + (end === 'from' ? 0 : by))];
    return { do: 'change', what: 'span', clip: now.name, name: mark.name, to };
  }
  const one = listedAs(mark, now);
  if (!one) return undefined;
  if ('clip' in one && end === 'until') return partEnded(one, mark, now, by, isRetimed);
  const until = one.until === undefined ? undefined : parseTime(one.until, now.fps)!;
  const to = {
    ...(end !== 'until' && { at: write(mark.at + by) }),
    ...(until !== undefined && end !== 'from' && { until: write(until + by) }),
  };
  return { do: 'change', what: mark.what, clip: now.name, name: mark.name, at: mark.at, to };
}

/** How long (s) a part lasts: up to where it is trimmed, or as long as its clip. */
export function partEnd(part: NonNullable<Shown['clip']['parts']>[number], { reel, fps }: Shown): number {
  const at = parseTime(part.at, fps)!;
  if (part.until !== undefined) return parseTime(part.until, fps)!;
  return at + reel.clip(part.clip).duration / Math.abs(part.rate || 1);
}

function partEnded(
  part: Parameters<typeof partEnd>[0],
  mark: Extract<SelectedMark, { at: number }>,
  now: Shown,
  by: number,
  isRetimed: boolean,
): Operation {
  const was = partEnd(part, now);
  const end = Math.max(mark.at + 1 / now.fps, was + by);
  const until = writeAt(end, now.fps, now.clip);
  const rate = Number((((part.rate ?? 1) * (was - mark.at)) / (end - mark.at)).toFixed(6));
  const to = isRetimed ? { rate, ...(part.until !== undefined && { until }) } : { until };
  return { do: 'change', what: 'part', clip: now.name, name: mark.name, at: mark.at, to };
}
