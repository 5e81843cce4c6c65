import { scaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { Clip, ResolvedTrack } from 'unspool';
import { blocks, wantsBlocks } from './blocks.js';
import { endLabels, gridLines } from './curves.js';
import { drawRowName, drawSheet, type DrawOptions, type Row, type Sheet } from './sheet.js';
import { element, text } from './svg.js';
import { channelsOf, sampler, unitOf } from '../print/tracks.js';

/** Two states of one clip, and the tracks that are shown of them. */
export interface ComparedClips {
  readonly before: Clip;
  readonly after: Clip;
  readonly names: readonly string[];
}

/** Points of a line, a px apart at most. */
const STEP = 1;

/** The curves of two states of a clip over each other: before dashed and pale, after full, and what lies between filled. */
export function drawComparison({ before, after, names }: ComparedClips, options: DrawOptions): string {
  const trackOf = (clip: Clip, name: string) => clip.tracks.find((track) => track.name === name);
  const tracks = names.map((name) => (trackOf(after, name) ?? trackOf(before, name))!);
  const length = Math.max(before.duration, after.duration);
  const drawRow = (sheet: Sheet, index: number): string => {
    const row = sheet.rows[index]!;
    const track = tracks[index]!;
    const pair = [trackOf(before, track.name), trackOf(after, track.name)] as const;
    const name = drawRowName(sheet, row, track.name, unitOf(track));
    if (wantsBlocks(track)) return name + twoStrips(sheet, row, [before, after], pair);
    return name + twoCurves(sheet, row, [before, after], pair);
  };
  return drawSheet(after, options, 'before and after', 190, drawRow, { tracks, length, legend });
}

type Pair<T> = readonly [before: T, after: T];

function twoCurves(sheet: Sheet, row: Row, clips: Pair<Clip>, tracks: Pair<ResolvedTrack | undefined>): string {
  const { theme, x, right } = sheet;
  const lines = tracks.map((track, side) => track && curve(clips[side]!, track, x));
  const all = lines.flatMap((one) => (one ? one.values.flat() : []));
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const room = (high - low || Math.abs(high) || 1) * 0.08;
  const y = scaleLinear()
    .domain([low - room, high + room])
    .range([row.top + row.height - 5, row.top + 5]);
  const channels = channelsOf((tracks[1] ?? tracks[0])!);
  const last = (lines[1] ?? lines[0])!.values.at(-1)!;
  const ends = endLabels(channels, (k) => y(last[k]!));
  const drawn = channels.map((channel, k) => {
    const color = theme.lines[k % theme.lines.length]!;
    const [was, is] = lines;
    const between = was && is ? gap(was, is, k, x, y, color) : '';
    const path = (one: Line | undefined, attributes: object) =>
      one === undefined
        ? ''
        : element('path', {
            d: line<number>(
              (time) => x(time),
              (_, i) => y(one.values[i]![k]!),
            )(one.times)!,
            fill: 'none',
            stroke: color,
            ...attributes,
          });
    const keys = (side: 0 | 1) =>
      (tracks[side]?.keys ?? [])
        .filter((key) => key.at <= clips[side].duration && key.value[k] !== undefined)
        .map((key) => mark(x(key.at), y(key.value[k]!), side, color, theme.panel))
        .join('');
    const label = channel ? text(channel, { x: right + 9, y: ends[k]!, fill: color, 'font-weight': 'bold' }) : '';
    return (
      between +
      path(was, { 'stroke-width': 1.5, 'stroke-dasharray': '5 4', 'stroke-opacity': 0.75 }) +
      keys(0) +
      path(is, { 'stroke-width': 2.2 }) +
      keys(1) +
      label
    );
  });
  return gridLines(sheet, row, y) + drawn.join('');
}

interface Line {
  readonly times: number[];
  readonly values: number[][];
}

function curve(clip: Clip, track: ResolvedTrack, x: Sheet['x']): Line {
  const sample = sampler(clip, track);
  const wide = x(clip.duration) - x(0);
  const count = Math.max(1, Math.ceil(wide / STEP));
  // Just before a key too, so that a jump is a jump.
  const jumps = track.keys.flatMap(({ at }) => (at > 0 && at <= clip.duration ? [at - 1e-7, at] : []));
  const times = [...Array.from({ length: count + 1 }, (_, i) => (i * clip.duration) / count), ...jumps].sort(
    (a, b) => a - b,
  );
  return { times, values: times.map(sample) };
}

/** What lies between the two, where both are. */
function gap(was: Line, is: Line, k: number, x: Sheet['x'], y: (value: number) => number, color: string): string {
  const end = Math.min(was.times.at(-1)!, is.times.at(-1)!);
  const times = is.times.filter((time) => time <= end);
  const before = (time: number): number => {
    const i = was.times.findIndex((one) => one >= time);
    return was.values[i < 0 ? was.values.length - 1 : i]![k]!;
  };
  const shape = area<number>()
    .x((time) => x(time))
    .y0((time) => y(before(time)))
    .y1((_, i) => y(is.values[i]![k]!));
  return element('path', { d: shape(times)!, fill: color, 'fill-opacity': 0.13 });
}

/** A key: before a small diamond, after a ring. */
function mark(x: number, y: number, side: 0 | 1, color: string, fill: string): string {
  if (side === 1) return element('circle', { cx: x, cy: y, r: 3.6, fill, stroke: color, 'stroke-width': 2 });
  return element('rect', {
    x: x - 2.6,
    y: y - 2.6,
    width: 5.2,
    height: 5.2,
    fill: color,
    'fill-opacity': 0.75,
    transform: `rotate(45 ${x} ${y})`,
  });
}

/** What has no curve: a strip for each state, before above after. */
function twoStrips(sheet: Sheet, row: Row, clips: Pair<Clip>, tracks: Pair<ResolvedTrack | undefined>): string {
  return tracks
    .map((track, side) => {
      const half = { top: row.top + (side * row.height) / 2, height: row.height / 2 };
      const label = text(side === 0 ? 'before' : 'after', {
        x: sheet.left - 8,
        y: half.top + half.height / 2 + 4,
        'text-anchor': 'end',
        'font-size': 10,
        fill: sheet.theme.muted,
      });
      return label + (track ? blocks({ ...sheet, clip: clips[side]! }, track, half) : '');
    })
    .join('');
}

function legend({ theme, right }: Sheet): string {
  const at = right - 170;
  const [color, fill] = [theme.lines[0], theme.panel];
  const stroke = { y1: 34, y2: 34, stroke: color };
  return (
    element('line', {
      x1: at,
      x2: at + 34,
      ...stroke,
      'stroke-width': 1.5,
      'stroke-dasharray': '5 4',
      'stroke-opacity': 0.75,
    }) +
    mark(at + 17, 34, 0, color, fill) +
    text('before', { x: at + 42, y: 38, fill: theme.ink }) +
    element('line', { x1: at + 98, x2: at + 132, ...stroke, 'stroke-width': 2.2 }) +
    mark(at + 115, 34, 1, color, fill) +
    text('after', { x: at + 140, y: 38, fill: theme.ink })
  );
}
