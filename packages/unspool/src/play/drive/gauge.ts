import { checkOptions } from '../../errors/check-options.js';
import type { Clip } from '../../clip/clip.js';
import type { ReelNames } from '../../clip/names.js';
import type { Time } from '../../time/units.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { PlayContext } from './context.js';
import { secondsLong, windowOf } from '../time/clip-times.js';
import type { GaugeState } from '../state/saved.js';
import type { StageLayer, StageVoice } from '../pose/stage-voices.js';

/** How a gauge moves to a new value. */
export interface GaugeMotion {
  /** Units per second, greater than 0. Without `speed` and `time`, the gauge jumps. */
  readonly speed?: number;
  /** Duration of every move, instead of `speed`. */
  readonly time?: Time;
  /** Easing of the move, such as `easing('quad-out')`: a function from 0–1 to 0–1. Default: linear. */
  readonly ease?: (x: number) => number;
}

/** A second playhead that follows the gauge when its value falls, such as the ghost of a health bar. */
export interface GaugeTrail<N extends ReelNames = ReelNames> extends GaugeMotion {
  /** The clip that the trail drives, with the same range of values. */
  readonly clip: N['clip'];
  readonly span?: N['span'];
  /** Time before the trail starts to follow. Default: 0. */
  readonly delay?: Time;
}

/**
 * Options of `player.gauge(name, options)`.
 *
 * @example
 * const health = player.gauge('health', { clip: 'bar', max: 100, time: 0.2, trail: { clip: 'ghost', delay: 0.5 } });
 * health.value = 40;
 */
export interface GaugeOptions<N extends ReelNames = ReelNames> extends GaugeMotion {
  /** The clip that the gauge drives. */
  readonly clip: N['clip'];
  /** The span of the clip to drive. Default: the whole clip. */
  readonly span?: N['span'];
  /** The values at the start and the end of the clip. Default: 0 and 1. */
  readonly min?: number;
  readonly max?: number;
  /** The first value. Default: `min`. */
  readonly value?: number;
  /** A second playhead that follows later when the value falls. */
  readonly trail?: GaugeTrail<N>;
}

/** A new range for `gauge.resize`. */
export interface GaugeEnds {
  /** Omitted ends keep their value. */
  readonly min?: number;
  readonly max?: number;
  /** What stays the same: the `value` (clamped to the new range) or its `share` of the range. Default: `'value'`. */
  readonly keep?: 'value' | 'share';
}

const MOTION = ['speed', 'time', 'ease'];
const OPTIONS = [...MOTION, 'clip', 'span', 'min', 'max', 'value', 'trail'];
const TRAIL = [...MOTION, 'clip', 'span', 'delay'];

const NOTHING = new Float64Array(0);
export const EVEN = (x: number) => x;

/** A playhead that goes from one share (0–1) of its clip to another, in a time. All but the clip is plain numbers. */
class GaugePlayhead implements StageVoice {
  placed!: StageVoice['placed'];
  hints!: Int32Array;
  slotsLeft: readonly string[] | undefined;
  before = NOTHING;
  base = NOTHING;
  share = 1;
  from = 0;
  to = 0;
  /** Player time at which a move starts, in seconds, and its duration. */
  start = 0;
  length = 0;
  /** Whether it has arrived, and what comes before it too; and the time of the clip that it shows. */
  isStill = false;
  readonly #time = new Float64Array(1);
  low = 0;
  high = 0;
  readonly span: string | undefined;
  readonly #speed: number | undefined;
  readonly #takes: number;
  readonly ease: (x: number) => number;

  constructor(
    readonly core: PlayContext,
    public clip: Clip,
    { span, speed, time, ease = EVEN }: GaugeMotion & { readonly span?: string },
  ) {
    if (speed !== undefined && !(typeof speed === 'number' && speed > 0))
      throw new UnspoolError('play/gauge', `the speed ${show(speed)} is not a number above 0`, 'use units per second');
    checkEase(ease);
    this.span = span;
    [this.low, this.high] = windowOf(clip, span);
    this.#speed = speed;
    this.#takes = time === undefined ? 0 : secondsLong(clip.fps, time, 'time');
    this.ease = ease;
    core.begin(this, undefined);
  }

  get after(): 'hold' | 'rest' {
    return this.clip.after;
  }

  at(now: number): number {
    if (now >= this.start + this.length) return this.to;
    if (now <= this.start) return this.from;
    const x = (now - this.start) / this.length;
    const y = this.ease(x);
    // A custom function may throw for a value that was never tried.
    return this.from + (this.to - this.from) * (Number.isFinite(y) ? y : x);
  }

  /** Other ends of the values: the shares that it goes between are others. */
  rescale(by: (share: number) => number): void {
    this.from = by(this.from);
    this.to = by(this.to);
  }

