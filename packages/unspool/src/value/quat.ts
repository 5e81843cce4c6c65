import { cosine, sine } from '../easing/sine.js';
import { show } from '../errors/show.js';
import { isNumber } from './number.js';

/** The order in which three rotations about the axes are applied. */
export type EulerOrder = 'xyz' | 'xzy' | 'yxz' | 'yzx' | 'zxy' | 'zyx';

export const EULER_ORDERS: readonly EulerOrder[] = ['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'];

/** How far a quaternion's length may be from 1: what is off by more was not meant to be one. */
const SLACK = 0.01;

/**
 * Reads `[x, y, z, w]` of about length 1, which is kept as written, or `{ euler: [x, y, z], order }` in degrees. The
 * turns are made in the order's order, each about the axes as turned so far: `"xyz"` is qx · qy · qz.
 */
export function readQuat(value: unknown): number[] | undefined {
  if (Array.isArray(value)) {
    if (value.length !== 4 || !Array.from(value).every(isNumber)) return undefined;
    const numbers = value as number[];
    return Math.abs(Math.hypot(...numbers) - 1) <= SLACK ? numbers.slice() : undefined;
  }
  if (typeof value !== 'object' || value === null) return undefined;
  const { euler, order = 'xyz', ...others } = value as Record<string, unknown>;
  const known = (EULER_ORDERS as readonly unknown[]).includes(order);
  if (!known || Object.keys(others).length > 0 || !Array.isArray(euler) || euler.length !== 3) return undefined;
  if (!Array.from(euler).every(isNumber)) return undefined;
  return quatOf(euler, order as EulerOrder);
}

const TURN = new Float64Array(4);

/**
 * Returns the unit quaternion `[x, y, z, w]` of three rotations about the axes.
 *
 * @param euler degrees about x, y and z
 * @param order in which they are applied, each about the axes as rotated so far: `"xyz"` is qx · qy · qz
 * @throws RangeError for what is not three finite numbers within ±1e100, or not an order
 */
export function quatOf(euler: readonly number[], order: EulerOrder = 'xyz'): number[] {
  checkNumbers(euler, 3, 'a list of angles in degrees');
  checkOrder(order);
  return axesOf(order)
    .map((axis) => about(axis, euler[axis]!))
    .reduce((turned, turn) => product(turned, turn));
}

/**
 * Returns the Euler angles of a quaternion. The middle rotation is from −90 to 90 degrees; at exactly ±90, the last one
 * is 0.
 *
 * With the axes i, j, k of the order, e = 1 where they follow each other as x, y, z do, else −1, and R the quaternion's
 * rotation matrix, which is R_i · R_j · R_k: sin j = e R_ik, tan i = −e R_jk / R_kk, tan k = −e R_ij / R_ii.
 *
 * @param quat  `[x, y, z, w]`, of any length but 0
 * @param order in which the rotations are applied, see `quatOf`
 * @returns degrees about x, y and z
 * @throws RangeError for what is not four finite numbers within ±1e100, of length 0, or not an order
 */
export function eulerOf(quat: readonly number[], order: EulerOrder = 'xyz'): [x: number, y: number, z: number] {
  checkNumbers(quat, 4, 'a quaternion');
  if (quat.every((n) => n === 0)) throw new RangeError('[0, 0, 0, 0] is not a rotation. Use a quaternion of length 1.');
  checkOrder(order);
  const [i, j, k] = axesOf(order) as [number, number, number];
  const sign = (j - i + 3) % 3 === 1 ? 1 : -1;
  const r = matrixOf(quat);
  const middle = sign * r[i]![k]!;
  const flat = Math.abs(middle) > 1 - 1e-12;
  const turns: [number, number, number] = [0, 0, 0];
  turns[j] = Math.asin(Math.max(-1, Math.min(1, middle)));
  turns[i] = flat ? Math.atan2(sign * r[k]![j]!, r[j]![j]!) : Math.atan2(-sign * r[j]![k]!, r[k]![k]!);
  turns[k] = flat ? 0 : Math.atan2(-sign * r[i]![j]!, r[i]![i]!);
  return turns.map((turn) => (turn * 180) / Math.PI) as [number, number, number];
}

function checkNumbers(numbers: unknown, count: number, what: string): void {
  if (Array.isArray(numbers) && numbers.length === count && Array.from(numbers).every(isNumber)) return;
  throw new RangeError(`${show(numbers)} is not ${what}. Use a list of ${count} finite numbers.`);
}

function checkOrder(order: unknown): void {
  if ((EULER_ORDERS as readonly unknown[]).includes(order)) return;
  throw new RangeError(`${show(order)} is not a valid axis order. Use one of ${EULER_ORDERS.join(', ')}.`);
}

const axesOf = (order: EulerOrder) => Array.from(order, (axis) => 'xyz'.indexOf(axis));

/** Rows of the rotation matrix, for columns of coordinates. */
function matrixOf(quat: readonly number[]): readonly (readonly number[])[] {
  // Brought near 1 first: the square of a very large or very small number is none.
  const most = Math.max(...quat.map(Math.abs));
  quat = quat.map((n) => n / most);
  const length = Math.hypot(...quat);
  const [x, y, z, w] = quat.map((n) => n / length) as [number, number, number, number];
  return [
    [1 - 2 * (y * y + z * z), 2 * (x * y - w * z), 2 * (x * z + w * y)],
    [2 * (x * y + w * z), 1 - 2 * (x * x + z * z), 2 * (y * z - w * x)],
    [2 * (x * z - w * y), 2 * (y * z + w * x), 1 - 2 * (x * x + y * y)],
  ];
}

