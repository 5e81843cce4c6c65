import { mustBeReel } from '../clip/expect.js';
import { checkOptions } from '../errors/check-options.js';
import type { Layout, Slot } from '../clip/layout.js';
import type { Reel } from '../clip/reel.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { suggest } from '../errors/nearest.js';
import { castOf, partsOf, type Part } from './parts.js';
import { plainCast } from './plain.js';
import {
  composeUnder,
  matrixInto,
  NOWHERE,
  OWN_AT,
  OWN_SIZE,
  putPoint,
  TRANSFORM_SIZE,
  transformInto,
  type MatrixSize,
} from './transform.js';
import type { Using } from './using.js';

export type { Part } from './parts.js';
export type { MatrixSize } from './transform.js';

/** Options of `matrixScene` and `RoleMatrices`. */
export interface MatrixOptions {
  /** 3 for 3 × 3 matrices of the plane, 4 for 4 × 4 matrices of space. Default: 4. */
  readonly size?: MatrixSize;
}

/** World matrices of the roles that a player moves. See `matrixScene`. */
export interface MatrixScene<R extends string = string> {
  /** The cast for the player. */
  readonly cast: { readonly [K in R]: Using };
  /** The roles as plain objects. */
  readonly parts: { readonly [K in R]: Part };
  /** The matrices of all roles, column by column, in the order of `reel.roles`. */
  readonly matrices: Float32Array;
  /** Returns the index of the first number of a role's matrix. Throws for an unknown name. */
  offsetOf(role: R): number;
  /** Computes all matrices; call it after `tick`. Allocates nothing. */
  update(): void;
}

/**
 * Returns a cast whose roles become world matrices in one array, for any renderer: parents are worked in. Reveals,
 * opacity and other properties are on its parts.
 *
 * @throws UnspoolError `cast/matrix` for an unknown size
 * @example
 * const scene = matrixScene(reel);
 * const boat = new Player(reel, { cast: scene.cast });
 * boat.tick(dt);
 * scene.update();
 * gl.uniformMatrix4fv(place, false, scene.matrices, scene.offsetOf('hull'), 16);
 */
export function matrixScene<R extends string>(
  reel: Reel & { readonly roles: readonly R[] },
  options: MatrixOptions = {},
): MatrixScene<R> {
  checkOptions(options, ['size'], 'matrixScene');
  const { size = 4 } = options;
  checkSize(size);
  const parts = partsOf(reel, (part) => part);
  const list = [...parts.values()];
  const places = new Map(list.map((part, i) => [part, i * TRANSFORM_SIZE]));
  const worlds = new Float64Array(list.length * TRANSFORM_SIZE);
  const own = new Float64Array(OWN_SIZE);
  const matrices = new Float32Array(reel.roles.length * size * size);
  const rows = reel.roles.map((role) => places.get(parts.get(role)!)!);
  const roles = Object.fromEntries([...parts]) as { readonly [K in R]: Part };
  const scene: MatrixScene<R> = {
    cast: castOf(reel, parts, plainCast),
    parts: roles,
    matrices,
    offsetOf: (role) => roleIndex(reel, role) * size * size,
    update() {
      for (let i = 0; i < list.length; i++) {
        const part = list[i]!;
        const { position, rotation, scale, pivot, parent } = part;
        const isQuat = typeof rotation === 'object';
        putPoint(own, OWN_AT.position, position, 3);
        if (isQuat) {
          putPoint(own, OWN_AT.rotation, rotation, 3);
          own[OWN_AT.rotation + 3] = rotation.w ?? 1;
        } else own[OWN_AT.rotation] = rotation;
        putPoint(own, OWN_AT.scale, scale, 2);
        own[OWN_AT.scale + 2] = scale.z ?? 1;
        putPoint(own, OWN_AT.pivot, pivot, 2);
        const at = i * TRANSFORM_SIZE;
        if (parent) composeUnder(worlds, places.get(parent)!, own, isQuat, worlds, at);
        else composeUnder(NOWHERE, 0, own, isQuat, worlds, at);
      }
      for (let i = 0; i < rows.length; i++) matrixInto(worlds, rows[i]!, size, matrices, i * size * size);
    },
  };
  scene.update();
  return scene;
}

function checkSize(size: number): void {
  if (size === 3 || size === 4) return;
  throw new UnspoolError('cast/matrix', `the size ${show(size)} is not 3 or 4`, 'use 3 for the plane, 4 for space');
}

function roleIndex(reel: Reel, role: string): number {
  const index = reel.roles.indexOf(role);
  if (index >= 0) return index;
  throw new UnspoolError('cast/matrix', `unknown role ${show(role)}`, suggest(role, reel.roles));
}

