import type { Clip } from '../../clip/clip.js';
import type { ReelNames } from '../../clip/names.js';
import type { ResolvedCue } from '../../reel/resolve/cue.js';
import {
  directionOf,
  firstIteration,
  isLastIteration,
  limitOf,
  nextStartOf,
  passOver,
  startOf,
  unfoldTime,
  type Repeat,
} from '../../time/iteration.js';
import type { EventType } from './event-types.js';
import { Playhead } from './playhead.js';
import { cueTimelineOf, happens, type CueMoment, type CueTimeline } from './cue-timeline.js';
import { isInsideOf } from './inside.js';
import type { Settings } from './settings.js';

/** What a playback needs of the player that plays it. */
export interface PlaybackHost {
  /** Seconds of the player's time: inside a handler, of the moment that it handles. */
  readonly now: number;
  /** Seconds of the running frame that are left after the moment being handled; 0 outside of a frame. */
  readonly left: number;
  /** Whether a handler receives events of iterations and cues. */
  readonly hasListeners: boolean;
  /** Whether the edges of spans are moments too. */
  readonly isWatched: boolean;
  /** Runs what may call handlers; what they throw comes out when all of them were called. */
  guarded(run: () => void): void;
  /** A playback is at a moment: all others are shown at that time too. */
  moment(playback: PlaybackSimulation): void;
  emit(
    type: EventType,
    playback: PlaybackSimulation,
    cue: ResolvedCue | undefined,
    emitted: boolean,
    by?: PlaybackSimulation,
  ): boolean;
  /** Iterations were passed over without events: how many, with how many cues each. */
  skipped(iterations: number, cues: number): void;
  /** Whether what happens now was not played but skipped: then its cues are emitted as such, or not at all. */
  skipping: Skipping;
  changed(): void;
  /** It goes on at another speed, or to another place, but shows the same. */
  revise(): void;
}

export type Skipping = 'told' | 'silent' | undefined;

/** What a playback needs of the layer that it plays on. */
export interface PlaybackPlace {
  /** It has ended or was stopped: something else may play now. */
  over(playback: PlaybackSimulation): void;
  /** Whether what comes next waits only for the end of the current iteration. */
  handsOver(playback: PlaybackSimulation): boolean;
  /** It fades out, and with it those that it has faded over. */
  leave(playback: PlaybackSimulation, seconds: number): void;
  /** It changes how it is shown. */
  touch(playback: PlaybackSimulation): void;
  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void;
}

/** More moments than this are not skipped at once: handlers go in circles. */
const MOST = 10_000;

/** Seconds that are left, for the arithmetic of iterations. */
const LEFT = new Float64Array(1);

export type PlaybackPhase = 'waiting' | 'beginning' | 'running' | 'ended' | 'stopped';

/**
 * Simulates a playback over time: from one moment to the next, iteration by iteration, with the events on the way. The
 * public controls are in `Playback`.
 */
export abstract class PlaybackSimulation<N extends ReelNames = ReelNames> {
  /** The clip that it plays. */
  readonly clip: Clip<N['clip'], N['values']>;
  /** The loop mode and number of iterations that it plays with. */
  readonly repeat: Repeat;
  /** @internal the options of the call */
  readonly settings: Settings;
  /** @internal its motion */
  readonly head: Playhead;
  /** @internal */
  state: PlaybackPhase = 'waiting';
  /** @internal where it plays */
  layer: PlaybackPlace | undefined;
  /** @internal */
  protected readonly host: PlaybackHost;
  /** @internal */
  protected timeline: CueTimeline;
  /** @internal */
  protected isPaused = false;
  /** @internal It continues from where another was: events at its start have been reported. */
  protected quiet = false;
  /** @internal Intervals that it is inside of, and whether their start was emitted. */
  protected open: Map<ResolvedCue, boolean> | undefined;
  /** @internal Counts changes, so that a moment with several events notices when a handler has moved the playhead away. */
  protected changes = 0;
  /** @internal */
  protected isWatched: boolean;

  /** @internal */
  protected constructor(host: PlaybackHost, clip: Clip<N['clip']>, settings: Settings) {
    const { repeat, rate, until, weight } = settings;
    this.host = host;
    this.clip = clip;
    this.settings = settings;
    this.repeat = repeat;
    this.isWatched = host.isWatched;
    this.timeline = cueTimelineOf(clip, this.isWatched);
    const head = new Playhead(clip.fps);
    this.head = head;
    head.own = rate;
    head.rate = rate * clip.rate;
    head.until = until ?? NaN;
    head.weight = weight;
    head.iteration = firstIteration(repeat, head.rate);
    head.shown = head.reached = head.start = this.first;
  }

