import { area } from 'd3-shape';
import { formatEasing, type ResolvedTrack } from 'unspool';
import { blocks, wantsBlocks, whileInactive } from './blocks.js';
import { drawRowName, type Row, type Sheet } from './sheet.js';
import { element, fitText, text, textWidth } from './svg.js';
import { labelOf, progressOf, segmentsOf, unitOf, type Segment } from '../print/tracks.js';

/** A row of the view "keys": times and values of keys, and the easing of each segment. */
export function drawKeyRow(sheet: Sheet, index: number): string {
  const track = sheet.tracks[index]!;
  const row = sheet.rows[index]!;
  const name = drawRowName(sheet, row, track.name, unitOf(track));
  return (
    name +
    whileInactive(sheet, track, row) +
    (wantsBlocks(track) ? blocks(sheet, track, row) : segments(sheet, track, row))
  );
}

function segments(sheet: Sheet, track: ResolvedTrack, row: Row): string {
  const { clip, theme, x } = sheet;
  const bar = { top: row.top + 18, height: row.height - 18 - (row.height > 52 ? 16 : 5) };
  const drawn = segmentsOf(track, clip.duration).map((segment) => drawSegment(sheet, track, segment, bar, row));
  let free = -Infinity;
  const pegs = track.keys
    .filter((key) => key.at <= clip.duration)
    .map((key) => {
      const at = x(key.at);
      const label = labelOf(track, key.value, clip.layout.texts);
      const wide = textWidth(label, 11);
      const start = Math.min(at + 5, sheet.right + 60 - wide);
      const fits = start > free;
      if (fits) free = start + wide + 6;
      const peg = element('rect', {
        x: at - 2.5,
        y: bar.top - 3,
        width: 5,
        height: bar.height + 6,
        rx: 2.5,
        fill: theme.lines[0],
      });
      return peg + (fits ? text(label, { x: start, y: row.top + 12, 'font-size': 11, fill: theme.ink }) : '');
    });
  return [...drawn, ...pegs].join('');
}

/** The bar between two keys: filled up to the easing's progress, so that its shape is seen; flat where it holds. */
function drawSegment(
  sheet: Sheet,
  track: ResolvedTrack,
  { from, to, index, held }: Segment,
  bar: Row,
  row: Row,
): string {
  const { theme, x } = sheet;
  const last = index === track.keys.length - 1;
  const frame = { x: x(from), y: bar.top, width: x(to) - x(from), height: bar.height };
  const ground = element('rect', { ...frame, fill: theme.lines[0], 'fill-opacity': last ? 0.04 : 0.1 });
  if (last) return ground;
  const name = formatEasing(track.keys[index]!.easing);
  const label = fitText(name, 10, frame.width - 10);
  const middle = frame.x + frame.width / 2;
  const caption =
    row.height > 52
      ? text(label, {
          x: middle,
          y: row.top + row.height - 4,
          'text-anchor': 'middle',
          'font-size': 10,
          fill: theme.muted,
        })
      : '';
  if (held) return ground + caption;
  const steps = Math.max(8, Math.min(96, Math.round(frame.width / 2)));
  const xs = Array.from({ length: steps + 1 }, (_, i) => i / steps);
  const ys = progressOf(sheet.clip, track, index, xs);
  // Easings that overshoot are drawn whole: the bar is then their range, and 0 and 1 lie inside it.
  const low = Math.min(0, ...ys);
  const high = Math.max(1, ...ys);
  const y = (value: number) => bar.top + bar.height * (1 - (value - low) / (high - low));
  const shape = area<number>()
    .x((_, i) => frame.x + frame.width * xs[i]!)
    .y0(y(0))
    .y1((value) => y(value))(ys)!;
  const edge = area<number>()
    .x((_, i) => frame.x + frame.width * xs[i]!)
    .y((value) => y(value))(ys)!;
  const fill = element('path', { d: shape, fill: theme.lines[0], 'fill-opacity': 0.3 });
  // Where the next key's value lies, when the easing goes beyond it.
  const goal =
    high === 1 && low === 0
      ? ''
      : element('line', {
          x1: frame.x,
          x2: frame.x + frame.width,
          y1: y(1),
          y2: y(1),
          stroke: theme.muted,
          'stroke-dasharray': '2 3',
          'stroke-width': 0.8,
        });
  return (
    ground +
    goal +
    fill +
    element('path', { d: edge, fill: 'none', stroke: theme.lines[0], 'stroke-width': 1.3 }) +
    caption
  );
}
