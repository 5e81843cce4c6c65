import { Container, Graphics, Matrix, Rectangle, Sprite, Texture } from 'pixi.js';
import { piecesAlone, sheetCells, sheetOrigin, sheetRect, type ReelDocument } from 'unspool';
import { revealed } from 'unspool/hit';
import type { Pictures } from '../link/pictures.js';
import type { Values } from '../model/pose.js';
import { imageOf, pictureOf } from './picture.js';

interface Limb {
  readonly role: string;
  readonly container: Container;
  readonly sprite: Sprite;
  /** The cells of its sheet, when it has one and its picture has come. */
  cells: readonly Texture[];
  /** Shows what reveals show of it. */
  mask?: Graphics;
  /** The origins of its cells, 0 to 1 of their size; the anchor of the picture where a cell has none. */
  anchors: readonly (readonly [number, number])[];
}

const RADIANS = Math.PI / 180;

/** The cast of a reel as display objects, one in the other as its roles are: shows a pose. */
export class Puppet {
  readonly container = new Container();
  readonly #limbs: Limb[] = [];
  /** Roles without a picture, which have their names beside them. */
  readonly bare: string[] = [];

  /** @param onPicture called when one has come and something is to be drawn */
  constructor(
    readonly doc: ReelDocument,
    roles: readonly string[],
    pictures: Pictures,
    onPicture: () => void,
  ) {
    for (const role of roles) {
      const limb: Limb = {
        role,
        container: new Container(),
        sprite: new Sprite(Texture.EMPTY),
        cells: [],
        anchors: [],
      };
      this.#limbs.push(limb);
      this.#dress(limb, pictures, onPicture);
    }
    for (const { role, container } of this.#limbs) {
      const parent = this.#parentOf(role);
      parent.addChild(container);
      // By `order`, and as they are listed where that is the same.
      parent.sortableChildren = true;
    }
  }

  #parentOf(role: string): Container {
    const parent = this.doc.roles?.[role]?.parent;
    return this.#limbs.find((limb) => limb.role === parent)?.container ?? this.container;
  }

  #dress(limb: Limb, pictures: Pictures, onPicture: () => void): void {
    const role = this.doc.roles?.[limb.role];
    const { anchor = [0.5, 0.5], scale = 1, at = [0, 0] } = pictureOf(role);
    const { sprite, container } = limb;
    sprite.anchor.set(anchor[0], anchor[1]);
    sprite.scale.set(scale);
    sprite.position.set(at[0], at[1]);
    container.addChild(sprite);
    const image = imageOf(this.doc, limb.role, (name) => pictures.has(name));
    if (image === undefined) {
      // A role without a picture: a plain shape of its own color, to drag it. Pale for roles that carry others.
      const carries = Object.values(this.doc.roles ?? {}).some(({ parent }) => parent === limb.role);
      const shape = placeholder(COLORS[this.#limbs.indexOf(limb) % COLORS.length]!);
      shape.alpha = carries ? 0.3 : 0.75;
      container.addChild(shape);
      if (!carries) this.bare.push(limb.role);
      return;
    }
    const sheet = role?.sheet === undefined ? undefined : this.doc.sheets?.[role.sheet];
    void pictures.load(image).then((bitmap) => {
      if (!bitmap || container.destroyed) return;
      const whole = textureOf(bitmap);
      if (sheet) {
        limb.cells = Array.from({ length: sheetCells(sheet) }, (_, i) => {
          const [x, y, width, height] = sheetRect(sheet, i);
          return new Texture({ source: whole.source, frame: new Rectangle(x, y, width, height) });
        });
      }
      limb.anchors = limb.cells.map(({ frame }, i) => {
        const [x, y] = sheetOrigin(sheet!, i) ?? [anchor[0] * frame.width, anchor[1] * frame.height];
        return [x / frame.width, y / frame.height];
      });
      sprite.texture = limb.cells[0] ?? whole;
      if (limb.anchors[0]) sprite.anchor.set(...limb.anchors[0]);
      onPicture();
    });
  }

  /** Draws pictures with sharp pixels, or smooth. */
  sharpen(isSharp: boolean): void {
    const mode = isSharp ? 'nearest' : 'linear';
    for (const { sprite } of this.#limbs) {
      const { source } = sprite.texture;
      if (sprite.texture === Texture.EMPTY || source.scaleMode === mode) continue;
      source.scaleMode = mode;
      // It is read when it says so, not when it is set.
      source.style.update();
    }
  }

  /** @param isHidden roles that are not shown, whatever their values say */
  show(values: Values, isHidden: (role: string) => boolean = () => false): void {
    for (const { role, container, sprite, cells, anchors } of this.#limbs) {
      const read = (property: string) => values[`${role}.${property}`];
      setTransform(container, role, values);
      container.alpha = (read('opacity') as number | undefined) ?? 1;
      container.zIndex = (read('order') as number | undefined) ?? 0;
      container.visible = read('visible') !== false;
      // What hangs on it stays.
      const isOff = isHidden(role);
      for (const child of container.children) if (!this.#isLimb(child) && !isMask(child)) child.visible = !isOff;
      this.#cut(role, values);
      const tint = read('tint') as number[] | undefined;
      sprite.tint = tint ? tint.slice(0, 3).map((n) => Math.min(1, Math.max(0, n))) : 0xffffff;
      sprite.alpha = tint?.[3] ?? 1;
      const frame = read('frame');
      if (typeof frame !== 'number' || cells.length === 0) continue;
      const cell = Math.min(cells.length - 1, Math.max(0, frame));
      sprite.texture = cells[cell]!;
      sprite.anchor.set(...anchors[cell]!);
    }
  }

  /** Shows of a role and of what hangs on it what its reveals show. */
  #cut(role: string, values: Values): void {
    const limb = this.#limbs.find((one) => one.role === role)!;
    const region = revealed(this.doc.roles?.[role]?.shapes ?? {}, (name) => values[`${role}.${name}`]);
    const { container } = limb;
    if (!region) {
      if (limb.mask) container.mask = null;
      limb.mask?.clear();
      return;
    }
    const mask = (limb.mask ??= container.addChild(new Graphics()));
    mask.clear();
    const pieces = piecesAlone(region);
    // A mask without anything would mask nothing.
    if (pieces.length === 0) mask.rect(1e4, 1e4, 1, 1).fill();
    for (const piece of pieces) mask.poly(piece.flat()).fill();
    container.mask = mask;
  }

  #isLimb(child: Container): boolean {
    return this.#limbs.some(({ container }) => container === child);
  }

  /** The corners of a role's picture, in its own coordinates; nothing when it has none. */
  boundsOf(role: string): Rectangle | undefined {
    const limb = this.#limbs.find((one) => one.role === role);
    if (!limb) return undefined;
    const own = limb.container.children.find((child) =>
      child === limb.sprite ? limb.sprite.texture !== Texture.EMPTY : child instanceof Graphics && !isMask(child),
    );
    if (!own) return undefined;
    const bounds = own.getLocalBounds();
    const { x, y, width, height } = bounds;
    const corners = [
      own.localTransform.apply({ x, y }),
      own.localTransform.apply({ x: x + width, y: y + height }),
    ] as const;
    return new Rectangle(corners[0].x, corners[0].y, corners[1].x - corners[0].x, corners[1].y - corners[0].y);
  }

  destroy(): void {
    this.container.destroy({ children: true });
  }
}

