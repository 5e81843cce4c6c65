import { parseTime, type Kind, type Value } from 'unspool';
import type { Operation } from 'unspool/edit';
import { apply, selection, changeSelection, shown } from '../model/actions.js';
import { isList, keysOf, type KeyView, writeAt, writtenKeys } from '../model/keys.js';
import { changeLasts, lastsOf } from '../model/drawings.js';
import { partsOf } from '../model/names.js';
import { placeOf } from '../model/rows.js';
import { changing, finishPreview, previewSelection, showPreview } from '../model/session.js';
import { get } from '../model/store.js';
import { numbersOf, readData } from '../model/values.js';
import { changeOf } from '../numbers/expression.js';
import { FrameField } from '../numbers/FrameField.js';
import { boundsOf, Numbers } from '../numbers/Numbers.js';
import { TypedField } from '../numbers/TypedField.js';

interface KeyOf {
  readonly track: string;
  readonly keyView: KeyView;
}

/** The value of one key. */
export function ValueFields({ track, keyView }: KeyOf) {
  const value = keyView.value as Value;
  const kind = kindOfTrack(track);
  if (value === null) return <span className="value">off</span>;
  // A color, a text or a switch as it is written.
  if (!kind || numbersOf(value).length === 0) return <WrittenValue value={value} />;
  return (
    <Numbers
      label="Value of the key"
      value={value}
      kind={kind}
      captions
      {...boundsOf(track, isOffset(track))}
      onChange={(next) => previewSelection({ value: next })}
      onDone={finishPreview}
      onCancel={() => showPreview(undefined)}
    />
  );
}

/** Whether a track is added to the position of the object. */
function isOffset(track: string): boolean {
  const list = shown()?.clip.tracks?.[track];
  return list !== undefined && !isList(list) && list.space === 'offset';
}

function WrittenValue({ value }: { readonly value: Value }) {
  const isText = typeof value === 'string';
  return (
    <TypedField
      caption="value"
      label="Value of the key"
      text={isText ? value : JSON.stringify(value)}
      isGood={(text) => isText || (text.trim() !== '' && readData(text).ok)}
      onTake={(text) => changeSelection({ value: isText ? text : readData(text).data })}
    />
  );
}

/** How long a drawing stays: later drawings move along. */
export function LastsField({ track, keyView: { at, frames } }: KeyOf) {
  const now = shown()!;
  if (frames || kindOfTrack(track) !== 'integer') return null;
  return (
    <FrameField
      caption="lasts"
      label="How long the drawing lasts; later ones move along"
      frames={lastsOf(now, track, at) * now.fps}
      fps={now.fps}
      {...changing((n) => {
        // What it lasts is read where it was before the drag.
        showPreview(undefined);
        return changeLasts(shown()!, track, at, Math.max(1, n) / now.fps)!;
      })}
    />
  );
}

/** The handles of a key in time and value, where the segment before or after it is a `curve`. */
export function HandleFields({ track, keyView }: KeyOf) {
  const now = shown()!;
  const keys = keysOf(now.clip.tracks![track]!, now.fps);
  const before = keys[keys.findIndex(({ at }) => at === keyView.at) - 1];
  const which = [before?.ease === 'curve' && 'in', keyView.ease === 'curve' && 'out'] as const;
  return which.map(
    (side) =>
      side && (
        <TypedField
          key={side}
          caption={side}
          label={`Handle ${side} of the key`}
          text={keyView[side] === undefined ? '' : JSON.stringify(keyView[side])}
          hint='["6f", 10]'
          isGood={(text) => readData(text).ok}
          onTake={(text) => changeSelection({ [side]: readData(text).data ?? null })}
        />
      ),
  );
}

/** A change of all selected values at once: `+8`, `−8`, `*1.5`, `/2`. */
export function ChangeField() {
  const take = (text: string) => {
    const [change, keys] = [changeOf(text)!, selection()!];
    if ('add' in change) apply({ do: 'add-values', ...keys, by: change.add });
    else apply({ do: 'scale-values', ...keys, factor: change.times });
  };
  return (
    <TypedField
      caption="values"
      label="Change the selected values"
      text=""
      clears
      hint="+8, *1.5"
      isGood={(text) => text === '' || changeOf(text) !== undefined}
      onTake={take}
    />
  );
}

/** The kind of the property that a track animates; of a channel's track a number. */
function kindOfTrack(track: string): Kind | undefined {
  const { reel } = get();
  const place = reel && placeOf(reel, ...partsOf(track));
  return place && (place.channel < 0 ? place.kind : 'number');
}

/** A row of frames: how long each is shown, all at once. One by one they are single keys. */
export function FramesFields({ track, keyView }: KeyOf) {
  const now = shown()!;
  const [first, last] = keyView.frames!;
  const count = Math.abs(last - first) + 1;
  const each = ((keyView.until! - keyView.at) * now.fps) / count;
  const put = (keys: readonly object[]): Operation => {
    const { before, after } = keysAround(track, keyView);
    return { do: 'change', what: 'track', clip: now.name, name: track, to: { keys: [...before, ...keys, ...after] } };
  };
  const spell = () => {
    const keys = Array.from({ length: count }, (_, i) => ({
      at: writeAt(keyView.at + (i * each) / now.fps, now.fps, now.clip),
      value: first + i * Math.sign(last - first),
    }));
    apply(put(keys));
  };
  const row = (time: string) => put([{ at: keyView.written, frames: [first, last], each: time }]);
  return (
    <>
      <span>
        frames {first}–{last}
      </span>
      <FrameField
        caption="each"
        label="Duration of each frame"
        frames={each}
        fps={now.fps}
        least={0.01}
        {...changing((next) => row(`${next}f`))}
      />
      <button type="button" className="text-button" onClick={() => spell()}>
        Split into keys
      </button>
    </>
  );
}

/** The written keys of a track before and after one of them. */
function keysAround(track: string, { at }: KeyView) {
  const now = shown()!;
  const keys = writtenKeys(now.clip.tracks![track]!);
  const seconds = (key: (typeof keys)[number]) => parseTime(key.at, now.fps)!;
  return {
    before: keys.filter((key) => seconds(key) < at - 1e-9),
    after: keys.filter((key) => seconds(key) > at + 1e-9),
  };
}
