import { checkOptions } from '../errors/check-options.js';
import type { SheetDocument } from '../reel/document/document.js';
import { sheetOrigin, sheetRect } from '../reel/document/sheet.js';
import type { Reel } from '../clip/reel.js';
import { UnspoolError } from '../errors/error.js';
import type { CastAdapter } from './cast.js';
import { byteOf, RADIANS, turnOfQuat } from './flat.js';
import { castOf, partsOf, type Part } from './parts.js';
import { plainCast } from './plain.js';
import { EVERYTHING, LastReveals, regionOf, type Region } from './region.js';
import type { Using } from './using.js';

export type { Part } from './parts.js';

/** The members of a `CanvasRenderingContext2D` that are used. */
export interface CanvasContext {
  globalAlpha: number;
  save(): void;
  restore(): void;
  translate(x: number, y: number): void;
  rotate(radians: number): void;
  scale(x: number, y: number): void;
  beginPath(): void;
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  closePath(): void;
  clip(): void;
  drawImage(image: never, x: number, y: number, width: number, height: number): void;
  drawImage(
    image: never,
    ...numbers: [x: number, y: number, w: number, h: number, toX: number, toY: number, toW: number, toH: number]
  ): void;
}

/** A picture, with its size in pixels: an image, a canvas, a bitmap. */
export interface CanvasPicture {
  readonly width: number;
  readonly height: number;
}

/** A role as it is drawn on a canvas. */
export interface CanvasPart extends Part {
  readonly parent: CanvasPart | undefined;
  /** What its reveals show of it; `undefined` for everything. */
  region: Region | undefined;
}

/** Options of `canvasScene`. */
export interface CanvasSceneOptions<R extends string = string> {
  /** What each role shows: a picture, or a function that draws in the coordinates of the role. */
  readonly pictures?: {
    readonly [K in R]?: CanvasPicture | ((context: CanvasContext, part: CanvasPart) => void);
  };
  /**
   * The point of a picture that is the origin of its role, as shares of it, where its sheet does not say. Default:
   * `[0.5, 0.5]`, the center.
   */
  readonly anchor?: readonly [x: number, y: number];
  /** Creates a canvas for tinted pictures. Default: `OffscreenCanvas`, where there is one. */
  readonly canvas?: (width: number, height: number) => TintCanvas;
}

/** A canvas that pictures are tinted on. */
export interface TintCanvas extends CanvasPicture {
  /** Its context, of which more is used than of others. */
  getContext(type: '2d'): unknown;
}

/** What pictures are tinted with. */
interface TintContext {
  globalCompositeOperation: string;
  fillStyle: unknown;
  clearRect(x: number, y: number, width: number, height: number): void;
  fillRect(x: number, y: number, width: number, height: number): void;
  drawImage: CanvasContext['drawImage'];
}

/** Roles that are drawn on a canvas. See `canvasScene`. */
export interface CanvasScene<R extends string = string> {
  /** The cast for the player. */
  readonly cast: { readonly [K in R]: Using };
  /** The roles as plain objects. */
  readonly parts: { readonly [K in R]: CanvasPart };
  /** Draws all roles in the coordinates of the context; call it after `tick`. What is behind comes first. */
  draw(context: CanvasContext): void;
}

/** Writes a part as a plain object, and works out what is shown of it. */
function canvasCast(): CastAdapter<CanvasPart> {
  const last = new WeakMap<CanvasPart, LastReveals>();
  return {
    ...plainCast,
    write(part, values, binding) {
      plainCast.write(part, values, { ...binding, reveals: [] });
      const { reveals } = binding;
      if (reveals.length === 0) return;
      let memory = last.get(part);
      if (!memory) last.set(part, (memory = new LastReveals()));
      if (memory.isNew(values, reveals)) part.region = regionOf(values, reveals);
    },
  };
}

/**
 * Returns a cast whose roles are drawn on a canvas: pictures and cells of sheets, with tint, opacity, reveals and
 * order. A role without a picture only carries others. Opacity, visibility and reveals of a parent count for its
 * children too.
 *
 * @example
 * const scene = canvasScene(reel, { pictures: { crab: crabImage, bubble: drawBubble } });
 * const crab = new Player(reel, { cast: scene.cast });
 * crab.tick(dt);
 * context.clearRect(0, 0, canvas.width, canvas.height);
 * scene.draw(context);
 */
