import type { Kind, Value } from 'unspool';
import { numbersOf, partsOfValue, typedOf, withNumber } from '../model/values.js';
import { NumberField } from './NumberField.js';

interface Props {
  /** What the numbers belong to, for screen readers. */
  readonly label: string;
  readonly value: Value;
  readonly kind: Kind;
  readonly step?: number | undefined;
  readonly className?: string;
  /** What the members of a shape are called is shown too. */
  readonly captions?: boolean;
  /** Of every number. */
  readonly least?: number | undefined;
  readonly most?: number | undefined;
  readonly onChange: (value: Value) => void;
  readonly onDone: () => void;
  readonly onCancel: () => void;
}

/** Members of shapes that are lengths: 0 or more. */
const LENGTHS: readonly string[] = ['size', 'radius'];

/** What bounds the numbers of a track. */
export function boundsOf(name: string, isOffset: boolean): { readonly least?: number; readonly most?: number } {
  if (/\.opacity$/.test(name)) return isOffset ? { least: 0 } : { least: 0, most: 1 };
  return /\.(size\.[xy]|size|radius)$/.test(name) && !isOffset ? { least: 0 } : {};
}

/** All numbers of a value, each to be typed or scrubbed; of a quaternion its three turns. */
export function Numbers({
  label,
  value,
  kind,
  step = 1,
  className = '',
  captions = false,
  least,
  most,
  onChange,
  ...ends
}: Props) {
  const [typed, keep] = typedOf(value, kind);
  const numbers = numbersOf(typed);
  return (
    <span className={`values ${numbers.length > 2 ? 'are-many' : ''}`}>
      {partsOfValue(typed, kind).map(({ caption, names, first }) => (
        <span key={caption} className="values">
          {captions && caption && <span className="caption">{caption}</span>}
          {names.map((name, k) => (
            <NumberField
              key={name}
              className={className}
              label={[label, caption, name].filter(Boolean).join(' ')}
              value={numbers[first + k] ?? 0}
              least={LENGTHS.includes(caption) ? 0 : least}
              most={most}
              step={step}
              onChange={(next) => onChange(keep(withNumber(typed, first + k, next)))}
              {...ends}
            />
          ))}
        </span>
      ))}
    </span>
  );
}
