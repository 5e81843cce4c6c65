import { NANOSECOND } from '../../time/units.js';
import type { CompiledCondition, CompiledRoutine } from './compile.js';

/** The inputs of a running routine: their numbers, the conditions on them, and the signals that wait to be used. */
export class Inputs {
  readonly numbers: Float64Array;
  /** By condition: whether it holds (1), and since when, in seconds of the player. */
  readonly holds: Uint8Array;
  readonly since: Float64Array;
  /** By layer and signal: when it came; NaN when none waits. Each layer uses it on its own. */
  readonly signals: Float64Array;

  constructor(readonly routine: CompiledRoutine) {
    this.numbers = Float64Array.from(routine.numbers);
    this.holds = new Uint8Array(routine.conditions.length);
    this.since = new Float64Array(routine.conditions.length);
    this.signals = new Float64Array(routine.signals.length * routine.layers.length).fill(NaN);
  }

  /** The number that a condition or a rate reads: of a vec2 its length. */
  read(at: number, isLength: boolean): number {
    const { numbers } = this;
    return isLength ? Math.hypot(numbers[at]!, numbers[at + 1]!) : numbers[at]!;
  }

  /** Whether a condition holds with the numbers of now; two thresholds keep it from flickering. */
  test({ at, isLength, test, than, until, place }: CompiledCondition): boolean {
    const number = this.read(at, isLength);
    if (test === 'equals') return number === than;
    const edge = this.holds[place] === 1 ? until : than;
    return test === 'above' ? number > edge : number < edge;
  }

  /** Tests all conditions at a moment. */
  update(now: number): void {
    const { conditions } = this.routine;
    for (let i = 0; i < conditions.length; i++) {
      const holds = this.test(conditions[i]!) ? 1 : 0;
      if (holds === this.holds[i]) continue;
      this.holds[i] = holds;
      this.since[i] = now;
    }
  }

  /** Whether a condition has held for as long as it must, as of the last update. */
  applies(condition: CompiledCondition, now: number): boolean {
    const { place } = condition;
    return this.holds[place] === 1 && now - this.since[place]! >= condition.for - NANOSECOND;
  }

  /** The next time at which a condition will have held for long enough; Infinity for none. */
  nextTime(now: number): number {
    const { conditions } = this.routine;
    let next = Infinity;
    for (let i = 0; i < conditions.length; i++) {
      if (conditions[i]!.for === 0 || this.holds[i] === 0) continue;
      const at = this.since[i]! + conditions[i]!.for;
      if (at < next && at - now > NANOSECOND) next = at;
    }
    return next;
  }

  signal(signal: number, now: number): void {
    const { signals, layers } = this.routine;
    for (let lane = 0; lane < layers.length; lane++) this.signals[lane * signals.length + signal] = now;
  }

  /** Whether a signal waits to be used by a layer. */
  waits(lane: number, signal: number, now: number): boolean {
    const { signals } = this.routine;
    return now - this.signals[lane * signals.length + signal]! <= signals[signal]!.keep + NANOSECOND;
  }

  use(lane: number, signal: number): void {
    this.signals[lane * this.routine.signals.length + signal] = NaN;
  }

  /** Forgets signals that were kept long enough. */
  expire(now: number): void {
    const { signals, layers } = this.routine;
    for (let lane = 0; lane < layers.length; lane++)
      for (let i = 0; i < signals.length; i++) if (!this.waits(lane, i, now)) this.use(lane, i);
  }
}
