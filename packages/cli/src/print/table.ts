/** A table for a terminal: columns as wide as they must be, numbers and texts aligned as the caller says. */
export function table(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  right: (column: number) => boolean = () => false,
): string {
  const widths = head.map((title, column) => widest(title, rows, column));
  const render = (cells: readonly string[]) =>
    widths
      .map((width, column) =>
        right(column) ? (cells[column] ?? '').padStart(width) : (cells[column] ?? '').padEnd(width),
      )
      .join('  ')
      .trimEnd();
  return [render(head), widths.map((width) => '─'.repeat(width)).join('  '), ...rows.map(render)].join('\n');
}

/**
 * Prints a table that is too wide for the terminal as several below each other: each starts with the first columns,
 * and rows that are empty in the others are left out.
 *
 * @param leading number of these columns
 * @param width   characters; Infinity when unknown
 */
export function foldedTable(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  alignRight: (column: number) => boolean,
  leading: number,
  width: number,
): string {
  const wide = head.map((name, column) => widest(name, rows, column) + GAP);
  const lead = wide.slice(0, leading).reduce((sum, n) => sum + n, 0);
  const blocks: number[][] = [[]];
  let used = lead;
  for (let column = leading; column < head.length; column++) {
    if (used + wide[column]! - GAP > width && blocks.at(-1)!.length > 0) {
      blocks.push([]);
      used = lead;
    }
    blocks.at(-1)!.push(column);
    used += wide[column]!;
  }
  const first = Array.from({ length: leading }, (_, column) => column);
  return blocks
    .map((columns) => {
      const pick = (row: readonly string[]) => [...first, ...columns].map((column) => row[column]!);
      const shown = rows.filter((row) => blocks.length === 1 || columns.some((column) => row[column] !== ''));
      return table(pick(head), shown.map(pick), alignRight);
    })
    .join('\n\n');
}

/** Spaces between two columns. */
const GAP = 2;

function widest(title: string, rows: readonly (readonly string[])[], column: number): number {
  return rows.reduce((most, row) => Math.max(most, (row[column] ?? '').length), title.length);
}
