import { sheetOrigin, sheetRect, type Player, type Reel, type ReelDocument } from 'unspool';
import type { Pictures } from '../link/pictures.js';
import type { Values } from '../model/pose.js';
import { get } from '../model/store.js';
import { rolesOf } from '../model/rows.js';
import { imageOf, pictureOf } from './picture.js';
import { worldOf } from './puppet.js';

/** Small pictures of poses on plain canvases, for lists of clips: without tints, and as soon as their pictures have come. */
export class Painter {
  readonly #bitmaps = new Map<string, ImageBitmap | undefined>();

  constructor(private readonly pictures: Pictures) {}

  /** Draws a pose so that `box` of the world fills the canvas. */
  paint(pen: CanvasRenderingContext2D, doc: ReelDocument, reel: Reel, values: Values, box: Box): void {
    const { width, height } = pen.canvas;
    const zoom = Math.min(width / box.width, height / box.height);
    pen.setTransform(1, 0, 0, 1, 0, 0);
    pen.clearRect(0, 0, width, height);
    for (const role of inOrder(rolesOf(doc, reel), values)) {
      if (!isVisible(doc, role, values)) continue;
      const picture = this.#picture(doc, role, values);
      if (!picture) continue;
      const { a, b, c, d, tx, ty } = worldOf(doc, role, values);
      pen.setTransform(zoom, 0, 0, zoom, width / 2 - box.x * zoom, height / 2 - box.y * zoom);
      pen.transform(a, b, c, d, tx, ty);
      pen.imageSmoothingEnabled = !get().display.pixelArt;
      pen.globalAlpha = opacityOf(doc, role, values);
      const [x, y, w, h] = picture.from;
      pen.drawImage(picture.bitmap, x, y, w, h, ...picture.to);
    }
    pen.globalAlpha = 1;
  }

  /** What the cast takes up at a pose: its middle and its size. */
  boxOf(doc: ReelDocument, reel: Reel, values: Values): Box {
    const xs: number[] = [];
    const ys: number[] = [];
    for (const role of rolesOf(doc, reel)) {
      const picture = this.#picture(doc, role, values);
      if (!picture) continue;
      const [x, y, w, h] = picture.to;
      for (const corner of [
        [x, y],
        [x + w, y],
        [x, y + h],
        [x + w, y + h],
      ] as const) {
        const to = worldOf(doc, role, values).apply({ x: corner[0], y: corner[1] });
        xs.push(to.x);
        ys.push(to.y);
      }
    }
    if (xs.length === 0) return { x: 0, y: 0, width: 120, height: 120 };
    const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    return {
      x: (left + right) / 2,
      y: (top + bottom) / 2,
      width: (right - left) * 1.25 || 1,
      height: (bottom - top) * 1.25 || 1,
    };
  }

  #picture(doc: ReelDocument, role: string, values: Values) {
    const image = imageOf(doc, role, (name) => this.pictures.has(name));
    const bitmap = image === undefined ? undefined : this.#bitmap(image);
    if (!bitmap) return undefined;
    const document = doc.roles?.[role];
    const sheet = document?.sheet === undefined ? undefined : doc.sheets?.[document.sheet];
    const frame = values[`${role}.frame`];
    const cell = typeof frame === 'number' ? frame : 0;
    const from = sheet ? sheetRect(sheet, cell) : ([0, 0, bitmap.width, bitmap.height] as const);
    const { anchor = [0.5, 0.5], scale = 1, at = [0, 0] } = pictureOf(document);
    const origin = (sheet && sheetOrigin(sheet, cell)) ?? [anchor[0] * from[2], anchor[1] * from[3]];
    const to = [at[0] - origin[0] * scale, at[1] - origin[1] * scale, from[2] * scale, from[3] * scale] as const;
    return { bitmap, from, to };
  }

  #bitmap(image: string): ImageBitmap | undefined {
    if (!this.#bitmaps.has(image)) {
      this.#bitmaps.set(image, undefined);
      void this.pictures.load(image).then((bitmap) => this.#bitmaps.set(image, bitmap));
    }
    return this.#bitmaps.get(image);
  }
}

/** The part of the world that is painted: its middle and its size. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Roles as they are drawn: the first lies under all others. */
export function inOrder(roles: readonly string[], values: Values): readonly string[] {
  const orderOf = (role: string) => (values[`${role}.order`] as number | undefined) ?? 0;
  return roles.toSorted((a, b) => orderOf(a) - orderOf(b));
}

function opacityOf(doc: ReelDocument, role: string, values: Values): number {
  const own = (values[`${role}.opacity`] as number | undefined) ?? 1;
  const parent = doc.roles?.[role]?.parent;
  return Math.min(1, Math.max(0, own)) * (parent === undefined ? 1 : opacityOf(doc, parent, values));
}

function isVisible(doc: ReelDocument, role: string, values: Values): boolean {
  const parent = doc.roles?.[role]?.parent;
  return values[`${role}.visible`] !== false && (parent === undefined || isVisible(doc, parent, values));
}

const painters = new WeakMap<Pictures, Painter>();

export function painterOf(pictures: Pictures): Painter {
  let painter = painters.get(pictures);
  if (!painter) painters.set(pictures, (painter = new Painter(pictures)));
  return painter;
}

/** Draws what a player shows, with some room around the cast at rest. */
export function paintPlayer(
  pen: CanvasRenderingContext2D,
  doc: ReelDocument,
  reel: Reel,
  { pose }: Player,
  rest: Values,
): void {
  const { pictures } = get();
  if (!pictures) return;
  const painter = painterOf(pictures);
  const box = painter.boxOf(doc, reel, rest);
  const values: Record<string, unknown> = { ...rest };
  for (const { name } of pose.layout.slots) values[name] = pose.get(name);
  painter.paint(pen, doc, reel, values as Values, { ...box, width: box.width * 1.5, height: box.height * 1.5 });
}
