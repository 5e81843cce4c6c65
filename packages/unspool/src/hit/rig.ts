import { cosine, sine } from '../easing/sine.js';
import type { ReelFacts } from '../clip/compiled.js';
import { Layout, type Slot } from '../clip/layout.js';
import { placeRoot, ROOT_SIZE, ROTATION, SCALE, type RootNumbers, type RootPlace } from '../play/pose/place-root.js';
import type { ShapeKind } from '../value/kind.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { suggest } from '../errors/nearest.js';
import { RIG_SHAPES, turn, type RigShape } from '../shape/rig-shapes.js';
import { type Rounded, type Vec, lengthOf } from '../shape/rounded.js';
import type { HitShape } from '../shape/shapes.js';

/** Offsets of a role's properties in the numbers of a rig; −1 for those that the reel does not have. */
interface Level extends RootNumbers {
  readonly pivot: number;
}

/** Bounds of the numbers of a rig, and what they are at the time that bounds are counted from. */
export interface Bounds {
  readonly values: Float64Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
}

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
   * @param direction a unit vector; `[0, 0]` for any direction
   */
  farthest({ values, low, high }: Bounds, from: RootPlace, to: RootPlace, [nx, ny]: Vec): number {
    const levels = this.#levels;
    const off = (k: number) => Math.max(high[k]! - values[k]!, values[k]! - low[k]!);
    const most = (k: number) => Math.max(Math.abs(low[k]!), Math.abs(high[k]!));
    const offs = (k: number) => (k < 0 ? 0 : lengthOf(off(k), off(k + 1)));
    const mosts = (k: number) => (k < 0 ? 0 : lengthOf(most(k), most(k + 1)));
    const along = (k: number, x: number, y: number) =>
      k < 0
        ? 0
        : Math.max(x * (high[k]! - values[k]!), x * (low[k]! - values[k]!)) +
          Math.max(y * (high[k + 1]! - values[k + 1]!), y * (low[k + 1]! - values[k + 1]!));

    // From the shape up: how far its core goes and lies from the origin, and how far its edge moves beyond it.
    const at = this.#shape;
    const { points, radius: edge, extent } = this.#rules;
    // Beyond its points, and by numbers that do not move them: a size, its rotation.
    const half = extent ? extent.reach(most, at) : 0;
    const own = extent ? extent.way(off, most, at) : 0;
    const ofPoints = (each: (k: number) => number) => points.reduce((so, k) => Math.max(so, each(at + k)), -Infinity);
    let way = own + ofPoints(offs);
    let reach = half + ofPoints(mosts);
    let [radius, radiusWay] = edge === undefined ? [0, 0] : [most(at + edge), off(at + edge)];

    const isUneven = ({ scale: k }: Level) =>
      k >= 0 && (low[k] !== low[k + 1] || high[k] !== high[k + 1] || off(k) > 0);
    const uneven = from[6] ** 2 !== from[7] ** 2 || to[6] ** 2 !== to[7] ** 2 || levels.some(isUneven);
    const ways = new Array<number>(levels.length);
    const turns = new Array<number>(levels.length);
    for (let i = levels.length - 1; i >= 0; i--) {
      const { position, rotation, isQuat, scale, pivot } = levels[i]!;
      let scaleMost = scale < 0 ? 1 : Math.max(most(scale), most(scale + 1));
      let scaleWay = scale < 0 ? 0 : Math.max(off(scale), off(scale + 1));
      let turned = rotation < 0 ? 0 : isQuat ? quatTurn(off, rotation) : turn(off(rotation));
      let moved = offs(position);
      let far = mosts(position);
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
      const behind = reach + mosts(pivot);
      // What this level does to everything below it.
      ways[i] = scaleMost * (way + offs(pivot)) + (scaleWay + turned * scaleMost) * behind;
      turns[i] = scaleWay + turned;
      way = moved + ways[i]!;
      reach = far + scaleMost * behind;
      // A turn between two uneven scales changes by how much they lengthen together.
      radiusWay = scaleMost * radiusWay + (scaleWay + (uneven && i > 0 ? turned * scaleMost : 0)) * radius;
      radius *= scaleMost;
    }
    if (this.#rules.isStiff && uneven) {
      // The nearest rotation σ₁Q of a transform M changes by up to 3 |ΔM|; where a scale goes through 0 it flips.
      const flips =
        from[6] * to[6] <= 0 ||
        from[7] * to[7] <= 0 ||
        levels.some(({ scale: k }) => k >= 0 && mayBeZero(low, high, k));
      return 3 * way + radiusWay + (flips ? 2 * reach : 0);
    }
    if (nx === 0 && ny === 0) return way + radiusWay;

    // And down again, as far as the direction can be followed.
    const placeTurns = from.some((n, k) => k > 1 && n !== to[k]);
    if (placeTurns) return way + radiusWay;
    const [cos, sin] = [cosine((from[2] % 360) * RADIANS), sine((from[2] % 360) * RADIANS)];
    let [x, y] = [nx, ny];
    let total = radiusWay + Math.max(0, (to[0] - from[0]) * nx + (to[1] - from[1]) * ny);
    for (let i = 0; i < levels.length; i++) {
      const { position, pivot } = levels[i]!;
      if (i === 0) total += along(position, (cos * nx + sin * ny) * from[3], (cos * ny - sin * nx) * from[4]);
      else total += along(position, x, y);
      if (turns[i]! > 0) return total + lengthOf(x, y) * ways[i]!;
      const bare = { ...levels[i]!, position: -1, pivot: -1 };
      const [a, b, c, d] = i === 0 ? placed(bare, values, from) : transform(bare, values);
      [x, y] = [a * x + b * y, c * x + d * y];
      total += along(pivot, -x, -y);
    }
    return total + lengthOf(x, y) * own + ofPoints((k) => along(k, x, y));
  }

  /** The transform of its role: x' = a x + c y + e, y' = b x + d y + f. */
  #world(values: Float64Array, place: RootPlace): Transform {
    let world: Transform | undefined;
    for (const level of this.#levels) {
      const own = world ? transform(level, values) : placed(level, values, place);
      world = world ? multiply(world, own) : own;
    }
    return world!;
  }
}

