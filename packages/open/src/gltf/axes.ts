import type { Quat } from '../motion/quaternion.js';

/**
 * Which way is up in a reel: `y` as in glTF, `-y` as on screens (y points down, and positive angles turn clockwise), `z`
 * as in some modelling programs.
 */
export type Up = 'y' | '-y' | 'z';
export const UPS: readonly Up[] = ['y', '-y', 'z'];

type Vector = readonly number[];

/** Turns the coordinates of a reel into those of glTF (y up, meters), and back. All of it is linear. */
export class Axes {
  /** @param scale glTF units for one unit of the reel */
  constructor(
    readonly up: Up,
    readonly scale: number,
  ) {}

  point([x = 0, y = 0, z = 0]: Vector): Vector {
    return this.#ways([x, y, z], 1).map((n) => n * this.scale);
  }

  size([x = 1, y = 1, z = 1]: Vector): Vector {
    return this.up === 'z' ? [x, z, y] : [x, y, z];
  }

  /** An axis of rotation is mirrored the other way when the world is. */
  turn([x, y, z, w]: Quat): Quat {
    return [...this.#ways([x!, y!, z!], this.up === '-y' ? -1 : 1), w!];
  }

  pointBack(vector: Vector): Vector {
    return this.#waysBack(
      vector.map((n) => n / this.scale),
      1,
    );
  }

  sizeBack = (vector: Vector): Vector => this.size(vector);

  turnBack([x, y, z, w]: Quat): Quat {
    return [...this.#waysBack([x!, y!, z!], this.up === '-y' ? -1 : 1), w!];
  }

  #ways([x, y, z]: Vector, sign: number): Vector {
    if (this.up === 'y') return [x!, y!, z!];
    if (this.up === 'z') return [x!, z!, -y!];
    return [sign * x!, sign * -y!, sign * z!];
  }

  #waysBack([x, y, z]: Vector, sign: number): Vector {
    return this.up === 'z' ? [x!, -z!, y!] : this.#ways([x!, y!, z!], sign);
  }
}
