import { cosine, sine } from '../easing/sine.js';
import type { ReelFacts } from '../clip/compiled.js';
import { Layout, type Slot } from '../clip/layout.js';
import type { RootPlace } from '../play/pose/place-root.js';
import type { ShapeKind } from '../value/kind.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { suggest } from '../errors/nearest.js';
import type { Core } from '../shape/core.js';
import { lengthAt, most, mosts, off, offs, RIG_SHAPES, turn, type Bounds, type RigShape } from '../shape/rig-shapes.js';
import { type Rounded, lengthOf } from '../shape/rounded.js';
import type { HitShape } from '../shape/shapes.js';
import { apply, multiply, placed, stretch, transform, turned, type Level } from './transforms.js';

const RADIANS = Math.PI / 180;

/**
 * A shape with the roles that carry it: computes its place in the world from a few numbers, and from bounds of these
 * numbers how far any of its points moves.
 *
 * The transform of a role is that of scene graphs: its pivot goes to its position, scaled, then rotated. A role with a
 * 3D position or rotation is taken as seen from the front. The root is as its player writes it.
 */
export class Rig {
  /** Its numbers: the properties of its roles, then the shape. */
  readonly layout: Layout;
  /** Per number, its offset in a pose of the whole reel. */
  readonly from: Int32Array;
  readonly #rules: RigShape;
  readonly #shape: number;
  /** The role at the top of the chain, which has no parent. */
  readonly root: string;
  /** The root first. */
  readonly #levels: readonly Level[];
  /** Per level, for `farthest`: how far it moves what is below it, and whether it rotates or scales meanwhile. */
  readonly #ways: Float64Array;
  readonly #turns: Float64Array;