/** One role: its own numbers where nothing animates them, and which of them are in a pose. */
interface Level {
  /** Its place and that of its parent among the transforms; −1 without a parent. */
  readonly at: number;
  readonly parent: number;
  readonly own: Float64Array;
  readonly isQuat: boolean;
  /** Pairs: the index among its own numbers, and the index in a pose. */
  readonly from: Int32Array;
}

/**
 * World matrices of all roles from the numbers of a pose: of a crowd's instance, or of `clip.sample`.
 *
 * @example
 * const matrices = new RoleMatrices(reel, 'flap');
 * ids.forEach((id, i) => matrices.write(crowd.values, crowd.offsetOf(id), out, i * matrices.length, places, i * 16));
 */
export class RoleMatrices {
  /** The roles in the order of their matrices. */
  readonly roles: readonly string[];
  /** Number of numbers of all matrices together. */
  readonly length: number;
  /** 3 or 4. */
  readonly size: MatrixSize;
  readonly #levels: readonly Level[];
  readonly #worlds: Float64Array;
  /** Of each role, where its transform is. */
  readonly #rows: readonly number[];
  readonly #base = new Float64Array(TRANSFORM_SIZE);

  /**
   * @param reel its parents and rest values are used
   * @param clip the clip whose poses it reads; default: poses of the whole reel, as `player.pose`
   * @throws UnspoolError for an unknown clip, and `cast/matrix` for an unknown size
   */
  constructor(reel: Reel, clip?: string, options: MatrixOptions = {}) {
    checkOptions(options, ['size'], 'RoleMatrices');
    const { size = 4 } = options;
    mustBeReel(reel);
    checkSize(size);
    const layout = clip === undefined ? reel.layout : reel.clip(clip).layout;
    const parts = [...partsOf(reel, (part) => part).values()];
    const place = (part: Part | undefined) => (part ? parts.indexOf(part) * TRANSFORM_SIZE : -1);
    this.#levels = parts.map((part): Level => {
      const slots = reel.layout.slots.filter(({ role }) => role === part.role);
      return { at: place(part), parent: place(part.parent), ...numbersOf(slots, layout) };
    });
    this.#worlds = new Float64Array(parts.length * TRANSFORM_SIZE);
    this.#rows = reel.roles.map((role) => place(parts.find((part) => part.role === role)));
    this.roles = reel.roles;
    this.size = size;
    this.length = reel.roles.length * size * size;
  }

  /**
   * Writes the matrices of all roles. Allocates nothing.
   *
   * @param values numbers of poses; the pose begins at `from`
   * @param out takes `length` numbers, beginning at `to`
   * @param base a matrix of the same size that all is placed by, beginning at `baseAt`; default: none
   */
  write(
    values: ArrayLike<number>,
    from: number,
    out: Float32Array | Float64Array,
    to: number,
    base?: ArrayLike<number>,
    baseAt = 0,
  ): void {
    const worlds = this.#worlds;
    const ground = base ? this.#base : NOWHERE;
    const levels = this.#levels;
    const rows = this.#rows;
    const size = this.size;
    if (base) transformInto(base, baseAt, size, ground);
    for (let i = 0; i < levels.length; i++) {
      const level = levels[i]!;
      const { own, from: pairs, at } = level;
      for (let k = 0; k < pairs.length; k += 2) own[pairs[k]!] = values[from + pairs[k + 1]!]!;
      if (level.parent >= 0) composeUnder(worlds, level.parent, own, level.isQuat, worlds, at);
      else composeUnder(ground, 0, own, level.isQuat, worlds, at);
    }
    for (let i = 0; i < rows.length; i++) matrixInto(worlds, rows[i]!, size, out, to + i * size * size);
  }
}

/** A role's own numbers at rest, and where those are that a layout has. */
function numbersOf(slots: readonly Slot[], layout: Layout): Pick<Level, 'own' | 'isQuat' | 'from'> {
  const own = new Float64Array(OWN_SIZE);
  own.fill(1, OWN_AT.scale, OWN_AT.scale + 3);
  const pairs: number[] = [];
  let isQuat = false;
  for (const { name, property, rest, width } of slots) {
    const at = (OWN_AT as Readonly<Record<string, number>>)[property];
    if (at === undefined) continue;
    if (property === 'rotation') isQuat = width === 4;
    own.set(rest, at);
    const found = layout.find(name);
    if (found) for (let k = 0; k < width; k++) pairs.push(at + k, found.offset + k);
  }
  return { own, isQuat, from: Int32Array.from(pairs) };
}
