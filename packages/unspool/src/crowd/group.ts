import type { Clip } from '../clip/clip.js';
import { evaluateFitted, type Fitted } from '../clip/fitted/evaluate.js';
import type { Pose } from '../clip/layout.js';
import { fittedOf } from '../clip/fitted/prepare.js';
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
import type { ResolvedCue } from '../reel/resolve/cue.js';
import { cueTimelineOf, happens, type CueMoment, type CueTimeline } from '../play/time/cue-timeline.js';
import { CueList } from './cue-list.js';
import { FRESH, Instances, OVER, PAUSED, RUNNING } from './instances.js';
import type { GroupState } from './saved.js';

/** Iterations of one instance whose cues are reported per tick, or one more; earlier ones are passed over at once. */
const MAX_ITERATIONS_A_FRAME = 64;

const NOTHING_LEFT = new Float64Array(1);

/** The instances of a crowd that play one clip: their state in lists, their poses one after the other. */
export class Group extends Instances {
  /** Where its poses begin in the crowd's values. */
  offset = 0;
  /** Whether its poses in the crowd's values are those of its playheads; and what they were evaluated by. */
  #isShown = false;
  #shownBy: Fitted | undefined;
  /**
   * Seconds of the tick that are left for the current instance. In an array, because the engine may box a number that
   * is passed on.
   */
  readonly #left = new Float64Array(1);
  #laps = new Float64Array(0);
  clip!: Clip;
  #timeline!: CueTimeline;
  #pose!: Pose;

  constructor(clip: Clip) {
    super();
    this.become(clip);
  }

  /** Its instances play this clip from now on. */
  become(clip: Clip): void {
    this.clip = clip;
    this.#timeline = cueTimelineOf(clip, false);
    this.#pose = clip.createPose();
    this.refresh();
  }

  /** Numbers in the pose of an instance. */
  get width(): number {
    return this.clip.layout.size;
  }

  override add(id: number, time: number, rate: number, repeat: Repeat): number {
    this.#isShown = false;
    return super.add(id, time, rate, repeat);
  }

  /** Adds one as it was saved, and returns its place. */
  put(id: number, saved: GroupState, i: number): number {
    const place = this.addSaved(id, saved, i, this.clip.duration);
    this.#lookAhead(place);
    return place;
  }

  /** The instances at some places, as plain JSON. */
  save(places: readonly number[]): GroupState {
    return { clip: this.clip.name, ...this.saveAt(places) };
  }

  /** Takes one out; the last one takes its place, values and all. Intervals that it is inside of end. */
  remove(place: number, values: Float64Array, cues: CueList): void {
    this.#settle(place, this.#inside(place), [], cues);
    const last = --this.count;
    for (const list of Object.values(this.lists)) list[place] = list[last]!;
    this.ahead[place] = this.ahead[last]!;
    this.ids[last] = NaN;
    if (last === place) return;
    const [to, from] = [this.offset + place * this.width, this.offset + last * this.width];
    values.copyWithin(to, from, from + this.width);
  }

  setRate(place: number, rate: number, cues: CueList): void {
    const before = this.#inside(place);
    this.velocities[place] = Math.abs(rate) * directionOf(this.repeatOf(place), rate, this.iterations[place]!);
    this.#settle(place, before, this.#inside(place), cues);
    this.#lookAhead(place);
  }

  /** Moves a playhead inside its iteration. One that has ended goes on from there, and one that has not begun has. */
  seek(place: number, time: number, cues: CueList): void {
    const before = this.#inside(place);
    this.times[place] = time;
    this.lost[place] = 0;
    this.states[place] = RUNNING | (this.states[place]! & PAUSED);
    this.#settle(place, before, this.#inside(place), cues);
    this.#lookAhead(place);
    this.#isShown = false;
  }

  /** Every instance is where it is so many seconds after it began. */
  seekAll(seconds: number, cues: CueList): void {
    const unheard = new CueList();
    for (let i = 0; i < this.count; i++) {
      const before = this.#inside(i);
      const rate = this.rateOf(i);
      const repeat = this.repeatOf(i);
      this.times[i] = this.starts[i]!;
      this.lost[i] = 0;
      this.iterations[i] = firstIteration(repeat, rate);
      this.velocities[i] = Math.abs(rate) * directionOf(repeat, rate, this.iterations[i]!);
      const paused = this.states[i]! & PAUSED;
      this.states[i] = FRESH;
      this.#left[0] = seconds;
      this.#simulate(i, unheard);
      unheard.count = 0;
      this.#settle(i, before, this.#inside(i), cues);
      this.states[i] = this.states[i]! | paused;
    }
    this.#isShown = false;
  }

  /** Advances every playhead by `dt` seconds and collects its cues. */
  advance(dt: number, cues: CueList): void {
    const times = this.times;
    const velocities = this.velocities;
    const ahead = this.ahead;
    const states = this.states;
    const lost = this.lost;
    // Within a nanosecond of where it has just been, a playhead is there: that is not as usual.
    const isUsual = dt > NANOSECOND;
    let moved = 0;
    for (let i = 0; i < this.count; i++) {
      const state = states[i]! | 0;
      if (state > RUNNING) {
        // What is paused before it has begun is seen at its beginning.
        if (state === (FRESH | PAUSED)) {
          this.#left[0] = dt;
          this.#begin(i, cues);
        }
        continue;
      }
      const before = times[i]!;
      const velocity = velocities[i]!;
      // Kahan's compensated sum: half an hour of frames comes to half an hour.
      const step = velocity * dt + lost[i]!;
      const time = before + step;
      // Usually a playhead only advances inside its iteration and passes nothing.
      if (isUsual && (ahead[i]! - time) * velocity > 0) {
        times[i] = time;
        lost[i] = step - (time - before);
      } else {
        // Where no time passes, only those are looked at that have not been yet.
        if (dt === 0 && ahead[i] === ahead[i]) continue;
        this.#left[0] = dt;
        this.#simulate(i, cues);
      }
      moved = 1;
    }
    if (moved > 0) this.#isShown = false;
  }

