import type { ReelDocument } from 'unspool';
import { addRowClips } from '../model/drawings.js';
import { get } from '../model/store.js';
import { drawnCells } from '../model/cells.js';
import { ask, refuse } from './prompts.js';

type Grid = Extract<NonNullable<ReelDocument['sheets']>[string], { readonly columns: number }>;

/** Asks which rows of a sheet become clips, and how they are named. */
export function askRowClips(role: string, sheet: Grid, bitmap: ImageBitmap, each: number): void {
  const cells = drawnCells(bitmap, sheet);
  const used = cells.flatMap((count, row) => (count > 0 ? [row] : []));
  const free = (row: number) => `${role}-${row + 1}`;
  ask({
    title: `Clips from rows of ${role}`,
    action: 'Make clips',
    fields: [
      { label: 'Rows', value: used.length === sheet.rows ? `1-${sheet.rows}` : used.map((row) => row + 1).join(', ') },
      { label: 'Names', value: used.map(free).join(', ') },
      { label: 'Each drawing', value: `${each}f` },
      { label: 'Loop', value: 'loop', options: ['loop', 'ping-pong', 'once'] },
      { label: 'Facings', value: 'from names that end with a side', options: [FROM_NAMES, 'none'] },
    ],
    run: (rowsText, namesText, eachText, loop, facings) => {
      const rows = numbersOf(rowsText);
      const outside = rows.find((row) => !(row >= 1 && row <= sheet.rows));
      if (outside !== undefined || rows.length === 0)
        return refuse(`${rowsText} are not rows of this sheet. It has rows 1 to ${sheet.rows}.`);
      const names = namesText.split(/[,\s]+/).filter((name) => name !== '');
      if (names.length !== rows.length)
        return refuse(`${rows.length} rows need ${rows.length} names, found ${names.length}.`);
      const taken = names.find((name, i) => names.indexOf(name) !== i || get().doc?.clips[name]);
      if (taken !== undefined) return refuse(`${taken} is taken. Use another name.`);
      return addRowClips({
        role,
        sheet,
        rows: rows.map((row, i) => ({ row: row - 1, cells: cells[row - 1] || sheet.columns, name: names[i]! })),
        each: /[a-z]/.test(eachText) ? eachText : `${eachText}f`,
        loop: loop,
        facings: facings === FROM_NAMES,
      });
    },
  });
}

const FROM_NAMES = 'from names that end with a side';

/** `1-3, 5` as 1, 2, 3 and 5; nothing when it is something else. */
function numbersOf(text: string): readonly number[] {
  const parts = text.split(',').map((part) => /^\s*(\d{1,4})\s*(?:[-–]\s*(\d{1,4})\s*)?$/.exec(part));
  if (!parts.every((part) => part !== null)) return [];
  return parts.flatMap(([, first, last]) => {
    const [from, until] = [Number(first), Number(last ?? first)];
    return Array.from({ length: Math.max(0, until - from + 1) }, (_, i) => from + i);
  });
}