export function canvasScene<R extends string>(
  reel: Reel & { readonly roles: readonly R[] },
  options: CanvasSceneOptions<R> = {},
): CanvasScene<R> {
  checkOptions(options, ['pictures', 'anchor', 'canvas'], 'canvasScene');
  const { pictures = {}, anchor = [0.5, 0.5], canvas = offscreen } = options;
  const parts = partsOf(reel, (part) => ({ ...part, region: undefined }) as CanvasPart);
  const list = [...parts.values()];
  let tint: TintCanvas | undefined;
  const show = (context: CanvasContext, part: CanvasPart) => {
    const picture = (pictures as Readonly<Record<string, CanvasPicture | undefined>>)[part.role];
    if (typeof picture === 'function') (picture as (context: CanvasContext, part: CanvasPart) => void)(context, part);
    if (!picture || typeof picture === 'function') return;
    const sheet = sheetOf(reel, part.role);
    const cell = sheet ? sheetRect(sheet, part.frame) : ([0, 0, picture.width, picture.height] as const);
    const [, , width, height] = cell;
    const [w, h] = part.size ? [part.size.x, part.size.y] : [width, height];
    const own = sheet && sheetOrigin(sheet, part.frame);
    const [ox, oy] = own ? [(own[0] / width) * w, (own[1] / height) * h] : [anchor[0] * w, anchor[1] * h];
    if (part.tint[0] === 1 && part.tint[1] === 1 && part.tint[2] === 1) {
      context.drawImage(picture as never, ...cell, -ox, -oy, w, h);
      return;
    }
    if (!tint || tint.width < width || tint.height < height)
      tint = canvas(Math.max(width, tint?.width ?? 0), Math.max(height, tint?.height ?? 0));
    dye(tint.getContext('2d') as TintContext, picture, cell, part.tint);
    context.drawImage(tint as never, 0, 0, width, height, -ox, -oy, w, h);
  };
  return {
    cast: castOf(reel, parts, canvasCast()),
    parts: Object.fromEntries(parts) as { readonly [K in R]: CanvasPart },
    draw(context) {
      // As they are in the reel, where they have the same order: sorting keeps it.
      list.sort((a, b) => a.order - b.order);
      for (const part of list) {
        if (!isVisible(part)) continue;
        context.save();
        enter(context, part);
        show(context, part);
        context.restore();
      }
    },
  };
}

function sheetOf(reel: Reel, role: string): SheetDocument | undefined {
  return Object.hasOwn(reel.facts.sheets, role) ? reel.facts.sheets[role] : undefined;
}

const isVisible = (part: Part): boolean => part.visible && (!part.parent || isVisible(part.parent));

/** The coordinates of a role, with what its parents do to them. */
function enter(context: CanvasContext, part: CanvasPart): void {
  if (part.parent) enter(context, part.parent);
  const { position, rotation, scale, pivot, opacity, tint, region } = part;
  context.translate(position.x, position.y);
  context.rotate(angleOf(rotation) * RADIANS);
  context.scale(scale.x, scale.y);
  context.translate(-pivot.x, -pivot.y);
  context.globalAlpha *= opacity * tint[3]!;
  if (!region) return;
  const clip = (pieces: readonly (readonly (readonly [number, number])[])[]) => {
    context.beginPath();
    for (const piece of pieces) {
      piece.forEach(([x, y], i) => (i === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
      context.closePath();
    }
    context.clip();
  };
  if (region.shown) clip(region.shown);
  // Around a hole the other way: inside of it there is nothing.
  for (const hole of region.hidden) clip([EVERYTHING, [...hole].reverse()]);
}

function angleOf(rotation: Part['rotation']): number {
  if (typeof rotation === 'number') return rotation;
  const { x, y, z = 0, w = 1 } = rotation;
  return turnOfQuat(x, y, z, w);
}

/** Draws a cell with its colors multiplied, and as transparent as it is. */
function dye(
  context: TintContext,
  picture: CanvasPicture,
  cell: readonly [x: number, y: number, width: number, height: number],
  tint: readonly number[],
): void {
  const [, , width, height] = cell;
  const draw = () => context.drawImage(picture as never, ...cell, 0, 0, width, height);
  context.clearRect(0, 0, width, height);
  context.globalCompositeOperation = 'source-over';
  draw();
  context.globalCompositeOperation = 'multiply';
  context.fillStyle = `rgb(${tint.slice(0, 3).map(byteOf).join(' ')})`;
  context.fillRect(0, 0, width, height);
  context.globalCompositeOperation = 'destination-in';
  draw();
  context.globalCompositeOperation = 'source-over';
}

function offscreen(width: number, height: number): TintCanvas {
  const { OffscreenCanvas } = globalThis as { readonly OffscreenCanvas?: new (w: number, h: number) => TintCanvas };
  if (!OffscreenCanvas)
    throw new UnspoolError(
      'cast/canvas',
      'a tinted picture needs OffscreenCanvas, which this page lacks',
      'pass canvasScene(reel, { canvas: createCanvas })',
    );
  return new OffscreenCanvas(width, height);
}
