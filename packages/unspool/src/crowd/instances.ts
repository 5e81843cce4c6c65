import { numberOut } from '../play/time/playhead.js';
import { directionOf, firstIteration, type Repeat } from '../time/iteration.js';
import { resized, roomFor } from './room.js';
import type { GroupState } from './saved.js';

/** What has become of an instance, and a flag for one that is paused. */
export const FRESH = 0;
export const RUNNING = 1;
export const OVER = 2;
export const PAUSED = 4;

/** What is known of instances, a list for each fact. They have no gaps: whoever is last takes the place of one that goes. */
export class Instances {
  count = 0;
  capacity = 0;
  /** The id of the instance at each index. */
  ids = new Float64Array(0);
  /** Seconds inside the clip, and where they began; seconds of the clip in one of the game, below 0 while it runs back. */
  protected times = new Float64Array(0);
  protected starts = new Float64Array(0);
  protected velocities = new Float64Array(0);
  /** Just before the next time at which something happens, in the direction of play; NaN when it is to be looked at. */
  protected ahead = new Float64Array(0);
  protected iterations = new Float64Array(0);
  /** What rounding has cut off the times since they last were somewhere exactly. */
  protected lost = new Float32Array(0);
  /** Which of the repeats it has. */
  protected loops = new Uint8Array(0);
  protected states = new Uint8Array(0);
  readonly repeats: Repeat[] = [];

  /** Adds one, and returns its place. The values of the group must have room for `capacity` before they are used. */
  add(id: number, time: number, rate: number, repeat: Repeat): number {
    const loop = this.loopOf(repeat);
    if (this.count === this.capacity) this.#grow();
    const place = this.count++;
    const iteration = firstIteration(repeat, rate);
    this.ids[place] = id;
    this.times[place] = this.starts[place] = time;
    this.ahead[place] = NaN;
    this.velocities[place] = Math.abs(rate) * directionOf(repeat, rate, iteration);
    this.iterations[place] = iteration;
    this.lost[place] = 0;
    this.loops[place] = loop;
    this.states[place] = FRESH;
    return place;
  }

  /**
   * Adds one as it was saved: the instance at an index of the lists. A time beyond the end of the clip is at its end.
   * Returns its place.
   */
  addSaved(id: number, saved: GroupState, i: number, duration: number): number {
    const time = Math.min(duration, saved.times[i]!);
    const place = this.add(id, time, 1, repeatIn(saved, i));
    this.starts[place] = Math.min(duration, saved.starts[i]!);
    this.velocities[place] = Number(saved.velocities[i]);
    this.iterations[place] = Number(saved.iterations[i]);
    this.lost[place] = time === saved.times[i] ? Number(saved.lost[i]) : 0;
    this.states[place] = saved.states[i]!;
    return place;
  }

  /** The instances at some places, as plain JSON. */
  saveAt(places: readonly number[]): Omit<GroupState, 'clip'> {
    const { ids, times, starts, velocities, iterations, lost, loops, states } = this.lists;
    const plain = (list: ArrayLike<number>) => places.map((place) => list[place]!);
    const numbers = (list: ArrayLike<number>) => places.map((place) => numberOut(list[place]!));
    return {
      repeats: this.repeats.map(({ mode, count }) => ({ mode, count: numberOut(count) })),
      ...{ ids: plain(ids), times: plain(times), starts: plain(starts) },
      ...{ velocities: numbers(velocities), iterations: numbers(iterations), lost: numbers(lost) },
      ...{ loops: plain(loops), states: plain(states) },
    };
  }

  isOver(place: number): boolean {
    return (this.states[place]! & ~PAUSED) === OVER;
  }

  timeOf(place: number): number {
    return this.times[place]!;
  }

  isPaused(place: number): boolean {
    return (this.states[place]! & PAUSED) !== 0;
  }

  pause(place: number, isPaused: boolean): void {
    this.states[place] = (this.states[place]! & ~PAUSED) | (isPaused ? PAUSED : 0);
  }

  /** The rate of an instance, with that of its clip. */
  rateOf(place: number): number {
    return this.velocities[place]! * directionOf(this.repeatOf(place), 1, this.iterations[place]!);
  }

  repeatOf(i: number): Repeat {
    return this.repeats[this.loops[i]!]!;
  }

  /** Which of its repeats one is. Throws when there are too many. */
  loopOf(repeat: Repeat): number {
    const known = this.repeats.findIndex(({ mode, count }) => mode === repeat.mode && count === repeat.count);
    if (known >= 0) return known;
    if (this.repeats.length > 255)
      throw new RangeError('a crowd supports at most 256 different loop settings for one clip');
    return this.repeats.push(repeat) - 1;
  }

  /** Every fact, by its name. */
  get lists() {
    const [times, starts, velocities] = [this.times, this.starts, this.velocities];
    const [iterations, lost, loops, states] = [this.iterations, this.lost, this.loops, this.states];
    return { ids: this.ids, times, starts, velocities, iterations, lost, loops, states };
  }

  #grow(): void {
    this.capacity = roomFor(this.count + 1);
    this.ids = resized(this.ids, this.capacity);
    this.times = resized(this.times, this.capacity);
    this.starts = resized(this.starts, this.capacity);
    this.velocities = resized(this.velocities, this.capacity);
    this.ahead = resized(this.ahead, this.capacity);
    this.iterations = resized(this.iterations, this.capacity);
    this.lost = resized(this.lost, this.capacity);
    this.loops = resized(this.loops, this.capacity);
    this.states = resized(this.states, this.capacity);
  }
}

/** How a saved instance repeats. */
export function repeatIn({ repeats, loops }: Pick<GroupState, 'repeats' | 'loops'>, i: number): Repeat {
  const { mode, count } = repeats[loops[i]!]!;
  return { mode, count: Number(count) };
}
