import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { SheetDocument } from './document.js';

type Grid = Extract<SheetDocument, { readonly columns: unknown }>;

function isGrid(sheet: SheetDocument): sheet is Grid {
  const isSheet =
    typeof sheet === 'object' && (sheet as object | null) !== null && ('cells' in sheet || 'cell' in sheet);
  if (!isSheet) {
    const message = `expected a sheet, found ${show(sheet)}`;
    throw new UnspoolError('reel/no-sheet', message, 'take it from its reel: reel.sheetOf(role)');
  }
  return !('cells' in sheet);
}

/** Returns how many cells a sheet has: `frame` goes from 0 to one less. */
export function sheetCells(sheet: SheetDocument): number {
  return isGrid(sheet) ? sheet.columns * sheet.rows : sheet.cells.length;
}

/**
 * Returns the pixel rectangle of a sheet cell. Cells count from 0, in a grid row by row.
 *
 * @returns x, y, width and height in pixels of the picture; of the nearest cell when the index is out of range
 */
export function sheetRect(
  sheet: SheetDocument,
  frame: number,
): readonly [x: number, y: number, width: number, height: number] {
  const inside = insideOf(sheet, frame);
  if (!isGrid(sheet)) {
    const { x, y, width, height } = sheet.cells[inside]!;
    return [x, y, width, height];
  }
  const { columns, cell, margin = 0, spacing = 0 } = sheet;
  const [width, height] = cell;
  const [column, row] = [inside % columns, Math.floor(inside / columns)];
  return [margin + column * (width + spacing), margin + row * (height + spacing), width, height];
}

/**
 * Returns the point of a cell that lies where the object is, in pixels from the cell's top left corner; `undefined` where
 * the sheet does not say, and the picture is placed by its anchor. Cells of a packed picture have different sizes: their
 * origins keep the drawing in its place.
 */
export function sheetOrigin(sheet: SheetDocument, frame: number): readonly [x: number, y: number] | undefined {
  return isGrid(sheet) ? undefined : sheet.cells[insideOf(sheet, frame)]!.origin;
}

function insideOf(sheet: SheetDocument, frame: number): number {
  return Math.min(Math.max(0, Math.trunc(frame) || 0), sheetCells(sheet) - 1);
}
