import { isShape, type Value } from 'unspool';
import { dropTrial, finishTrial, switchShape, tryValues } from '../model/actions.js';
import type { TrackRow } from '../model/rows.js';
import { get, useStore } from '../model/store.js';
import { numbersOf, withNumber } from '../model/values.js';
import { NumberField } from '../numbers/NumberField.js';
import { boundsOf, Numbers } from '../numbers/Numbers.js';

/** How much a press of an arrow key changes a value. */
const STEPS: Readonly<Record<string, number>> = { scale: 0.05, opacity: 0.05, tint: 0.05 };

/** The value of a row at the playhead, to be typed or scrubbed. */
export function RowValues({ row }: { readonly row: TrackRow }) {
  const value = useStore((state) => state.values[row.property]);
  const tried = useStore((state) => row.property in state.trial);
  const { kind, property } = row;
  const give = (next: Value) => tryValues({ [property]: next });
  const className = tried ? 'is-tried' : '';
  const short = property.slice(row.role.length + 1);

  if (isShape(kind) && row.channel < 0) return <ShapeSwitch row={row} on={value !== null && value !== undefined} />;
  if (value === undefined || value === null) return <span className="no-value">–</span>;
  if (kind === 'flag') {
    return (
      <input
        type="checkbox"
        aria-label={row.name}
        checked={value === true}
        onChange={(event) => {
          give(event.currentTarget.checked);
          finishTrial();
        }}
      />
    );
  }
  if (kind === 'text') {
    return (
      <input
        className={`text-value ${className}`}
        aria-label={row.name}
        value={typeof value === 'string' ? value : ''}
        onChange={(event) => give(event.currentTarget.value)}
        onBlur={() => property in get().trial && finishTrial()}
      />
    );
  }
  const bounds = boundsOf(row.name, row.isOffset);
  const ends = { className, step: STEPS[short] ?? 1, onDone: finishTrial, onCancel: dropTrial, ...bounds };
  if (kind === 'color' && row.channel < 0) return <ColorValue row={row} value={value as number[]} {...ends} />;
  if (row.channel < 0) return <Numbers label={row.name} value={value} kind={kind} onChange={give} {...ends} />;
  return (
    <NumberField
      label={row.name}
      value={numbersOf(value)[row.channel] ?? 0}
      onChange={(next) => give(withNumber(get().values[property] ?? value, row.channel, next))}
      {...ends}
    />
  );
}

/** All numbers of the row's shape at the playhead, where the head of the row has no room for them. */
export function ShapeNumbers({ name }: { readonly name: string }) {
  const value = useStore((state) => state.values[name]);
  const kind = useStore((state) => state.reel?.layout.find(name)?.kind);
  const tried = useStore((state) => name in state.trial);
  if (!kind || !isShape(kind) || value === undefined || value === null) return null;
  return (
    <Numbers
      label={name}
      value={value}
      kind={kind}
      captions
      className={tried ? 'is-tried' : ''}
      onChange={(next) => tryValues({ [name]: next })}
      onDone={finishTrial}
      onCancel={dropTrial}
    />
  );
}

/** Whether a shape is there at the playhead; how it lies is shown on the stage, and drawn there. */
function ShapeSwitch({ row, on }: { readonly row: TrackRow; readonly on: boolean }) {
  return (
    <button
      type="button"
      className="text-button is-small"
      aria-pressed={on}
      aria-label={`${on ? 'on' : 'off'}: ${row.name}; ${on ? 'turn it off' : 'turn it on'} from here on`}
      onClick={() => switchShape(row.name, !on)}
    >
      {on ? 'on' : 'off'}
    </button>
  );
}

/** A color to be picked, and its alpha. */
function ColorValue({
  row,
  value,
  className,
  ...ends
}: {
  readonly row: TrackRow;
  readonly value: number[];
  readonly className: string;
  readonly step: number;
  readonly onDone: () => void;
  readonly onCancel: () => void;
}) {
  const byte = (n: number) => Math.round(255 * Math.min(1, Math.max(0, n)));
  const two = (n: number) => byte(n).toString(16).padStart(2, '0');
  const give = (next: Value) => tryValues({ [row.property]: next });
  return (
    <span className="values">
      <input
        type="color"
        className={className}
        aria-label={row.name}
        value={`#${value.slice(0, 3).map(two).join('')}`}
        onChange={(event) => {
          const next = [1, 3, 5].map((i) => parseInt(event.currentTarget.value.slice(i, i + 2), 16) / 255);
          give([...next, value[3] ?? 1]);
        }}
        onBlur={() => row.property in get().trial && ends.onDone()}
      />
      <NumberField
        className={`is-short ${className}`}
        label={`${row.name} alpha`}
        value={value[3] ?? 1}
        onChange={(next) => give(value.with(3, next))}
        {...ends}
      />
    </span>
  );
}
