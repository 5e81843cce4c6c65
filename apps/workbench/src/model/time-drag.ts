import { keysMoved, selection, shiftSelection, shown } from './actions.js';
import { markMoved } from './moves.js';
import { finishPreview, showPreview } from './session.js';
import { get, set, type SelectedMark } from './store.js';

/** A drag in time: shown while it lasts, one step at its end. */
export interface TimeDrag {
  /** By so many seconds from the start of the drag. `ripple`: later keys move too. */
  readonly to: (by: number, ripple?: boolean) => void;
  readonly end: () => void;
  readonly cancel: () => void;
}

/** How a drag ends: as one step when something was moved; without a change when it is refused or canceled. */
export function endOfDrag(isMoved: () => boolean, restore: () => void): Pick<TimeDrag, 'end' | 'cancel'> {
  return {
    end() {
      if (isMoved() && !finishPreview()) restore();
    },
    cancel() {
      showPreview(undefined);
      restore();
    },
  };
}

/** Drags the selected keys in time; they stay selected. */
export function dragKeys(): TimeDrag | undefined {
  const now = shown();
  const keys = selection();
  const { selectedKeys } = get();
  if (!now || !keys) return undefined;
  let by = 0;
  return {
    to(next, ripple = false) {
      by = next;
      const frames = Number((by * now.fps).toFixed(6));
      set({ selectedKeys });
      showPreview(frames === 0 ? undefined : keysMoved(keys, frames, ripple));
      shiftSelection(by);
    },
    ...endOfDrag(
      () => by !== 0,
      () => set({ selectedKeys }),
    ),
  };
}

/** A cue, span or part, or one of its ends. */
export function dragMark(mark: SelectedMark, end?: 'from' | 'until'): TimeDrag {
  let by = 0;
  return {
    to(next, isRetimed = false) {
      by = next;
      set({ selectedMark: mark });
      // Its times are read where it was.
      showPreview(undefined);
      showPreview(by === 0 ? undefined : markMoved(mark, by, end, isRetimed));
      if ('at' in mark && end !== 'until') set({ selectedMark: { ...mark, at: mark.at + by } });
    },
    ...endOfDrag(
      () => by !== 0,
      () => set({ selectedMark: mark }),
    ),
  };
}
