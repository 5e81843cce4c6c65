import type { Vec } from '../shape/rounded.js';
import { outlineOf, type HitShape } from '../shape/shapes.js';

/** A shape to draw, with its tag. */
export interface ShownShape {
  readonly name: string;
  readonly tag: string | undefined;
  readonly shape: HitShape;
}

/**
 * The line style of a tag. Lines differ, and each shape is labeled with its tag, so that color is never the only
 * difference.
 */
export interface OverlayStyle {
  /** `#rrggbb` */
  readonly color: string;
  /** Lengths of dashes and gaps in screen units; empty for a solid line. */
  readonly dash: readonly number[];
}

const OTHER: OverlayStyle = { color: '#cdb4ff', dash: [9, 3, 2, 3] };

/** The default styles, by tag. */
export const OVERLAY_STYLES: Readonly<Record<string, OverlayStyle>> = {
  hits: { color: '#ffc457', dash: [] },
  hurt: { color: '#63d2e8', dash: [7, 4] },
  push: { color: '#a6e08e', dash: [2, 3] },
  reveal: { color: '#f2f2ee', dash: [12, 4] },
  hide: { color: '#f28fb1', dash: [4, 4, 12, 4] },
};

/** The members of a canvas 2D context that are used. */
export interface OverlayContext {
  lineWidth: number;
  strokeStyle: unknown;
  fillStyle: unknown;
  font: string;
  save(): void;
  restore(): void;
  beginPath(): void;
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  stroke(): void;
  fillText(text: string, x: number, y: number): void;
}

/** Options of the overlays. */
export interface OverlayOptions {
  /** Styles by tag, over the defaults. */
  readonly styles?: Readonly<Record<string, OverlayStyle>>;
  /** Line width. Default: 2. */
  readonly width?: number;
}

/** Draws shapes and their tags onto a canvas, in its current coordinates. */
export function canvasOverlay(
  context: OverlayContext,
  shapes: readonly ShownShape[],
  options: OverlayOptions = {},
): void {
  const { width = 2 } = options;
  context.save();
  context.font = '11px sans-serif';
  for (const { shape, tag = 'no tag' } of shapes) {
    const { color, dash } = styleOf(tag, options);
    // A dark line under it, so that it is seen on any ground.
    for (const [lineWidth, strokeStyle] of [
      [width + 2, '#101418'],
      [width, color],
    ] as const) {
      Object.assign(context, { lineWidth, strokeStyle });
      context.beginPath();
      strokeInto(context, shape, dash);
      context.stroke();
    }
    const [x, y] = labelPlace(shape);
    context.fillStyle = color;
    context.fillText(tag, x, y);
  }
  context.restore();
}

/** The members of a PixiJS `Graphics` that are used. */
export interface OverlayGraphics {
  clear(): unknown;
  moveTo(x: number, y: number): unknown;
  lineTo(x: number, y: number): unknown;
  stroke(style: { width: number; color: string }): unknown;
}

/** The members of a PixiJS `Text` that are used. */
export interface OverlayText {
  text: string;
  visible: boolean;
  readonly position: { set(x: number, y: number): unknown };
  readonly style: { fill: unknown };
}

/**
 * Draws shapes and their tags into a PixiJS `Graphics` above the game; each call redraws it.
 *
 * @param label creates a text above the game, which is kept and reused
 */
export function pixiOverlay(
  graphics: OverlayGraphics,
  label: () => OverlayText,
  options: OverlayOptions = {},
): (shapes: readonly ShownShape[]) => void {
  const { width = 2 } = options;
  const texts: OverlayText[] = [];
  return (shapes) => {
    graphics.clear();
    shapes.forEach(({ shape, tag = 'no tag' }, i) => {
      const { color, dash } = styleOf(tag, options);
      for (const style of [
        { width: width + 2, color: '#101418' },
        { width, color },
      ]) {
        strokeInto(graphics, shape, dash);
        graphics.stroke(style);
      }
      const text = (texts[i] ??= label());
      text.text = tag;
      text.visible = true;
      text.style.fill = color;
      text.position.set(...labelPlace(shape));
    });
    for (const text of texts.slice(shapes.length)) text.visible = false;
  };
}

function styleOf(tag: string, { styles = {} }: OverlayOptions): OverlayStyle {
  return styles[tag] ?? OVERLAY_STYLES[tag] ?? OTHER;
}

interface Pen {
  moveTo(x: number, y: number): unknown;
  lineTo(x: number, y: number): unknown;
}

/** The outline of a shape, in lines and gaps: not every canvas has dashes. */
function strokeInto(pen: Pen, shape: HitShape, dash: readonly number[]): void {
  const edge = outlineOf(shape);
  const points = [...edge, edge[0]!];
  let [isLine, left, index] = [true, dash[0] ?? Infinity, 0];
  points.forEach(([x, y], i) => {
    if (i === 0) {
      pen.moveTo(x, y);
      return;
    }
    const [fromX, fromY] = points[i - 1]!;
    const length = Math.hypot(x - fromX, y - fromY);
    for (let gone = 0; gone < length;) {
      const step = Math.min(left, length - gone);
      gone += step;
      left -= step;
      const share = gone / length;
      const [atX, atY] = [fromX + (x - fromX) * share, fromY + (y - fromY) * share];
      if (isLine) pen.lineTo(atX, atY);
      else pen.moveTo(atX, atY);
      if (left > 0) continue;
      isLine = !isLine;
      index = (index + 1) % dash.length;
      left = dash[index]!;
    }
  });
}

/** Just above the highest point of it. */
function labelPlace(shape: HitShape): Vec {
  const [x, y] = outlineOf(shape).reduce((best, point) => (point[1] < best[1] ? point : best));
  return [x - 10, y - 14];
}
