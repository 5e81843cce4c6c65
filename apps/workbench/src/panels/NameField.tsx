import { apply } from '../model/session.js';

/** The name of a thing, to be typed over. */
export function NameField({
  what,
  name,
}: {
  readonly what: 'chain' | 'facing' | 'role' | 'routine' | 'sheet';
  readonly name: string;
}) {
  const rename = (to: string) => {
    if (to && to !== name) apply({ do: 'rename', what, name, to });
  };
  return (
    <input
      key={name}
      className="text-value name"
      aria-label={`Name of the ${what}`}
      defaultValue={name}
      spellCheck={false}
      onBlur={(event) => rename(event.currentTarget.value)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}
