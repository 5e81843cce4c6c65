/** A rotation in degrees; of a quaternion, what it does in the plane, as it is seen from the front. */
export function turnOf(values: Float64Array, offset: number, width: number): number {
  return width === 4 ? turnOfQuat(values[offset]!, values[offset + 1]!, values[offset + 2]!, values[offset + 3]!) : values[offset]!; // prettier-ignore
}

/** What a quaternion does in the plane: degrees about z. */
export function turnOfQuat(x: number, y: number, z: number, w: number): number {
  return Math.atan2(2 * (w * z + x * y), 1 - 2 * (y * y + z * z)) / RADIANS;
}

/** Radians of a degree. */
export const RADIANS = Math.PI / 180;

/** A channel of a color as a byte. */
export const byteOf = (channel: number) => Math.round(255 * Math.min(1, Math.max(0, channel)));