  /**
   * @internal Its clip is this one from now on, that of a changed reel.
   *
   * @param isWatched whether the edges of spans are moments too
   */
  become(clip: Clip<N['clip'], N['values']>, settings: Settings, isWatched: boolean): void {
    Object.assign(this, { clip, settings, repeat: settings.repeat });
    this.isWatched = isWatched;
    this.timeline = cueTimelineOf(clip, isWatched);
  }

  /** @internal Where it begins when it begins anew. */
  protected get first(): number {
    const { from, rate, low, high } = this.settings;
    return from ?? this.#inside(startOf(high - low, this.repeat, rate * this.clip.rate));
  }

  /** @internal It is over; `Playback` handles the consequences. */
  protected abstract close(how: 'ended' | 'stopped'): void;

  /** The playhead: seconds inside the clip; inside a handler, at the moment of the event. */
  get time(): number {
    return this.head.shown;
  }

  /** The iteration, from 0. An endless clip that plays backwards counts down, below 0. */
  get iteration(): number {
    return this.head.iteration;
  }

  /** False once it has ended or was stopped; also while it waits in a queue. */
  get active(): boolean {
    return this.state === 'beginning' || this.state === 'running';
  }

  /** Whether it is paused. */
  get paused(): boolean {
    return this.isPaused;
  }

  /**
   * Whether the playhead is inside an interval or a span of its clip; false before it has begun and after it has ended.
   * A start belongs to it, an end does not; played backwards, the other way round. Throws for an unknown name.
   */
  isInside(name: N['cue'] | N['span']): boolean {
    return isInsideOf(this, name);
  }

  /** @internal Which way it moves, 1 or −1; at rate 0, which way it would. */
  get direction(): number {
    return Math.sign(this.head.speed) || directionOf(this.repeat, 1, this.head.iteration);
  }

  /** @internal Whether the playhead is between two times of its clip, or moves in from one of them. */
  isWithin(low: number, high: number): boolean {
    const at = this.head.shown;
    if (this.state !== 'running' || at < low || at > high) return false;
    if (at > low && at < high) return true;
    const { direction } = this;
    const movesIn = direction > 0 ? at === low : at === high;
    // Where it turns around, it goes back to where it came from.
    return low < high && (movesIn || (this.#turns && at === this.limit(direction)));
  }

  /** Pauses where the playhead is. `resume` continues. */
  pause(): void {
    if (this.isPaused) return;
    this.isPaused = true;
    this.change(this.head.shown, false);
  }

  /** @internal Whether time moves it. */
  get isRunning(): boolean {
    return this.active && !this.isPaused;
  }

  /** @internal Gives it the time of a frame: one number. */
  addFrame(delta: Float64Array): void {
    // One that begins does so in this frame, also where it was paused at once; but a pause stops what delays it.
    const isBeginning = this.state === 'beginning' && !(this.isPaused && this.head.needed > 0);
    if (isBeginning || (this.isRunning && this.head.rate !== 0)) this.head.addFirst(delta);
  }

  /** @internal Finds its next moment: `head.due` tells whether the frame reaches it. */
  aim(): void {
    const { head } = this;
    if (Number.isNaN(head.needed)) this.#findStop();
    const runs = this.state === 'beginning' || (this.state === 'running' && !this.isPaused && head.speed !== 0);
    head.due = runs ? head.sum + head.lost - head.needed : -Infinity;
  }

  #findStop(): void {
    const { head } = this;
    if (!this.isRunning || head.speed === 0) return;
    const direction = Math.sign(head.speed);
    const limit = this.limit(direction);
    if (head.reached === limit) {
      // The turn itself is what happens here.
      const nowhere = this.length === 0 && this.repeat.count === Infinity;
      head.needed = nowhere ? Infinity : head.used;
      return;
    }
    let stop = this.timeline.next(head.reached, direction, limit);
    const until = head.until;
    if ((until - head.reached) * direction > 0 && (stop - until) * direction > 0) stop = until;
    head.aim(stop);
  }

  /** Whether it would come to an end by itself, or land. */
  protected get hasEnd(): boolean {
    const { head } = this;
    if (head.rate === 0) return false;
    return this.repeat.count !== Infinity || !Number.isNaN(head.until) || (this.layer?.handsOver(this) ?? false);
  }

  /** @internal Seconds until it ends or lands, or a little more; `undefined` when it moves and never does. */
  get secondsLeft(): number | undefined {
    const { head, repeat, length } = this;
    if (!this.isRunning || !this.hasEnd) return undefined;
    const along = unfoldTime(head.shown - this.low, head.iteration, length, repeat);
    const way = repeat.count === Infinity ? 2 * length : head.rate > 0 ? repeat.count * length - along : along;
    const delay = this.state === 'beginning' ? Math.max(0, head.needed) : 0;
    return delay + Math.max(0, way) / Math.abs(head.rate);
  }

  /** @internal Goes to where it ends or lands, all at this moment, with the events on the way. */
  protected skip(): void {
    const { head, host } = this;
    this.changes++;
    this.#passMost();
    for (let moments = 0; this.isRunning && moments < MOST; moments++) {
      head.change(head.shown, this.speed, host.now, host.left);
      if (this.state === 'running') {
        this.aim();
        // There without time going by.
        if (head.reached !== this.limit(Math.sign(head.speed))) head.start = head.stop;
      }
      head.needed = 0;
      this.arrive();
    }
  }

  /** Of very many iterations it passes over all but the last ones. */
  #passMost(): void {
    const { head, repeat, clip } = this;
    const last = head.rate > 0 ? Math.ceil(repeat.count) - 1 : 0;
    const each = 2 + 2 * clip.cues.length;
    const left = Math.abs(last - head.iteration) - Math.floor(MOST / 2 / each);
    if (!(left > 0 && left < Infinity)) return;
    const passed = 2 * Math.ceil(left / 2);
    head.iteration += Math.sign(head.rate) * passed;
    this.host.skipped(passed, this.timeline.countIn(this.low, this.settings.high));
  }

