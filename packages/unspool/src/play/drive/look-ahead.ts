import { boundCurves } from '../../clip/bounds.js';
import { HEAD_GAIN, HEAD_SIZE, HEAD_TARGET, HEAD_WIDTH, sampleCurves } from '../../clip/curves.js';
import type { Layout } from '../../clip/layout.js';
import { range, type Range } from '../pose/blend.js';
import type { PlayerCore } from './core.js';
import type { RemappedClip } from '../pose/animated-slots.js';
import { Mixer, needsOf } from '../pose/mixer.js';
import { handRange, type Hand } from './hand-range.js';
import { findOther, heaviestOf } from './heaviest.js';
import { LookAheadLayers, type LookAheadVoice } from './look-ahead-layers.js';
import { Playback } from './playback.js';
import { RangeMixer } from '../pose/range-mixer.js';
import type { StageVoice } from '../pose/stage-voices.js';

/** Places on the way of a gauge that moves by a function of the game's own. */
const PLACES = 8;

/**
 * Some numbers of a player until its next moment: their values at a time and their bounds over an interval. For code
 * that needs the way between frames, and not only the pose at their end.
 */
export class LookAhead {
  readonly #rest: Float64Array;
  readonly #after = new Float64Array(1);
  readonly #at = new Float64Array(2);
  /** The laps at the start and at the end of an interval. */
  readonly #laps = new Float64Array(2);
  readonly #mixer: Mixer;
  #needs = 0;
  readonly #ranges: RangeMixer;
  readonly #whole: Range;
  readonly #layers: LookAheadLayers;
  /** Of a held property alone, with the shares that decide about it: see `hold`. */
  #held: LookAheadLayers | undefined;
  /** Whether that has taken over what plays. */
  #isHeldKnown = false;
  /** Whether these decide, and not the shares at a time themselves. */
  isHeld = false;
  /** See `untilOther`. */
  readonly #change = { same: 0, other: 0 };

  /**
   * @param layout of these numbers
   * @param from   the offset of each number in the reel's pose
   */
  constructor(
    readonly core: PlayerCore,
    readonly layout: Layout,
    readonly from: Int32Array,
  ) {
    this.#rest = new Float64Array(layout.size);
    this.#layers = new LookAheadLayers(core, layout, from, this.#after);
    this.#mixer = new Mixer(layout.size);
    this.#ranges = new RangeMixer(layout.size);
    this.#whole = range(layout.size);
  }

