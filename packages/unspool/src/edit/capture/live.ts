import { NANOSECOND } from '../../time/units.js';
import type { Value } from '../../value/read.js';
import { UnspoolError } from '../../errors/error.js';
import type { Sample } from './capture.js';
import { frameSeconds } from '../../time/frame-seconds.js';

/** Options of `new LiveSamples(options)`. */
export interface LiveOptions {
  /** Samples per second, greater than 0. Default: 60. */
  readonly rate?: number;
  /** Seconds of samples to keep; older ones are dropped. Default: 60. */
  readonly limit?: number;
}

/**
 * Samples of what objects do, taken while a game runs: for `capture`. One is taken in each frame in which one of the
 * moments 0, 1/rate, 2/rate … falls due, at the time of that frame, as nothing is known of the time between two frames.
 *
 * ```ts
 * const live = new LiveSamples(() => ({ 'ball.position': [ball.x, ball.y] }));
 * // once a frame:
 * live.tick(dt);
 * // and then:
 * const { clip } = capture(live.samples, { tolerance: 0.5 });
 * ```
 */
export class LiveSamples {
  readonly #samples: Sample[] = [];
  readonly #gap: number;
  readonly #limit: number;
  #now = 0;
  /** How many of the moments are past. */
  #past = 0;

  /** @param read the values of some properties now, by `role.property` */
  constructor(
    private readonly read: () => Readonly<Record<string, Value>>,
    { rate = 60, limit = 60 }: LiveOptions = {},
  ) {
    if (!(rate > 0 && rate < Infinity) || !(limit > 0))
      throw new UnspoolError(
        'edit/capture',
        `the rate ${rate} or the limit ${limit} is not greater than 0`,
        'use two numbers greater than 0',
      );
    this.#gap = 1 / rate;
    this.#limit = limit;
  }

  /** What was taken so far, the first at 0 unless it has been forgotten. */
  get samples(): readonly Sample[] {
    return this.#samples;
  }

  /**
   * Call it once a frame, with the seconds that went by; the first call takes the first sample, at 0.
   *
   * @throws RangeError for a `dt` that is not a finite number ≥ 0 (from -0.1 on it counts as 0)
   */
  tick(dt: number): void {
    dt = frameSeconds(dt);
    const first = this.#samples.length === 0;
    if (!first) this.#now += dt;
    const past = Math.floor((this.#now + NANOSECOND) / this.#gap) + 1;
    if (past <= this.#past) return;
    this.#past = past;
    this.#samples.push({ time: this.#now, values: copied(this.read()) });
    while (this.#samples[0]!.time < this.#now - this.#limit) this.#samples.shift();
  }

  /** Begins anew. */
  clear(): void {
    this.#samples.length = 0;
    this.#now = this.#past = 0;
  }
}

/** The values as they are now: lists that a game writes into again are copied. */
function copied(values: Readonly<Record<string, Value>>): Readonly<Record<string, Value>> {
  return Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, Array.isArray(value) ? value.slice() : value]),
  );
}
