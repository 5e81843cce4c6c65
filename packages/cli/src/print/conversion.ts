import type { ConversionNote, ConversionReport } from '@unspool/open';

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
  lines.push(...listed('approximated', approximated.map(noteText)));
  lines.push(...listed('dropped', dropped.map(noteText)));
  return `${lines.join('\n')}\n`;
}

const number = (n: number) => String(Number(n.toPrecision(2)));
const unitText = (unit: string | undefined) => (unit ? ` ${unit}` : '');

/** The largest error in each unit. */
function errorsOf(notes: readonly ConversionNote[]): string {
  const most = new Map<string, number>();
  for (const { error, unit = '' } of notes)
    if (error !== undefined) most.set(unit, Math.max(error, most.get(unit) ?? 0));
  const texts = [...most].map(([unit, error]) => `${number(error)}${unitText(unit)}`);
  return texts.length > 0 ? ` (largest error ${texts.join(', ')})` : '';
}

/** The clip of a place in a reel; other places as they are. */
function placeOf(at: string): string {
  const clip = /^\/clips\/([^/]+)/.exec(at)?.[1];
  return at === '' ? '' : `${clip ?? at}: `;
}

function noteText({ at, what, error, unit }: ConversionNote): string {
  return `${placeOf(at)}${what}${error === undefined ? '' : ` (error ${number(error)}${unitText(unit)})`}`;
}

function listed(kind: string, texts: readonly string[]): string[] {
  const shown = texts.slice(0, MOST).map((text) => `  ${kind}  ${text}`);
  return texts.length > MOST ? [...shown, `  ${kind}  … ${texts.length - MOST} more, see --json`] : shown;
}
