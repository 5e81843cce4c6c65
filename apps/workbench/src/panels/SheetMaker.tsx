import type { ReelDocument } from 'unspool';
import { addSheet } from '../model/additions.js';
import { changing } from '../model/session.js';
import { usePictureSize } from './use-picture-size.js';
import { useStore } from '../model/store.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';

type Sheet = NonNullable<ReelDocument['sheets']>[string];

/** Makes a sheet of a picture: the number of cells across and down. */
export function SheetMaker() {
  const pictures = useStore((state) => state.pictures);
  const doc = useStore((state) => state.doc);
  return (
    <>
      <select
        aria-label="New sheet from a picture"
        value=""
        onChange={({ currentTarget }) => void (currentTarget.value && addSheet(currentTarget.value))}
      >
        <option value="">new sheet from …</option>
        {(pictures?.names ?? []).map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      {Object.entries(doc?.sheets ?? {}).map(([name, sheet]) => (
        <SheetItem key={name} name={name} sheet={sheet} />
      ))}
    </>
  );
}

/** How the cells of a sheet lie in its picture. */
function SheetItem({ name, sheet }: { readonly name: string; readonly sheet: Sheet }) {
  const { columns, rows, cell, margin = 0, spacing = 0 } = sheet;
  const size = usePictureSize(sheet.image);
  /** This many cells fill the picture. */
  const fitted = (length: number | undefined, count: number, own: number) =>
    length === undefined ? own : Math.max(1, Math.floor((length - 2 * margin - (count - 1) * spacing) / count));
  const fields = [
    ['columns', columns, 1, (n: number) => ({ columns: n, cell: [fitted(size?.[0], n, cell[0]), cell[1]] })],
    ['rows', rows, 1, (n: number) => ({ rows: n, cell: [cell[0], fitted(size?.[1], n, cell[1])] })],
    ['width', cell[0], 1, (n: number) => ({ cell: [n, cell[1]] })],
    ['height', cell[1], 1, (n: number) => ({ cell: [cell[0], n] })],
    ['margin', margin, 0, (n: number) => ({ margin: n || null })],
    ['spacing', spacing, 0, (n: number) => ({ spacing: n || null })],
  ] as const;
  return (
    <div className="sheet-item" role="group" aria-label={`The sheet ${name}`}>
      <strong>{name}</strong>
      {fields.map(([label, value, least, to]) => (
        <LabeledNumber
          key={label}
          caption={label}
          className="is-short"
          label={`${label} of the sheet ${name}`}
          value={value}
          least={least}
          {...changing((n) => ({ do: 'change', what: 'sheet', name, to: to(Math.round(n)) }))}
        />
      ))}
    </div>
  );
}
