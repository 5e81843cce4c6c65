import type { Clip } from '../clip/clip.js';
import { evaluateFitted, type Fitted } from '../clip/fitted.js';
import type { Pose } from '../clip/layout.js';
import { fittedOf } from '../clip/prepare.js';
import {
  directionOf,
  firstIteration,
  isLastIteration,
  lapOf,
  limitOf,
  nextStartOf,
  passOver,
  type Repeat,
} from '../time/iteration.js';
import { NANOSECOND } from '../time/units.js';
import { cueTimelineOf, happens, type CueMoment, type CueTimeline } from '../play/time/cue-timeline.js';
import type { CueList } from './cue-list.js';

/** What has become of an instance. */
const FRESH = 0;
const RUNNING = 1;
export const OVER = 2;

/** Iterations of one instance whose cues are reported per tick, or one more; earlier ones are passed over at once. */
const MAX_ITERATIONS_A_FRAME = 64;

const NOTHING_LEFT = new Float64Array(1);

/** The instances of a crowd that play one clip: their state in lists, their poses one after the other. */
export class Group {
  /** Where its poses begin in the crowd's values. */
  offset = 0;
  count = 0;
  capacity = 0;
  /** The id of the instance at each index. */
  ids = new Float64Array(0);
  /** Seconds inside the clip; seconds of the clip in one of the game, below 0 while it runs back. */
  #times = new Float64Array(0);
  #velocities = new Float64Array(0);
  #iterations = new Float64Array(0);
  #laps = new Float64Array(0);
  /** What rounding has cut off the times since they last were somewhere exactly. */
  #lost = new Float32Array(0);
  /** Which of the repeats it has. */
  #loops = new Uint8Array(0);
  #states = new Uint8Array(0);
  /** @internal */
  readonly repeats: Repeat[] = [];
  /** Whether the end of any instance is inside an iteration. */
  #hasPart = false;
  /**
   * Seconds of the tick that are left for the current instance. In an array, because the engine may box a number that
   * is passed on.
   */
  readonly #left = new Float64Array(1);
  clip!: Clip;
  #timeline!: CueTimeline;
  #pose!: Pose;

  constructor(clip: Clip) {
    this.become(clip);
  }

  /** Its instances play this clip from now on. */
  become(clip: Clip): void {
    this.clip = clip;
    this.#timeline = cueTimelineOf(clip, false);
    this.#pose = clip.createPose();
    this.#hasPart = this.repeats.some(isPart);
  }

  /** Numbers in the pose of an instance. */
  get width(): number {
    return this.clip.layout.size;
  }

  /** Adds one, and returns its place. The values of the group must have room for `capacity` before they are used. */
  add(id: number, time: number, rate: number, repeat: Repeat): number {
    if (this.count === this.capacity) this.#grow();
    const place = this.count++;
    const iteration = firstIteration(repeat, rate);
    this.ids[place] = id;
    this.#times[place] = time;
    this.#velocities[place] = Math.abs(rate) * directionOf(repeat, rate, iteration);
    this.#iterations[place] = iteration;
    this.#lost[place] = 0;
    this.#loops[place] = this.#loopOf(repeat);
    this.#states[place] = FRESH;
    return place;
  }

  /** Takes one out; the last one takes its place, values and all. Intervals that it is inside of end. */
  remove(place: number, values: Float64Array, cues: CueList): void {
    if (this.#states[place] === RUNNING) {
      const inside = this.#timeline.beginning(this.#times[place]!, Math.sign(this.#velocities[place]!) || 1);
      for (const { type, cue } of inside)
        if (type === 'cue-start') cues.add(this.ids, place, this.clip.name, cue, 'cue-end', NOTHING_LEFT);
    }
    const last = --this.count;
    for (const list of Object.values(this.lists)) list[place] = list[last]!;
    this.ids[last] = NaN;
    if (last === place) return;
    const [to, from] = [this.offset + place * this.width, this.offset + last * this.width];
    values.copyWithin(to, from, from + this.width);
  }

  isOver(place: number): boolean {
    return this.#states[place] === OVER;
  }

  timeOf(place: number): number {
    return this.#times[place]!;
  }

