import type { Point } from './plain.js';

/** Numbers of a transform in space: three columns and the place, each x, y and z. */
export const TRANSFORM_SIZE = 12;

/**
 * Numbers of a role's own transform, in this order: position (x, y, z), rotation (an angle in degrees, or a quaternion
 * x, y, z, w), scale (x, y, z) and pivot (x, y).
 */
export const OWN_SIZE = 12;
export const OWN_AT = { position: 0, rotation: 3, scale: 7, pivot: 10 } as const;

const RADIANS = Math.PI / 180;

/** The transform of a root's parent: none. */
export const NOWHERE = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0);

/**
 * The transform of a role under that of its parent: its pivot goes to its position, scaled, then rotated. Allocates
 * nothing. It is written out, as is what follows: with loops and remainders of divisions all of it took twice as long.
 */
export function composeUnder(
  parent: Float64Array,
  from: number,
  own: Float64Array,
  isQuat: boolean,
  out: Float64Array,
  at: number,
): void {
  if (isQuat) {
    composeQuat(own, out, at);
    multiplyInto(parent, from, out, at);
    return;
  }
  const a = parent[from]!;
  const b = parent[from + 1]!;
  const c = parent[from + 2]!;
  const d = parent[from + 3]!;
  const e = parent[from + 4]!;
  const f = parent[from + 5]!;
  const g = parent[from + 6]!;
  const h = parent[from + 7]!;
  const i = parent[from + 8]!;
  // The rest of a division is dear, and few angles need it.
  let angle = own[3]!;
  if (angle > 360 || angle < -360) angle %= 360;
  angle *= RADIANS;
  const cos = angle === 0 ? 1 : Math.cos(angle);
  const sin = angle === 0 ? 0 : Math.sin(angle);
  const sx = own[7]!;
  const sy = own[8]!;
  const sz = own[9]!;
  const px = own[10]!;
  const py = own[11]!;
  const acrossX = cos * sx;
  const acrossY = sin * sx;
  const downX = -sin * sy;
  const downY = cos * sy;
  const x = own[0]! - acrossX * px - downX * py;
  const y = own[1]! - acrossY * px - downY * py;
  const z = own[2]!;
  out[at] = a * acrossX + d * acrossY;
  out[at + 1] = b * acrossX + e * acrossY;
  out[at + 2] = c * acrossX + f * acrossY;
  out[at + 3] = a * downX + d * downY;
  out[at + 4] = b * downX + e * downY;
  out[at + 5] = c * downX + f * downY;
  out[at + 6] = g * sz;
  out[at + 7] = h * sz;
  out[at + 8] = i * sz;
  out[at + 9] = a * x + d * y + g * z + parent[from + 9]!;
  out[at + 10] = b * x + e * y + h * z + parent[from + 10]!;
  out[at + 11] = c * x + f * y + i * z + parent[from + 11]!;
}

/** The transform in its parent of a role whose rotation is a quaternion. */
function composeQuat(own: Float64Array, out: Float64Array, at: number): void {
  const sx = own[7]!;
  const sy = own[8]!;
  const sz = own[9]!;
  const x = own[3]!;
  const y = own[4]!;
  const z = own[5]!;
  const w = own[6]!;
  out[at] = (1 - 2 * (y * y + z * z)) * sx;
  out[at + 1] = 2 * (x * y + z * w) * sx;
  out[at + 2] = 2 * (x * z - y * w) * sx;
  out[at + 3] = 2 * (x * y - z * w) * sy;
  out[at + 4] = (1 - 2 * (x * x + z * z)) * sy;
  out[at + 5] = 2 * (y * z + x * w) * sy;
  out[at + 6] = 2 * (x * z + y * w) * sz;
  out[at + 7] = 2 * (y * z - x * w) * sz;
  out[at + 8] = (1 - 2 * (x * x + y * y)) * sz;
  const px = own[10]!;
  const py = own[11]!;
  out[at + 9] = own[0]! - out[at] * px - out[at + 3]! * py;
  out[at + 10] = own[1]! - out[at + 1]! * px - out[at + 4]! * py;
  out[at + 11] = own[2]! - out[at + 2]! * px - out[at + 5]! * py;
}

