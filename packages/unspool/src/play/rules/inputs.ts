import { NANOSECOND } from '../../time/units.js';
import { EQUALS, LENGTH, type CompiledRoutine } from './compile.js';

/**
 * The inputs of a running routine, the conditions on them, and the signals that wait to be used. All that is asked in
 * every frame is plain numbers in one array: the moment that is decided, in seconds of the player; the numbers of the
 * inputs; and of each condition two: whether it holds (1), and since when.
 */
export class Inputs {
  readonly numbers: Float64Array;
  /** By layer and signal: when it came; NaN when none waits. Each layer uses it on its own. */
  readonly signals: Float64Array;
  /** The next time at which a decision is due by time alone: one number. */
  readonly next = Float64Array.of(Infinity);
  /** Where the numbers of conditions begin. */
  readonly #states: number;
  /** Whether a signal may be waiting. */
  #isKept = false;

  constructor(readonly routine: CompiledRoutine) {
    const { start, conditions, signals, layers } = routine;
    this.#states = start.length;
    this.numbers = new Float64Array(start.length + 2 * conditions.length);
    this.numbers.set(start);
    this.signals = new Float64Array(signals.length * layers.length).fill(NaN);
  }

  /** The moment that is decided, in seconds of the player. */
  get now(): number {
    return this.numbers[0]!;
  }

  /** Whether a condition holds, and since when, as of the last update. */
  holds(condition: number): boolean {
    return this.numbers[this.#states + 2 * condition] === 1;
  }

  since(condition: number): number {
    return this.numbers[this.#states + 2 * condition + 1]!;
  }

  setState(condition: number, holds: boolean, since: number): void {
    const at = this.#states + 2 * condition;
    this.numbers[at] = holds ? 1 : 0;
    this.numbers[at + 1] = since;
  }

  /** The number that a condition reads: of a vec2 its length. */
  read(at: number, isLength: boolean): number {
    const { numbers } = this;
    return isLength ? Math.hypot(numbers[at]!, numbers[at + 1]!) : numbers[at]!;
  }

  /** Whether a condition holds with the numbers of now; two thresholds keep it from flickering. */
  test(condition: number): boolean {
    const { tests, limits } = this.routine.numbers;
    const { numbers } = this;
    const at = tests[2 * condition]!;
    const isLength = tests[2 * condition + 1]! >= LENGTH;
    const test = tests[2 * condition + 1]! % LENGTH;
    const x = numbers[at]!;
    const y = isLength ? numbers[at + 1]! : 0;
    // Not `Math.hypot`, which allocates; and no input is so far out that its square overflows.
    const number = isLength ? Math.sqrt(x * x + y * y) : x;
    const edge = limits[3 * condition + numbers[this.#states + 2 * condition]!]!;
    return test === EQUALS ? number === edge : test === 0 ? number > edge : number < edge;
  }

  /** Tests all conditions at the moment. */
  update(): void {
    const { numbers } = this;
    for (let i = 0, at = this.#states; at < numbers.length; i++, at += 2) {
      const isHeld = this.test(i) ? 1 : 0;
      if (isHeld === numbers[at]) continue;
      numbers[at] = isHeld;
      numbers[at + 1] = numbers[0]!;
    }
  }

  /** Whether a condition has held for as long as it must, as of the last update. */
  applies(condition: number): boolean {
    const { numbers } = this;
    const at = this.#states + 2 * condition;
    if (numbers[at] === 0) return false;
    const least = this.routine.numbers.limits[3 * condition + 2]!;
    return least === 0 || numbers[0]! - numbers[at + 1]! >= least - NANOSECOND;
  }

  /** Finds the next time at which a condition will have held for long enough: one number, Infinity for none. */
  findNext(): void {
    const { waiting } = this.routine;
    const { numbers, next } = this;
    next[0] = Infinity;
    for (let i = 0; i < waiting.length; i++) {
      const { place, for: least } = waiting[i]!;
      const state = this.#states + 2 * place;
      if (numbers[state] === 0) continue;
      const at = numbers[state + 1]! + least;
      if (at < next[0] && at - numbers[0]! > NANOSECOND) next[0] = at;
    }
  }

  signal(signal: number, now: number): void {
    const { signals, layers } = this.routine;
    for (let lane = 0; lane < layers.length; lane++) this.signals[lane * signals.length + signal] = now;
    this.#isKept = true;
  }

  /** Whether a signal waits to be used by a layer. */
  waits(lane: number, signal: number): boolean {
    if (!this.#isKept) return false;
    const { signals } = this.routine;
    return this.now - this.signals[lane * signals.length + signal]! <= signals[signal]!.keep + NANOSECOND;
  }

  use(lane: number, signal: number): void {
    this.signals[lane * this.routine.signals.length + signal] = NaN;
  }

  /** Forgets signals that were kept long enough. */
  expire(): void {
    if (!this.#isKept) return;
    const { signals, layers } = this.routine;
    let isKept = false;
    for (let lane = 0; lane < layers.length; lane++)
      for (let i = 0; i < signals.length; i++) {
        if (this.waits(lane, i)) isKept = true;
        else this.use(lane, i);
      }
    this.#isKept = isKept;
  }

  /** Signals were put there from a saved state. */
  loaded(): void {
    this.#isKept = true;
  }
}
