import type { Clip } from '../clip/clip.js';
import type { ReelNames } from '../clip/names.js';
import { UnspoolError } from '../wording/error.js';
import { Clock } from '../time/clock.js';
import type { Repeat } from '../time/iteration.js';
import { NANOSECOND, type Time } from '../time/units.js';
import type { ResolvedCue } from '../reel/cue.js';
import type { EventType } from './event-types.js';
import { directionOf, firstPass, happens, isLastPass, limitOf, startOf } from './passes.js';
import { secondsInside } from './inside.js';
import { scoreOf, type CueMoment, type Score } from './score.js';

/** What a playback needs of the player that plays it. */
export interface PlaybackHost {
  /** Seconds of the player's time: inside a handler, of the moment that it handles. */
  readonly now: number;
  /** Seconds of the running frame that are left after the moment being handled; 0 outside of a frame. */
  readonly left: number;
  /** Seconds of the running frame. */
  readonly delta: number;
  /** Whether anybody hears events of passes and cues. */
  readonly heard: boolean;
  /** Runs what may call handlers; what they throw comes out when all of them were called. */
  guarded(run: () => void): void;
  emit(type: EventType, playback: Playback, cue: ResolvedCue | undefined): void;
  changed(): void;
}

export interface PlaybackSettings {
  readonly from: number | undefined;
  readonly rate: number;
  readonly repeat: Repeat;
  readonly after: 'hold' | 'rest';
}

/**
 * One clip being played: a playhead with a rate, in one pass of possibly many.
 *
 * Between two changes (of rate, by a seek, at a wrap) the playhead's way is a leg: from one time inside the clip
 * straight to another. The playhead is the start of the leg plus the seconds spent on it, so that neither frames nor
 * passes add up rounding; and when a moment happened follows from the whole passes since the last change, so that it
 * is the same to the bit however the time was cut into frames.
 */
export class Playback<N extends ReelNames = ReelNames> {
  readonly clip: Clip<N['clip']>;
  readonly repeat: Repeat;
  readonly #host: PlaybackHost;
  readonly #score: Score;
  // Numbers begin as numbers: a field that was once undefined would get a box for each number put into it.
  #after: 'hold' | 'rest';
  #state: 'beginning' | 'running' | 'ended' | 'stopped' = 'beginning';
  #iteration = 0;
  #rate = 0;
  #paused = false;
  /** Where the playhead is shown: on the moment while one is handled, else at the end of the frame. */
  #shown = 0;
  /** The last time inside the clip that it passed for certain: the start of the leg, or the last stop. */
  #reached = 0;
  /** Intervals that it is inside of. */
  #open: Set<ResolvedCue> | undefined;

  /** The leg: where it began, and how many seconds of the player's time were given to it and used by its last stop. */
  #legStart = 0;
  readonly #spent = new Clock();
  #used = 0;
  /** The next stop on the leg, and the seconds of it that it takes to get there; NaN when it is to be found again. */
  #stop = NaN;
  #needed = NaN;
  /** For exact times of events: when the last change was, and how far the legs before this one went since. */
  #changeAt = 0;
  #travelled = 0;
  /** Counts changes, so that a moment with several events notices when a handler has moved the playhead away. */
  #changes = 0;
  #promise: Promise<'end' | 'stop'> | undefined;
  #resolve: ((how: 'end' | 'stop') => void) | undefined;

  /** @internal use `player.play` */
  constructor(host: PlaybackHost, clip: Clip<N['clip']>, { from, rate, repeat, after }: PlaybackSettings) {
    this.#host = host;
    this.clip = clip;
    this.repeat = repeat;
    this.#after = after;
    this.#rate = rate;
    this.#score = scoreOf(clip);
    const { duration } = clip;
    this.#iteration = firstPass(repeat, rate);
    this.#shown = from ?? startOf(duration, repeat, rate);
    this.#reached = this.#legStart = this.#shown;
    this.#spent.add(host.left);
    this.#changeAt = host.now;
  }

  /** The playhead: seconds inside the clip. Inside a handler it stands on the moment that is handled. */
  get time(): number {
    return this.#shown;
  }

  /** @internal Puts the playhead into a list: as a bare number it would get a box on its way. */
  timeInto(at: Float64Array): void {
    at[0] = this.#shown;
  }

  /** The pass, counted from 0. An endless clip that plays backwards counts down, below 0. */
  get iteration(): number {
    return this.#iteration;
  }

  /** Playback speed: 1 as authored, 2 twice as fast, negative backwards, 0 stands still. */
  get rate(): number {
    return this.#rate;
  }