  /** Writes the poses of all. */
  evaluate(values: Float64Array): void {
    const { clip, width, offset } = this;
    const fitted = fittedOf(clip);
    if (this.#isShown && this.#shownBy === fitted) return;
    this.#isShown = true;
    this.#shownBy = fitted;
    if (fitted) evaluateFitted(fitted, this.times, this.#lapsOf(fitted), this.count, values, offset);
    else {
      // Not prepared yet: the same poses by the evaluator of players, which takes longer.
      for (let i = 0; i < this.count; i++) {
        clip.sampleLap(this.times[i]!, this.#lap(i), this.#pose);
        values.set(this.#pose.values, offset + i * width);
      }
    }
    if (clip.after === 'hold') return;
    this.#pose.reset();
    for (let i = 0; i < this.count; i++) {
      if (this.isOver(i)) values.set(this.#pose.values, offset + i * width);
    }
  }

  /** @internal Its lists have other numbers: they are looked at, and its poses evaluated. */
  refresh(): void {
    this.#isShown = false;
    for (let i = 0; i < this.count; i++) this.#lookAhead(i);
  }

  /** The laps of all, where anything accumulates; a list that is not read where nothing does. */
  #lapsOf({ gains, turns }: Fitted): Float64Array {
    if (gains.length + turns.length === 0) return this.iterations;
    if (this.repeats.every(({ mode }) => mode === 'loop')) return this.iterations;
    if (this.#laps.length < this.capacity) this.#laps = new Float64Array(this.capacity);
    for (let i = 0; i < this.count; i++) this.#laps[i] = this.#lap(i);
    return this.#laps;
  }

  #lap(i: number): number {
    return lapOf(this.repeatOf(i), this.iterations[i]!);
  }

  /** The intervals that an instance is inside of. */
  #inside(i: number): readonly ResolvedCue[] {
    if ((this.states[i]! & ~PAUSED) !== RUNNING) return [];
    const moments = this.#timeline.beginning(this.times[i]!, Math.sign(this.velocities[i]!) || 1);
    return moments.flatMap(({ type, cue }) => (type === 'cue-start' ? [cue] : []));
  }

  /** Intervals that an instance no longer is inside of end, those that it is inside of now start. */
  #settle(i: number, before: readonly ResolvedCue[], now: readonly ResolvedCue[], cues: CueList): void {
    const { name } = this.clip;
    for (const cue of before) if (!now.includes(cue)) cues.add(this.ids, i, name, cue, 'cue-end', NOTHING_LEFT);
    for (const cue of now) if (!before.includes(cue)) cues.add(this.ids, i, name, cue, 'cue-start', NOTHING_LEFT);
  }

  #lookAhead(i: number): void {
    const repeat = this.repeatOf(i);
    const velocity = this.velocities[i]!;
    const iteration = this.iterations[i]!;
    const direction = Math.sign(velocity);
    const rate = velocity * directionOf(repeat, 1, iteration);
    const limit = limitOf(this.clip.duration, repeat, rate, iteration, direction);
    const stop = this.#timeline.next(this.times[i]!, direction, limit);
    const ahead = stop - velocity * NANOSECOND;
    // What it is near to happens with the next tick, even of no time.
    const isDue = (this.states[i]! & ~PAUSED) === FRESH || !((ahead - this.times[i]!) * velocity > 0);
    this.ahead[i] = isDue ? NaN : ahead;
  }

  /** One instance from moment to moment, by the rules of `Playback`. */
  #simulate(i: number, cues: CueList): void {
    const { duration } = this.clip;
    const repeat = this.repeatOf(i);
    let iteration = this.iterations[i]!;
    const speed = Math.abs(this.velocities[i]!);
    const rate = this.velocities[i]! * directionOf(repeat, 1, iteration); // as in a forward iteration
    let time = this.times[i]!;
    const left = this.#left;
    if (this.lost[i] !== 0 && speed > 0) left[0] = left[0]! + this.lost[i]! / this.velocities[i]!;
    this.lost[i] = 0;
    let isFresh = this.states[i] === FRESH;
    if (isFresh) this.#begin(i, cues);
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
          this.ahead[i] = stop - direction * speed * NANOSECOND;
          // Within a nanosecond of where it has just been, it is there; the rest counts in the next frame.
          if (left[0]! > NANOSECOND) time += direction * left[0]! * speed;
          else this.lost[i] = direction * left[0]! * speed;
          break;
        }
        left[0] = left[0]! - needed;
        time = stop;
        isFresh = false;
        this.#emit(i, this.#timeline.arriving(stop, direction), cues, stop === limit, turns);
      } else if (last || (duration === 0 && repeat.count !== Infinity)) {
        this.states[i] = OVER;
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
    this.times[i] = time;
    this.iterations[i] = iteration;
    this.velocities[i] = speed * directionOf(repeat, rate, iteration);
  }

  #begin(i: number, cues: CueList): void {
    this.states[i] = RUNNING | (this.states[i]! & PAUSED);
    this.#emit(i, this.#timeline.beginning(this.times[i]!, Math.sign(this.velocities[i]!) || 1), cues);
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
}