  /** Advances every playhead by `dt` seconds and collects its cues. */
  advance(dt: number, cues: CueList): void {
    const { duration } = this.clip;
    const end = duration - NANOSECOND;
    const times = this.#times;
    const velocities = this.#velocities;
    const states = this.#states;
    const lost = this.#lost;
    const hasPart = this.#hasPart;
    const { stops } = this.#timeline;
    for (let i = 0; i < this.count; i++) {
      const state = states[i]! | 0;
      if (state === OVER) continue;
      const before = times[i]!;
      // Kahan's compensated sum: half an hour of frames comes to half an hour.
      const step = velocities[i]! * dt + lost[i]!;
      const time = before + step;
      // Usually a playhead only advances inside its iteration and passes nothing.
      let free = state === RUNNING && time > NANOSECOND && time < end && !(hasPart && this.#endsInside(i));
      const low = (before < time ? before : time) - NANOSECOND;
      const high = (before < time ? time : before) + NANOSECOND;
      for (let k = 0; free && k < stops.length; k++) free = stops[k]! < low || stops[k]! > high;
      if (free) {
        times[i] = time;
        lost[i] = step - (time - before);
      } else {
        this.#left[0] = dt;
        this.#simulate(i, cues);
      }
    }
  }

  /** Returns whether the current iteration of an instance is its last, and ends before the clip does. */
  #endsInside(i: number): boolean {
    return isPart(this.repeats[this.#loops[i]!]!);
  }

  /** Writes the poses of all. */
  evaluate(values: Float64Array): void {
    const { clip, width, offset } = this;
    const fitted = fittedOf(clip);
    if (fitted) evaluateFitted(fitted, this.#times, this.#lapsOf(fitted), this.count, values, offset);
    else {
      // Not prepared yet: the same poses by the evaluator of players, which takes longer.
      for (let i = 0; i < this.count; i++) {
        clip.sampleLap(this.#times[i]!, this.#lap(i), this.#pose);
        values.set(this.#pose.values, offset + i * width);
      }
    }
    if (clip.after === 'hold') return;
    this.#pose.reset();
    for (let i = 0; i < this.count; i++) {
      if (this.#states[i] === OVER) values.set(this.#pose.values, offset + i * width);
    }
  }

  /** The laps of all, where anything accumulates; a list that is not read where nothing does. */
  #lapsOf({ gains, turns }: Fitted): Float64Array {
    if (gains.length + turns.length === 0) return this.#iterations;
    if (this.repeats.every(({ mode }) => mode === 'loop')) return this.#iterations;
    if (this.#laps.length < this.capacity) this.#laps = new Float64Array(this.capacity);
    for (let i = 0; i < this.count; i++) this.#laps[i] = this.#lap(i);
    return this.#laps;
  }

  #lap(i: number): number {
    return lapOf(this.repeats[this.#loops[i]!]!, this.#iterations[i]!);
  }

  /** One instance from moment to moment, by the rules of `Playback`. */
  #simulate(i: number, cues: CueList): void {
    const { duration } = this.clip;
    const repeat = this.repeats[this.#loops[i]!]!;
    let iteration = this.#iterations[i]!;
    const speed = Math.abs(this.#velocities[i]!);
    const rate = this.#velocities[i]! * directionOf(repeat, 1, iteration); // as in a forward iteration
    let time = this.#times[i]!;
    const left = this.#left;
    if (this.#lost[i] !== 0 && speed > 0) left[0] = left[0]! + this.#lost[i]! / this.#velocities[i]!;
    this.#lost[i] = 0;
    let isFresh = this.#states[i] === FRESH;
    if (isFresh) {
      this.#states[i] = RUNNING;
      this.#emit(i, this.#timeline.beginning(time, directionOf(repeat, rate, iteration) || 1), cues);
    }
    if (left[0]! * speed > MAX_ITERATIONS_A_FRAME * duration && duration > 0) {
      const passed = passOver(left, duration / speed, repeat, rate, iteration, MAX_ITERATIONS_A_FRAME);
      iteration += passed;
    }
    while (speed > 0) {
      const direction = directionOf(repeat, rate, iteration);
      const limit = limitOf(duration, repeat, rate, iteration, direction);
      const last = isLastIteration(repeat, rate, iteration);
      const turns = repeat.mode === 'ping-pong' && !last;
      if (time !== limit) {
        const stop = this.#timeline.next(time, direction, limit);
        const needed = Math.abs(stop - time) / speed;
        if (needed - left[0]! > NANOSECOND) {
          // Within a nanosecond of where it has just been, it is there; the rest counts in the next frame.
          if (left[0]! > NANOSECOND) time += direction * left[0]! * speed;
          else this.#lost[i] = direction * left[0]! * speed;
          break;
        }
        left[0] = left[0]! - needed;
        time = stop;
        isFresh = false;
        this.#emit(i, this.#timeline.arriving(stop, direction), cues, stop === limit, turns);
      } else if (last || (duration === 0 && repeat.count !== Infinity)) {
        this.#states[i] = OVER;
        this.#endIntervals(i, time, direction, cues, isFresh);
        break;
      } else if (duration === 0) break;
      else {
        if (!turns) this.#endIntervals(i, time, direction, cues);
        iteration += Math.sign(rate);
        time = nextStartOf(duration, repeat, direction);
        if (turns) continue;
        this.#emit(i, this.#timeline.beginning(time, directionOf(repeat, rate, iteration)), cues);
      }
    }
    this.#times[i] = time;
    this.#iterations[i] = iteration;
    this.#velocities[i] = speed * directionOf(repeat, rate, iteration);
  }

  #emit(i: number, moments: readonly CueMoment[], cues: CueList, atLimit = false, turns = false): void {
    for (const moment of moments) {
      if (!happens(moment, atLimit, turns)) continue;
      cues.add(this.ids, i, this.clip.name, moment.cue, moment.type, this.#left);
    }
  }

  /** At the end of an iteration, open intervals end: those that extend beyond it, and those that have just started. */
  #endIntervals(i: number, time: number, direction: number, cues: CueList, isFresh = false): void {
    for (const { type, cue } of this.#timeline.beginning(time, isFresh ? direction || 1 : -direction)) {
      // Those that end right here have been reported already.
      const edge = direction > 0 ? cue.until : cue.at;
      if (type === 'cue-start' && (isFresh || edge !== time))
        cues.add(this.ids, i, this.clip.name, cue, 'cue-end', this.#left);
    }
  }

  #loopOf(repeat: Repeat): number {
    const known = this.repeats.findIndex(({ mode, count }) => mode === repeat.mode && count === repeat.count);
    if (known >= 0) return known;
    if (this.repeats.length > 255)
      throw new RangeError('a crowd supports at most 256 different loop settings for one clip');
    this.#hasPart ||= isPart(repeat);
    return this.repeats.push(repeat) - 1;
  }

  /** @internal What it knows of its instances. */
  get lists() {
    const [times, velocities, iterations, lost] = [this.#times, this.#velocities, this.#iterations, this.#lost];
    return { ids: this.ids, times, velocities, iterations, lost, loops: this.#loops, states: this.#states };
  }

  #grow(): void {
    this.capacity = roomFor(this.count + 1);
    this.ids = resized(this.ids, this.capacity);
    this.#times = resized(this.#times, this.capacity);
    this.#velocities = resized(this.#velocities, this.capacity);
    this.#iterations = resized(this.#iterations, this.capacity);
    this.#lost = resized(this.#lost, this.capacity);
    this.#loops = resized(this.#loops, this.capacity);
    this.#states = resized(this.#states, this.capacity);
  }
}

const isPart = ({ count }: Repeat) => Number.isFinite(count) && !Number.isInteger(count);

type List = Float64Array | Float32Array | Int32Array | Uint16Array | Uint8Array;

/** Room for a number of entries: an eighth to spare, so that a growing crowd is seldom moved, and wastes little. */
export function roomFor(count: number): number {
  return Math.max(16, Math.ceil(count * 1.125));
}

export function resized<T extends List>(list: T, length: number): T {
  const larger = new (list.constructor as new (length: number) => T)(length);
  larger.set(list);
  return larger;
}
