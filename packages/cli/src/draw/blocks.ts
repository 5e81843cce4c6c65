import { formatEasing, isActivity, isShape, type ResolvedTrack } from 'unspool';
import { hex } from '../print/values.js';
import type { Row, Sheet } from './sheet.js';
import { element, fitText, text } from './svg.js';
import { isHeld, labelOf, sampler, segmentsOf, type Segment } from '../print/tracks.js';

/** A track as blocks from key to key: what is held shows its value, a color shows itself. */
export function blocks(sheet: Sheet, track: ResolvedTrack, row: Row): string {
  const { clip } = sheet;
  const segments = segmentsOf(track, clip.duration);
  const first = segments[0];
  // Before the first key its value holds already: shown, but pale, as no key says it.
  const lead = first && first.from > 0 ? [{ ...first, from: 0, to: first.from, held: true, lead: true }] : [];
  const draw = track.kind === 'color' && track.channel < 0 ? colorBlock : heldBlock;
  return [...lead, ...segments.map((segment) => ({ ...segment, lead: false }))]
    .map((segment) => draw(sheet, track, row, segment))
    .join('');
}

type Block = Segment & { readonly lead: boolean };

function boxOf({ x }: Sheet, row: Row, { from, to }: Segment) {
  const height = Math.min(34, row.height - 8);
  return { left: x(from), top: row.top + row.height / 2 - height / 2, width: x(to) - x(from), height };
}

function heldBlock(sheet: Sheet, track: ResolvedTrack, row: Row, segment: Block): string {
  const { clip, theme } = sheet;
  const { left, top, width, height } = boxOf(sheet, row, segment);
  const { value } = track.keys[segment.index]!;
  const label = segment.lead ? '' : labelOf(track, value, clip.layout.texts);
  const quiet = segment.lead || ((track.kind === 'flag' || isActivity(track)) && value[0] === 0);
  const place = { x: left + 1, y: top, width: Math.max(1, width - 2), height, rx: 4 };
  const stroke = { stroke: theme.lines[0], 'stroke-dasharray': segment.lead ? '2 4' : undefined };
  // A narrow block still has room for a short number, in its middle.
  const fitted = fitText(label, 11, width - 6);
  const narrow = width < 40;
  const x = narrow ? left + width / 2 : left + 8;
  return (
    element('rect', { ...place, fill: quiet ? 'none' : theme.lines[0], 'fill-opacity': 0.18, ...stroke }) +
    text(fitted, {
      x,
      y: top + height / 2 + 4,
      'text-anchor': narrow ? 'middle' : undefined,
      'font-size': 11,
      fill: theme.ink,
    })
  );
}

function colorBlock(sheet: Sheet, track: ResolvedTrack, row: Row, segment: Block): string {
  const { clip, theme } = sheet;
  const { left, top, width, height: room } = boxOf(sheet, row, segment);
  const height = room - 12;
  const sample = sampler(clip, track);
  const strips = segment.held ? 1 : Math.max(2, Math.ceil(width / 4));
  const cells = Array.from({ length: strips }, (_, i) => {
    const color = sample(segment.from + ((segment.to - segment.from) * (i + (segment.held ? 0 : 0.5))) / strips);
    const opacity = color[3]! * (segment.lead ? 0.35 : 1);
    const place = { x: left + (width * i) / strips, y: top, width: width / strips + (segment.held ? 0 : 0.6), height };
    return element('rect', {
      ...place,
      fill: hex(color.slice(0, 3)),
      'fill-opacity': opacity,
      'shape-rendering': 'crispEdges',
    });
  });
  const outline = { x: left, y: top, width, height, fill: 'none', stroke: theme.muted, 'stroke-width': 0.8 };
  const frame = element('rect', { ...outline, 'stroke-dasharray': segment.lead ? '2 4' : undefined });
  if (segment.lead) return cells.join('') + frame;
  const { value, easing } = track.keys[segment.index]!;
  const peg = (x: number) =>
    element('rect', { x: x - 2, y: top - 3, width: 4, height: height + 6, rx: 2, fill: theme.ink });
  const next = track.keys[segment.index + 1];
  const pegs = peg(left) + (next?.at === clip.duration ? peg(left + width) : '');
  const label = labelOf(track, value, clip.layout.texts);
  const last = segment.index === track.keys.length - 1;
  const caption =
    fitText(last ? label : `${label}  ${formatEasing(easing)}`, 10, width - 6) || fitText(label, 10, width - 6);
  return (
    cells.join('') +
    frame +
    pegs +
    text(caption, { x: left + 4, y: top + height + 13, 'font-size': 10, fill: theme.muted })
  );
}

/** True where blocks say more than a line could. */
export function wantsBlocks(track: ResolvedTrack): boolean {
  return (track.kind === 'color' && track.channel < 0) || isHeld(track);
}

/** Of a shape, the times at which it is not active, faded out. */
export function whileInactive({ clip, theme, x }: Sheet, track: ResolvedTrack, row: Row): string {
  if (!isShape(track.kind) || isActivity(track)) return '';
  const own = clip.activations.filter(({ shape }) => shape === `${track.role}.${track.property}`);
  const edges = [0, ...own.flatMap(({ at, until }) => [at, until]), clip.duration];
  return (
    edges
      .flatMap((from, i) => (i % 2 === 0 ? [[x(from), x(edges[i + 1]!)] as const] : []))
      // Not over the keys at its ends.
      .map(([from, to]) => [from > x(0) ? from + 5 : from, to < x(clip.duration) ? to - 5 : to] as const)
      .filter(([from, to]) => to > from)
      .map(([from, to]) => {
        const veil = {
          x: from,
          y: row.top,
          width: to - from,
          height: row.height,
          fill: theme.panel,
          'fill-opacity': 0.72,
        };
        const label = fitText('not active', 10, to - from - 8);
        const place = {
          x: (from + to) / 2,
          y: row.top + 13,
          'text-anchor': 'middle',
          'font-size': 10,
          fill: theme.muted,
        };
        return element('rect', veil) + text(label, place);
      })
      .join('')
  );
}
