import { checkOptions } from '../errors/check-options.js';
import { isShape } from '../value/kind.js';
import type { CastAdapter, RoleBinding } from './cast.js';
import { byteOf, RADIANS, turnOf } from './flat.js';
import { FAR, LastReveals, piecesAlone, regionOf } from './region.js';

/** The members of a PixiJS 8 display object that are written. Containers, sprites and texts have them. */
export interface PixiTarget {
  readonly position: { x: number; y: number; set(x: number, y: number): void };
  readonly scale: { x: number; y: number; set(x: number, y: number): void };
  readonly pivot: { x: number; y: number; set(x: number, y: number): void };
  rotation: number;
  alpha: number;
  visible: boolean;
  zIndex?: number;
  tint?: unknown;
  texture?: unknown;
  readonly anchor?: PixiAnchor;
  mask?: unknown;
}

/** The anchor of a sprite, 0–1 of its picture. */
export interface PixiAnchor {
  /** Sets both shares. */
  set(x: number, y: number): void;
}

/** A texture of a cell with an origin of its own. */
interface CellTexture {
  readonly defaultAnchor?: { readonly x: number; readonly y: number };
}

/** The members of a PixiJS 8 `Graphics` that are used. */
export interface PixiMask {
  clear(): unknown;
  poly(points: number[]): { fill(): unknown };
}

/** Options of `pixiCast`. */
export interface PixiCastOptions {
  /**
   * The textures of each role's sheet cells, in order. Required for roles that animate `frame`. A `defaultAnchor` of a
   * texture (0–1) is given to the sprite with it: the origin of a cell of a packed picture, see `sheetOrigin`.
   */
  readonly frames?: Readonly<Record<string, readonly unknown[]>>;
  /** Creates the mask of an object: `() => new Graphics()`. Required for roles with shapes that reveal or hide. */
  readonly mask?: () => PixiMask;
}

/**
 * Returns an adapter for PixiJS 8 objects: degrees become radians, opacity becomes `alpha`, colors become `0xrrggbb`
 * (their alpha multiplies the opacity), frames become textures, `order` becomes `zIndex` (set `sortableChildren` of the
 * parent), reveals become a mask, a child of the object. Other custom properties are not written.
 */
export function pixiCast(options: PixiCastOptions = {}): CastAdapter<PixiTarget> {
  checkOptions(options, ['frames', 'mask'], 'pixiCast');
  const { frames = {}, mask } = options;
  return {
    write(target, values, binding) {
      if (binding.position >= 0) target.position.set(values[binding.position]!, values[binding.position + 1]!);
      if (binding.rotation >= 0) target.rotation = turnOf(values, binding.rotation, binding.rotationWidth) * RADIANS;
      if (binding.scale >= 0) target.scale.set(values[binding.scale]!, values[binding.scale + 1]!);
      if (binding.pivot >= 0) target.pivot.set(values[binding.pivot]!, values[binding.pivot + 1]!);
      if (binding.opacity >= 0 || binding.tint >= 0) {
        const parts = alphaOf(target);
        if (binding.opacity >= 0) parts.opacity = values[binding.opacity]!;
        if (binding.tint >= 0) parts.tint = values[binding.tint + 3]!;
        target.alpha = parts.alpha = parts.opacity * parts.tint;
      }
      if (binding.tint >= 0) target.tint = rgb(values, binding.tint);
      if (binding.visible >= 0) target.visible = values[binding.visible] !== 0;
      if (binding.order >= 0) target.zIndex = values[binding.order]!;
      if (binding.frame >= 0) {
        const texture = frames[binding.role]?.[values[binding.frame]!];
        if (texture !== undefined && target.texture !== texture) {
          target.texture = texture;
          const anchor = (texture as CellTexture).defaultAnchor;
          if (anchor) target.anchor?.set(anchor.x, anchor.y);
        }
      }
      if (binding.reveals.length > 0) maskBy(target, values, binding, mask!);
    },

    refuse({ position, scale, pivot }, { kind }) {
      if (isShape(kind) && !mask) return 'a reveal needs a mask: pixiCast({ mask: () => new Graphics() })';
      const isThere = [position, scale, pivot].every(
        (point) => typeof (point as Partial<typeof point>)?.set === 'function',
      );
      return isThere ? undefined : 'it is not a PixiJS 8 display object';
    },

    read(target, { property, width }) {
      if (width > 2) return undefined;
      if (property === 'rotation') return [target.rotation / RADIANS];
      if (property === 'opacity') return [alphaOf(target).opacity];
      if (property === 'order') return [target.zIndex ?? 0];
      if (property === 'visible') return [Number(target.visible)];
      if (property !== 'position' && property !== 'scale' && property !== 'pivot') return undefined;
      return [target[property].x, target[property].y];
    },
  };
}

/** The parts of an object's `alpha`: either may be animated while the game owns the other. */
interface Alpha {
  opacity: number;
  tint: number;
  /** Their product, as it was written. */
  alpha: number;
}

const alphas = new WeakMap<PixiTarget, Alpha>();

function alphaOf(target: PixiTarget): Alpha {
  let parts = alphas.get(target);
  if (!parts) alphas.set(target, (parts = { opacity: target.alpha, tint: 1, alpha: target.alpha }));
  // What the game has set since is its opacity.
  if (parts.alpha !== target.alpha) Object.assign(parts, { opacity: target.alpha, tint: 1, alpha: target.alpha });
  return parts;
}

/** The mask of an object, a child of it, and the shapes that it shows. */
interface Masked {
  readonly mask: PixiMask;
  readonly last: LastReveals;
  isOn: boolean;
}

const masks = new WeakMap<PixiTarget, Masked>();

/** An object that can have children. A sprite warns about them unless `allowChildren` is set. */
interface Parent {
  allowChildren?: boolean;
  addChild(child: unknown): unknown;
}

function maskBy(target: PixiTarget, values: Float64Array, { reveals }: RoleBinding, make: () => PixiMask): void {
  let masked = masks.get(target);
  if (!masked) masks.set(target, (masked = { mask: make(), last: new LastReveals(), isOn: false }));
  const { mask, isOn } = masked;
  // The game may have taken the mask away since.
  if (!masked.last.isNew(values, reveals) && (target.mask === mask) === isOn) return;
  const region = regionOf(values, reveals);
  masked.isOn = region !== undefined;
  if (region && target.mask !== mask) {
    const parent = target as unknown as Parent;
    parent.allowChildren = true;
    parent.addChild(mask);
    target.mask = mask;
  } else if (!region && target.mask === mask) target.mask = null;
  mask.clear();
  if (!region) return;
  const pieces = piecesAlone(region);
  // A mask that is empty would mask nothing: one far away does.
  if (pieces.length === 0) mask.poly([FAR, FAR, FAR + 1, FAR, FAR, FAR + 1]).fill();
  for (const piece of pieces) mask.poly(piece.flat()).fill();
}

function rgb(values: Float64Array, offset: number): number {
  return byteOf(values[offset]!) * 0x10000 + byteOf(values[offset + 1]!) * 0x100 + byteOf(values[offset + 2]!);
}