  /** @internal Shows it where the frame ends. */
  settle(): void {
    if (this.state === 'running' && !this.isPaused) this.head.show(0);
  }

  /** @internal Goes to its next moment, and handles it. */
  arrive(): void {
    const { head } = this;
    if (this.state === 'beginning') {
      this.state = 'running';
      const delay = head.needed;
      if (delay > 0) head.change(head.shown, head.speed, head.changeAt + delay, head.seconds - delay);
      head.needed = NaN;
      const moments = this.timeline.beginning(head.reached, Math.sign(head.speed) || 1);
      // What continues from where another was has reported the events there.
      this.handle(this.quiet ? moments.filter(({ type }) => type === 'cue-start') : moments);
      if (head.reached === head.until) this.#land();
      return;
    }
    const direction = Math.sign(head.speed);
    const limit = this.limit(direction);
    if (head.reached === limit) {
      this.#turn(direction);
      return;
    }
    head.arrive();
    const changes = this.changes;
    const turns = this.#turns;
    const arriving = this.timeline.arriving(head.stop, direction);
    const atLimit = head.stop === limit;
    this.handle(atLimit ? arriving.filter((moment) => happens(moment, true, turns)) : arriving);
    if (head.reached === head.until && this.changes === changes) this.#land();
  }

  /** Stays where it was meant to land. */
  #land(): void {
    this.head.until = NaN;
    if (!this.active) return;
    this.host.moment(this);
    this.pause();
  }

  /** What it plays of the clip, in seconds: the whole clip, or its span. */
  get range(): readonly [from: number, until: number] {
    return [this.settings.low, this.settings.high];
  }

  /** @internal Where the window that is played begins, seconds inside the clip; and how long it is. */
  get low(): number {
    return this.settings.low;
  }

  /** @internal */
  get length(): number {
    return this.settings.high - this.settings.low;
  }

  /** @internal */
  protected get speed(): number {
    return directionOf(this.repeat, this.head.rate, this.head.iteration) * Math.abs(this.head.rate);
  }

  get #isLastIteration(): boolean {
    return isLastIteration(this.repeat, this.head.rate, this.head.iteration);
  }

  /** Whether the current iteration ends with a turn, and not with a wrap or for good. */
  get #turns(): boolean {
    return this.repeat.mode === 'ping-pong' && !this.#isLastIteration;
  }

  /** @internal Where the current iteration stops, in the direction of play. */
  protected limit(direction: number): number {
    return this.#inside(limitOf(this.length, this.repeat, this.head.rate, this.head.iteration, direction));
  }

  /** A time of the window that is played, as one of the clip: its end is exactly `high`. */
  #inside(time: number): number {
    return time === this.length ? this.settings.high : this.settings.low + time;
  }

  /** At the end of an iteration: the end of the playback, or the next iteration with the remaining time. */
  #turn(direction: number): void {
    const { head } = this;
    const duration = this.length;
    const turns = this.repeat.mode === 'ping-pong';
    // There and back is one round: what waits for its end starts at the side where this one began.
    const { repeat } = this;
    const began = this.settings.rate * this.clip.rate;
    const isDown = directionOf(repeat, began, firstIteration(repeat, began)) < 0;
    const round = !turns || head.reached === (isDown ? this.settings.high : this.low);
    if (
      this.#isLastIteration ||
      (duration === 0 && this.repeat.count !== Infinity) ||
      (round && this.layer?.handsOver(this))
    ) {
      this.close('ended');
      return;
    }
    const forward = Math.sign(head.rate);
    const before = this.changes;
    if (!turns) {
      this.endOpen();
      if (this.changes !== before || !this.active || Math.sign(head.rate) !== forward) return;
    }
    const from = this.#inside(nextStartOf(duration, this.repeat, direction));
    head.iteration += forward;
    head.follow(from, this.speed);
    this.#skipIterations();
    this.emit('loop');
    if (!turns && this.changes === before && this.active) {
      this.handle(this.timeline.beginning(head.reached, Math.sign(head.speed)));
      if (head.reached === head.until && this.changes === before) this.#land();
    }
  }

  /** Skips many iterations of one frame at once when no handler receives them, for a page that was away for an hour. */
  #skipIterations(): void {
    const { head } = this;
    const length = this.length / Math.abs(head.rate);
    LEFT[0] = head.seconds;
    if (LEFT[0] < 4 * length || this.isWatched || this.host.hasListeners || !Number.isNaN(head.until)) return;
    if (this.layer?.handsOver(this)) return;
    const passed = passOver(LEFT, length, this.repeat, head.rate, head.iteration, 0);
    if (passed === 0) return;
    head.set(LEFT[0]);
    head.iteration += passed;
    head.travel(Math.abs(passed) * this.length);
    this.host.skipped(Math.abs(passed), this.timeline.countIn(this.low, this.settings.high));
  }

  /** @internal Keeps on in the same direction at another speed. It is shown in every frame anyway, because it moves. */
  protected keepOn(): void {
    const { head, host } = this;
    head.change(head.shown, Math.sign(head.speed) * Math.abs(head.rate), host.now, host.left);
    host.revise();
  }

  /** @internal Changes the course of the playhead, with what is left of the frame. */
  protected change(to: number, moved = true): void {
    const { head } = this;
    const { now, left } = this.host;
    const delay = Math.max(0, head.needed - (head.seconds - left));
    head.change(to, this.speed, now, this.isPaused ? 0 : left);
    if (this.state === 'beginning') head.needed = delay;
    if (moved) this.changes++;
    this.layer?.touch(this);
    this.host.changed();
  }

  /**
   * @internal Makes the open intervals fit the playhead after it was moved or turned: those that it has left end. After a turn,
   * those whose edge it is on and that it now moves into start. A seek starts none, nor does a turn inside one.
   */
  protected settleCues(enter: boolean, direction = Math.sign(this.head.speed) || 1): void {
    const inside = this.timeline.beginning(this.head.shown, direction);
    const starts = inside.filter(({ type }) => type === 'cue-start');
    const left = this.clip.cues.filter((cue) => this.open?.has(cue) && !starts.some((moment) => moment.cue === cue));
    const { shown } = this.head;
    const isEdge = ({ at, until }: ResolvedCue) => (direction > 0 ? at : until) === shown;
    const entered = enter ? starts.filter(({ cue }) => isEdge(cue) && !this.open?.has(cue)) : [];
    this.handle([...entered, ...left.map((cue) => ({ type: 'cue-end', cue }) as const)]);
  }

  /** @internal */
  protected handle(moments: readonly CueMoment[]): void {
    const changes = this.changes;
    for (const { type, cue } of moments) {
      if (type === 'cue-end' && !this.open?.has(cue)) continue;
      this.emit(type, cue);
      if (this.changes !== changes || !this.active) return;
    }
  }

  /** @internal */
  protected emit(type: EventType, cue?: ResolvedCue, by?: PlaybackSimulation): void {
    // The end of an interval is reported if and only if its start was.
    const started = cue && type === 'cue-end' && this.open?.get(cue) === true;
    if (cue && type === 'cue-end') this.open?.delete(cue);
    if (cue && type === 'cue-start') (this.open ??= new Map<ResolvedCue, boolean>()).set(cue, true);
    const emitted = this.host.emit(type, this, cue, started === true, by);
    if (cue && type === 'cue-start' && !emitted && this.open?.has(cue)) this.open.set(cue, false);
  }

  /** @internal */
  protected endOpen(): void {
    if (!this.open || this.open.size === 0) return;
    // As written, as at any other moment.
    for (const cue of this.clip.cues) if (this.open.has(cue)) this.emit('cue-end', cue);
  }
}
