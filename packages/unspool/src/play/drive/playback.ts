import { checkOptions } from '../../errors/check-options.js';
import { prepareBase, type Clip } from '../../clip/clip.js';
import type { ReelNames } from '../../clip/names.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { foldTime, iterationAt, lapOf, lastTime, unfoldTime } from '../../time/iteration.js';
import type { ResolvedCue } from '../../reel/resolve/cue.js';
import { NANOSECOND, type Time } from '../../time/units.js';
import { PlaybackSimulation, type PlaybackHost } from '../time/playback-simulation.js';
import type { RemappedClip } from '../pose/animated-slots.js';
import { momentWithin, rateOf, weightOf } from '../time/clip-times.js';
import {
  ENVELOPE_NUMBERS,
  FadeEnvelope,
  numberOut,
  numbersOf,
  PLAYHEAD_NUMBERS,
  putNumbers,
} from '../time/playhead.js';
import { checkStop, type Settings, type StopOptions } from '../time/settings.js';
import type { PlaybackState } from '../state/saved.js';

/** A chain in progress, returned when `play` is called with the name of a chain. */
export interface ChainRun<N extends ReelNames = ReelNames> {
  readonly name: N['chain'];
  readonly links: readonly Playback<N>[];
  /**
   * Resolves to `'end'` when the last link has ended, to `'stop'` when a link was stopped or removed from the queue.
   */
  readonly ended: Promise<'end' | 'stop'>;
}

/** Options of `finish`. */
export interface FinishOptions {
  /** Whether the cues and loops on the way are emitted, with `skipped: true`. Default: `true`. */
  readonly cues?: boolean;
}

const NOTHING = new Float64Array(0);
/** The rate that is being set. */
const RATE = new Float64Array(1);

/** One clip being played: a playhead with a rate, an iteration and a weight, or an entry of a queue. */
export class Playback<N extends ReelNames = ReelNames> extends PlaybackSimulation<N> {
  /** @internal the chain that it belongs to, which `chain` shows */
  run: ChainRun<N> | undefined;
  /** @internal whether it continues what a playback with `back` interrupted */
  returns = false;
  #after: 'hold' | 'rest';
  #promise: Promise<'end' | 'stop'> | undefined;
  #resolve: ((how: 'end' | 'stop') => void) | undefined;
  #unlisten: (() => void) | undefined;

  // What it is sampled with: it is a `StageVoice`.
  /** @internal */
  placed!: RemappedClip;
  /** @internal */
  hints!: Int32Array;
  /** @internal */
  slotsLeft: readonly string[] | undefined;
  /** @internal */
  before = NOTHING;
  /** @internal */
  base = NOTHING;
  /** @internal */
  share = 0;
  /** @internal how it is shown, where it fades */
  envelope: FadeEnvelope | undefined;

  /** @internal use `player.play` */
  constructor(host: PlaybackHost, clip: Clip<N['clip']>, settings: Settings) {
    super(host, clip, settings);
    this.#after = settings.after;
    const { signal } = settings;
    if (!signal) return;
    const abort = () => this.stop();
    this.#unlisten = () => signal.removeEventListener('abort', abort);
    signal.addEventListener('abort', abort, { once: true });
  }

  /** The chain that it is a link of; `undefined` when it was not started as one. */
  get chain(): ChainRun<N> | undefined {
    return this.run;
  }

  /**
   * Playback rate, multiplied by the clip's own: 1 is as authored, 2 twice as fast, negative backwards, 0 pauses.
   * Throws beyond ±1e6.
   */
  get rate(): number {
    return this.head.own;
  }

  set rate(rate: number) {
    RATE[0] = rateOf(rate);
    this.takeRate(RATE);
  }

