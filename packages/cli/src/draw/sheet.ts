import { scaleLinear } from 'd3-scale';
import type { Clip, ResolvedCue, ResolvedTrack } from 'unspool';
import { frames, round } from '../print/values.js';
import { element, fitText, text, textWidth } from './svg.js';
import { THEMES, type Theme, type ThemeName } from './theme.js';

export interface DrawOptions {
  readonly width: number;
  readonly height: number;
  readonly theme: ThemeName;
}

/** A row of a picture: its position and its drawing area, in px. */
export interface Row {
  readonly top: number;
  readonly height: number;
}

/** The sheet that every view of a clip draws on: title, time axis in frames and seconds, cues, a row per track. */
export interface Sheet {
  readonly clip: Clip;
  readonly theme: Theme;
  readonly left: number;
  readonly right: number;
  /** Seconds to px. */
  readonly x: (seconds: number) => number;
  readonly rows: readonly Row[];
  readonly tracks: readonly ResolvedTrack[];
}

/** What a picture shows of a clip, where that is not all of it. */
export interface Shown {
  readonly tracks?: readonly ResolvedTrack[];
  /** Seconds that the time axis reaches. */
  readonly length?: number;
  /** Drawn in the corner at the right of the title. */
  readonly legend?: (sheet: Sheet) => string;
}

const TOP = 78;
const CUE_LANE = 40;
const AXIS = 58;
const GAP = 10;
const LEFT = 196;
const RIGHT = 66;
export const FONT = 'DejaVu Sans, Verdana, sans-serif';

/** The height at which each of `count` rows still has `least` px. */
export function neededHeight(count: number, least: number): number {
  return TOP + CUE_LANE + AXIS + 16 + Math.max(1, count) * (least + GAP);
}

/**
 * Draws a clip: the sheet, and in each row what `drawRow` returns.
 *
 * @param most the largest height of a row: a few tracks do not fill the whole picture
 */
export function drawSheet(
  clip: Clip,
  { width, height, theme: name }: DrawOptions,
  view: string,
  most: number,
  drawRow: (sheet: Sheet, index: number) => string,
  { tracks = clip.tracks, length = clip.duration, legend }: Shown = {},
): string {
  const theme = THEMES[name];
  const count = Math.max(1, tracks.length);
  const top = TOP + CUE_LANE;
  const rowHeight = Math.min(most, (height - top - AXIS - 16) / count - GAP);
  const rows = Array.from({ length: tracks.length }, (_, i) => ({
    top: top + i * (rowHeight + GAP),
    height: rowHeight,
  }));
  const bottom = top + count * (rowHeight + GAP) - GAP;
  const x = scaleLinear()
    .domain([0, length || 1 / clip.fps])
    .range([LEFT, width - RIGHT]);
  const sheet: Sheet = { clip, theme, left: LEFT, right: width - RIGHT, x, rows, tracks };
  const title = `${clip.name}, ${view}`;
  return element(
    'svg',
    {
      xmlns: 'http://www.w3.org/2000/svg',
      width,
      height,
      viewBox: `0 0 ${width} ${height}`,
      'font-family': FONT,
      'font-size': 12,
      role: 'img',
      'aria-label': title,
    },
    element('title', {}, text(title, {}).replace(/<\/?text>/g, '')),
    element('rect', { width, height, fill: theme.background }),
    drawTitle(sheet, view),
    legend?.(sheet) ?? '',
    ...rows.map((row) =>
      element('rect', {
        x: LEFT,
        y: row.top,
        width: x.range()[1]! - LEFT,
        height: row.height,
        fill: theme.panel,
        rx: 3,
      }),
    ),
    drawAxis(sheet, length, top, bottom),
    drawIntervals(sheet, top, bottom),
    ...rows.map((_, index) => drawRow(sheet, index)),
    drawCues(sheet, top, bottom),
  );
}

export function drawTitle({ clip, theme }: Pick<Sheet, 'clip' | 'theme'>, view: string): string {
  const { mode, count } = clip.repeat;
  const loop = mode === 'once' || count === Infinity ? mode : `${mode} ×${count}`;
  const length = `${frames(clip.duration, clip.fps)} at ${clip.fps} fps`;
  const facts = [view, length, `${round(clip.duration)} s`, loop, clip.after === 'rest' ? 'then returns to rest' : ''];
  return (
    text(clip.name, { x: 24, y: 38, 'font-size': 22, 'font-weight': 'bold', fill: theme.ink }) +
    text(facts.filter(Boolean).join('  ·  '), { x: 24, y: 60, fill: theme.muted })
  );
}