  /** @param name `role.shape`; throws for a shape that the reel does not animate */
  constructor(
    readonly facts: ReelFacts,
    readonly name: string,
  ) {
    const known = Object.keys(facts.shapes);
    if (!known.includes(name))
      throw new UnspoolError('hit/unknown-shape', `unknown shape ${show(name)}`, suggest(name, known));
    const chain: string[] = [];
    const slots: Slot[] = [];
    const from: number[] = [];
    let size = 0;
    const add = (one: string) => {
      const slot = facts.slots.find((other) => other.name === one);
      if (!slot) return -1;
      slots.push({ ...slot, offset: size });
      for (let k = 0; k < slot.width; k++) from.push(slot.offset + k);
      size += slot.width;
      return size - slot.width;
    };
    for (let role: string | undefined = name.split('.', 1)[0]; role !== undefined; role = facts.parents[role])
      chain.unshift(role);
    this.root = chain[0]!;
    this.#levels = chain.map((role): Level => {
      const rotation = add(`${role}.rotation`);
      return {
        rotation,
        isQuat: rotation >= 0 && slots.at(-1)!.width === 4,
        position: add(`${role}.position`),
        scale: add(`${role}.scale`),
        pivot: add(`${role}.pivot`),
      };
    });
    this.#ways = new Float64Array(chain.length);
    this.#turns = new Float64Array(chain.length);
    this.#shape = add(name);
    this.#rules = RIG_SHAPES[slots.at(-1)!.kind as ShapeKind];
    this.layout = new Layout(slots, facts.texts);
    this.from = Int32Array.from(from);
  }

  /** Whether the shape is active, by its numbers. */
  isActive(values: Float64Array): boolean {
    return values[values.length - 1] === 1;
  }

  /** The shape in the world. A radius grows by the larger of two uneven scales. */
  rounded(values: Float64Array, place: RootPlace): Rounded {
    const world = this.#world(values, place);
    const at = this.#shape;
    return this.#rules.rounded(values, at, {
      put: (x, y) => apply(world, x, y),
      stretch: () => stretch(world),
      turn: (x, y) => turned(world, x, y),
    });
  }

  /** Like `rounded`, written into a core. */
  put(values: Float64Array, place: RootPlace, core: Core): void {
    const { write, radius } = this.#rules;
    if (!write) {
      core.set(this.rounded(values, place));
      return;
    }
    const at = this.#shape;
    const world = this.#world(values, place);
    const { corners } = core;
    const count = write(values, at, corners);
    for (let k = 0; k < 2 * count; k += 2) {
      const x = corners[k]!;
      const y = corners[k + 1]!;
      corners[k] = world[0]! * x + world[2]! * y + world[4]!;
      corners[k + 1] = world[1]! * x + world[3]! * y + world[5]!;
    }
    core.count = count;
    core.radius = radius === undefined ? 0 : lengthAt(values, at + radius) * stretch(world);
    core.hasArc = core.hasMore = false;
  }

  /** Like `rounded`, as a `HitShape`. */
  shape(values: Float64Array, place: RootPlace): HitShape {
    return this.#rules.shape(this.rounded(values, place));
  }

  /**
   * Returns how far any point of the shape, including its edge, moves at most along a direction from its place at
   * `values`, while its numbers stay within bounds and its placement changes.
   *
   * Each level of roles adds its own movement, and that of what it rotates and scales: |R'S'p' − RSp| ≤ |S'| |p' − p|
   * + |S' − S| |p| + |R' − R| |S'| |p|. Down to the first level that rotates or scales meanwhile, the direction is
   * followed, so that sliding past something does not count as an approach; below it, all directions count.
   *
   * @param nx, ny a unit vector; 0, 0 for any direction
   */
  farthest(bounds: Bounds, from: RootPlace, to: RootPlace, nx: number, ny: number): number {
    const levels = this.#levels;
    const at = this.#shape;
    const { points, radius: edge, extent } = this.#rules;
    // From the shape up: how far its core goes and lies from the origin, and how far its edge moves beyond it.
    let way = 0;
    let reach = 0;
    for (let i = 0; i < points.length; i++) {
      way = Math.max(way, offs(bounds, at + points[i]!));
      reach = Math.max(reach, mosts(bounds, at + points[i]!));
    }
    // Beyond its points, and by numbers that do not move them: a size, its rotation.
    const own = extent ? extent.way(bounds, at) : 0;
    way += own;
    if (extent) reach += extent.reach(bounds, at);
    let radius = edge === undefined ? 0 : most(bounds, at + edge);
    let radiusWay = edge === undefined ? 0 : off(bounds, at + edge);
    const uneven = from[6] ** 2 !== from[7] ** 2 || to[6] ** 2 !== to[7] ** 2 || isUneven(levels, bounds);
    for (let i = levels.length - 1; i >= 0; i--) {
      const { position, rotation, isQuat, scale, pivot } = levels[i]!;
      let scaleMost = scale < 0 ? 1 : Math.max(most(bounds, scale), most(bounds, scale + 1));
      let scaleWay = scale < 0 ? 0 : Math.max(off(bounds, scale), off(bounds, scale + 1));
      let turned = rotation < 0 ? 0 : isQuat ? quatTurn(bounds, rotation) : turn(off(bounds, rotation));
      let moved = position < 0 ? 0 : offs(bounds, position);
      let far = position < 0 ? 0 : mosts(bounds, position);
      if (i === 0) {
        const placeMost = Math.max(Math.abs(from[3]), Math.abs(from[4]), Math.abs(to[3]), Math.abs(to[4]));
        const placeWay = Math.max(Math.abs(to[3] - from[3]), Math.abs(to[4] - from[4]));
        const placeTurn = turn(Math.abs(to[2] - from[2]));
        const step = lengthOf(to[0] - from[0], to[1] - from[1]);
        moved = placeMost * moved + (placeWay + placeTurn * placeMost) * far + step;
        far *= placeMost;
        // What acts on its rotation and scale need not be what acts on its position.
        const sizeMost = Math.max(Math.abs(from[6]), Math.abs(from[7]), Math.abs(to[6]), Math.abs(to[7]));
        const sizeWay = Math.max(Math.abs(to[6] - from[6]), Math.abs(to[7] - from[7]));
        turned = Math.min(2, turned + (isQuat ? placeTurn : turn(Math.abs(to[5] - from[5]))));
        scaleWay = sizeMost * scaleWay + sizeWay * scaleMost;
        scaleMost *= sizeMost;
      }
      const behind = reach + (pivot < 0 ? 0 : mosts(bounds, pivot));
      const pivotWay = pivot < 0 ? 0 : offs(bounds, pivot);
      // What this level does to everything below it.
      this.#ways[i] = scaleMost * (way + pivotWay) + (scaleWay + turned * scaleMost) * behind;
      this.#turns[i] = scaleWay + turned;
      way = moved + this.#ways[i]!;
      reach = far + scaleMost * behind;
      // A turn between two uneven scales changes by how much they lengthen together.
      radiusWay = scaleMost * radiusWay + (scaleWay + (uneven && i > 0 ? turned * scaleMost : 0)) * radius;
      radius *= scaleMost;
    }
    if (this.#rules.isStiff && uneven) {
      // The nearest rotation σ₁Q of a transform M changes by up to 3 |ΔM|; where a scale goes through 0 it flips.
      const flips = from[6] * to[6] <= 0 || from[7] * to[7] <= 0 || mayFlip(levels, bounds);
      return 3 * way + radiusWay + (flips ? 2 * reach : 0);
    }
    const isAnyway = (nx === 0 && ny === 0) || placeTurns(from, to);
    return isAnyway ? way + radiusWay : radiusWay + this.#farthestAlong(bounds, from, to, nx, ny, own);
  }

  /** And down again, as far as the direction can be followed. */
  #farthestAlong(bounds: Bounds, from: RootPlace, to: RootPlace, nx: number, ny: number, own: number): number {
    const levels = this.#levels;
    const { values } = bounds;
    const angle = (from[2] % 360) * RADIANS;
    const cos = cosine(angle);
    const sin = sine(angle);
    let x = nx;
    let y = ny;
    let total = Math.max(0, (to[0] - from[0]) * nx + (to[1] - from[1]) * ny);
    for (let i = 0; i < levels.length; i++) {
      const level = levels[i]!;
      const { position, pivot } = level;
      if (i > 0) total += along(bounds, position, x, y);
      else total += along(bounds, position, (cos * nx + sin * ny) * from[3], (cos * ny - sin * nx) * from[4]);
      if (this.#turns[i]! > 0) return total + lengthOf(x, y) * this.#ways[i]!;
      if (i > 0) transform(level, values, LEVEL);
      else placed(level, values, from, LEVEL);
      const across = LEVEL[0]! * x + LEVEL[1]! * y;
      y = LEVEL[2]! * x + LEVEL[3]! * y;
      x = across;
      total += along(bounds, pivot, -x, -y);
    }
    const { points } = this.#rules;
    let foremost = -Infinity;
    for (let k = 0; k < points.length; k++)
      foremost = Math.max(foremost, along(bounds, this.#shape + points[k]!, x, y));
    return total + lengthOf(x, y) * own + foremost;
  }

  /**
   * Returns how far any point of the shape lies from its root's position at most, and writes how far that lies from the
   * place of the cast; as if the cast were not scaled.
   */
  reach(bounds: Bounds, root: Float64Array): number {
    const at = this.#shape;
    const { points, radius, extent } = this.#rules;
    let reach = 0;
    for (const point of points) reach = Math.max(reach, mosts(bounds, at + point));
    if (extent) reach += extent.reach(bounds, at);
    if (radius !== undefined) reach += most(bounds, at + radius);
    for (let i = this.#levels.length - 1; i >= 0; i--) {
      const { position, scale, pivot } = this.#levels[i]!;
      const scaleMost = scale < 0 ? 1 : Math.max(most(bounds, scale), most(bounds, scale + 1));
      const far = position < 0 ? 0 : mosts(bounds, position);
      reach = scaleMost * (reach + (pivot < 0 ? 0 : mosts(bounds, pivot)));
      if (i > 0) reach += far;
      else root[0] = far;
    }
    return reach;
  }

  /** The transform of its role. Always the same array. */
  #world(values: Float64Array, place: RootPlace): Float64Array {
    const levels = this.#levels;
    placed(levels[0]!, values, place, WORLD);
    for (let i = 1; i < levels.length; i++) {
      transform(levels[i]!, values, LEVEL);
      multiply(WORLD, LEVEL);
    }
    return WORLD;
  }
}

