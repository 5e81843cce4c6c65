import { isShape, type Value } from 'unspool';
import { dropTrial, finishTrial, switchShape, tryValues } from '../model/actions.js';
import { channelsOf, type TrackRow } from '../model/rows.js';
import { get, useStore } from '../model/store.js';
import { numbersOf, withNumber } from '../model/values.js';
import { NumberField } from '../numbers/NumberField.js';

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
  if (kind === 'color' && row.channel < 0)
    return <ColorValue row={row} value={value as number[]} className={className} />;
  const numbers = numbersOf(value);
  const names = channelsOf(row);
  const list = row.channel >= 0 ? [row.channel] : names.map((_, i) => i).slice(0, 2);
  return (
    <span className="values">
      {list.map((k, i) => (
        <NumberField
          key={k}
          className={className}
          label={names.length > 1 ? `${row.name} ${names[i]}` : row.name}
          value={numbers[k] ?? 0}
          step={STEPS[short] ?? 1}
          onChange={(next) => give(withNumber(get().values[property] ?? value, k, next))}
          onDone={finishTrial}
          onCancel={dropTrial}
        />
      ))}
    </span>
  );
}

/** Whether a shape is there at the playhead; how it lies is shown on the stage, and drawn there. */
function ShapeSwitch({ row, on }: { readonly row: TrackRow; readonly on: boolean }) {
  return (
    <button
      type="button"
      className="text-button is-small"
      aria-pressed={on}
      aria-label={`${on ? 'on' : 'off'}: ${row.name}; ${on ? 'put it away' : 'it is there'} from here on`}
      onClick={() => switchShape(row.name, !on)}
    >
      {on ? 'on' : 'off'}
    </button>
  );
}

function ColorValue({
  row,
  value,
  className,
}: {
  readonly row: TrackRow;
  readonly value: number[];
  readonly className: string;
}) {
  const hex = `#${value
    .slice(0, 3)
    .map((n) =>
      Math.round(255 * Math.min(1, Math.max(0, n)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
  return (
    <input
      type="color"
      className={className}
      aria-label={row.name}
      value={hex}
      onChange={(event) => {
        const next = [1, 3, 5].map((i) => parseInt(event.currentTarget.value.slice(i, i + 2), 16) / 255);
        tryValues({ [row.property]: [...next, value[3] ?? 1] });
      }}
      onBlur={() => row.property in get().trial && finishTrial()}
    />
  );
}
