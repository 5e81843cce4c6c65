import { cosine, sine } from '../easing/sine.js';
import { placeRoot, ROOT_SIZE, ROTATION, SCALE, type RootNumbers, type RootPlace } from '../play/pose/place-root.js';
import { lengthOf, type Vec } from '../shape/rounded.js';

/** Offsets of a role's properties in the numbers of a rig; −1 for those that the reel does not have. */
export interface Level extends RootNumbers {
  readonly pivot: number;
}

const RADIANS = Math.PI / 180;

/**
 * Writes the transform of a role: six numbers a … f with x' = a x + c y + e, y' = b x + d y + f. Its pivot goes to its
 * position, scaled, then rotated.
 */
export function transform(
  { position, rotation, isQuat, scale, pivot }: Level,
  values: Float64Array,
  out: Float64Array,
): void {
  rotate(rotation, isQuat, values, out);
  if (scale >= 0) scaleBy(values[scale]!, values[scale + 1]!, out);
  putAt(position < 0 ? 0 : values[position]!, position < 0 ? 0 : values[position + 1]!, pivot, values, out);
}

const ROOT = new Float64Array(ROOT_SIZE);

/** The root as its player writes it. */
export function placed(level: Level, values: Float64Array, place: RootPlace, out: Float64Array): void {
  placeRoot(place, level, values, ROOT, 0);
  rotate(ROTATION, level.isQuat, ROOT, out);
  scaleBy(ROOT[SCALE]!, ROOT[SCALE + 1]!, out);
  putAt(ROOT[0]!, ROOT[1]!, level.pivot, values, out);
}

/** Begins a transform with a rotation: none, an angle, or one in space as it is seen from the front. */
function rotate(k: number, isQuat: boolean, values: Float64Array, out: Float64Array): void {
  if (k >= 0 && isQuat) {
    const [x, y, z, w] = [values[k]!, values[k + 1]!, values[k + 2]!, values[k + 3]!];
    out[0] = 1 - 2 * (y * y + z * z);
    out[1] = 2 * (x * y + z * w);
    out[2] = 2 * (x * y - z * w);
    out[3] = 1 - 2 * (x * x + z * z);
    return;
  }
  const angle = k < 0 ? 0 : (values[k]! % 360) * RADIANS;
  const cos = cosine(angle);
  const sin = sine(angle);
  out[0] = cos;
  out[1] = sin;
  out[2] = -sin;
  out[3] = cos;
}

function scaleBy(sx: number, sy: number, out: Float64Array): void {
  out[0]! *= sx;
  out[1]! *= sx;
  out[2]! *= sy;
  out[3]! *= sy;
}

/** Ends it: its pivot goes to a position. */
function putAt(x: number, y: number, pivot: number, values: Float64Array, out: Float64Array): void {
  const px = pivot < 0 ? 0 : values[pivot]!;
  const py = pivot < 0 ? 0 : values[pivot + 1]!;
  out[4] = x - out[0]! * px - out[2]! * py;
  out[5] = y - out[1]! * px - out[3]! * py;
}

/** The second within the first; it becomes the result. */
export function multiply(out: Float64Array, own: Float64Array): void {
  for (let row = 0; row < 2; row++) {
    const first = out[row]!;
    const second = out[2 + row]!;
    out[row] = first * own[0]! + second * own[1]!;
    out[2 + row] = first * own[2]! + second * own[3]!;
    out[4 + row] = first * own[4]! + second * own[5]! + out[4 + row]!;
  }
}

export function apply(t: Float64Array, x: number, y: number): Vec {
  return [t[0]! * x + t[2]! * y + t[4]!, t[1]! * x + t[3]! * y + t[5]!];
}

/** Where the rotation, or the mirror, that is nearest to a transform turns a unit vector. */
export function turned([a = 1, b = 0, c = 0, d = 1]: Float64Array, x: number, y: number): Vec {
  const isMirror = a * d - b * c < 0;
  const [u, v] = isMirror ? [a - d, b + c] : [a + d, b - c];
  const length = lengthOf(u, v);
  const [cos, sin] = length > 0 ? [u / length, v / length] : [1, 0];
  const w = isMirror ? -y : y;
  return [x * cos - w * sin, x * sin + w * cos];
}

/** By how much a transform lengthens at most: its greater singular value. */
export function stretch(t: Float64Array): number {
  const a = t[0]!;
  const b = t[1]!;
  const c = t[2]!;
  const d = t[3]!;
  const across = a * a + b * b;
  const down = c * c + d * d;
  return Math.sqrt((across + down) / 2 + lengthOf((across - down) / 2, a * c + b * d));
}
