import { Crowd, randomNumbers, type Reel } from 'unspool';
import { RoleMatrices } from 'unspool/cast/matrix';
import gullReel from '../reels/gull.reel.json';

/** Numbers of one gull: three matrices. */
export const GULL_NUMBERS = 48;

/** Thousands of gulls: their wings are a crowd, their ways are circles over the lagoon. */
export class Gulls {
  readonly crowd = new Crowd(gullReel);
  /** The matrices of body and wings of each. */
  readonly matrices: Float32Array;
  /** How many of them fly. */
  count: number;
  readonly #ids: number[] = [];
  readonly #flap = new RoleMatrices(gullReel as Reel, 'flap');
  readonly #glide = new RoleMatrices(gullReel as Reel, 'glide');
  /** Of each: height, radius, angle, radians per second, middle x and z. */
  readonly #ways: Float32Array;
  readonly #base = new Float32Array(16);
  #time = 0;

  constructor(count: number) {
    this.count = count;
    this.matrices = new Float32Array(count * GULL_NUMBERS);
    this.#ways = new Float32Array(count * 6);
    // The same flock each time.
    const random = randomNumbers(7);
    for (let i = 0; i < count; i++) {
      const isGliding = i % 4 === 0;
      const name = isGliding ? 'glide' : 'flap';
      this.#ids.push(this.crowd.add(name, { phase: random(), rate: 0.8 + 0.5 * random() }));
      const far = random();
      this.#ways.set(
        [
          3 + 16 * random() + 10 * far,
          4 + 26 * Math.sqrt(far) + 10 * random(),
          2 * Math.PI * random(),
          (random() < 0.5 ? -1 : 1) * (0.12 + 0.25 * random()),
          30 * (random() - 0.5) - 4,
          24 * (random() - 0.5) - 16,
        ],
        i * 6,
      );
    }
    this.crowd.prepare();
  }

  tick(dt: number): void {
    this.crowd.tick(dt);
    this.#time += dt;
    const { values } = this.crowd;
    const [ways, base] = [this.#ways, this.#base];
    base[5] = base[15] = 1;
    for (let i = 0; i < this.count; i++) {
      const at = i * 6;
      const angle = ways[at + 2]! + ways[at + 3]! * this.#time;
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      const way = ways[at + 3]! < 0 ? -1 : 1;
      // It looks where it flies: along the circle.
      base[0] = way * cos;
      base[2] = way * sin;
      base[8] = -way * sin;
      base[10] = way * cos;
      base[12] = ways[at + 4]! + ways[at + 1]! * cos;
      base[13] = ways[at]!;
      base[14] = ways[at + 5]! + ways[at + 1]! * sin;
      const roles = i % 4 === 0 ? this.#glide : this.#flap;
      roles.write(values, this.crowd.offsetOf(this.#ids[i]!), this.matrices, i * GULL_NUMBERS, base);
    }
  }
}