  /**
   * Moves from the current share to another, starting at a time; `values` is the number of values in the whole range.
   */
  go(to: number, now: number, delay: number, values: number): void {
    this.from = this.at(now);
    this.to = to;
    this.start = now + delay;
    this.length = this.#speed === undefined ? this.#takes : (Math.abs(to - this.from) * values) / this.#speed;
  }

  jump(to: number, now: number): void {
    this.from = this.to = to;
    this.start = now;
    this.length = 0;
  }

  timeInto(at: Float64Array): void {
    // An arrived one is not asked for its time, because the result would be boxed.
    if (!this.isStill) this.#place(this.shown(this.core.frame.now));
    at[0] = this.#time[0]!;
    at[1] = 0;
  }

  /** Like `timeInto`, for a time from now that is given in the array. */
  timeAfter(at: Float64Array): void {
    this.#place(this.shown(this.core.frame.now + at[0]!));
    at[0] = this.#time[0]!;
    at[1] = 0;
    if (this.isStill) return;
    this.#place(this.shown(this.core.frame.now));
  }

  #place(share: number): void {
    const low = this.low;
    const high = this.high;
    this.#time[0] = share <= 0 ? low : share >= 1 ? high : low + (high - low) * share;
  }

  shown(now: number): number {
    return this.at(now);
  }
}

/** Throws for an easing that gives no numbers: it would be found out in the middle of a frame. */
function checkEase(ease: unknown): void {
  const hint = 'use a function of 0 to 1, such as easing("quad-out")';
  if (typeof ease !== 'function') throw new UnspoolError('play/gauge', `ease is ${show(ease)}`, hint);
  for (const x of [0, 0.5, 1]) {
    const y: unknown = (ease as (x: number) => unknown)(x);
    if (!Number.isFinite(y)) throw new UnspoolError('play/gauge', `ease returns ${show(y)} at ${x}`, hint);
  }
}

/** Comes after another, and is never behind it. */
class TrailPlayhead extends GaugePlayhead {
  lead!: GaugePlayhead;

  override shown(now: number): number {
    return Math.max(this.at(now), this.lead.at(now));
  }
}

/** A clip driven by a number: a bar, a dial, a door half open. Create it with `player.gauge`. */
export class Gauge<N extends ReelNames = ReelNames> {
  /** The name that it was created with. */
  readonly name: string;
  /** @internal */
  readonly shownLayers: readonly StageLayer[];
  readonly #core: PlayContext;
  readonly #playhead: GaugePlayhead;
  readonly #trail: TrailPlayhead | undefined;
  readonly #delay: number;
  #min: number;
  #max: number;
  /** Whether its arrival is still to be reported. */
  #moves = false;

