import { isShape, KINDS, parseTime } from 'unspool';
import type { Operation } from 'unspool/edit';
import {
  apply,
  countChosen,
  dropTrial,
  isChosen,
  keyTrial,
  moveChosen,
  removeChosen,
  shown,
  toggleRecording,
} from '../model/actions.js';
import { keysOf, writeAt, writtenKeys, type KeyView } from '../model/keys.js';
import { finishPreview, previewChosen, showPreview } from '../model/session.js';
import { get, useStore } from '../model/store.js';
import { numbersOf, withNumber } from '../model/values.js';
import { timesIn } from '../numbers/expression.js';
import { NumberField } from '../numbers/NumberField.js';
import { EaseField } from './EaseField.js';
import { MarkLine } from './MarkLine.js';

/** The key, cue or span at hand: when, what, and how it goes on from there. */
export function KeyLine() {
  const chosen = useStore((state) => state.chosen);
  const mark = useStore((state) => state.mark);
  // While recording, what is tried is a key as soon as the hand lets go.
  const tried = useStore((state) => (state.recording ? 0 : Object.keys(state.trial).length));
  const doc = useStore((state) => state.doc);
  const clip = useStore((state) => state.clip);
  if (!doc || clip === undefined) return <div className="key-line" />;
  if (tried > 0) return <Tried count={tried} />;
  if (mark) return <MarkLine mark={mark} />;
  const count = countChosen(chosen);
  if (count === 0)
    return (
      <div className="key-line is-empty">
        <span>No key is chosen. Drag on the stage or type a value; with recording on, it is keyed.</span>
        <button type="button" className="text-button" onClick={() => toggleRecording()}>
          Record (R)
        </button>
      </div>
    );
  return <Keys />;
}

function Tried({ count }: { readonly count: number }) {
  return (
    <div className="key-line is-tried">
      <span>
        {count} {count === 1 ? 'value is' : 'values are'} tried, and no {count === 1 ? 'key' : 'keys'} yet.
      </span>
      <button type="button" className="text-button" onClick={() => keyTrial()}>
        Key it (K)
      </button>
      <button type="button" className="text-button" onClick={() => dropTrial()}>
        Drop it (Esc)
      </button>
    </div>
  );
}

interface Found {
  readonly track: string;
  readonly key: KeyView;
}

function foundKeys(): readonly Found[] {
  const now = shown();
  if (!now) return [];
  const { chosen } = get();
  return Object.keys(chosen).flatMap((track) => {
    const list = now.clip.tracks?.[track];
    if (!list) return [];
    return keysOf(list, now.fps)
      .filter(({ at }) => isChosen(chosen, track, at))
      .map((key) => ({ track, key }));
  });
}

function Keys() {
  useStore((state) => state.doc);
  const inSeconds = useStore((state) => state.inSeconds);
  const now = shown()!;
  const found = foundKeys();
  const [first] = found;
  if (!first) return <div className="key-line is-empty">The chosen keys are gone.</div>;
  const { fps } = now;
  const eases = [...new Set(found.map(({ key }) => key.ease))];
  const isOne = found.length === 1;
  const earliest = found.reduce((least, { key }) => Math.min(least, key.at), Infinity) * fps;
  return (
    <div className="key-line" role="group" aria-label="The chosen keys">
      <strong>{isOne ? first.track : `${found.length} keys`}</strong>
      <label className="field">
        <span>at</span>
        <NumberField
          label="Time of the key"
          value={earliest}
          {...timesIn(inSeconds, fps)}
          least={0}
          onChange={(next) => moveChosen(Number((next - earliest).toFixed(6)))}
          onDone={() => {}}
        />
      </label>
      {isOne && first.key.frames && <FramesFields track={first.track} keyView={first.key} />}
      {isOne && !first.key.frames && <ValueFields track={first.track} keyView={first.key} />}
      {found.every(({ key }) => !key.frames) && (
        <EaseField ease={eases.length === 1 ? eases[0]! : ''} several={eases.length > 1} />
      )}
      <button type="button" className="text-button" onClick={() => removeChosen()}>
        Remove
      </button>
    </div>
  );
}

function ValueFields({ track, keyView }: { readonly track: string; readonly keyView: KeyView }) {
  const { value } = keyView;
  const numbers = numbersOf(value as never);
  const slot = get().reel?.layout.find(track);
  const names: readonly string[] = slot ? KINDS[slot.kind].channels : [];
  if (value === null || (slot && isShape(slot.kind)) || numbers.length === 0 || numbers.length > 3)
    return <code className="value">{value === null ? 'off' : JSON.stringify(value)}</code>;
  return (
    <span className="values">
      {numbers.map((n, k) => (
        <NumberField
          key={k}
          label={`Value of the key${numbers.length > 1 ? ` ${names[k] ?? k}` : ''}`}
          value={n}
          onChange={(next) => previewChosen({ value: withNumber(value as never, k, next) })}
          onDone={finishPreview}
          onCancel={() => showPreview(undefined)}
        />
      ))}
    </span>
  );
}

/** A row of frames: how long each is shown, all at once. One by one they are single keys. */
function FramesFields({ track, keyView }: { readonly track: string; readonly keyView: KeyView }) {
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
      <label className="field">
        <span>each</span>
        <NumberField
          label="How long each frame is shown"
          value={each}
          {...timesIn(false, now.fps)}
          least={0.01}
          onChange={(next) => showPreview(row(`${next}f`))}
          onDone={finishPreview}
        />
      </label>
      <button type="button" className="text-button" onClick={() => spell()}>
        One by one
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
