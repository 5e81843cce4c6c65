import { scaleLinear, type ScaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { formatEasing, type ResolvedTrack } from 'unspool';
import { round } from '../print/values.js';
import { drawRowName, type Row, type Sheet } from './sheet.js';
import { element, fitText, text } from './svg.js';
import { channelsOf, isHeld, pointsOf, sampler, segmentsOf, unitOf } from '../print/tracks.js';
import { blocks, wantsBlocks, whileInactive } from './blocks.js';

/** A row of the view "curves": the values of a track over time, with its keys and the names of its easings. */
export function drawCurveRow(sheet: Sheet, index: number): string {
  const track = sheet.tracks[index]!;
  const row = sheet.rows[index]!;
  const name = drawRowName(sheet, row, track.name, unitOf(track));
  const numeric = track.kind === 'integer' || !wantsBlocks(track);
  return name + (numeric ? plot(sheet, track, row) : blocks(sheet, track, row)) + whileInactive(sheet, track, row);
}

function plot(sheet: Sheet, track: ResolvedTrack, row: Row): string {
  const { clip, theme, x, right } = sheet;
  const sample = sampler(clip, track);
  const segments = segmentsOf(track, clip.duration);
  const first = track.keys[0]!.at;
  const times = segments.flatMap((segment, i) =>
    pointsOf(segment, i === segments.length - 1, x(segment.to) - x(segment.from)),
  );
  if (first > 0) times.unshift(0, first * (1 - 1e-6));
  if (times.length === 0) times.push(0); // a clip without length: its one pose
  const values = times.map(sample);
  const all = [...values.flat(), ...track.keys.flatMap((key) => key.value)];
  const low = all.reduce((least, value) => Math.min(least, value));
  const high = all.reduce((most, value) => Math.max(most, value));
  const room = (high - low || Math.abs(high) || 1) * 0.06;
  const easingRoom = row.height > 70 && !isHeld(track) ? 16 : 5;
  const y = scaleLinear()
    .domain([low - room, high + room])
    .range([row.top + row.height - easingRoom, row.top + 5]);

  const grid = gridLines(sheet, row, y);
  const channels = channelsOf(track);
  const ends = endLabels(channels, (k) => y(values.at(-1)![k]!));
  const lines = channels.map((channel, k) => {
    const color = theme.lines[k % theme.lines.length]!;
    const path = line<number>(
      (_, i) => x(times[i]!),
      (_, i) => y(values[i]![k]!),
    )(times.map((_, i) => i))!;
    const keys = track.keys
      .filter((key) => key.at <= clip.duration)
      .map((key) =>
        element('circle', {
          cx: x(key.at),
          cy: y(key.value[k]!),
          r: 3.6,
          fill: theme.panel,
          stroke: color,
          'stroke-width': 2,
        }),
      );
    const label = channel && text(channel, { x: right + 9, y: ends[k]!, fill: color, 'font-weight': 'bold' });
    const dash = [undefined, '7 3', '2 3', undefined, '1 4'][k];
    return (
      element('path', { d: path, fill: 'none', stroke: color, 'stroke-width': 2, 'stroke-dasharray': dash }) +
      keys.join('') +
      label
    );
  });
  const easings =
    easingRoom < 16
      ? []
      : segments.map(({ from, to, index }) => {
          if (index === track.keys.length - 1) return '';
          const label = fitText(formatEasing(track.keys[index]!.easing), 10, x(to) - x(from) - 8);
          return text(label, {
            x: (x(from) + x(to)) / 2,
            y: row.top + row.height - 4,
            'text-anchor': 'middle',
            'font-size': 10,
            fill: theme.muted,
          });
        });
  return [grid, ...easings, ...lines].join('');
}

/** Lines across a row at round values, with labels on their left. */
export function gridLines({ theme, left, right }: Sheet, { height }: Row, y: ScaleLinear<number, number>): string {
  return y
    .ticks(Math.max(2, Math.floor(height / 30)))
    .map(
      (tick) =>
        element('line', { x1: left, x2: right, y1: y(tick), y2: y(tick), stroke: theme.grid }) +
        text(round(tick), { x: left - 8, y: y(tick) + 4, 'text-anchor': 'end', 'font-size': 10, fill: theme.muted }),
    )
    .join('');
}

/** The labels of the channels on the right: at the ends of their lines, and moved apart where those are close. */
export function endLabels(channels: readonly string[], y: (channel: number) => number): number[] {
  const order = channels.map((_, k) => k).sort((a, b) => y(a) - y(b));
  const places: number[] = [];
  let last = -Infinity;
  for (const k of order) places[k] = last = Math.max(y(k) + 4, last + 13);
  return places;
}
