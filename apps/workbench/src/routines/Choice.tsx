/** One of some names, or none. */
export function Choice({
  caption,
  label = caption,
  value,
  options,
  unsaid = '–',
  isFixed = false,
  onChange,
}: {
  readonly caption: string;
  readonly label?: string;
  readonly value: string | undefined;
  readonly options: readonly string[];
  /** The label of none. */
  readonly unsaid?: string;
  /** Whether there must be one. */
  readonly isFixed?: boolean;
  readonly onChange: (value: string | null) => void;
}) {
  return (
    <label className="field">
      {caption && <span>{caption}</span>}
      <select
        aria-label={label}
        value={value ?? ''}
        onChange={({ currentTarget }) => onChange(currentTarget.value || null)}
      >
        {!isFixed && <option value="">{unsaid}</option>}
        {value !== undefined && !options.includes(value) && <option>{value}</option>}
        {options.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </select>
    </label>
  );
}
