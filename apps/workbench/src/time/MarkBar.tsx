import { parseTime, type Time } from 'unspool';
import type { Operation } from 'unspool/edit';
import { apply, removeSelection, shown, type Shown } from '../model/actions.js';
import { listedAs, partEnd } from '../model/moves.js';
import { writeAt } from '../model/keys.js';
import { dragMark } from '../model/time-drag.js';
import { changing } from '../model/session.js';
import { get, set, type SelectedMark } from '../model/store.js';
import { readData } from '../model/values.js';
import { FrameField } from '../numbers/FrameField.js';
import { askPartRoles } from '../model/part-roles.js';
import { DataFields } from './DataFields.js';
import { MovingField } from './MovingField.js';
import { LoopFields } from '../numbers/LoopFields.js';
import { RateField } from '../numbers/RateField.js';
import { TypedField } from '../numbers/TypedField.js';

/** The selected cue, span or part. */
export function MarkLine({ mark }: { readonly mark: SelectedMark }) {
  const now = shown()!;
  return (
    <div className="key-line" role="group" aria-label={`The ${mark.what} ${mark.name}`}>
      <strong>
        {mark.what} {mark.name}
      </strong>
      {mark.what === 'span' ? <SpanFields name={mark.name} now={now} /> : <ListedFields mark={mark} now={now} />}
      {mark.what !== 'part' && (
        <TypedField caption="name" text={mark.name} isGood={(name) => name !== ''} onTake={(to) => rename(mark, to)} />
      )}
      <button type="button" className="text-button" onClick={() => removeSelection()}>
        Remove
      </button>
    </div>
  );
}

function SpanFields({ name, now }: { readonly name: string; readonly now: Shown }) {
  const span = now.clip.spans?.[name];
  if (!span) return null;
  const changed = (index: number, frames: number): Operation => {
    const to = span.with(index, writeAt(frames / now.fps, now.fps, now.clip));
    return { do: 'change', what: 'span', clip: now.name, name, to };
  };
  return (['from', 'until'] as const).map((caption, i) => (
    <FrameField
      key={caption}
      caption={caption}
      label={caption === 'from' ? 'Start of the span' : 'End of the span'}
      frames={framesOf(span[i]!, now)}
      fps={now.fps}
      {...changing((frames) => changed(i, frames))}
    />
  ));
}

type Listed = Extract<SelectedMark, { at: number }>;

/** A cue or part: its start, its end, and its data. */
function ListedFields({ mark, now }: { readonly mark: Listed; readonly now: Shown }) {
  const one = listedAs(mark, now);
  if (!one) return null;
  const changed = (to: Readonly<Record<string, unknown>>): Operation => {
    const { what, name, at } = mark;
    return { do: 'change', what, clip: now.name, name, at, to };
  };
  const change = (to: Readonly<Record<string, unknown>>) => apply(changed(to));
  // A part ends with its clip until it is trimmed.
  const own = 'clip' in one ? partEnd(one, now) * now.fps : undefined;
  const until = one.until === undefined ? own : framesOf(one.until, now);
  const start = mark.at * now.fps;
  return (
    <>
      <MovingField
        caption="at"
        label={`Time of the ${mark.what}`}
        frames={start}
        fps={now.fps}
        begin={() => dragMark(mark)}
      />
      {until !== undefined && (
        <FrameField
          caption="until"
          label={`End of the ${mark.what}`}
          frames={until}
          fps={now.fps}
          {...changing((frames) => changed({ until: writeAt(frames / now.fps, now.fps, now.clip) }))}
        />
      )}
      {until === undefined && mark.what === 'cue' && (
        <button
          type="button"
          className="text-button"
          title="Turn it into an interval with a start and an end"
          onClick={() => change({ until: writeAt((start + 1) / now.fps, now.fps, now.clip) })}
        >
          Lasts
        </button>
      )}
      {'clip' in one ? (
        <>
          <LoopFields
            caption="loop"
            label="Loop of the part"
            loop={one.loop}
            unsaid="from the clip"
            onChange={(loop) => change({ loop })}
          />
          <button
            type="button"
            className="text-button"
            title="Which roles of this clip play those of the part"
            onClick={() => askPartRoles(mark.name, mark.at)}
          >
            Roles …
          </button>
          <RateField label="Rate of the part" rate={one.rate} step={0.1} changed={changed} />
        </>
      ) : (
        <>
          <DataFields data={one.data} onChange={(data) => change({ data: data ?? null })} />
          <TypedField
            caption="data"
            grows
            text={one.data === undefined ? '' : JSON.stringify(one.data)}
            hint='{"sound": "click"}'
            isGood={(text) => readData(text).ok}
            onTake={(text) => change({ data: readData(text).data ?? null })}
          />
        </>
      )}
    </>
  );
}

const framesOf = (time: Time, { fps }: Shown) => parseTime(time, fps)! * fps;

function rename(mark: SelectedMark, to: string): void {
  const at = 'at' in mark ? { at: mark.at } : {};
  const operation = { do: 'rename', what: mark.what, clip: get().clip!, name: mark.name, ...at, to } as Operation;
  if (apply(operation)) set({ selectedMark: { ...mark, name: to } });
}
