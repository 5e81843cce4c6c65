import { NANOSECOND } from '../../time/units.js';
import { DUE } from '../drive/decider.js';
import { ABOVE, EQUALS, LENGTH, type CompiledInput, type CompiledRoutine } from './compile.js';

/**
 * The inputs of a running routine, the conditions on them, and the signals that wait to be used. All that is asked in
 * every frame is plain numbers in one array: the moment that is decided, in seconds of the player; the next time at which
 * a decision is due by time alone; of each input its numbers and its calm range; and of each condition two: whether it
 * holds (1), and since when.
 *
 * The calm range of an input lies between two numbers: while it stays inside, none of its conditions changes.
 */
export class Inputs {
  readonly numbers: Float64Array;
  /** By layer and signal: when it came; NaN when none waits. Each layer uses it on its own. */
  readonly signals: Float64Array;
  /** Whether a signal may be waiting. */
  isKept = false;

  constructor(readonly routine: CompiledRoutine) {
    const { start, states, conditions, signals, layers } = routine;
    this.numbers = new Float64Array(states + 2 * conditions.length);
    this.numbers.set(start);
    this.signals = new Float64Array(signals.length * layers.length).fill(NaN);
  }

  /** The moment that is decided, in seconds of the player. */
  get now(): number {
    return this.numbers[0]!;
  }

  /** Whether a condition holds, and since when, as of the last update. */
  holds(condition: number): boolean {
    return this.numbers[this.routine.states + 2 * condition] === 1;
  }

  since(condition: number): number {
    return this.numbers[this.routine.states + 2 * condition + 1]!;
  }

  setState(condition: number, holds: boolean, since: number): void {
    const at = this.routine.states + 2 * condition;
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
    const edge = limits[3 * condition + numbers[this.routine.states + 2 * condition]!]!;
    return test === EQUALS ? number === edge : test === ABOVE ? number > edge : number < edge;
  }

  /** Tests at the moment all conditions that may have changed. */
  update(): void {
    const { tested } = this.routine;
    for (let i = 0; i < tested.length; i++) if (!this.isCalm(tested[i]!)) this.#updateInput(tested[i]!);
  }

  /** Tests the conditions on an input, and finds the nearest edges at which one of them would change. */
  #updateInput({ calm, first, last }: CompiledInput): void {
    const { numbers, routine } = this;
    const { tests, limits, byInput } = routine.numbers;
    let low = -Infinity;
    let high = Infinity;
    for (let i = first; i < last; i++) {
      const place = byInput[i]!;
      const at = routine.states + 2 * place;
      const isHeld = this.test(place) ? 1 : 0;
      if (isHeld !== numbers[at]) {
        numbers[at] = isHeld;
        numbers[at + 1] = numbers[0]!;
      }
      const edge = limits[3 * place + isHeld]!;
      const test = tests[2 * place + 1]! % LENGTH;
      // A number that is waited for may be reached from both sides: no change of it is calm.
      if (test === EQUALS || (test === ABOVE) === (isHeld === 1)) low = Math.max(low, edge);
      if (test === EQUALS || (test === ABOVE) !== (isHeld === 1)) high = Math.min(high, edge);
    }
    numbers[calm] = low;
    numbers[calm + 1] = high;
  }

  /** Whether all conditions on an input stay as they are with its numbers of now. At an edge it says no, to be safe. */
  isCalm({ at, calm, kind }: CompiledInput): boolean {
    const { numbers } = this;
    const x = numbers[at]!;
    const y = kind === 'vec2' ? numbers[at + 1]! : 0;
    const number = kind === 'vec2' ? Math.sqrt(x * x + y * y) : x;
    return number > numbers[calm]! && number < numbers[calm + 1]!;
  }

  /** Whether a condition has held for as long as it must, as of the last update. */
  applies(condition: number): boolean {
    const { numbers } = this;
    const at = this.routine.states + 2 * condition;
    if (numbers[at] === 0) return false;
    const least = this.routine.numbers.limits[3 * condition + 2]!;
    return least === 0 || numbers[0]! - numbers[at + 1]! >= least - NANOSECOND;
  }

  /** Finds the next time at which a condition will have held for long enough: one number, Infinity for none. */
  findNext(): void {
    const { waiting, limits } = this.routine.numbers;
    const { numbers } = this;
    numbers[DUE] = Infinity;
    for (let i = 0; i < waiting.length; i++) {
      const place = waiting[i]!;
      const state = this.routine.states + 2 * place;
      if (numbers[state] === 0) continue;
      const at = numbers[state + 1]! + limits[3 * place + 2]!;
      if (at < numbers[DUE] && at - numbers[0]! > NANOSECOND) numbers[DUE] = at;
    }
  }

  signal(signal: number, now: number): void {
    const { signals, layers } = this.routine;
    for (let lane = 0; lane < layers.length; lane++) this.signals[lane * signals.length + signal] = now;
    this.isKept = true;
  }

  /** Whether a signal waits to be used by a layer. */
  waits(lane: number, signal: number): boolean {
    if (!this.isKept) return false;
    const { signals } = this.routine;
    return this.now - this.signals[lane * signals.length + signal]! <= signals[signal]!.keep + NANOSECOND;
  }

  use(lane: number, signal: number): void {
    this.signals[lane * this.routine.signals.length + signal] = NaN;
  }

  /** Forgets signals that were kept long enough. */
  expire(): void {
    if (!this.isKept) return;
    const { signals, layers } = this.routine;
    let isKept = false;
    for (let lane = 0; lane < layers.length; lane++)
      for (let i = 0; i < signals.length; i++) {
        if (this.waits(lane, i)) isKept = true;
        else this.use(lane, i);
      }
    this.isKept = isKept;
  }

  /** Signals and conditions were put there from a saved state. */
  loaded(): void {
    this.isKept = true;
    for (const { calm } of this.routine.tested) this.numbers[calm] = NaN;
  }
}