function about(axis: number, degrees: number): number[] {
  // Whole turns of twice 360 degrees change nothing; what is left is exact.
  const half = ((degrees % 720) * Math.PI) / 360;
  const turn = [0, 0, 0, cosine(half)];
  turn[axis] = sine(half);
  return turn;
}

function product(a: readonly number[], b: readonly number[]): number[] {
  const out = new Float64Array(4);
  multiplyQuat(a, 0, b, 0, out, 0);
  return [...out];
}

/** The product a · b (first b, then a; b in the frame of a) into `out`, which may be either of the two. */
export function multiplyQuat(
  a: ArrayLike<number>,
  i: number,
  b: ArrayLike<number>,
  j: number,
  out: Float64Array,
  k: number,
): void {
  const [ax, ay, az, aw] = [a[i]!, a[i + 1]!, a[i + 2]!, a[i + 3]!];
  const [bx, by, bz, bw] = [b[j]!, b[j + 1]!, b[j + 2]!, b[j + 3]!];
  out[k] = aw * bx + ax * bw + ay * bz - az * by;
  out[k + 1] = aw * by - ax * bz + ay * bw + az * bx;
  out[k + 2] = aw * bz + ax * by - ay * bx + az * bw;
  out[k + 3] = aw * bw - ax * bx - ay * by - az * bz;
}

/** The one of ±b that lies on the same side as a: the shorter way to it. */
export function nearerQuat(a: readonly number[], b: readonly number[]): readonly number[] {
  const dot = a.reduce((sum, n, k) => sum + n * b[k]!, 0);
  return dot < 0 ? b.map((n) => -n) : b;
}

/**
 * Spherical linear interpolation between two unit quaternions on the same side (see `nearerQuat`), as glTF 2.0 says it
 * (https://registry.khronos.org/glTF/specs/2.0/glTF-2.0.html#interpolation-slerp). The angle is taken from the two
 * chords, which keeps its precision where the turn is small. Allocates nothing.
 *
 * @param cell   how far from a to b: 0–1, or beyond
 * @param values four numbers of a, and four of b
 * @param out    receives four numbers from `offset` on
 */
export function slerp(
  values: Float64Array,
  a: number,
  b: number,
  cell: Float64Array,
  out: Float64Array,
  offset: number,
): void {
  const u = cell[0]!;
  let near = 0;
  let far = 0;
  for (let k = 0; k < 4; k++) {
    const p = values[a + k]!;
    const q = values[b + k]!;
    near += (q - p) * (q - p);
    far += (q + p) * (q + p);
  }
  const angle = 2 * Math.atan2(Math.sqrt(near), Math.sqrt(far));
  const whole = sine(angle);
  // Of a turn this small the straight line is off by less than 1e-17 of it.
  const straight = angle < 1e-8;
  const from = straight ? 1 - u : sine((1 - u) * angle) / whole;
  const to = straight ? u : sine(u * angle) / whole;
  for (let k = 0; k < 4; k++) out[offset + k] = from * values[a + k]! + to * values[b + k]!;
}

/** Brings four numbers to length 1. Allocates nothing; where they are 0, no turn comes out. */
export function normalizeQuat(out: Float64Array, offset: number): void {
  const length = Math.sqrt(out[offset]! ** 2 + out[offset + 1]! ** 2 + out[offset + 2]! ** 2 + out[offset + 3]! ** 2);
  if (length > 0) for (let k = 0; k < 4; k++) out[offset + k] = out[offset + k]! / length;
  else out[offset + 3] = 1;
}

/** The turn that leads from one unit quaternion to another, as an axis and an angle in radians, 0–π: `[x, y, z, angle]`. */
export function turnBetween(from: readonly number[], to: readonly number[]): number[] {
  const turn = product(to, [-from[0]!, -from[1]!, -from[2]!, from[3]!]);
  // Not `Math.hypot`, whose last bits differ between engines.
  const half = Math.sqrt(turn[0]! ** 2 + turn[1]! ** 2 + turn[2]! ** 2);
  if (half === 0) return [0, 0, 1, 0];
  // The shorter way: both signs of a quaternion are one rotation.
  const sign = turn[3]! < 0 ? -1 : 1;
  const [x, y, z] = turn.map((n) => (sign * n) / half) as [number, number, number];
  return [x, y, z, 2 * Math.atan2(half, sign * turn[3]!)];
}

/**
 * Turns a quaternion by so many times a turn, from outside: `turn` to the power of `times`, then the quaternion. Whole
 * rounds are removed first. It is off by about 1e-15 radians for each time: 1e-9 after a million. Allocates nothing.
 *
 * @param turns has an axis and an angle from `i` on, as `turnBetween` returns them
 */
export function turnTimes(turns: ArrayLike<number>, i: number, times: number, out: Float64Array, k: number): void {
  const half = ((turns[i + 3]! * times) % (4 * Math.PI)) / 2;
  const s = sine(half);
  TURN[0] = turns[i]! * s;
  TURN[1] = turns[i + 1]! * s;
  TURN[2] = turns[i + 2]! * s;
  TURN[3] = cosine(half);
  multiplyQuat(TURN, 0, out, k, out, k);
}
