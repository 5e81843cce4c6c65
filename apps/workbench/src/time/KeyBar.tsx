import { isShape } from 'unspool';
import {
  selectedCount,
  dropTrial,
  isSelected,
  keyTrial,
  removeSelection,
  shown,
  toggleRecording,
} from '../model/actions.js';
import { keysOf, type KeyView } from '../model/keys.js';
import { dragKeys } from '../model/time-drag.js';
import { get, setStatus, useStore, type State } from '../model/store.js';
import { EaseField } from './EaseField.js';
import { ChangeField, FramesFields, HandleFields, LastsField, ValueFields } from './KeyFields.js';
import { MarkLine } from './MarkBar.js';
import { MovingField } from './MovingField.js';
import { RangeLine, RippleSelect } from './RangeBar.js';
import { SimplifyField } from './SimplifyField.js';
import { ShapeNumbers } from './RowValues.js';

/** The selected key, cue or span: time, value and easing. */
export function KeyLine() {
  const chosen = useStore((state) => state.selectedKeys);
  const mark = useStore((state) => state.selectedMark);
  // While recording, a value is keyed at the end of the drag.
  const tried = useStore((state) => (state.recording ? 0 : Object.keys(state.trial).length));
  const doc = useStore((state) => state.doc);
  const clip = useStore((state) => state.clip);
  const row = useStore((state) => state.row);
  const range = useStore((state) => state.range);
  const isShapeThere = useStore((state) => isShapeRow(state));
  if (!doc || clip === undefined) return <div className="key-line" />;
  if (tried > 0) return <Tried count={tried} row={row} />;
  if (mark) return <MarkLine mark={mark} />;
  const count = selectedCount(chosen);
  if (count === 0 && range) return <RangeLine range={range} />;
  if (count === 0 && isShapeThere && row !== undefined)
    return (
      <div className="key-line" role="group" aria-label={`${row} at the playhead`}>
        <strong>{row}</strong>
        <ShapeNumbers name={row} />
      </div>
    );
  if (count === 0)
    return (
      <div className="key-line is-empty">
        <span>No key selected. Drag on the stage or type a value; while recording, changes are keyed.</span>
        <button type="button" className="text-button" onClick={() => toggleRecording()}>
          Record (R)
        </button>
      </div>
    );
  return <Keys />;
}

/** Whether the row that the keyboard is in is of a shape that is there at the playhead. */
function isShapeRow({ row, reel, values }: State): boolean {
  const slot = row === undefined ? undefined : reel?.layout.find(row);
  return slot !== undefined && isShape(slot.kind) && values[slot.name] !== null && values[slot.name] !== undefined;
}

function Tried({ count, row }: { readonly count: number; readonly row: string | undefined }) {
  return (
    <div className="key-line is-tried">
      <span>
        {count} {count === 1 ? 'unkeyed value' : 'unkeyed values'}.
      </span>
      {row !== undefined && <ShapeNumbers name={row} />}
      <button type="button" className="text-button" onClick={() => keyTrial()}>
        Key (K)
      </button>
      <button type="button" className="text-button" onClick={() => dropTrial()}>
        Discard (Esc)
      </button>
    </div>
  );
}

/** The selected keys that are there, as the bar tells of them: thousands may be selected during a drag. */
function foundKeys() {
  const now = shown();
  const { selectedKeys } = get();
  const eases = new Set<string>();
  let first: { readonly track: string; readonly key: KeyView } | undefined;
  let [count, posed, earliest] = [0, 0, Infinity];
  for (const [track, times] of Object.entries(selectedKeys)) {
    const list = now?.clip.tracks?.[track];
    if (!now || !list) continue;
    const keys = keysOf(list, now.fps);
    const isAll = times.length === keys.length;
    for (const key of keys) {
      if (!isAll && !isSelected(selectedKeys, track, key.at)) continue;
      first ??= { track, key };
      count++;
      earliest = Math.min(earliest, key.at);
      // Rows of frames hold, and have no easing.
      if (key.frames) continue;
      posed++;
      eases.add(key.ease);
    }
  }
  return { first, count, posed, earliest, eases: [...eases] };
}

function Keys() {
  useStore((state) => state.doc);
  const { fps } = shown()!;
  const { first, count, posed, earliest, eases } = foundKeys();
  if (!first) return <div className="key-line is-empty">The selected keys no longer exist.</div>;
  const isOne = count === 1;
  return (
    <div className="key-line" role="group" aria-label="Selected keys">
      <strong>{isOne ? first.track : `${count} keys`}</strong>
      <MovingField caption="at" label="Time of the key" frames={earliest * fps} fps={fps} begin={dragKeys} />
      <RippleSelect />
      {isOne && first.key.frames && <FramesFields track={first.track} keyView={first.key} />}
      {isOne && !first.key.frames && <ValueFields track={first.track} keyView={first.key} />}
      {isOne && <LastsField track={first.track} keyView={first.key} />}
      {isOne && <HandleFields track={first.track} keyView={first.key} />}
      {!isOne && <ChangeField />}
      {posed > 2 && <SimplifyField />}
      {posed > 0 ? (
        <EaseField ease={eases.length === 1 ? eases[0]! : ''} several={eases.length > 1} />
      ) : (
        <input className="ease-text" aria-label="Easing" readOnly value="frames hold" onKeyDown={typedNowhere} />
      )}
      <button type="button" className="text-button" onClick={() => removeSelection()}>
        Remove
      </button>
    </div>
  );
}

/** Where an easing can be typed, letters are not commands. */
function typedNowhere(event: React.KeyboardEvent<HTMLInputElement>): void {
  if (event.key === 'Escape' || event.key === 'Enter') event.currentTarget.blur();
  else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey) {
    event.stopPropagation();
    setStatus('A row of frames holds each frame. Use “Split into keys” to get keys with easings.', true);
  }
}