type Transform = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

function transform({ position, rotation, isQuat, scale, pivot }: Level, values: Float64Array): Transform {
  const pair = (k: number, usual: number): Vec => (k < 0 ? [usual, usual] : [values[k]!, values[k + 1]!]);
  const turned = rotation < 0 ? 0 : isQuat ? quatPlane(values, rotation) : values[rotation]!;
  return compose(pair(position, 0), turned, pair(scale, 1), pair(pivot, 0));
}

const ROOT = new Float64Array(ROOT_SIZE);

/** The root as its player writes it. */
function placed(level: Level, values: Float64Array, place: RootPlace): Transform {
  placeRoot(place, level, values, ROOT, 0);
  const { isQuat, pivot } = level;
  const turned = isQuat ? quatPlane(ROOT, ROTATION) : ROOT[ROTATION]!;
  const about: Vec = pivot < 0 ? [0, 0] : [values[pivot]!, values[pivot + 1]!];
  return compose([ROOT[0]!, ROOT[1]!], turned, [ROOT[SCALE]!, ROOT[SCALE + 1]!], about);
}

type Plane = readonly [r00: number, r01: number, r10: number, r11: number];

function compose([x, y]: Vec, turned: number | Plane, [sx, sy]: Vec, [px, py]: Vec): Transform {
  let plane: Plane;
  if (typeof turned === 'number') {
    const [cos, sin] = [cosine((turned % 360) * RADIANS), sine((turned % 360) * RADIANS)];
    plane = [cos, -sin, sin, cos];
  } else plane = turned;
  const [a, b, c, d] = [plane[0] * sx, plane[2] * sx, plane[1] * sy, plane[3] * sy];
  return [a, b, c, d, x - a * px - c * py, y - b * px - d * py];
}

/** What a rotation in space does to the plane, as it is seen from the front. */
function quatPlane(values: Float64Array, k: number): Plane {
  const [x, y, z, w] = [values[k]!, values[k + 1]!, values[k + 2]!, values[k + 3]!];
  return [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * y + z * w), 1 - 2 * (x * x + z * z)];
}

/** Unit quaternions that differ by so much turn a vector of length 1 by twice that at most. */
function quatTurn(off: (k: number) => number, k: number): number {
  return Math.min(2, 2 * lengthOf(lengthOf(off(k), off(k + 1)), lengthOf(off(k + 2), off(k + 3))));
}

function multiply([a, b, c, d, e, f]: Transform, [g, h, i, j, k, l]: Transform): Transform {
  return [a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f];
}

function apply([a, b, c, d, e, f]: Transform, x: number, y: number): Vec {
  return [a * x + c * y + e, b * x + d * y + f];
}

/** Where the rotation, or the mirror, that is nearest to a transform turns a unit vector. */
function turned([a, b, c, d]: Transform, x: number, y: number): Vec {
  const isMirror = a * d - b * c < 0;
  const [u, v] = isMirror ? [a - d, b + c] : [a + d, b - c];
  const length = lengthOf(u, v);
  const [cos, sin] = length > 0 ? [u / length, v / length] : [1, 0];
  const w = isMirror ? -y : y;
  return [x * cos - w * sin, x * sin + w * cos];
}

/** Whether one of two numbers may become 0, or is. */
const mayBeZero = (low: Float64Array, high: Float64Array, k: number) =>
  (low[k]! <= 0 && high[k]! >= 0) || (low[k + 1]! <= 0 && high[k + 1]! >= 0);

/** By how much a transform lengthens at most: its greater singular value. */
function stretch([a, b, c, d]: Transform): number {
  const [across, down] = [a * a + b * b, c * c + d * d];
  return Math.sqrt((across + down) / 2 + lengthOf((across - down) / 2, a * c + b * d));
}
