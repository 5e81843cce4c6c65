import type { CastAdapter } from './cast.js';

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

/** Options of `pixiCast`. */
export interface PixiCastOptions {
  /**
   * The textures of each role's sheet cells, in order. Required for roles that animate `frame`. A `defaultAnchor` of a
   * texture (0–1) is given to the sprite with it: the origin of a cell of a packed picture, see `sheetOrigin`.
   */
  readonly frames?: Readonly<Record<string, readonly unknown[]>>;
}

const RADIANS = Math.PI / 180;

/**
 * Returns an adapter for PixiJS 8 objects: degrees become radians, opacity becomes `alpha`, colors become `0xrrggbb`
 * (their alpha multiplies the opacity), frames become textures, `order` becomes `zIndex` (set `sortableChildren` of the parent). Other custom properties are
 * not written.
 */
export function pixiCast({ frames = {} }: PixiCastOptions = {}): CastAdapter<PixiTarget> {
  return {
    write(target, values, binding) {
      if (binding.position >= 0) target.position.set(values[binding.position]!, values[binding.position + 1]!);
      if (binding.rotation >= 0) {
        target.rotation =
          binding.rotationWidth === 4 ? turnAboutZ(values, binding.rotation) : values[binding.rotation]! * RADIANS;
      }
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
    },

    refuse({ position, scale, pivot }) {
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

/** What a quaternion does in the plane: radians about z. */
function turnAboutZ(values: Float64Array, offset: number): number {
  const [x, y, z, w] = [values[offset]!, values[offset + 1]!, values[offset + 2]!, values[offset + 3]!];
  return Math.atan2(2 * (w * z + x * y), 1 - 2 * (y * y + z * z));
}

function rgb(values: Float64Array, offset: number): number {
  const channel = (k: number) => Math.round(255 * Math.min(1, Math.max(0, values[offset + k]!)));
  return channel(0) * 0x10000 + channel(1) * 0x100 + channel(2);
}
