import { scaleLinear } from 'd3-scale';
import type { Clip } from 'unspool';
import { boundsOf, outlineOf, roundedOf, shapeOf, type HitShape } from 'unspool/hit';
import { frames, round } from '../print/values.js';
import { element, fitText, text } from './svg.js';
import { drawTitle, FONT, type DrawOptions } from './sheet.js';
import { styleOf, THEMES, type Theme } from './theme.js';

/** The area swept between two frames is drawn as this many overlapping poses. */
const BETWEEN = 32;
/** More frames than this are thinned out: outlines that touch say nothing. */
const MAX_OUTLINES = 24;
const SIDE = 250;
const STRIP = 26;

/**
 * The view "shapes": every shape of a clip at its place in the world, an outline per frame, the first palest; below
 * them the area that each sweeps. Tags differ in color, line and name.
 */
export function drawShapes(clip: Clip, { width, height, theme: name }: DrawOptions): string {
  const theme = THEMES[name];
  const names = [...new Set(clip.activations.map(({ shape }) => shape))];
  const bottom = height - 64 - STRIP * Math.max(1, names.length);
  const plot = { left: 64, top: 84, right: width - SIDE, bottom: bottom - 30 };
  const total = Math.round(clip.duration * clip.fps * BETWEEN);
  const posesOf = names.map((one) => {
    const moving = shapeOf(clip, one);
    return Array.from({ length: total + 1 }, (_, i): Pose[] => {
      const shape = moving.shape(Math.min(clip.duration, i / (clip.fps * BETWEEN)));
      return shape ? [{ frame: i / BETWEEN, shape }] : [];
    }).flat();
  });
  const boxes = posesOf.flat().map(({ shape }) => boxOf(shape));
  const area = fit(boxes, plot);
  const tagOf = (shape: string) => clip.shapes[shape]?.tag ?? 'no tag';
  return element(
    'svg',
    {
      ...{ xmlns: 'http://www.w3.org/2000/svg', width, height, viewBox: `0 0 ${width} ${height}` },
      ...{ 'font-family': FONT, 'font-size': 12, role: 'img', 'aria-label': `${clip.name}, shapes` },
    },
    element('title', {}, text(`${clip.name}, shapes`, {}).replace(/<\/?text>/g, '')),
    element('rect', { width, height, fill: theme.background }),
    drawTitle({ clip, theme }, 'shapes'),
    drawGrid(area, plot, theme),
    ...names.map((shape, i) => drawOne(posesOf[i]!, area, styleOf(theme, tagOf(shape)))),
    names.length === 0 ? nothing(clip, plot, theme) : drawLegend(clip, names, width - SIDE + 28, theme),
    drawStrip(clip, names, { left: 196, right: width - 66, top: bottom }, theme),
  );
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

interface Area {
  readonly x: (units: number) => number;
  readonly y: (units: number) => number;
  readonly scale: number;
  readonly ticks: (side: 'x' | 'y') => readonly number[];
}

function boxOf(shape: HitShape): Box {
  const { low, high } = boundsOf(shape);
  return { left: low[0], top: low[1], right: high[0], bottom: high[1] };
}

/** One scale for both axes, y downwards, with the origin in sight and some room around. */
function fit(boxes: readonly Box[], plot: Box): Area {
  const low = (side: 'left' | 'top') => boxes.reduce((least, box) => Math.min(least, box[side]), 0);
  const high = (side: 'right' | 'bottom') => boxes.reduce((most, box) => Math.max(most, box[side]), 0);
  const [x0, x1, y0, y1] = [low('left'), high('right') || 1, low('top'), high('bottom') || 1];
  const [wide, tall] = [plot.right - plot.left, plot.bottom - plot.top];
  const scale = 0.86 * Math.min(wide / (x1 - x0), tall / (y1 - y0));
  const [midX, midY] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const x = scaleLinear()
    .domain([midX - wide / 2 / scale, midX + wide / 2 / scale])
    .range([plot.left, plot.right]);
  const y = scaleLinear()
    .domain([midY - tall / 2 / scale, midY + tall / 2 / scale])
    .range([plot.top, plot.bottom]);
  return { x, y, scale, ticks: (side) => (side === 'x' ? x.ticks(wide / 80) : y.ticks(tall / 60)) };
}

function drawGrid({ x, y, ticks }: Area, plot: Box, theme: Theme): string {
  const { left, top, right, bottom } = plot;
  const line = (from: readonly [number, number], to: readonly [number, number], bold: boolean) =>
    element('line', {
      ...{ x1: from[0], y1: from[1], x2: to[0], y2: to[1] },
      ...{ stroke: bold ? theme.muted : theme.grid, 'stroke-width': bold ? 1.4 : 1 },
    });
  const label = { 'font-size': 10, fill: theme.muted };
  return [
    element('rect', { x: left, y: top, width: right - left, height: bottom - top, fill: theme.panel, rx: 3 }),
    ...ticks('x').map(
      (n) =>
        line([x(n), top], [x(n), bottom], n === 0) +
        text(round(n), { x: x(n), y: bottom + 16, 'text-anchor': 'middle', ...label }),
    ),
    ...ticks('y').map(
      (n) =>
        line([left, y(n)], [right, y(n)], n === 0) +
        text(round(n), { x: left - 8, y: y(n) + 4, 'text-anchor': 'end', ...label }),
    ),
  ].join('');
}

interface Pose {
  readonly frame: number;
  readonly shape: HitShape;
}

function drawOne(own: readonly Pose[], area: Area, style: ReturnType<typeof styleOf>): string {
  const whole = own.filter(({ frame }) => Number.isInteger(frame));
  const shown = whole.filter((_, i) => i % Math.ceil(whole.length / MAX_OUTLINES) === 0 || i === whole.length - 1);
  const swept = own.map(({ shape }) => outline(shape, area, { fill: style.color }));
  const skins = shown.map(({ frame, shape }, i) => {
    const age = shown.length === 1 ? 1 : i / (shown.length - 1);
    const { left, right, top, bottom } = boxOf(shape);
    const line = { fill: 'none', stroke: style.color, 'stroke-width': 1.6, 'stroke-dasharray': style.dash };
    const at = { x: area.x((left + right) / 2), y: area.y((top + bottom) / 2) + 4 };
    const label = text(round(frame), { ...at, 'text-anchor': 'middle', 'font-size': 10, fill: style.color });
    return element('g', { opacity: 0.3 + 0.7 * age }, outline(shape, area, line), label);
  });
  return element('g', { opacity: 0.16 }, ...swept) + skins.join('');
}

/** The edge of a shape: of a core that is a point a circle, of a line a capsule, else points. */
function outline(shape: HitShape, { x, y, scale }: Area, look: Readonly<Record<string, string | number | undefined>>) {
  const { corners, radius } = roundedOf(shape);
  const [[ax, ay], [bx, by]] = [corners[0]!, corners[1] ?? corners[0]!];
  const r = radius * scale;
  if (corners.length === 1) return element('circle', { cx: x(ax), cy: y(ay), r, ...look });
  if (corners.length > 2) {
    const points = outlineOf(shape).map(([u, v]) => `${x(u).toFixed(2)},${y(v).toFixed(2)}`);
    return element('polygon', { points: points.join(' '), ...look });
  }
  const far = Math.hypot(bx - ax, by - ay) || 1;
  const [nx, ny] = [(-(by - ay) / far) * radius, ((bx - ax) / far) * radius];
  const at = (u: number, v: number) => `${x(u).toFixed(2)} ${y(v).toFixed(2)}`;
  const turn = `A${r.toFixed(2)} ${r.toFixed(2)} 0 0 0`;
  const d = `M${at(ax + nx, ay + ny)}L${at(bx + nx, by + ny)}${turn} ${at(bx - nx, by - ny)}L${at(ax - nx, ay - ny)}${turn} ${at(ax + nx, ay + ny)}Z`;
  return element('path', { d, ...look });
}

function nothing({ name }: Clip, { left, top, right, bottom }: Box, theme: Theme): string {
  const at = { x: (left + right) / 2, y: (top + bottom) / 2, 'text-anchor': 'middle', fill: theme.muted };
  return text(`${name} keys no shape`, { ...at, 'font-size': 14 });
}

function drawLegend({ shapes, layout }: Clip, names: readonly string[], left: number, theme: Theme): string {
  const rows = names.flatMap((name, i) => {
    const { tag = 'no tag', data } = shapes[name]!;
    const { color, dash } = styleOf(theme, tag);
    const y = 100 + i * 62;
    const line = {
      x1: left,
      x2: left + 34,
      y1: y - 4,
      y2: y - 4,
      stroke: color,
      'stroke-width': 3,
      'stroke-dasharray': dash,
    };
    const kind = layout.slot(name).kind;
    return [
      element('line', line),
      text(tag, { x: left + 44, y, 'font-weight': 'bold', fill: color }),
      text(fitText(`${name}, a ${kind}`, 12, SIDE - 40), { x: left, y: y + 18, fill: theme.ink }),
      data === undefined
        ? ''
        : text(fitText(JSON.stringify(data), 11, SIDE - 40), {
            x: left,
            y: y + 34,
            'font-size': 11,
            fill: theme.muted,
          }),
    ];
  });
  const note = 100 + names.length * 62 + 10;
  const notes = ['outlines: one per frame, numbered', 'pale: the area swept in between'];
  return [
    ...rows,
    ...notes.map((one, i) => text(one, { x: left, y: note + i * 16, 'font-size': 11, fill: theme.muted })),
  ].join('');
}

/** When each shape is active, over the frames of the clip. */
function drawStrip(
  clip: Clip,
  names: readonly string[],
  { left, right, top }: { readonly left: number; readonly right: number; readonly top: number },
  theme: Theme,
): string {
  const x = scaleLinear()
    .domain([0, clip.duration || 1 / clip.fps])
    .range([left, right]);
  const bars = names.flatMap((name, row) => {
    const y = top + row * STRIP;
    const { color, dash } = styleOf(theme, clip.shapes[name]?.tag ?? 'no tag');
    const own = clip.activations.filter(({ shape }) => shape === name);
    return [
      text(fitText(name, 12, left - 40), { x: 24, y: y + 14, fill: theme.ink, 'font-weight': 'bold' }),
      element('rect', { x: left, y, width: right - left, height: STRIP - 8, fill: theme.panel, rx: 3 }),
      ...own.flatMap(({ at, until, data }) => {
        const wide = Math.max(2, x(until) - x(at));
        const bar = { x: x(at), y, width: wide, height: STRIP - 8, fill: color, 'fill-opacity': 0.25, stroke: color };
        const label = `${frames(at, clip.fps)}–${frames(until, clip.fps)}${data === undefined ? '' : ` ${JSON.stringify(data)}`}`;
        const caption = fitText(label, 10, wide - 8);
        return [
          element('rect', { ...bar, 'stroke-dasharray': dash, rx: 2 }),
          text(caption, { x: x(at) + 5, y: y + 13, 'font-size': 10, fill: theme.ink }),
        ];
      }),
    ];
  });
  const foot = top + Math.max(1, names.length) * STRIP + 14;
  const total = (clip.duration || 1 / clip.fps) * clip.fps;
  const step = Math.max(1, Math.ceil(total / 24));
  const marks = Array.from({ length: Math.floor(total / step) + 1 }, (_, i) =>
    text(String(i * step), {
      x: x((i * step) / clip.fps),
      y: foot,
      'text-anchor': 'middle',
      'font-size': 11,
      fill: theme.muted,
    }),
  );
  return [
    ...bars,
    ...marks,
    text('frame', { x: left - 14, y: foot, 'text-anchor': 'end', fill: theme.muted, 'font-size': 11 }),
  ].join('');
}