  /** Takes over what plays now: to be called after each frame, and after each command. */
  update(): void {
    const { core, from } = this;
    from.forEach((k, i) => (this.#rest[i] = core.stage.base.values[k]!));
    core.sample();
    this.isHeld = false;
    this.#isHeldKnown = false;
    this.#layers.update();
    this.#needs = needsOf(this.#layers.list);
  }

  /** The voice that a held property is taken from, at a time from now. */
  heaviest(property: string, after = 0): StageVoice | undefined {
    this.#layers.share(after, after);
    return heaviestOf(this.#layers.list, property);
  }

  /** Whether playbacks fade in or out: then the heaviest may change between two moments. */
  get isFading(): boolean {
    return this.#layers.list.some(({ all }) => all.some(({ isFading }) => isFading));
  }

  /**
   * Returns how long from now it takes until a held property is taken from another voice: at most `ahead`. Up to `same`
   * it is taken from this one for certain. While playbacks fade, the heaviest may change between two moments.
   */
  untilOther(property: string, ahead: number): number {
    this.#change.same = this.#change.other = ahead;
    if (ahead > 0 && this.isFading)
      findOther(this.#layers.list, property, ahead, (from, until) => this.#layers.share(from, until), this.#change);
    return this.#change.other;
  }

  get same(): number {
    return this.#change.same;
  }

  /**
   * Takes a held property as the shares at a time from now say, until the next `update`. At the very end of the time
   * for which a voice gives it, rounding would say now this voice, now the next.
   */
  hold(property: string, at: number): void {
    if (this.#held?.property !== property)
      this.#held = new LookAheadLayers(this.core, this.layout, this.from, this.#after, property);
    if (!this.#isHeldKnown) this.#held.update();
    this.#isHeldKnown = true;
    this.#held.share(at, at);
    this.isHeld = true;
  }

  /** Writes the values at a time from now into an array of the layout. */
  sampleInto(after: number, values: Float64Array): void {
    values.set(this.#rest);
    this.#after[0] = after;
    const only = this.#only;
    if (only) {
      only.timeInto(this.#at);
      sampleCurves(only.placed.curves, this.#at, only.hints, only.base, values);
      return;
    }
    this.#layers.share(after, after);
    this.#mixer.begin(this.#needs);
    for (const layer of this.#layers.list) this.#mixer.layer(layer, values);
    if (!this.isHeld) return;
    this.#forget(values);
    this.#mixer.begin(this.#needs);
    for (const layer of this.#held!.list) this.#mixer.layer(layer, values);
  }

  /** Writes the bounds of the values between two times from now into two arrays. */
  boundsInto(from: number, until: number, low: Float64Array, high: Float64Array): void {
    low.set(this.#rest);
    high.set(this.#rest);
    const only = this.#only;
    if (only) {
      this.#bound(only, from, until, { low: only.base, high: only.base }, low, high);
      return;
    }
    this.#layers.share(from, until);
    this.#boundLayers(this.#layers, from, until, low, high);
    if (!this.isHeld) return;
    this.#forget(low);
    this.#forget(high);
    this.#boundLayers(this.#held!, from, until, low, high);
  }

  #boundLayers({ list }: LookAheadLayers, from: number, until: number, low: Float64Array, high: Float64Array): void {
    const ranges = this.#ranges;
    ranges.begin();
    for (const { voices, shownWeight } of list) {
      ranges.layer(voices, shownWeight, { low, high }, (voice, base, into) => {
        this.#bound(voice, from, until, base, into.low, into.high);
      });
    }
  }

  /** The held property is at rest again. */
  #forget(values: Float64Array): void {
    const { offset, width } = this.layout.slot(this.#held!.property!);
    for (let k = offset; k < offset + width; k++) values[k] = this.#rest[k]!;
  }

  /**
   * Writes bounds of what the values may be as long as the same plays, at whatever time. Returns false when there are
   * none: where offsets come on top, or what accumulates.
   */
  wholeInto(low: Float64Array, high: Float64Array): boolean {
    low.set(this.#rest);
    high.set(this.#rest);
    const only = this.#only;
    const { low: least, high: most } = this.#whole;
    for (const { voices } of this.#layers.list) {
      for (const { placed, voice } of voices) {
        if (placed.offsets.length > 0 || accumulates(placed)) return false;
        least.set(low);
        most.set(high);
        boundCurves(placed.curves, [0, voice.clip.duration], this.#whole, least, most);
        // What is blended lies between both.
        for (let k = 0; k < low.length; k++) {
          low[k] = only ? least[k]! : Math.min(low[k]!, least[k]!);
          high[k] = only ? most[k]! : Math.max(high[k]!, most[k]!);
        }
      }
    }
    return true;
  }

  /**
   * The playback that alone says what the values are, as if nobody played: what it does not animate is at rest, and
   * nothing comes on top.
   */
  get alone(): Playback | undefined {
    const only = this.#only;
    if (!only || !(only.voice instanceof Playback)) return undefined;
    const { placed, voice } = only;
    if (placed.offsets.length > 0 || accumulates(placed) || !Number.isNaN(voice.envelope?.goneAt ?? NaN))
      return undefined;
    for (const { name, offset, rest } of this.layout.slots) {
      const isAnimated = placed.slots.some((slot) => slot.name === name);
      if (isAnimated !== (voice.clip.layout.find(name) !== undefined)) return undefined;
      // A single channel may be animated alone: the others are at rest, or not.
      for (let k = 0; k < rest.length; k++)
        if (this.#rest[offset + k] !== rest[k] && !isWritten(placed, offset + k)) return undefined;
    }
    return voice;
  }

  /** The one voice that there is, if it is shown in full. */
  get #only(): LookAheadVoice | undefined {
    if (this.#layers.list.length !== 1) return undefined;
    const { all, shownWeight } = this.#layers.list[0]!;
    const one = all[0]!;
    return all.length === 1 && shownWeight === 1 && one.voice.share === 1 && !one.isFading ? one : undefined;
  }

  #bound(voice: LookAheadVoice, from: number, until: number, base: Range, low: Float64Array, high: Float64Array): void {
    const at = this.#at;
    const hand = voice.voice;
    if (!(hand instanceof Playback)) {
      this.#findTimes(hand as StageVoice & Hand, from, until);
      this.#laps[0] = this.#laps[1] = 0;
      boundCurves(voice.placed.curves, at, base, low, high, this.#laps);
      return;
    }
    at[0] = from;
    hand.timeAfter(at);
    const first = at[0];
    this.#laps[0] = at[1]!;
    at[0] = until;
    hand.timeAfter(at);
    const last = at[0];
    this.#laps[1] = at[1]!;
    const turns = hand.turnsBetween(from, until);
    at[0] = turns ? 0 : Math.min(first, last);
    at[1] = turns ? hand.clip.duration : Math.max(first, last);
    boundCurves(voice.placed.curves, at, base, low, high, this.#laps);
  }

  /** Of the hand of a gauge: its least and greatest time between two times from now. */
  #findTimes(hand: StageVoice & Hand, from: number, until: number) {
    const at = this.#at;
    const { now } = this.core.frame;
    if (handRange(hand, now + from, now + until, at)) {
      for (let i = 0; i < 2; i++) at[i] = hand.low + (hand.high - hand.low) * Math.min(1, Math.max(0, at[i]!));
      return;
    }
    // By a function of the game's own: its extremes are unknown, so it is looked at on the way.
    let [first, last] = [Infinity, -Infinity];
    for (let i = 0; i <= PLACES; i++) {
      at[0] = from + ((until - from) * i) / PLACES;
      hand.timeAfter(at);
      first = Math.min(first, at[0]);
      last = Math.max(last, at[0]);
    }
    at[0] = first;
    at[1] = last;
  }
}

/** Whether any curve writes a number. */
function isWritten({ curves: { heads, count } }: RemappedClip, at: number): boolean {
  for (let head = 0; head < count * HEAD_SIZE; head += HEAD_SIZE) {
    const target = heads[head + HEAD_TARGET]!;
    if (at >= target && at < target + heads[head + HEAD_WIDTH]!) return true;
  }
  return false;
}

function accumulates({ curves: { heads, count } }: RemappedClip): boolean {
  for (let c = 0; c < count; c++) if (heads[c * HEAD_SIZE + HEAD_GAIN]! >= 0) return true;
  return false;
}
