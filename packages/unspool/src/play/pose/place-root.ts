import { cosine, sine } from '../../easing/sine.js';
import { multiplyQuat } from '../../value/quat.js';

/**
 * What a placement makes of a root, a role without a parent: `x`, `y`, `rotation` and the scale act on its own
 * position, `turn` and the two sizes on its own rotation and scale. Degrees; a mirror is a negative scale by x.
 *
 * They differ where a cast is only mirrored, and where the reel does not speak of a property of the root: then its
 * object's is in here.
 */
export type RootPlace = Float64Array & Readonly<Record<0 | 1 | 2 | 3 | 4 | 5 | 6 | 7, number>>;

/** Its numbers, as doubles: of an array that may hold anything the engine would box what it reads. */
export function rootPlaceOf(
  ...numbers: readonly [
    x: number,
    y: number,
    rotation: number,
    scaleX: number,
    scaleY: number,
    turn: number,
    sizeX: number,
    sizeY: number,
  ]
): RootPlace {
  return Float64Array.from(numbers) as RootPlace;
}

/** A placement that treats everything alike. */
export function rootPlace(x: number, y: number, rotation: number, scaleX: number, scaleY: number): RootPlace {
  return rootPlaceOf(x, y, rotation, scaleX, scaleY, rotation, scaleX, scaleY);
}

/** Offsets of a root's own numbers; −1 for those that it does not have. */
export interface RootNumbers {
  readonly position: number;
  readonly rotation: number;
  readonly isQuat: boolean;
  readonly scale: number;
}

/**
 * Where the numbers of a placed root are, after those before it: three of position, four of rotation (an angle or a
 * quaternion), three of scale. The third ones are the caller's.
 */
export const ROTATION = 3;
export const SCALE = 7;
export const ROOT_SIZE = 10;

const RADIANS = Math.PI / 180;

/** A turn about z, as a quaternion. */
const TURN = new Float64Array(4);

/** The one place where the transform of a root is put under that of its cast. Allocates nothing. */
export function placeRoot(place: RootPlace, root: RootNumbers, own: Float64Array, out: Float64Array, at: number): void {
  const sx = place[3];
  const sy = place[4];
  const angle = (place[2] % 360) * RADIANS;
  const cos = cosine(angle);
  const sin = sine(angle);
  const { position, rotation, scale } = root;
  const x = position < 0 ? 0 : own[position]! * sx;
  const y = position < 0 ? 0 : own[position + 1]! * sy;
  out[at] = place[0] + x * cos - y * sin;
  out[at + 1] = place[1] + x * sin + y * cos;
  // A mirror reverses the direction of rotation: about z, and of a rotation in space about y too.
  const sense = sx * sy < 0 ? -1 : 1;
  if (root.isQuat) {
    const to = at + ROTATION;
    out[to] = own[rotation]!;
    out[to + 1] = own[rotation + 1]! * sense;
    out[to + 2] = own[rotation + 2]! * sense;
    out[to + 3] = own[rotation + 3]!;
    TURN[2] = sine(angle / 2);
    TURN[3] = cosine(angle / 2);
    multiplyQuat(TURN, 0, out, to, out, to);
  } else out[at + ROTATION] = place[5] + (rotation < 0 ? 0 : sense * own[rotation]!);
  out[at + SCALE] = place[6] * (scale < 0 ? 1 : own[scale]!);
  out[at + SCALE + 1] = place[7] * (scale < 0 ? 1 : own[scale + 1]!);
}
