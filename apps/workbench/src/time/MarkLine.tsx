import { useState } from 'react';
import type { Operation } from 'unspool/edit';
import { apply, listedAs, moveChosen, removeChosen, shown } from '../model/actions.js';
import { get, set, type ChosenMark } from '../model/store.js';
import { timesIn } from '../numbers/expression.js';
import { readData } from '../model/values.js';
import { NumberField } from '../numbers/NumberField.js';

/** The cue, span or part at hand. */
export function MarkLine({ mark }: { readonly mark: ChosenMark }) {
  const now = shown()!;
  const one = 'at' in mark ? listedAs(mark, now) : undefined;
  const cue = one && 'name' in one ? one : undefined;
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
              {...timesIn(false, now.fps)}
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
    const operation = {
      do: 'rename',
      what: mark.what,
      clip: clip!,
      name: mark.name,
      ...('at' in mark && { at: mark.at }),
      to: draft,
    } as Operation;
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
  const value = readData(draft);
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