/** Puts a transform under that of its parent, in place. Allocates nothing. */
function multiplyInto(parent: Float64Array, from: number, out: Float64Array, at: number): void {
  const a = parent[from]!;
  const b = parent[from + 1]!;
  const c = parent[from + 2]!;
  const d = parent[from + 3]!;
  const e = parent[from + 4]!;
  const f = parent[from + 5]!;
  const g = parent[from + 6]!;
  const h = parent[from + 7]!;
  const i = parent[from + 8]!;
  for (let column = at; column < at + TRANSFORM_SIZE; column += 3) {
    const x = out[column]!;
    const y = out[column + 1]!;
    const z = out[column + 2]!;
    out[column] = a * x + d * y + g * z;
    out[column + 1] = b * x + e * y + h * z;
    out[column + 2] = c * x + f * y + i * z;
  }
  out[at + 9] = out[at + 9]! + parent[from + 9]!;
  out[at + 10] = out[at + 10]! + parent[from + 10]!;
  out[at + 11] = out[at + 11]! + parent[from + 11]!;
}

/** Numbers of a matrix: of the plane (3 × 3) or of space (4 × 4). */
export type MatrixSize = 3 | 4;

/** Writes a transform as a matrix, column by column. One of the plane is seen from the front. */
export function matrixInto(
  transform: Float64Array,
  from: number,
  size: MatrixSize,
  out: Float32Array | Float64Array,
  at: number,
): void {
  if (size === 3) {
    out[at] = transform[from]!;
    out[at + 1] = transform[from + 1]!;
    out[at + 2] = 0;
    out[at + 3] = transform[from + 3]!;
    out[at + 4] = transform[from + 4]!;
    out[at + 5] = 0;
    out[at + 6] = transform[from + 9]!;
    out[at + 7] = transform[from + 10]!;
    out[at + 8] = 1;
    return;
  }
  out[at] = transform[from]!;
  out[at + 1] = transform[from + 1]!;
  out[at + 2] = transform[from + 2]!;
  out[at + 3] = 0;
  out[at + 4] = transform[from + 3]!;
  out[at + 5] = transform[from + 4]!;
  out[at + 6] = transform[from + 5]!;
  out[at + 7] = 0;
  out[at + 8] = transform[from + 6]!;
  out[at + 9] = transform[from + 7]!;
  out[at + 10] = transform[from + 8]!;
  out[at + 11] = 0;
  out[at + 12] = transform[from + 9]!;
  out[at + 13] = transform[from + 10]!;
  out[at + 14] = transform[from + 11]!;
  out[at + 15] = 1;
}

/** Reads a matrix that `matrixInto` has written, or one of the game. */
export function transformInto(matrix: ArrayLike<number>, from: number, size: MatrixSize, out: Float64Array): void {
  out[0] = matrix[from]!;
  out[1] = matrix[from + 1]!;
  out[3] = matrix[from + size]!;
  out[4] = matrix[from + size + 1]!;
  const last = from + size * (size - 1);
  out[9] = matrix[last]!;
  out[10] = matrix[last + 1]!;
  const isSpace = size === 4;
  out[2] = isSpace ? matrix[from + 2]! : 0;
  out[5] = isSpace ? matrix[from + 6]! : 0;
  out[6] = isSpace ? matrix[from + 8]! : 0;
  out[7] = isSpace ? matrix[from + 9]! : 0;
  out[8] = isSpace ? matrix[from + 10]! : 1;
  out[11] = isSpace ? matrix[from + 14]! : 0;
}

/** The numbers of a point as they are in a transform. */
export function putPoint(out: Float64Array, at: number, { x, y, z }: Point, width: number): void {
  out[at] = x;
  out[at + 1] = y;
  if (width > 2) out[at + 2] = z ?? 0;
}
