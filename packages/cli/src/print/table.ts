/** A table for a terminal: columns as wide as they must be, numbers and texts aligned as the caller says. */
export function table(
  head: readonly string[],
  rows: readonly (readonly string[])[],
  right: (column: number) => boolean = () => false,
): string {
  const widths = head.map((title, column) => Math.max(title.length, ...rows.map((row) => (row[column] ?? '').length)));
  const render = (cells: readonly string[]) =>
    widths
      .map((width, column) =>
        right(column) ? (cells[column] ?? '').padStart(width) : (cells[column] ?? '').padEnd(width),
      )
      .join('  ')
      .trimEnd();
  return [render(head), widths.map((width) => '─'.repeat(width)).join('  '), ...rows.map(render)].join('\n');
}
