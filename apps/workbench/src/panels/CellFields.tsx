import { Button } from 'react-aria-components';
import { sheetCells, sheetRect, type ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import { apply } from '../model/actions.js';
import { changing } from '../model/session.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';
import { cellsOfPicture } from '../model/cells.js';

type Sheet = NonNullable<ReelDocument['sheets']>[string];
type FreeSheet = Extract<Sheet, { readonly cells: unknown }>;

/** Makes a grid a sheet of free cells, and finds the cells of a packed picture. */
export function FreeCells({
  name,
  sheet,
  bitmap,
}: {
  readonly name: string;
  readonly sheet: Sheet;
  readonly bitmap: ImageBitmap | undefined;
}) {
  const take = (cells: FreeSheet['cells']) => apply({ do: 'change', what: 'sheet', name, to: { ...NO_GRID, cells } });
  const find = () => {
    const found = cellsOfPicture(bitmap!);
    if (found.length > 0) take(found);
  };
  const grid = () => {
    const cells = Array.from({ length: sheetCells(sheet) }, (_, i) => sheetRect(sheet, i));
    take(cells.map(([x, y, width, height]) => ({ x, y, width, height })));
  };
  return (
    <>
      <Button className="text-button" isDisabled={!bitmap} onPress={find}>
        Find cells by gaps
      </Button>
      {'columns' in sheet && (
        <Button className="text-button" onPress={grid}>
          Free cells
        </Button>
      )}
    </>
  );
}

/** What a grid has and free cells have not. */
const NO_GRID = { columns: null, rows: null, cell: null, margin: null, spacing: null };

/** The place and the origin of a free cell. */
export function CellFields({
  name,
  sheet,
  index,
}: {
  readonly name: string;
  readonly sheet: FreeSheet;
  readonly index: number;
}) {
  const cell = sheet.cells[index]!;
  const [ox, oy] = cell.origin ?? [cell.width / 2, cell.height / 2];
  const changed = (to: Partial<FreeSheet['cells'][number]>): Operation => ({
    do: 'change',
    what: 'sheet',
    name,
    to: { cells: sheet.cells.with(index, { ...cell, ...to }) },
  });
  const fields = [
    ['x', cell.x, 0, (n: number) => ({ x: Math.round(n) })],
    ['y', cell.y, 0, (n: number) => ({ y: Math.round(n) })],
    ['width', cell.width, 1, (n: number) => ({ width: Math.round(n) })],
    ['height', cell.height, 1, (n: number) => ({ height: Math.round(n) })],
    ['origin x', ox, -Infinity, (n: number) => ({ origin: [n, oy] as const })],
    ['origin y', oy, -Infinity, (n: number) => ({ origin: [ox, n] as const })],
  ] as const;
  return (
    <div className="cell-fields" role="group" aria-label={`Cell ${index}`}>
      <strong>Cell {index}</strong>
      {fields.map(([caption, value, least, to]) => (
        <LabeledNumber
          key={caption}
          caption={caption}
          className="is-short"
          label={`${caption} of cell ${index}`}
          value={value}
          least={least}
          {...changing((n) => changed(to(n)))}
        />
      ))}
      <Button
        className="text-button"
        isDisabled={sheet.cells.length < 2}
        onPress={() => apply({ do: 'change', what: 'sheet', name, to: { cells: sheet.cells.toSpliced(index, 1) } })}
      >
        Remove
      </Button>
    </div>
  );
}