  set rate(rate: number) {
    if (!Number.isFinite(rate))
      throw new UnspoolError('play/rate', `the rate ${rate} is not finite`, 'give a number, as 1');
    if (rate === this.#rate) return;
    const turned = Math.sign(rate) !== Math.sign(this.#rate);
    this.#change(this.#shown, false);
    this.#rate = rate;
    if (turned && this.#state === 'running') this.#host.guarded(() => this.#settle(true));
  }

  get paused(): boolean {
    return this.#paused;
  }

  /** False once it has ended or was stopped. */
  get active(): boolean {
    return this.#state === 'beginning' || this.#state === 'running';
  }

  /** Resolves when it ends by itself (`'end'`) or is stopped or replaced before (`'stop'`). */
  get ended(): Promise<'end' | 'stop'> {
    this.#promise ??= this.active
      ? new Promise((resolve) => (this.#resolve = resolve))
      : Promise.resolve(this.#state === 'ended' ? 'end' : 'stop');
    return this.#promise;
  }

  pause(): void {
    if (this.#paused) return;
    this.#paused = true;
    this.#change(this.#shown, false);
  }

  resume(): void {
    if (!this.#paused) return;
    this.#paused = false;
    this.#change(this.#shown, false);
  }

  /** Turns the direction of play round where the playhead is. */
  reverse(): void {
    this.rate = -this.#rate;
  }

  /**
   * Puts the playhead elsewhere in the current pass. No cue fires, neither on the way nor there; intervals that the
   * playhead leaves by it end.
   *
   * @param time inside the clip: 0 … duration. Throws a `RangeError` for what is no time, or outside
   */
  seek(time: Time): void {
    const to = secondsInside(this.clip, time, 'seek');
    if (!this.active) return;
    if (this.#state === 'beginning') this.#state = 'running';
    this.#change(to);
    this.#host.guarded(() => this.#settle(false));
  }

  /** What it leaves behind when it is over: its last pose, or the rest values. */
  get after(): 'hold' | 'rest' {
    return this.#after;
  }

  /** Stops it before its end: intervals end, `stop` is told. What it leaves behind is its `after`, or the one given. */
  stop({ after = this.#after }: { readonly after?: 'hold' | 'rest' } = {}): void {
    this.#after = after;
    if (this.active) this.#host.guarded(() => this.#finish('stopped'));
    else this.#host.changed();
  }

  /** @internal True when it has ended by itself. */
  get isOver(): boolean {
    return this.#state === 'ended';
  }

  /** @internal Gives it the time of the running frame. */
  addFrame(): void {
    if (this.active && !this.#paused && this.#rate !== 0) this.#spent.add(this.#host.delta);
  }

  /** @internal Seconds of the frame that its last moment left over. */
  get leftOver(): number {
    return Math.max(0, this.#spent.seconds - this.#used);
  }

  /** @internal The player's time at its last moment. */
  get momentTime(): number {
    const way = this.#travelled + Math.abs(this.#reached - this.#legStart);
    return this.#rate === 0 ? this.#changeAt : this.#changeAt + way / Math.abs(this.#rate);
  }

  /**
   * @internal Goes to the next moment, if the time it was given reaches it, and handles it.
   * @returns false when no moment is left; the playhead is then where the frame ends
   */
  step(): boolean {
    const spent = this.#spent.sum + this.#spent.lost;
    if (this.#needed - spent > NANOSECOND && this.#state === 'running' && !this.#paused) {
      // Most frames: on along the leg, to a whole frame where it is on one (as `snapToFrame`). Nothing is called, as a
      // number that is handed on would be put in a box.
      const rate = this.#rate;
      const back = this.repeat.mode === 'ping-pong' && this.#iteration % 2 !== 0;
      const way = (spent > this.#used ? spent : this.#used) * rate;
      const seconds = back ? this.#legStart - way : this.#legStart + way;
      const { fps } = this.clip;
      const frame = Math.round(seconds * fps) / fps;
      const off = frame - seconds;
      this.#shown = off <= NANOSECOND && off >= -NANOSECOND ? frame : seconds;
      return false;
    }
    return this.#stepToMoment();
  }

  #stepToMoment(): boolean {
    if (!this.active) return false;
    if (this.#state === 'beginning') {
      this.#state = 'running';
      this.#handle(this.#score.beginning(this.#reached, this.#direction || 1));
      return true;
    }
    const direction = this.#direction;
    if (this.#paused || direction === 0) return false;
    if (Number.isNaN(this.#needed)) {
      const limit = this.#limit(direction);
      if (this.#reached === limit) return this.#turn(direction);
      this.#stop = this.#score.next(this.#reached, direction, limit);
      this.#needed = Math.abs(this.#stop - this.#legStart) / Math.abs(this.#rate);
    }
    if (this.#needed - this.#spent.seconds > NANOSECOND) return this.step();
    const stop = this.#stop;
    this.#reached = this.#shown = stop;
    this.#used = this.#needed;
    this.#needed = NaN;
    const turns = this.#turns;
    const arriving = this.#score.arriving(stop, direction);
    this.#handle(
      stop === this.#limit(direction) ? arriving.filter((moment) => happens(moment, true, turns)) : arriving,
    );
    return true;
  }

  /** +1 or −1: which way the playhead moves inside the clip; 0 when it stands. */
  get #direction(): number {
    return directionOf(this.repeat, this.#rate, this.#iteration);
  }

  get #isLastPass(): boolean {
    return isLastPass(this.repeat, this.#rate, this.#iteration);
  }

  /** Whether the current pass ends with a turn, and not with a wrap or for good. */
  get #turns(): boolean {
    return this.repeat.mode === 'ping-pong' && !this.#isLastPass;
  }

  /** Where the current pass stops, in the direction of play. */
  #limit(direction: number): number {
    return limitOf(this.clip.duration, this.repeat, this.#rate, this.#iteration, direction);
  }

  /** At the end of a pass: the end of all, or the next pass, in the time that is left. */
  #turn(direction: number): boolean {
    const { duration } = this.clip;
    if (this.#isLastPass || (duration === 0 && this.repeat.count !== Infinity)) {
      this.#finish('ended');
      return true;
    }
    if (duration === 0) return false; // endless, and nowhere to go
    const forward = Math.sign(this.#rate);
    const turns = this.repeat.mode === 'ping-pong';
    const before = this.#changes;
    if (!turns) {
      for (const cue of [...(this.#open ?? [])]) this.#emit('cue-end', cue);
      if (this.#changes !== before || !this.active || Math.sign(this.#rate) !== forward) return true;
    }
    this.#travelled += Math.abs(this.#reached - this.#legStart);
    this.#startLeg(turns ? this.#reached : direction > 0 ? 0 : duration);
    this.#iteration += forward;
    this.#skipPasses();
    this.#emit('loop');
    if (!turns && this.#changes === before && this.active) {
      this.#handle(this.#score.beginning(this.#reached, this.#direction));
    }
    return true;
  }

  /** Begins a leg with the time that the last one left over, which may be a hair less than none. */
  #startLeg(from: number): void {
    const left = this.#spent.seconds - this.#used;
    this.#legStart = this.#reached = this.#shown = from;
    this.#spent.set(left);
    this.#used = 0;
    this.#needed = NaN;
  }

  /** Many passes in one frame that nobody hears of are gone over at once: a page that was away for an hour. */
  #skipPasses(): void {
    const pass = this.clip.duration / Math.abs(this.#rate);
    if (this.#host.heard || this.#spent.seconds < 4 * pass) return;
    const { count } = this.repeat;
    const forward = Math.sign(this.#rate);
    const most =
      count === Infinity ? Infinity : forward > 0 ? Math.ceil(count) - 2 - this.#iteration : this.#iteration - 1;
    const spent = this.#spent.seconds;
    const all = spent / pass <= most;
    // The remainder is exact, so that a month away leaves the phase as precise as a second.
    const passes = all ? Math.round((spent - (spent % (2 * pass))) / pass) : 2 * Math.floor(most / 2);
    if (passes <= 0) return;
    this.#spent.set(all ? spent % (2 * pass) : spent - passes * pass);
    this.#iteration += forward * passes;
    this.#travelled += passes * this.clip.duration;
  }

  /** A change of the playhead's way: from here on, with what is left of the frame. */
  #change(to: number, moved = true): void {
    this.#changeAt = this.#host.now;
    this.#travelled = 0;
    this.#legStart = this.#reached = this.#shown = to;
    this.#spent.set(this.#paused ? 0 : this.#host.left);
    this.#used = 0;
    this.#needed = NaN;
    if (moved) this.#changes++;
    this.#host.changed();
  }

  /**
   * Makes the open intervals fit the playhead after it was moved or turned: those that it has left end. Those that it
   * stands at the edge of and now moves into start, after a turn; a seek starts none.
   */
  #settle(enter: boolean): void {
    const inside = this.#score.beginning(this.#shown, this.#direction || 1).filter(({ type }) => type === 'cue-start');
    const left = [...(this.#open ?? [])].filter((cue) => !inside.some((moment) => moment.cue === cue));
    const entered = enter ? inside.filter(({ cue }) => !this.#open?.has(cue)) : [];
    this.#handle([...left.map((cue) => ({ type: 'cue-end', cue }) as const), ...entered]);
  }

  #handle(moments: readonly CueMoment[]): void {
    const changes = this.#changes;
    for (const { type, cue } of moments) {
      if (type === 'cue-end' && !this.#open?.has(cue)) continue;
      this.#emit(type, cue);
      if (this.#changes !== changes || !this.active) return;
    }
  }

  #emit(type: EventType, cue?: ResolvedCue): void {
    if (cue && type === 'cue-start') (this.#open ??= new Set()).add(cue);
    if (cue && type === 'cue-end') this.#open?.delete(cue);
    this.#host.emit(type, this, cue);
  }

  #finish(how: 'ended' | 'stopped'): void {
    this.#state = how;
    this.#changes++;
    for (const cue of [...(this.#open ?? [])]) this.#emit('cue-end', cue);
    const type = how === 'ended' ? 'end' : 'stop';
    this.#emit(type);
    this.#resolve?.(type);
    this.#host.changed();
  }
}
