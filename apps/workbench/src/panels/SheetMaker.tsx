import type { ReelDocument } from 'unspool';
import { addSheet } from '../model/additions.js';
import { changing } from '../model/session.js';
import { usePicture } from './use-picture-size.js';
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
  const bitmap = usePicture(sheet.image);
  if ('cells' in sheet)
    return (
      <div className="sheet-item" role="group" aria-label={`The sheet ${name}`}>
        <strong>{name}</strong> {sheet.cells.length} free cells; change them in the sheets panel
      </div>
    );
  const { columns, rows, cell, margin = 0, spacing = 0 } = sheet;
  /** This many cells fill the picture. */
  const fitted = (length: number | undefined, count: number, own: number) =>
    length === undefined ? own : Math.max(1, Math.floor((length - 2 * margin - (count - 1) * spacing) / count));
  const isOutside =
    bitmap !== undefined &&
    (2 * margin + columns * cell[0] + (columns - 1) * spacing > bitmap.width ||
      2 * margin + rows * cell[1] + (rows - 1) * spacing > bitmap.height);
  const fields = [
    ['columns', columns, 1, (n: number) => ({ columns: n, cell: [fitted(bitmap?.width, n, cell[0]), cell[1]] })],
    ['rows', rows, 1, (n: number) => ({ rows: n, cell: [cell[0], fitted(bitmap?.height, n, cell[1])] })],
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
      {isOutside && (
        <p className="fault" role="alert">
          Cells lie outside the picture, which is {bitmap.width} × {bitmap.height}.
        </p>
      )}
    </div>
  );
}