/** Frames between two marks, so that about `wanted` of them fit: 1, 2, 3, 5, 6, 10, 12, 15, 30, 60 … */
function frameStep(total: number, wanted: number): number {
  const steps = [1, 2, 3, 5, 6, 10, 12, 15, 20, 30, 60, 120, 300, 600, 1200, 3000, 6000];
  return steps.find((step) => total / step <= wanted) ?? Math.ceil(total / wanted / 6000) * 6000;
}

function drawAxis({ clip, theme, x, left, right }: Sheet, length: number, top: number, bottom: number): string {
  const total = (length || 1 / clip.fps) * clip.fps;
  const step = frameStep(total, (right - left) / 46);
  const parts: string[] = [];
  for (let frame = 0; frame <= total + 1e-6; frame += step) {
    const at = x(frame / clip.fps);
    parts.push(
      element('line', { x1: at, x2: at, y1: top, y2: bottom + 5, stroke: theme.grid }),
      text(String(frame), { x: at, y: bottom + 20, 'text-anchor': 'middle', fill: theme.ink }),
    );
    if ((frame / step) % 2 === 0) {
      const seconds = `${Number((frame / clip.fps).toFixed(3))}`;
      parts.push(text(seconds, { x: at, y: bottom + 38, 'text-anchor': 'middle', fill: theme.muted, 'font-size': 11 }));
    }
  }
  parts.push(
    text('frame', { x: left - 14, y: bottom + 20, 'text-anchor': 'end', fill: theme.ink }),
    text('seconds', { x: left - 14, y: bottom + 38, 'text-anchor': 'end', fill: theme.muted, 'font-size': 11 }),
  );
  return parts.join('');
}

function drawIntervals({ clip, theme, x }: Sheet, top: number, bottom: number): string {
  return clip.cues
    .filter((cue): cue is ResolvedCue & { until: number } => cue.until !== undefined)
    .map(({ at, until }) => {
      const end = Math.min(until, clip.duration);
      return element('rect', {
        x: x(at),
        y: top - 14,
        width: x(end) - x(at),
        height: bottom - top + 14,
        fill: theme.interval,
        opacity: 0.13,
      });
    })
    .join('');
}

/** Cues as lines through all rows, their names above; names that would run into each other take a second line. */
function drawCues({ clip, theme, x, right }: Sheet, top: number, bottom: number): string {
  const taken = [-Infinity, -Infinity];
  return [...clip.cues]
    .sort((a, b) => a.at - b.at)
    .map(({ name, at, until }) => {
      const label = until === undefined ? name : `${name} ${frames(at, clip.fps)}–${frames(until, clip.fps)}`;
      const wide = textWidth(label, 11);
      const start = Math.min(x(at) + 5, right + 56 - wide);
      const line = taken[0]! <= start ? 0 : taken[1]! <= start ? 1 : taken[0]! < taken[1]! ? 0 : 1;
      taken[line] = start + wide + 10;
      const y = top - 8 - 15 * line;
      return (
        element('line', {
          x1: x(at),
          x2: x(at),
          y1: y - 9,
          y2: bottom,
          stroke: theme.cue,
          'stroke-dasharray': until === undefined ? '5 4' : '2 4',
        }) + text(label, { x: start, y, 'font-size': 11, fill: theme.cue })
      );
    })
    .join('');
}

/** The name of a row on its left, with its role. */
export function drawRowName({ theme, left }: Sheet, { top, height }: Row, name: string, unit: string): string {
  const dot = name.indexOf('.');
  const middle = top + height / 2;
  const right = left - 52;
  const label = (content: string, y: number, size: number, fill: string, weight = 'normal') =>
    text(fitText(content, size, right - 20), { x: 24, y, 'font-size': size, fill, 'font-weight': weight });
  if (height < 44) return label(name, middle + 4, 12, theme.ink, 'bold');
  return (
    label(name.slice(0, dot), middle - 14, 12, theme.muted) +
    label(name.slice(dot + 1), middle + 3, 13, theme.ink, 'bold') +
    label(unit, middle + 19, 11, theme.muted)
  );
}