/** What is no picture of a role. */
const isMask = (child: Container) => !child.measurable || child.parent?.mask === child;

const textures = new WeakMap<ImageBitmap, Texture>();

function textureOf(bitmap: ImageBitmap): Texture {
  let texture = textures.get(bitmap);
  if (!texture) {
    texture = Texture.from(bitmap);
    textures.set(bitmap, texture);
  }
  return texture;
}

/** Of roles without a picture, one after the other: told apart also by their lightness. */
const COLORS = [0x2f9fb0, 0xe07a5f, 0x6a4c93, 0xd9a441, 0x3d6b4f, 0xc25b8c, 0x4a6fa5, 0x8a6d3b] as const;

/** A rounded square with a mark that shows which way is right. */
function placeholder(color: number): Graphics {
  return new Graphics()
    .roundRect(-16, -16, 32, 32, 6)
    .fill({ color })
    .stroke({ width: 1.5, color: 0x101418, alpha: 0.6 })
    .moveTo(2, 0)
    .lineTo(12, 0)
    .stroke({ width: 2, color: 0x101418, alpha: 0.6 });
}

function setTransform(container: Container, role: string, values: Values): void {
  const [x, y] = pair(values[`${role}.position`], 0);
  const [sx, sy] = pair(values[`${role}.scale`], 1);
  const [px, py] = pair(values[`${role}.pivot`], 0);
  container.position.set(x, y);
  container.scale.set(sx, sy);
  container.pivot.set(px, py);
  container.rotation = turnOf(values[`${role}.rotation`]);
}

function pair(value: unknown, usual: number): readonly [number, number] {
  return Array.isArray(value) ? [value[0] as number, value[1] as number] : [usual, usual];
}

/** Radians of an angle in degrees, or of a quaternion as it is seen from the front. */
function turnOf(value: unknown): number {
  if (typeof value === 'number') return value * RADIANS;
  if (!Array.isArray(value)) return 0;
  const [x, y, z, w] = value as [number, number, number, number];
  return Math.atan2(2 * (w * z + x * y), 1 - 2 * (y * y + z * z));
}

/** From a role's own coordinates to the world's, at a pose. */
export function worldOf(doc: ReelDocument, role: string, values: Values): Matrix {
  const [x, y] = pair(values[`${role}.position`], 0);
  const [sx, sy] = pair(values[`${role}.scale`], 1);
  const [px, py] = pair(values[`${role}.pivot`], 0);
  const own = new Matrix().setTransform(x, y, px, py, sx, sy, turnOf(values[`${role}.rotation`]), 0, 0);
  const parent = doc.roles?.[role]?.parent;
  return parent === undefined ? own : own.prepend(worldOf(doc, parent, values));
}
