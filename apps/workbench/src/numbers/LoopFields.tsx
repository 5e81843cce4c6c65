import type { LoopMode } from 'unspool';
import { TypedField } from './TypedField.js';

/** As a reel writes it. */
export type Loop = LoopMode | { readonly mode: LoopMode; readonly count?: number | undefined };

const MODES: readonly LoopMode[] = ['once', 'loop', 'ping-pong'];

interface Props {
  readonly caption: string;
  readonly label?: string;
  readonly loop: Loop | undefined;
  /** The label when nothing is set. Default: `once`. */
  readonly unsaid?: string;
  /** Whether the number of iterations can be set too. */
  readonly counts?: boolean;
  readonly onChange: (loop: Loop | null) => void;
}

/** How something repeats, and how often. */
export function LoopFields({ caption, label = caption, loop, unsaid, counts = true, onChange }: Props) {
  const { mode, count } = typeof loop === 'object' ? loop : { mode: loop, count: undefined };
  const give = (next: string) => {
    if (next === '' || (next === 'once' && unsaid === undefined)) onChange(null);
    else onChange(count === undefined || next === 'once' ? (next as LoopMode) : { mode: next as LoopMode, count });
  };
  return (
    <>
      <label className="field">
        <span>{caption}</span>
        <select
          aria-label={label}
          value={mode ?? (unsaid === undefined ? 'once' : '')}
          onChange={({ currentTarget }) => give(currentTarget.value)}
        >
          {unsaid !== undefined && <option value="">{unsaid}</option>}
          {MODES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </label>
      {counts && mode !== undefined && mode !== 'once' && (
        <TypedField
          caption="times"
          label={`${label}: number of iterations; leave empty to loop forever`}
          text={count === undefined ? '' : String(count)}
          hint="∞"
          isGood={(text) => text.trim() === '' || Number(text) > 0}
          onTake={(text) => onChange(text.trim() === '' ? mode : { mode, count: Number(text) })}
        />
      )}
    </>
  );
}
