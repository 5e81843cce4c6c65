import { useState } from 'react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { EASING_NAMES, isShape, KINDS, parseTime } from 'unspool';
import type { Operation } from 'unspool/edit';
import {
  apply,
  countChosen,
  moveChosen,
  removeChosen,
  setChosen,
  shown,
  toggleRecording,
  keyTrial,
  dropTrial,
} from '../model/actions.js';
import { isMoment, keysOf, writeAt, type KeyView } from '../model/keys.js';
import { finishPreview, showPreview } from '../model/session.js';
import { get, set, useStore, type ChosenMark } from '../model/store.js';
import { timeUnits } from '../numbers/expression.js';
import { NumberField } from '../numbers/NumberField.js';
import { BezierField } from './BezierField.js';
import { EasePicture } from './EasePicture.js';
import { numbersOf, withNumber } from '../model/values.js';

const MORE = ['cubic-bezier(0.7, 0, 0.9, 0.4)', 'steps(4)', 'spring(0.4)'];
const PRESETS = [...EASING_NAMES.filter((name) => !name.startsWith('step-')), ...MORE];

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
  return Object.entries(get().chosen).flatMap(([track, times]) => {
    const list = now.clip.tracks?.[track];
    if (!list) return [];
    return keysOf(list, now.fps).filter(({ at }) => times.some((one) => isMoment(one, at))).map((key) => ({ track, key })); // prettier-ignore
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
  const earliest = Math.min(...found.map(({ key }) => key.at)) * fps;
  const say = (frames: number) =>
    inSeconds ? `${Number((frames / fps).toFixed(4))} s` : `${Number(frames.toFixed(3))}f`;
  return (
    <div className="key-line" role="group" aria-label="The chosen keys">
      <strong>{isOne ? first.track : `${found.length} keys`}</strong>
      <label className="field">
        <span>at</span>
        <NumberField
          label="Time of the key"
          value={earliest}
          units={inSeconds ? { ...timeUnits(fps), '': fps } : timeUnits(fps)}
          show={say}
          least={0}
          onChange={(next) => moveChosen(Number((next - earliest).toFixed(6)))}
          onDone={() => {}}
        />
      </label>
      {isOne && first.key.frames && <FramesFields track={first.track} keyView={first.key} />}
      {isOne && !first.key.frames && <ValueFields track={first.track} keyView={first.key} />}
      {found.every(({ key }) => !key.frames) && <EaseField eases={eases} />}
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
          onChange={(next) => preview({ value: withNumber(value as never, k, next) })}
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
  const spell = () => {
    const keys = Array.from({ length: count }, (_, i) => ({
      at: writeAt(keyView.at + (i * each) / now.fps, now.fps, now.clip),
      value: first + i * Math.sign(last - first),
    }));
    const others = keysAround(track, keyView);
    apply({ do: 'change', what: 'track', clip: now.name, name: track, to: { keys: [...others.before, ...keys, ...others.after] } }); // prettier-ignore
  };
  const row = (members: object) => {
    const others = keysAround(track, keyView);
    const key = {
      at: keyView.written,
      frames: [first, last],
      each: writeAt(each / now.fps, now.fps, now.clip),
      ...members,
    };
    const to = { keys: [...others.before, key, ...others.after] };
    return { do: 'change', what: 'track', clip: now.name, name: track, to } as Operation;
  };
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
          units={timeUnits(now.fps)}
          show={(n) => `${Number(n.toFixed(3))}f`}
          least={0.01}
          onChange={(next) => showPreview(row({ each: `${next}f` }))}
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
  const list = now.clip.tracks![track]!;
  const keys = (Array.isArray(list) ? list : (list as { keys: unknown }).keys) as readonly { readonly at: never }[];
  const seconds = (key: { readonly at: never }) => parseTime(key.at, now.fps)!;
  return {
    before: keys.filter((key) => seconds(key) < at - 1e-9),
    after: keys.filter((key) => seconds(key) > at + 1e-9),
  };
}

function preview(members: Readonly<Record<string, unknown>>): void {
  const { clip, chosen } = get();
  showPreview({ do: 'set-keys', clip: clip!, keys: chosen, ...members });
}

function EaseField({ eases }: { readonly eases: readonly string[] }) {
  const [open, setOpen] = useState(false);
  const ease = eases.length === 1 ? eases[0]! : '';
  const take = (next: string) => {
    setChosen({ ease: next === 'linear' ? null : next });
    setOpen(false);
  };
  return (
    <span className="ease-field">
      <DialogTrigger isOpen={open} onOpenChange={setOpen}>
        <Button className="ease-button" aria-label={`Easing: ${ease || 'several'}. Choose another`}>
          <EasePicture ease={ease || 'linear'} />
        </Button>
        <Popover placement="top" className="popover">
          <Dialog className="ease-dialog" aria-label="Easings">
            <div className="ease-list" role="group" aria-label="Easings as pictures">
              {PRESETS.map((name) => (
                <button key={name} type="button" aria-pressed={name === ease} onClick={() => take(name)}>
                  <EasePicture ease={name} />
                  <span>{name}</span>
                </button>
              ))}
            </div>
            <BezierField ease={ease} onChange={(next) => preview({ ease: next })} onDone={finishPreview} />
          </Dialog>
        </Popover>
      </DialogTrigger>
      <EaseText key={ease} ease={ease} several={eases.length > 1} onTake={take} />
    </span>
  );
}

function EaseText({
  ease,
  several,
  onTake,
}: {
  readonly ease: string;
  readonly several: boolean;
  readonly onTake: (ease: string) => void;
}) {
  const [draft, setDraft] = useState(ease);
  const take = () => draft.trim() && draft !== ease && onTake(draft.trim());
  return (
    <input
      className="ease-text"
      aria-label="Easing, as CSS writes it"
      list="easings"
      placeholder={several ? 'several' : 'linear'}
      value={draft}
      spellCheck={false}
      onChange={(event) => setDraft(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        event.stopPropagation();
      }}
    />
  );
}

function MarkLine({ mark }: { readonly mark: ChosenMark }) {
  const now = shown()!;
  const cue = mark.what === 'cue' ? now.clip.cues?.find(({ name, at }) => name === mark.name && isMoment(parseTime(at, now.fps)!, mark.at)) : undefined; // prettier-ignore
  const change = (to: Readonly<Record<string, unknown>>) =>
    apply({
      do: 'change',
      what: 'cue',
      clip: now.name,
      name: mark.name,
      ...('at' in mark && { at: mark.at }),
      to,
    });
  return (
    <div className="key-line" role="group" aria-label={`The ${mark.what} ${mark.name}`}>
      <strong>
        {mark.what} {mark.name}
      </strong>
      {mark.what === 'cue' && cue && (
        <>
          <label className="field">
            <span>at</span>
            <NumberField
              label="Time of the cue"
              value={mark.at * now.fps}
              units={timeUnits(now.fps)}
              show={(n) => `${Number(n.toFixed(3))}f`}
              least={0}
              onChange={(next) => moveChosen(Number((next - mark.at * now.fps).toFixed(6)))}
              onDone={() => {}}
            />
          </label>
          <DataField key={JSON.stringify(cue.data)} data={cue.data} onTake={(data) => change({ data: data ?? null })} />
        </>
      )}
      <Rename mark={mark} />
      <button type="button" className="text-button" onClick={() => removeChosen()}>
        Remove
      </button>
    </div>
  );
}

function Rename({ mark }: { readonly mark: ChosenMark }) {
  const [draft, setDraft] = useState(mark.name);
  const take = () => {
    if (draft === mark.name || !draft) return;
    const { clip } = get();
    const operation = { do: 'rename', what: mark.what, clip: clip!, name: mark.name, ...('at' in mark && { at: mark.at }), to: draft } as Operation; // prettier-ignore
    if (apply(operation)) set({ mark: { ...mark, name: draft } });
  };
  return (
    <label className="field">
      <span>name</span>
      <input
        className="text-value"
        value={draft}
        onChange={(event) => setDraft(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
    </label>
  );
}

function DataField({ data, onTake }: { readonly data: unknown; readonly onTake: (data: unknown) => void }) {
  const text = data === undefined ? '' : JSON.stringify(data);
  const [draft, setDraft] = useState(text);
  const value = parsed(draft);
  const take = () => draft !== text && value.ok && onTake(value.data);
  return (
    <label className="field grows">
      <span>data</span>
      <input
        className="text-value"
        aria-invalid={!value.ok}
        placeholder='{"sound": "click"}'
        value={draft}
        onChange={(event) => setDraft(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
    </label>
  );
}

function parsed(text: string): { readonly ok: boolean; readonly data?: unknown } {
  if (text.trim() === '') return { ok: true };
  try {
    return { ok: true, data: JSON.parse(text) as unknown };
  } catch {
    return { ok: false };
  }
}