  /** @internal use `player.gauge` */
  constructor(core: PlayContext, name: string, options: GaugeOptions<N>) {
    checkOptions(options, OPTIONS, 'gauge');
    if (options.trail !== undefined) checkOptions(options.trail, TRAIL, 'trail');
    const { clip, min = 0, max = 1, value = min, trail } = options;
    this.name = name;
    this.#core = core;
    [this.#min, this.#max] = [min, max];
    this.#check();
    this.#shareOf(value);
    this.#playhead = new GaugePlayhead(core, core.reel.clip(clip), options);
    this.#delay = 0;
    if (trail) {
      const trailing = core.reel.clip(trail.clip);
      this.#trail = new TrailPlayhead(core, trailing, trail);
      this.#trail.lead = this.#playhead;
      this.#delay = secondsLong(trailing.fps, trail.delay ?? 0, 'delay');
    }
    // The trail lies below.
    this.shownLayers = this.hands.map((hand) => {
      return { shownWeight: 1, voices: [hand], animates: () => this.isMoving, claims: () => true };
    });
    this.jump(value);
  }

  #check(): void {
    const [min, max]: readonly unknown[] = [this.#min, this.#max];
    if (typeof min === 'number' && typeof max === 'number' && max > min && max - min < Infinity) return;
    const message = `the gauge ${show(this.name)} has the range ${show(this.#min)} to ${show(this.#max)}`;
    throw new UnspoolError('play/gauge', message, 'use two finite numbers, max greater than min');
  }

  #shareOf(value: number): number {
    if (Number.isNaN(value) || typeof value !== 'number')
      throw new UnspoolError(
        'play/gauge',
        `the value ${show(value)} of the gauge ${show(this.name)} is not a number`,
        'use a number',
      );
    return Math.min(1, Math.max(0, (value - this.#min) / (this.#max - this.#min)));
  }

  #valueOf(share: number): number {
    return this.#min + share * (this.#max - this.#min);
  }

  /** The target value, clamped to `min` and `max`. The gauge moves there. */
  get value(): number {
    return this.#valueOf(this.#playhead.to);
  }

  set value(value: number) {
    const to = this.#shareOf(value);
    if (to === this.#playhead.to) return;
    const { now } = this.#core.frame;
    const values = this.#max - this.#min;
    this.#trail?.jump(this.#trail.shown(now), now);
    this.#playhead.go(to, now, 0, values);
    this.#trail?.go(to, now, this.#delay, values);
    this.#moves = true;
    this.#move();
  }

  /** The value that it shows now. */
  get shown(): number {
    return this.#valueOf(this.#playhead.at(this.#core.frame.now));
  }

  /** The value that its trail shows now. */
  get trail(): number {
    const { now } = this.#core.frame;
    return this.#valueOf((this.#trail ?? this.#playhead).shown(now));
  }

  /** Shows a value at once, including the trail. No `arrive` event fires. */
  jump(value: number): void {
    const to = this.#shareOf(value);
    const { now } = this.#core.frame;
    this.#playhead.jump(to, now);
    this.#trail?.jump(to, now);
    this.#moves = false;
    this.#move();
  }

  /** The value at the start of the clip. Use `resize` to change it. */
  get min(): number {
    return this.#min;
  }

  /** The value at the end of the clip. Use `resize` to change it. */
  get max(): number {
    return this.#max;
  }

  /**
   * Changes the range of values. A move in progress and its trail continue. Throws unless both are finite and `max` is
   * greater than `min`.
   */
  resize(ends: GaugeEnds): void {
    checkOptions(ends, ['min', 'max', 'keep'], 'resize');
    const { min = this.#min, max = this.#max, keep = 'value' } = ends;
    if (keep !== 'value' && keep !== 'share')
      throw new UnspoolError('play/gauge', `keep is ${show(keep)}`, 'use "value" or "share"');
    const before = [this.#min, this.#max] as const;
    [this.#min, this.#max] = [min, max];
    try {
      this.#check();
    } catch (error) {
      [this.#min, this.#max] = before;
      throw error;
    }
    if (keep === 'share') return;
    const [low, high] = before;
    for (const hand of this.hands) hand.rescale((share) => this.#shareOf(low + share * (high - low)));
    this.#move();
  }

  /** Removes the gauge from its player. What stays is the last pose or the rest pose, as its clip says. */
  remove(): void {
    this.#core.removeGauge(this);
  }

  /** @internal */
  get hands(): readonly GaugePlayhead[] {
    return this.#trail ? [this.#trail, this.#playhead] : [this.#playhead];
  }

  /** @internal Whether its picture changes by itself, its trail counted in. */
  isMoving = true;

  /** @internal At the end of a frame: whether it still moves in the next. */
  settle(): void {
    if (!this.isMoving) return;
    const { now } = this.#core.frame;
    const late = this.#trail ?? this.#playhead;
    const wasMoving = this.isMoving;
    this.isMoving = this.#moves || now < late.start + late.length || now < this.#playhead.start + this.#playhead.length;
    this.#playhead.isStill = late.isStill = !this.isMoving;
    if (wasMoving !== this.isMoving) this.#core.frame.regroup();
  }

  #move(): void {
    this.isMoving = true;
    this.#playhead.isStill = false;
    if (this.#trail) this.#trail.isStill = false;
    for (const hand of this.hands) this.#core.touch(hand);
    this.#core.frame.changed();
  }

  /** @internal Whether its arrival is still to be reported. */
  get isArriving(): boolean {
    return this.#moves;
  }

  /** @internal When it arrives, if that is still to be reported; else Infinity. */
  get arrivesAt(): number {
    return this.#moves ? this.#playhead.start + this.#playhead.length : Infinity;
  }

  /** @internal */
  arrive(): void {
    const { frame } = this.#core;
    this.#moves = false;
    frame.momentAt(this.#playhead.start + this.#playhead.length);
    frame.emitNow({ type: 'arrive', name: this.name, value: this.value, time: frame.now, late: frame.late });
  }

  /** @internal */
  save(): GaugeState {
    const move = ({ from, to, start, length }: GaugePlayhead) => ({ from, to, start, length });
    return {
      ...{ name: this.name, min: this.#min, max: this.#max, moves: this.#moves },
      lead: move(this.#playhead),
      trail: this.#trail ? move(this.#trail) : null,
    };
  }

  /** @internal */
  restore({ min, max, moves, lead, trail }: GaugeState): void {
    [this.#min, this.#max, this.#moves] = [min, max, moves];
    Object.assign(this.#playhead, lead);
    if (this.#trail) Object.assign(this.#trail, trail ?? lead);
    this.#move();
  }
}