const WORLD = new Float64Array(6);
const LEVEL = new Float64Array(6);

/** How far two numbers, a vector, go along a direction at most. */
function along({ values, low, high }: Bounds, k: number, x: number, y: number): number {
  if (k < 0) return 0;
  const first = values[k]!;
  const second = values[k + 1]!;
  return (
    Math.max(x * (low[k]! - first), x * (high[k]! - first)) +
    Math.max(y * (low[k + 1]! - second), y * (high[k + 1]! - second))
  );
}

/** Unit quaternions that differ by so much turn a vector of length 1 by twice that at most. */
function quatTurn(of: Bounds, k: number): number {
  return Math.min(2, 2 * lengthOf(offs(of, k), offs(of, k + 2)));
}

/** Whether any level scales unevenly, or changes its scale. */
function isUneven(levels: readonly Level[], bounds: Bounds): boolean {
  const { low, high } = bounds;
  for (let i = 0; i < levels.length; i++) {
    const k = levels[i]!.scale;
    if (k >= 0 && (low[k] !== low[k + 1] || high[k] !== high[k + 1] || off(bounds, k) > 0)) return true;
  }
  return false;
}

/** Whether any scale may become 0, or is. */
function mayFlip(levels: readonly Level[], { low, high }: Bounds): boolean {
  const mayBeZero = (k: number) => low[k]! <= 0 && high[k]! >= 0;
  return levels.some(({ scale: k }) => k >= 0 && (mayBeZero(k) || mayBeZero(k + 1)));
}

/** Whether a placement changes anything but the position. */
function placeTurns(from: RootPlace, to: RootPlace): boolean {
  for (let k = 2; k < from.length; k++) if (from[k] !== to[k]) return true;
  return false;
}
