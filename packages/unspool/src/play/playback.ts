import { prepareBase, type Clip } from '../clip/clip.js';
import type { ReelNames } from '../clip/names.js';
import type { ResolvedCue } from '../reel/cue.js';
import { foldTime, lastTime, runsBack, type Repeat } from '../time/iteration.js';
import { NANOSECOND, type Time } from '../time/units.js';
import { UnspoolError } from '../wording/error.js';
import type { Placed } from './coverage.js';
import type { EventType } from './event-types.js';
import { momentInside, rateOf, secondsInside } from './inside.js';
import type { Layer } from './layer.js';
import type { Voice } from './mixer.js';
import { numberOut, Playhead } from './playhead.js';
import { directionOf, firstPass, happens, isLastPass, limitOf, startOf } from './passes.js';
import { scoreOf, type CueMoment, type Score } from './score.js';
import type { Settings } from './settings.js';
import type { PlaybackState } from './state.js';

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
  /** A playback is at a moment of its own: every other one is shown there too. */
  moment(playback: Playback): void;
  emit(type: EventType, playback: Playback, cue: ResolvedCue | undefined, told: boolean): boolean;
  /** Passes were gone over without telling: so many, with so many cues in each. */
  skipped(passes: number, cues: number): void;
  changed(): void;
}

/** Links of a chain that plays. */
export interface ChainRun<N extends ReelNames = ReelNames> {
  readonly name: N['chain'];
  readonly links: readonly Playback<N>[];
  /** Resolves to `'end'` when its last link has ended, to `'stop'` when one was stopped or taken from the queue. */
  readonly ended: Promise<'end' | 'stop'>;
}

export type PlaybackPhase = 'waiting' | 'beginning' | 'running' | 'ended' | 'stopped';

const NOTHING = new Float64Array(0);

/** One clip being played: a playhead with a rate, in one pass of possibly many; or waiting in a queue. */
export class Playback<N extends ReelNames = ReelNames> implements Voice {
  readonly clip: Clip<N['clip']>;
  readonly repeat: Repeat;
  /** The chain that it is a link of. */
  chain: ChainRun<N> | undefined;
  /** @internal how it was asked for */
  readonly settings: Settings;
  /** @internal its motion */
  readonly head: Playhead;
  /** @internal */
  state: PlaybackPhase = 'waiting';
  /** @internal where it plays; gauges move theirs by hand, on none */
  layer: Layer<N> | undefined;
  readonly #host: PlaybackHost;
  readonly #score: Score;
  #after: 'hold' | 'rest';
  #paused = false;
  /** It goes on from where something was: the points there have been told. */
  #quiet = false;
  /** Intervals that it is inside of, and whether that was told. */
  #open: Map<ResolvedCue, boolean> | undefined;
  /** Counts changes, so that a moment with several events notices when a handler has moved the playhead away. */
  #changes = 0;
  #promise: Promise<'end' | 'stop'> | undefined;
  #resolve: ((how: 'end' | 'stop') => void) | undefined;
  #unlisten: (() => void) | undefined;

  /** @internal what it is sampled with; see `Voice` */
  placed!: Placed;
  hints!: Int32Array;
  before = NOTHING;
  base = NOTHING;
  share = 0;

