import type { KeyboardEvent } from 'react';
import { isSelected } from '../model/actions.js';
import { firstKeyFrom, isMoment, type KeyView } from '../model/keys.js';
import type { Row, TrackRow } from '../model/rows.js';
import { shownClip, useStore } from '../model/store.js';
import { formatFrames } from '../numbers/expression.js';

/** The number of keys around the playhead that are listed; a row may have thousands. */
const NEAR = 10;

/**
 * A description of the canvas of the rows for screen readers and the keyboard: the selected row, as a list of its keys
 * around the playhead.
 */
export function KeyMirror({
  rows,
  onKeyDown,
}: {
  readonly rows: readonly Row[];
  readonly onKeyDown: (event: KeyboardEvent) => void;
}) {
  const [name, time, chosen] = [useStore((s) => s.row), useStore((s) => s.time), useStore((s) => s.selectedKeys)];
  const fps = useStore((s) => shownClip(s)?.fps ?? 60);
  const row = rows.find((one): one is TrackRow => one.is === 'track' && one.name === name);
  const keys = row?.keys ?? [];
  const first = Math.max(0, firstKeyFrom(keys, time) - NEAR);
  const near = keys.slice(first, first + 2 * NEAR);
  const active = near.findIndex(({ at }) => isMoment(at, time));
  return (
    <div
      className="key-mirror"
      role="listbox"
      tabIndex={0}
      aria-label={row ? `Keys of ${row.name}, ${keys.length}` : 'Tracks: arrow down selects the first'}
      aria-multiselectable
      aria-activedescendant={active >= 0 ? `key-${first + active}` : undefined}
      onKeyDown={onKeyDown}
    >
      {near.map((key, i) => (
        <div key={key.at} id={`key-${first + i}`} role="option" aria-selected={isSelected(chosen, row!.name, key.at)}>
          {describeKey(key, fps)}
        </div>
      ))}
    </div>
  );
}

/** `12f: −48, cubic-bezier(…)` */
function describeKey(key: KeyView, fps: number): string {
  const at = formatFrames(key.at * fps);
  if (key.frames) return `${at}: frames ${key.frames.join(' to ')}`;
  return `${at}: ${key.value === null ? 'off' : JSON.stringify(key.value)}, ${key.ease}`;
}