  /** @internal Sets the rate from an array: the engine would box a number that is passed on. */
  takeRate(rate: Float64Array): void {
    const { head } = this;
    const before = head.own;
    if (rate[0] === before) return;
    head.own = rate[0]!;
    head.rate = head.own * this.clip.rate;
    if (this.state === 'running' && !this.isPaused && head.own * before > 0 && head.speed !== 0) this.keepOn();
    else this.change(head.shown, false);
    if (Math.sign(head.own) !== Math.sign(before) && this.state === 'running')
      this.host.guarded(() => this.settleCues(true));
  }

  /** Weight over what is below, 0 to 1, apart from fades. */
  get weight(): number {
    return this.head.weight;
  }

  set weight(weight: number) {
    this.head.weight = weightOf(weight);
    this.layer?.touch(this);
    this.host.changed();
  }

  /** Whether it is in a queue and has not started. */
  get waiting(): boolean {
    return this.state === 'waiting';
  }

  /** Resolves to `'end'` when it ends by itself, to `'stop'` when it is stopped, replaced or removed from its queue. */
  get ended(): Promise<'end' | 'stop'> {
    this.#promise ??=
      this.active || this.waiting
        ? new Promise((resolve) => (this.#resolve = resolve))
        : Promise.resolve(this.state === 'ended' ? 'end' : 'stop');
    return this.#promise;
  }

  /** Continues from where it is. With `until`, it pauses again at a time, a cue, or the end of a span. */
  resume(options: { readonly until?: Time | N['cue'] | N['span'] } = {}): void {
    checkOptions(options, ['until'], 'resume');
    const { until } = options;
    if (until !== undefined) this.head.until = momentWithin(this.clip, until, 'until', 1, this.settings);
    else if (!this.isPaused) return;
    this.isPaused = false;
    this.change(this.head.shown, false);
  }

  /** Reverses the direction of play. */
  reverse(): void {
    this.rate = -this.head.own;
  }

  /**
   * Moves the playhead within the current iteration. Intervals that it leaves end. No cue fires, unless `cues` requests
   * those on the way, in order, all at this moment.
   *
   * @param time from 0 to `duration`, the name of a cue, or of a span (its start). Throws for anything else
   */
  seek(time: Time | N['cue'] | N['span'], options: { readonly cues?: boolean } = {}): void {
    checkOptions(options, ['cues'], 'seek');
    const { cues = false } = options;
    const to = momentWithin(this.clip, time, 'seek', 0, this.settings);
    if (!this.active) return;
    if (this.state === 'beginning') this.state = 'running';
    const { head } = this;
    const direction = Math.sign(to - head.shown);
    this.host.guarded(() => {
      this.change(head.shown, false);
      if (cues && direction !== 0) this.settleCues(false, direction);
      const mark = this.changes;
      for (let at = head.shown; cues && at !== to && this.changes === mark;) {
        at = this.timeline.next(at, direction, to);
        head.shown = head.reached = head.start = at;
        this.handle(this.timeline.arriving(at, direction));
      }
      if (this.changes !== mark || !this.active) return;
      this.change(to);
      this.settleCues(false);
    });
  }

  /** What stays at the end: the last pose or the rest pose. */
  get after(): 'hold' | 'rest' {
    return this.#after;
  }

  /**
   * Stops it before its end: intervals end, `stop` fires, and the next in the queue starts. What stays is `after`, or
   * the one passed here; `fade` sets the length of the fade to it.
   */
  stop(options: StopOptions = {}): void {
    const seconds = checkStop(this.clip.fps, options);
    this.#after = options.after ?? this.#after;
    if (seconds > 0) this.layer?.leave(this, seconds);
    if (this.active || this.waiting) this.host.guarded(() => this.close('stopped'));
    else this.layer?.over(this);
    this.host.changed();
  }

  /**
   * Goes to its end at once, or to where it was to land (`until`): the cues on the way are emitted in order, all at this
   * moment, as are the loops and the end, each with `skipped: true`. A pause or a fade-in is over. Nothing else moves;
   * the next in the queue begins. Of very many iterations only the last few thousand cues are emitted.
   *
   * @param options `cues: false` emits no cues and loops on the way, but the ends of intervals that have begun
   * @throws UnspoolError `play/endless` where it has no end: it loops forever, or stands still at rate 0
   * @example
   * player.on('cue', (cue) => cue.skipped || sounds.play(cue.data.sound));
   * button.onclick = () => player.playback?.finish();
   */
  finish(options: FinishOptions = {}): void {
    checkOptions(options, ['cues'], 'finish');
    const { cues = true } = options;
    if (!this.active) return;
    if (!this.hasEnd) {
      const why = this.head.rate === 0 ? 'stands still at rate 0' : 'loops forever';
      const message = `${show(this.clip.name)} has no end to go to: it ${why}`;
      throw new UnspoolError('play/endless', message, 'stop it, or play something else');
    }
    this.host.guarded(() => {
      const { host, envelope } = this;
      const before = host.skipping;
      host.skipping = cues ? 'told' : 'silent';
      if (envelope) envelope.fadeAt = host.now - this.settings.fade;
      this.isPaused = false;
      this.skip();
      host.skipping = before;
      this.layer?.touch(this);
      host.changed();
    });
  }

  /** @internal Stops it, as another plays in its place. */
  replace(by: Playback): void {
    this.host.guarded(() => this.close('stopped', by));
  }

  /** @internal Starts at the same share of an iteration as another playback, and in the same iteration. */
  stepOf(other: Playback): void {
    if (this.settings.from !== undefined) return;
    const { head } = this;
    const { mode, count } = this.repeat;
    const share = other.length > 0 ? (other.head.shown - other.low) / other.length : 0;
    const { iteration } = other.head;
    // If it has such an iteration, and all of it.
    const isThere = count === Infinity || (iteration >= 0 && iteration < Math.floor(count));
    if (mode === other.repeat.mode && isThere) head.iteration = iteration;
    const at = this.low + share * this.length;
    const isUp = this.speed >= 0;
    const limit = this.limit(isUp ? 1 : -1);
    head.shown = head.reached = head.start = isUp ? Math.min(at, limit) : Math.max(at, limit);
    this.quiet = true;
  }

  /** @internal Its state as plain JSON; `chain` is the index of the chain that it belongs to. */
  save(chain: number): PlaybackState {
    const { signal, ...settings } = this.settings;
    return {
      clip: this.clip.name,
      settings: { ...settings, repeat: { ...settings.repeat, count: numberOut(settings.repeat.count) } },
      state: this.state,
      after: this.#after,
      paused: this.isPaused,
      quiet: this.quiet,
      watched: this.isWatched,
      returns: this.returns,
      slots: this.slotsLeft ?? null,
      head: numbersOf(this.head, PLAYHEAD_NUMBERS),
      presence: this.envelope ? numbersOf(this.envelope, ENVELOPE_NUMBERS) : null,
      open: [...(this.open ?? [])].map(([cue, emitted]) => [cue.name, this.#namesakes(cue.name).indexOf(cue), emitted]),
      before: Array.from(this.before, numberOut),
      chain,
    };
  }

  /** @internal Becomes what was saved; it was made with the settings of the same. */
  load({ settings, state, after, paused, quiet, returns, slots, head, presence, open, before }: PlaybackState): void {
    this.state = state;
    this.#after = after;
    this.returns = returns;
    this.isPaused = paused;
    this.quiet = quiet;
    this.slotsLeft = slots ?? undefined;
    this.envelope = undefined;
    putNumbers(this.head, PLAYHEAD_NUMBERS, head);
    if (presence) putNumbers(this.makePresence(), ENVELOPE_NUMBERS, presence);
    this.#fit(settings);
    this.#reopen(open);
    this.before = this.base = NOTHING;
    if (before.length === 0) return;
    this.before = Float64Array.from(before, Number);
    this.base = this.before.slice();
    prepareBase(this.placed.curves, this.base);
  }

  #namesakes(cue: string): readonly ResolvedCue[] {
    return this.clip.cues.filter(({ name }) => name === cue);
  }

  /** Restores the intervals that it was inside of. Those that it is not inside of any longer emit nothing. */
  #reopen(open: PlaybackState['open']): void {
    this.open = undefined;
    const at = this.head.shown;
    for (const [name, nth, emitted] of open) {
      const cue = this.#namesakes(name)[nth];
      if (cue?.until === undefined || at < cue.at - NANOSECOND || at > cue.until + NANOSECOND) continue;
      (this.open ??= new Map<ResolvedCue, boolean>()).set(cue, emitted);
    }
  }

  /**
   * Continues in its clip as that is now, from the state of the same clip as it was: at its time, or at the nearest that
   * it still has. What has ended stays at its end. Where nothing has changed, all is as it was, to the bit.
   */
  #fit(was: PlaybackState['settings']): void {
    const { head, settings, clip, repeat, envelope } = this;
    const { low, high } = settings;
    if (was.ofClip.after && this.#after === was.after) this.#after = settings.after;
    head.fps = clip.fps;
    head.rate = head.own * clip.rate;
    if (repeat.count <= head.iteration) head.iteration = Math.max(0, Math.ceil(repeat.count) - 1);
    const speed = this.active ? this.speed : head.speed;
    const inside = (at: number) => Math.min(high, Math.max(low, at));
    const isNamed = was.ofClip.until !== null && head.until === was.until;
    head.until = isNamed ? (settings.until ?? NaN) : inside(head.until);
    if (low === was.low && high === was.high && speed === head.speed) {
      if (this.state !== 'running' || Number.isNaN(head.needed)) return;
      head.needed = NaN;
      this.aim();
      // A cue that lies behind it now is past.
      if ((head.shown - head.stop) * Math.sign(speed) > NANOSECOND) head.change(head.shown, speed, this.host.now, 0);
      return;
    }
    const delay = this.state === 'beginning' ? head.needed : NaN;
    let at = head.shown;
    if (this.state === 'waiting') at = this.first;
    else if (this.state === 'ended') at = at === was.high ? high : at === was.low ? low : at;
    head.change(inside(at), speed, this.host.now, 0);
    head.needed = delay;
    if (envelope && !Number.isNaN(envelope.goneAt))
      envelope.goneWay = unfoldTime(head.shown - low, head.iteration, this.length, repeat);
  }

  /** @internal Ends without events: the player is restored to another state. */
  forget(): void {
    this.state = 'stopped';
    this.changes++;
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
      ofClip: { ...this.settings.ofClip, from: null },
    };
    const { rate, weight, after } = this;
    const one = new Playback<N>(this.host, this.clip, { ...settings, rate, weight, after });
    one.returns = true;
    one.head.iteration = this.head.iteration;
    one.isPaused = this.isPaused;
    one.quiet = true;
    one.head.until = this.head.until;
    one.run = this.run;
    one.layer = this.layer;
    return one;
  }

  /** @internal Begins now, with what is left of the frame. */
  begin(): void {
    this.state = 'beginning';
    const { head } = this;
    const { delay } = this.settings;
    const { now, left } = this.host;
    if (this.settings.fade > 0) {
      const presence = this.makePresence();
      presence.fadeAt = now + delay;
      presence.fading = 1;
    }
    head.change(head.shown, this.speed, now, left);
    head.needed = delay;
    this.host.changed();
  }

  /** @internal Something else begins over it: it continues to move while it fades out, but emits no events. */
  leave(): void {
    const { head, repeat } = this;
    const presence = this.makePresence();
    if (!Number.isNaN(presence.goneAt)) return;
    presence.goneAt = this.host.now;
    presence.goneWay = unfoldTime(head.shown - this.low, head.iteration, this.length, repeat);
    // Also when it was stopped at this very moment.
    presence.goneOn = (this.active ? !this.isPaused : presence.stoppedAt === presence.goneAt) ? 1 : 0;
  }

  /** @internal */
  makePresence(): FadeEnvelope {
    return (this.envelope ??= new FadeEnvelope());
  }

  /** @internal How far it has faded in, and how much of it has not faded out, at a time from now. */
  fadedIn(after = 0): number {
    return this.envelope ? this.envelope.fadedIn(this.host.now + after, this.settings.fade) : 1;
  }

  /** @internal */
  stays(after = 0): number {
    return this.envelope ? this.envelope.stays(this.host.now + after) : 1;
  }

  /**
   * @internal Whether it has ended and nothing fades over it, so that it holds its last pose. False when it was just
   * stopped.
   */
  get stands(): boolean {
    const { goneAt = NaN, stoppedAt = NaN } = this.envelope ?? {};
    return !this.active && Number.isNaN(goneAt) && stoppedAt !== this.host.now;
  }

  /** @internal Whether it fades out by itself. */
  get isLeaving(): boolean {
    return (this.envelope?.leaveFor ?? -1) >= 0;
  }

  /** @internal Whether it fades, in or out. */
  get isFading(): boolean {
    const { envelope: presence } = this;
    return presence !== undefined && (presence.leaveFor >= 0 || presence.fading === 1);
  }

  /** @internal Writes the shown time of its clip and the lap into an array: the engine would box a returned number. */
  timeInto(at: Float64Array): void {
    at[0] = 0;
    this.timeAfter(at);
  }

  /** @internal Like `timeInto`, for a time from now that is given in the array, and before its next moment. */
  timeAfter(at: Float64Array): void {
    const { head, repeat, envelope: presence } = this;
    const { every, low, high } = this.settings;
    const after = at[0]!;
    at[0] = after > 0 && this.state === 'running' && !this.isPaused ? head.shown + head.speed * after : head.shown;
    at[1] = lapOf(repeat, head.iteration);
    if (presence?.goneOn === 1) {
      const duration = this.length;
      at[0] = presence.goneWay + head.rate * (this.host.now + after - presence.goneAt);
      const before = at[1];
      foldTime(at, { duration, repeat, last: lastTime(duration, repeat.mode, repeat.count) });
      at[0] += low;
      // Of an endless clip it is counted from an iteration that may be a late one: see `unfoldTime`.
      if (repeat.count === Infinity) at[1] = at[1] + before - (before % 2);
    }
    // Rounding may put it a hair outside, and sampling reads what lies there.
    if (at[0] < low) at[0] = low;
    else if (at[0] > high) at[0] = high;
    if (every > 0 && this.state !== 'ended') {
      at[0] = Math.min(high, low + Math.floor((at[0] - low) / every + 1e-9) * every);
    }
    // A stretch of the clip gains something else: it starts anew.
    if (low > 0 || high < this.clip.duration) at[1] = 0;
  }

  /**
   * @internal Whether it turns around or wraps between two times from now. A playback that emits events has no moment
   * in between; one that something else began over has none at all.
   */
  turnsBetween(from: number, until: number): boolean {
    const { envelope: presence, length, head, host } = this;
    if (presence?.goneOn !== 1 || length === 0) return false;
    const iteration = (after: number) =>
      iterationAt(presence.goneWay + head.rate * (host.now + after - presence.goneAt), length);
    return iteration(from) !== iteration(until);
  }

  /** @internal */
  protected close(how: 'ended' | 'stopped', by?: Playback): void {
    const began = this.state !== 'waiting';
    if (how === 'stopped' && this.isRunning) this.makePresence().stoppedAt = this.host.now;
    this.state = how;
    this.changes++;
    this.#unlisten?.();
    const type = how === 'ended' ? 'end' : 'stop';
    if (began) {
      if (how === 'ended') this.host.moment(this);
      this.endOpen();
      this.emit(type, undefined, by);
    }
    this.#resolve?.(type);
    this.layer?.over(this);
    this.host.changed();
  }
}
