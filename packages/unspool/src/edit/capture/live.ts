import { NANOSECOND } from '../../time/units.js';
import type { Value } from '../../value/read.js';
import { UnspoolError } from '../../errors/error.js';
import { checkOptions } from '../../errors/check-options.js';
import { show } from '../../errors/show.js';
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
 * Takes samples of moving objects while a game runs, for `capture`. A sample is taken in each frame in which one of the
 * times 0, 1/rate, 2/rate … falls due, with the time of that frame.
 *
 * @example
 * const live = new LiveSamples(() => ({ 'ball.position': [ball.x, ball.y] }));
 * live.tick(dt); // once per frame
 * const { clip } = capture(live.samples, { tolerance: 0.5 });
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
    options: LiveOptions = {},
  ) {
    checkOptions(options, ['rate', 'limit'], 'LiveSamples', 'edit');
    const { rate = 60, limit = 60 } = options;
    if (typeof read !== 'function')
      throw new UnspoolError(
        'edit/capture',
        `expected a function that reads values, found ${show(read)}`,
        "pass () => ({ 'ball.position': [ball.x, ball.y] })",
      );
    if (!(rate > 0 && rate < Infinity) || !(limit > 0))
      throw new UnspoolError(
        'edit/capture',
        `the rate ${show(rate)} or the limit ${show(limit)} is not greater than 0`,
        'use two numbers greater than 0',
      );
    this.#gap = 1 / rate;
    this.#limit = limit;
  }

  /** The samples, sorted by time; the first is at 0 unless it was dropped. */
  get samples(): readonly Sample[] {
    return this.#samples;
  }

  /** Advances by `dt` seconds: call it once per frame. The first call takes the first sample, at 0. */
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

  /** Drops all samples and starts again. */
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