  /** @internal use `player.play` */
  constructor(host: PlaybackHost, clip: Clip<N['clip']>, settings: Settings) {
    this.#host = host;
    this.clip = clip;
    this.settings = settings;
    const head = new Playhead(clip.fps);
    this.head = head;
    this.repeat = settings.repeat;
    this.#after = settings.after;
    head.rate = settings.rate;
    head.until = settings.until ?? NaN;
    head.weight = settings.weight;
    this.#score = scoreOf(clip);
    head.iteration = firstPass(this.repeat, head.rate);
    head.shown = head.reached = head.start = settings.from ?? this.low + startOf(this.#length, this.repeat, head.rate);
    const { signal } = settings;
    if (!signal) return;
    const abort = () => this.stop();
    this.#unlisten = () => signal.removeEventListener('abort', abort);
    signal.addEventListener('abort', abort, { once: true });
  }

  /** The playhead: seconds inside the clip. Inside a handler it stands on the moment that is handled. */
  get time(): number {
    return this.head.shown;
  }

  /** The pass, counted from 0. An endless clip that plays backwards counts down, below 0. */
  get iteration(): number {
    return this.head.iteration;
  }

  /** Playback speed: 1 as authored, 2 twice as fast, negative backwards, 0 stands still. */
  get rate(): number {
    return this.head.rate;
  }

  set rate(rate: number) {
    if (rateOf(rate) === this.head.rate) return;
    const turned = Math.sign(rate) !== Math.sign(this.head.rate);
    this.head.rate = rate;
    this.#change(this.head.shown, false);
    if (turned && this.state === 'running') this.#host.guarded(() => this.#settle(true));
  }

  get paused(): boolean {
    return this.#paused;
  }

  /** How much of it is shown over what is below it, 0–1, when it does not fade. */
  get weight(): number {
    return this.head.weight;
  }

  set weight(weight: number) {
    if (!(weight >= 0 && weight <= 1))
      throw new UnspoolError('play/weight', `the weight ${weight} is not in 0–1`, 'give a number from 0 to 1');
    this.head.weight = weight;
    this.#host.changed();
  }

  /** False once it has ended or was stopped; also while it waits in a queue. */
  get active(): boolean {
    return this.state === 'beginning' || this.state === 'running';
  }

  /** Whether it is in a queue, and has not begun. */
  get waiting(): boolean {
    return this.state === 'waiting';
  }

  /** Resolves when it ends by itself (`'end'`), or is stopped, replaced or taken from its queue before (`'stop'`). */
  get ended(): Promise<'end' | 'stop'> {
    this.#promise ??=
      this.active || this.waiting
        ? new Promise((resolve) => (this.#resolve = resolve))
        : Promise.resolve(this.state === 'ended' ? 'end' : 'stop');
    return this.#promise;
  }

  pause(): void {
    if (this.#paused) return;
    this.#paused = true;
    this.#change(this.head.shown, false);
  }

  /** Goes on from exactly where it is; with `until`, to land again: at a time, a cue, or the end of a span. */
  resume({ until }: { readonly until?: Time | N['cue'] | N['span'] } = {}): void {
    if (until !== undefined) this.head.until = momentInside(this.clip, until, 'until', 1);
    if (!this.#paused) return;
    this.#paused = false;
    this.#change(this.head.shown, false);
  }

  /** Turns the direction of play round where the playhead is. */
  reverse(): void {
    this.rate = -this.head.rate;
  }

  /**
   * Puts the playhead elsewhere in the current pass. Intervals that the playhead leaves by it end. No cue fires, neither
   * on the way nor there, unless `cues` asks for those on the way and there, in their order, all at this moment.
   *
   * @param time inside the clip, 0 … duration; or of a cue, or of the start of a span. Throws for another
   */
  seek(time: Time | N['cue'] | N['span'], { cues = false }: { readonly cues?: boolean } = {}): void {
    const to = momentInside(this.clip, time, 'seek', 0);
    if (!this.active) return;
    if (this.state === 'beginning') this.state = 'running';
    const { head } = this;
    const direction = Math.sign(to - head.shown);
    this.#host.guarded(() => {
      this.#change(head.shown, false);
      if (cues && direction !== 0) this.#settle(false, direction);
      const mark = this.#changes;
      for (let at = head.shown; cues && at !== to && this.#changes === mark;) {
        at = this.#score.next(at, direction, to);
        head.shown = head.reached = head.start = at;
        this.#handle(this.#score.arriving(at, direction));
      }
      if (this.#changes !== mark || !this.active) return;
      this.#change(to);
      this.#settle(false);
    });
  }

  /** What it leaves behind when it is over: its last pose, or the rest values. */
  get after(): 'hold' | 'rest' {
    return this.#after;
  }

  /**
   * Stops it before its end: intervals end, `stop` is told, and what waits in its queue begins. What it leaves behind
   * is its `after`, or the one given; with `fade` it goes there in so much time.
   */
  stop({ after = this.#after, fade = 0 }: { readonly after?: 'hold' | 'rest'; readonly fade?: Time } = {}): void {
    const seconds = secondsInside(this.clip, fade, 'fade', Infinity);
    this.#after = after;
    if (seconds > 0) this.layer?.leave(this, seconds);
    if (this.active || this.waiting) this.#host.guarded(() => this.#finish('stopped'));
    else this.layer?.over(this);
    this.#host.changed();
  }

  /** @internal Begins as far on as another is: at its share of a pass, and in the same pass. */
  stepOf(other: Playback): void {
    if (this.settings.from !== undefined) return;
    const { head } = this;
    const length = other.settings.high - other.low;
    const share = length > 0 ? (other.head.shown - other.low) / length : 0;
    head.shown = head.reached = head.start = this.low + share * this.#length;
    if (this.repeat.mode === other.repeat.mode) head.iteration = other.head.iteration;
    this.#quiet = true;
  }

  /** @internal Everything about it, as plain JSON; `chain` says which run of a chain it belongs to. */
  save(chain: number): PlaybackState {
    const { signal: _, ...settings } = this.settings;
    return {
      clip: this.clip.name,
      settings: { ...settings, repeat: { ...settings.repeat, count: numberOut(settings.repeat.count) } },
      state: this.state,
      after: this.#after,
      paused: this.#paused,
      quiet: this.#quiet,
      head: this.head.save(),
      open: [...(this.#open ?? [])].map(([cue, told]) => [this.clip.cues.indexOf(cue), told]),
      before: Array.from(this.before, numberOut),
      chain,
    };
  }

  /** @internal Becomes what was saved; it was made with the settings of the same. */
  load({ state, after, paused, quiet, head, open, before }: PlaybackState): void {
    this.state = state;
    this.#after = after;
    this.#paused = paused;
    this.#quiet = quiet;
    this.head.load(head);
    if (open.length > 0) this.#open = new Map(open.map(([place, told]) => [this.clip.cues[place]!, told]));
    if (before.length === 0) return;
    this.before = Float64Array.from(before, Number);
    this.base = this.before.slice();
    prepareBase(this.placed.curves, this.base);
  }

  /** @internal Is no more, without a word: the player is something else now. */
  forget(): void {
    this.state = 'stopped';
    this.#changes++;
    this.#unlisten?.();
    this.#resolve?.('stop');
  }

  /** @internal The same once more, from where it is now. */
  again(fade: number): Playback<N> {
    const settings = {
      ...this.settings,
      fade,
      from: this.head.shown,
      delay: 0,
      back: false,
      wait: 'end' as const,
    };
    const { rate, weight, after } = this;
    const one = new Playback<N>(this.#host, this.clip, { ...settings, rate, weight, after });
    one.head.iteration = this.head.iteration;
    one.#paused = this.#paused;
    one.#quiet = true;
    one.head.until = this.head.until;
    one.chain = this.chain;
    one.layer = this.layer;
    return one;
  }

  /** @internal Begins now, with what is left of the frame. */
  begin(): void {
    this.state = 'beginning';
    const { head } = this;
    const { delay } = this.settings;
    const { now, left } = this.#host;
    head.fadeAt = now + delay;
    head.fading = this.settings.fade > 0 ? 1 : 0;
    head.change(head.shown, this.#speed, now, left);
    head.needed = delay;
    this.#host.changed();
  }

  /** @internal Something else begins over it: it goes on for the eye as it did, and tells nothing any more. */
  leave(): void {
    const { head, repeat } = this;
    if (!Number.isNaN(head.goneAt)) return;
    const way = head.shown - this.low;
    head.goneAt = this.#host.now;
    head.goneWay = head.iteration * this.#length + (runsBack(repeat.mode, head.iteration) ? this.#length - way : way);
    // Also when it was stopped at this very moment.
    head.goneOn = (this.active ? !this.#paused : head.stoppedAt === head.goneAt) ? 1 : 0;
  }

  /** @internal Its part of what fades in and out now. */
  get fadedIn(): number {
    return this.head.fadedIn(this.#host.now, this.settings.fade);
  }

  get stays(): number {
    return this.head.stays(this.#host.now);
  }

  /** @internal Whether it fades, in or out. */
  get isFading(): boolean {
    return this.head.leaveFor >= 0 || this.head.fading === 1;
  }

  /** @internal Puts the time of the clip that is shown into a list: a bare number would get a box on its way. */
  timeInto(at: Float64Array): void {
    const { head, repeat } = this;
    const { every, low, high } = this.settings;
    at[0] = head.shown;
    if (head.goneOn === 1) {
      const duration = this.#length;
      at[0] = head.goneWay + head.rate * (this.#host.now - head.goneAt);
      foldTime(at, { duration, repeat, last: lastTime(duration, repeat.mode, repeat.count) });
      at[0] += low;
    }
    if (every > 0 && this.state !== 'ended') {
      at[0] = Math.min(high, low + Math.floor((at[0] - low) / every + 1e-9) * every);
    }
  }

  /** @internal Whether time moves it. */
  get isRunning(): boolean {
    return this.active && !this.#paused;
  }

  /** @internal True when it has ended by itself. */
  get isOver(): boolean {
    return this.state === 'ended';
  }

  /** @internal Gives it the time of the running frame. */
  addFrame(): void {
    if (this.active && !this.#paused && (this.head.rate !== 0 || this.state === 'beginning'))
      this.head.spent.add(this.#host.delta);
  }

  /** @internal Looks for its next moment: `head.due` says whether the frame reaches it. */
  aim(): void {
    const { head } = this;
    if (Number.isNaN(head.needed)) this.#findStop();
    const runs = this.state === 'beginning' || (this.state === 'running' && !this.#paused && head.speed !== 0);
    head.due = runs ? head.spent.sum + head.spent.lost - head.needed : -Infinity;
  }

  #findStop(): void {
    const { head } = this;
    if (!this.active || this.#paused || head.speed === 0) return;
    const direction = Math.sign(head.speed);
    const limit = this.#limit(direction);
    if (head.reached === limit) {
      // What is to be done there is the turn.
      const nowhere = this.#length === 0 && this.repeat.count === Infinity;
      head.needed = nowhere ? Infinity : head.used;
      return;
    }
    let stop = this.#score.next(head.reached, direction, limit);
    const until = head.until;
    if ((until - head.reached) * direction > 0 && (stop - until) * direction > 0) stop = until;
    head.aim(stop);
  }

  /** @internal Shows it where the frame ends. */
  settle(): void {
    const { head } = this;
    if (this.state !== 'running' || this.#paused) return;
    // As `head.show(0)`, but that nothing is called.
    const spent = head.spent.sum + head.spent.lost;
    const seconds = head.start + (spent > head.used ? spent : head.used) * head.speed;
    const { fps } = head;
    const frame = Math.round(seconds * fps) / fps;
    const off = frame - seconds;
    head.shown = off <= NANOSECOND && off >= -NANOSECOND ? frame : seconds;
  }

  /** @internal Goes to its next moment, and handles it. */
  arrive(): void {
    const { head } = this;
    if (this.state === 'beginning') {
      this.state = 'running';
      const delay = head.needed;
      if (delay > 0) head.change(head.shown, head.speed, head.changeAt + delay, head.spent.seconds - delay);
      head.needed = NaN;
      const moments = this.#score.beginning(head.reached, Math.sign(head.speed) || 1);
      // What goes on from where something else was has told what is there.
      this.#handle(this.#quiet ? moments.filter(({ type }) => type === 'cue-start') : moments);
      if (head.reached === head.until) this.#land();
      return;
    }
    const direction = Math.sign(head.speed);
    const limit = this.#limit(direction);
    if (head.reached === limit) {
      this.#turn(direction);
      return;
    }
    head.arrive();
    const changes = this.#changes;
    const turns = this.#turns;
    const arriving = this.#score.arriving(head.stop, direction);
    const atLimit = head.stop === limit;
    this.#handle(atLimit ? arriving.filter((moment) => happens(moment, true, turns)) : arriving);
    if (head.reached === head.until && this.#changes === changes) this.#land();
  }

  /** Stays where it was meant to land. */
  #land(): void {
    this.head.until = NaN;
    if (!this.active) return;
    this.#host.moment(this);
    this.pause();
  }

  /** Where the window that is played begins, seconds inside the clip. @internal */
  get low(): number {
    return this.settings.low;
  }

  get #length(): number {
    return this.settings.high - this.settings.low;
  }

  get #speed(): number {
    return directionOf(this.repeat, this.head.rate, this.head.iteration) * Math.abs(this.head.rate);
  }

  get #isLastPass(): boolean {
    return isLastPass(this.repeat, this.head.rate, this.head.iteration);
  }

  /** Whether the current pass ends with a turn, and not with a wrap or for good. */
  get #turns(): boolean {
    return this.repeat.mode === 'ping-pong' && !this.#isLastPass;
  }

  /** Where the current pass stops, in the direction of play. */
  #limit(direction: number): number {
    return this.low + limitOf(this.#length, this.repeat, this.head.rate, this.head.iteration, direction);
  }

  /** At the end of a pass: the end of all, or the next pass, in the time that is left. */
  #turn(direction: number): void {
    const { head } = this;
    const duration = this.#length;
    const turns = this.repeat.mode === 'ping-pong';
    // There and back is one round: what waits for the end of one begins where this began.
    const round = !turns || runsBack('ping-pong', head.iteration) === head.rate > 0;
    if (
      this.#isLastPass ||
      (duration === 0 && this.repeat.count !== Infinity) ||
      (round && this.layer?.handsOver(this))
    ) {
      this.#finish('ended');
      return;
    }
    const forward = Math.sign(head.rate);
    const before = this.#changes;
    if (!turns) {
      this.#endOpen();
      if (this.#changes !== before || !this.active || Math.sign(head.rate) !== forward) return;
    }
    const from = turns ? head.reached : direction > 0 ? this.low : this.settings.high;
    head.iteration += forward;
    head.follow(from, this.#speed);
    this.#skipPasses();
    this.#emit('loop');
    if (!turns && this.#changes === before && this.active) {
      this.#handle(this.#score.beginning(head.reached, Math.sign(head.speed)));
      if (head.reached === head.until && this.#changes === before) this.#land();
    }
  }

  /** Many passes in one frame that nobody hears of are gone over at once: a page that was away for an hour. */
  #skipPasses(): void {
    const { head } = this;
    const pass = this.#length / Math.abs(head.rate);
    const spent = head.spent.seconds;
    if (spent < 4 * pass || this.#host.heard || !Number.isNaN(head.until) || this.layer?.handsOver(this)) return;
    const { count } = this.repeat;
    const forward = Math.sign(head.rate);
    const most =
      count === Infinity ? Infinity : forward > 0 ? Math.ceil(count) - 2 - head.iteration : head.iteration - 1;
    const all = spent / pass <= most;
    // The remainder is exact, so that a month away leaves the phase as precise as a second.
    const passes = all ? Math.round((spent - (spent % (2 * pass))) / pass) : 2 * Math.floor(most / 2);
    if (passes <= 0) return;
    head.spent.set(all ? spent % (2 * pass) : spent - passes * pass);
    head.iteration += forward * passes;
    head.travelled += passes * this.#length;
    this.#host.skipped(passes, this.#score.countIn(this.low, this.settings.high));
  }

  /** A change of the playhead's way: from here on, with what is left of the frame. */
  #change(to: number, moved = true): void {
    const { head } = this;
    const { now, left } = this.#host;
    const delay = Math.max(0, head.needed - (head.spent.seconds - left));
    head.change(to, this.#speed, now, this.#paused ? 0 : left);
    if (this.state === 'beginning') head.needed = delay;
    if (moved) this.#changes++;
    this.#host.changed();
  }

  /**
   * Makes the open intervals fit the playhead after it was moved or turned: those that it has left end. Those that it
   * stands at the edge of and now moves into start, after a turn; a seek starts none.
   */
  #settle(enter: boolean, direction = Math.sign(this.head.speed) || 1): void {
    const inside = this.#score.beginning(this.head.shown, direction);
    const starts = inside.filter(({ type }) => type === 'cue-start');
    const left = [...(this.#open?.keys() ?? [])].filter((cue) => !starts.some((moment) => moment.cue === cue));
    const entered = enter ? starts.filter(({ cue }) => !this.#open?.has(cue)) : [];
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
    // The end of an interval is told if and only if its start was.
    const started = cue && type === 'cue-end' && this.#open?.get(cue) === true;
    if (cue && type === 'cue-end') this.#open?.delete(cue);
    if (cue && type === 'cue-start') (this.#open ??= new Map<ResolvedCue, boolean>()).set(cue, true);
    const told = this.#host.emit(type, this, cue, started === true);
    if (cue && type === 'cue-start' && !told && this.#open?.has(cue)) this.#open.set(cue, false);
  }

  #endOpen(): void {
    for (const cue of [...(this.#open?.keys() ?? [])]) if (this.#open!.has(cue)) this.#emit('cue-end', cue);
  }

  #finish(how: 'ended' | 'stopped'): void {
    const began = this.state !== 'waiting';
    if (how === 'stopped' && this.active && !this.#paused) this.head.stoppedAt = this.#host.now;
    this.state = how;
    this.#changes++;
    this.#unlisten?.();
    const type = how === 'ended' ? 'end' : 'stop';
    if (began) {
      if (how === 'ended') this.#host.moment(this);
      this.#endOpen();
      this.#emit(type);
    }
    this.#resolve?.(type);
    this.layer?.over(this);
    this.#host.changed();
  }
}
