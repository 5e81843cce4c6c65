import { readData } from '../model/values.js';
import { TypedField } from '../numbers/TypedField.js';

interface Props {
  readonly data: unknown;
  /** `undefined` when nothing is left. */
  readonly onChange: (data: unknown) => void;
}

/** The data of a cue as fields: a name and a value each. Data that is no object of names has only its JSON. */
export function DataFields({ data, onChange }: Props) {
  if (data !== undefined && (typeof data !== 'object' || data === null || Array.isArray(data))) return null;
  const members = Object.entries((data ?? {}) as Record<string, unknown>);
  const give = (next: readonly (readonly [string, unknown])[]) =>
    onChange(next.length > 0 ? Object.fromEntries(next) : undefined);
  return (
    <>
      {members.map(([name, value], i) => (
        <TypedField
          key={name}
          caption={name}
          label={`data: ${name}`}
          text={typeof value === 'string' ? value : JSON.stringify(value)}
          onTake={(text) =>
            give(text.trim() === '' ? members.toSpliced(i, 1) : members.with(i, [name, valueOf(text, value)]))
          }
        />
      ))}
      <TypedField
        caption="+"
        label="Add data: name = value"
        text=""
        hint="name = value"
        clears
        isGood={(text) => text.trim() === '' || /^\s*[^=]+=\s*\S/.test(text)}
        onTake={(text) => {
          const at = text.indexOf('=');
          const name = text.slice(0, at).trim();
          if (at > 0 && name !== '')
            give([...members.filter(([one]) => one !== name), [name, valueOf(text.slice(at + 1))]]);
        }}
      />
    </>
  );
}

/** A text stays a text where there was one; else it is JSON, or a text that is none. */
function valueOf(text: string, was?: unknown): unknown {
  const read = readData(text);
  return typeof was === 'string' || !read.ok ? text.trim() : read.data;
}
