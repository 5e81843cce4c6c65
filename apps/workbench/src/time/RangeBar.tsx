import { removeSelection, copySelection, selectedCount, shown } from '../model/actions.js';
import {
  clearRange,
  dragRangeLength,
  insertTime,
  removeRange,
  selectKeysInRange,
  showInRange,
} from '../model/range.js';
import { get, RIPPLES, set, useStore, type Range, type Ripple } from '../model/store.js';
import { FrameField } from '../numbers/FrameField.js';
import { MovingField } from './MovingField.js';

/** The range on the ruler, and what can be done with it. */
export function RangeLine({ range: [from, until] }: { readonly range: Range }) {
  const now = shown()!;
  const { fps } = now;
  return (
    <div className="key-line" role="group" aria-label="The range">
      <strong>Range</strong>
      <FrameField
        caption="from"
        label="Start of the range"
        frames={from * fps}
        fps={fps}
        onChange={(frames) => frames / fps < until && set({ range: [frames / fps, until] })}
      />
      <FrameField
        caption="until"
        label="End of the range"
        frames={until * fps}
        fps={fps}
        onChange={(frames) => frames / fps > from && set({ range: [from, Math.min(now.duration, frames / fps)] })}
      />
      <MovingField
        caption="scale to"
        label="New length of the range; what is later moves along"
        frames={(until - from) * fps}
        fps={fps}
        begin={dragRangeLength}
      />
      <Act label="Select keys" does={selectKeysInRange} />
      <Act label="Copy" does={() => withKeys(copySelection)} />
      <Act label="Delete keys" does={() => withKeys(removeSelection)} />
      <RippleSelect caption="in" />
      <Act label="Insert time" does={() => void (atStart(from), insertTime((until - from) * fps))} />
      <Act label="Remove time" does={removeRange} />
      <Act label="Role only here" does={showInRange} />
      <Act label="Clear" does={clearRange} />
    </div>
  );
}

function Act({ label, does }: { readonly label: string; readonly does: () => void }) {
  return (
    <button type="button" className="text-button" onClick={does}>
      {label}
    </button>
  );
}

/** Does something with the keys of the range, if it has any. */
function withKeys(does: () => unknown): void {
  selectKeysInRange();
  if (selectedCount(get().selectedKeys) > 0) does();
}

const atStart = (time: number) => set({ time });

const REACH: Readonly<Record<Ripple, string>> = { clip: 'everything', role: 'this role', track: 'this track' };
/** The same where there is less room. */
const SHORT: Readonly<Record<Ripple, string>> = { clip: 'ripple all', role: 'ripple role', track: 'ripple track' };

/** How far a ripple reaches: what moves along that is later. */
export function RippleSelect({ caption }: { readonly caption?: string }) {
  const ripple = useStore((state) => state.ripple);
  return (
    <label className="field" title="What moves along when you drag with Alt, insert time or remove time">
      {caption !== undefined && <span>{caption}</span>}
      <select
        aria-label="Ripple"
        value={ripple}
        onChange={({ currentTarget }) => set({ ripple: currentTarget.value as Ripple })}
      >
        {RIPPLES.map((one) => (
          <option key={one} value={one}>
            {(caption === undefined ? SHORT : REACH)[one]}
          </option>
        ))}
      </select>
    </label>
  );
}
