/** A rotation as a unit quaternion: x, y, z, w. */
export type Quat = readonly number[];

/** Spherical interpolation along the way from a to b as they are given, as glTF 2.0 says it in Appendix C. */
export function slerp(a: Quat, b: Quat, u: number): Quat {
  const near = Math.hypot(...a.map((n, k) => b[k]! - n));
  const far = Math.hypot(...a.map((n, k) => b[k]! + n));
  const angle = 2 * Math.atan2(near, far);
  if (angle < 1e-8) return a.map((n, k) => n + (b[k]! - n) * u);
  const [from, to] = [Math.sin((1 - u) * angle) / Math.sin(angle), Math.sin(u * angle) / Math.sin(angle)];
  return a.map((n, k) => from * n + to * b[k]!);
}

/** A turn about z by an angle in degrees. */
export function turnAboutZ(degrees: number): Quat {
  const half = ((degrees % 720) * Math.PI) / 360;
  return [0, 0, Math.sin(half), Math.cos(half)];
}

/** The angle of a turn about z, −360 to 360 degrees, and how far the axis is from z, 0 to 1. */
export function angleAboutZ([x, y, z, w]: Quat): { readonly degrees: number; readonly off: number } {
  return { degrees: (Math.atan2(z!, w!) * 360) / Math.PI, off: Math.hypot(x!, y!) };
}

/** The product a · b: first b, then a. */
export function product([ax, ay, az, aw]: Quat, [bx, by, bz, bw]: Quat): Quat {
  return [
    aw! * bx! + ax! * bw! + ay! * bz! - az! * by!,
    aw! * by! - ax! * bz! + ay! * bw! + az! * bx!,
    aw! * bz! + ax! * by! - ay! * bx! + az! * bw!,
    aw! * bw! - ax! * bx! - ay! * by! - az! * bz!,
  ];
}

/** The same rotation with length 1. */
export function unit(turn: Quat): Quat {
  const size = Math.hypot(...turn);
  return size > 0 ? turn.map((n) => n / size) : [0, 0, 0, 1];
}
