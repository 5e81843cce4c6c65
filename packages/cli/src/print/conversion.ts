import { formatError, formatNote, type ConversionNote, type ConversionReport } from '@unspool/open';

/** Lines of each kind that are printed; the rest is counted. */
const MOST = 12;

/** The report of a conversion for people. */
export function conversionText(report: ConversionReport, file: string, format: string): string {
  const { kept, approximated, dropped, renamed } = report;
  const lines = [`wrote ${file} (${format}): ${kept.length} kept, ${approximated.length} approximated${errorsOf(approximated)}, ${dropped.length} dropped`]; // prettier-ignore
  lines.push(
    ...listed(
      'renamed',
      renamed.map(({ what, from, to }) => `${what} ${JSON.stringify(from)} is ${to}`),
    ),
  );
  lines.push(...listed('approximated', approximated.map(formatNote)));
  lines.push(...listed('dropped', dropped.map(formatNote)));
  return `${lines.join('\n')}\n`;
}

/** The largest error in each unit. */
function errorsOf(notes: readonly ConversionNote[]): string {
  const most = new Map<string, number>();
  for (const { error, unit = '' } of notes)
    if (error !== undefined) most.set(unit, Math.max(error, most.get(unit) ?? 0));
  const texts = [...most].map(([unit, error]) => formatError(error, unit));
  return texts.length > 0 ? ` (largest error ${texts.join(', ')})` : '';
}

function listed(kind: string, texts: readonly string[]): string[] {
  const shown = texts.slice(0, MOST).map((text) => `  ${kind}  ${text}`);
  return texts.length > MOST ? [...shown, `  ${kind}  … ${texts.length - MOST} more, see --json`] : shown;
}
