import { apply, goTo, selectKeys, shown } from './actions.js';
import { keysOf, writeAt } from './keys.js';
import { get } from './store.js';

/** Whether cells follow each other, forwards or backwards. */
function isRun(cells: readonly number[]): boolean {
  const step = Math.sign((cells[1] ?? 0) - cells[0]!) || 1;
  return cells.every((cell, i) => cell === cells[0]! + i * step);
}

/**
 * Cells as held keys from the playhead on: those in a run as one row of frames. The clip lasts as long as they do.
 *
 * @param each how many frames each is shown
 */
export function keyCells(role: string, cells: readonly number[], each: number): void {
  const now = shown();
  if (!now) return;
  const { time } = get();
  const at = writeAt(time, now.fps, now.clip);
  const track = `${role}.frame`;
  const keys =
    isRun(cells) && cells.length > 1
      ? [{ at: 0, frames: [cells[0]!, cells.at(-1)!] as const, each: `${each}f` as const }]
      : cells.map((value, i) => ({ at: i === 0 ? 0 : (`${Number((i * each).toFixed(3))}f` as const), value }));
  const until = time + (cells.length * each) / now.fps;
  const paste = { do: 'paste', clip: now.name, at, tracks: { [track]: keys }, fps: now.fps } as const;
  const duration = writeAt(until, now.fps, now.clip);
  const longer = { do: 'change', what: 'clip', name: now.name, to: { duration } } as const;
  const isLonger = until > now.duration + 1e-9 && now.clip.duration !== undefined;
  const said = `put ${cells.length} frames of ${role} at ${at}${isLonger ? '; the clip now ends with them' : ''}`;
  if (!apply({ do: 'group', said, operations: isLonger ? [paste, longer] : [paste] })) return;
  goTo(time);
  const made = keysOf(shown()!.clip.tracks![track]!, now.fps);
  selectKeys({ [track]: made.flatMap((key) => (key.at >= time - 1e-9 && key.at < until - 1e-9 ? [key.at] : [])) });
}
