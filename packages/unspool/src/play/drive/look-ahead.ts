import { boundCurves } from '../../clip/bounds.js';
import { prepareBase } from '../../clip/clip.js';
import { HEAD_GAIN, HEAD_SIZE, HEAD_TARGET, HEAD_WIDTH, sampleCurves } from '../../clip/curves.js';
import type { Layout } from '../../clip/layout.js';
import { range, type Range } from '../pose/blend.js';
import type { PlayerCore } from './core.js';
import { place, type RemappedClip } from '../pose/animated-slots.js';
import { Mixer, needsOf, type Voice } from '../pose/mixer.js';
import { handRange, type Hand } from './hand-range.js';
import { findOther, heaviestOf, type SharedVoice } from './heaviest.js';
import { Playback } from './playback.js';
import { RangeMixer } from '../pose/range-mixer.js';
import type { StageVoice } from '../pose/stage-voices.js';

/** A voice as it is sampled into a part of the pose. */
class LookAheadVoice implements Voice, SharedVoice {
  readonly hints: Int32Array;
  readonly before: Float64Array;
  readonly base: Float64Array;
  share = 1;
  /** What it was created from. */
  readonly whole: RemappedClip;
  /** Of its share, from one time until another. */
  least = 1;
  most = 1;

  constructor(
    readonly voice: StageVoice,
    readonly placed: RemappedClip,
    from: Int32Array,
    readonly after: Float64Array,
  ) {
    this.whole = voice.placed;
    this.hints = placed.hints.slice();
    this.before = placed.offsets.length > 0 ? Float64Array.from(from, (k) => voice.before[k]!) : new Float64Array(0);
    this.base = this.before.slice();
    if (placed.offsets.length > 0) prepareBase(placed.curves, this.base);
  }

  timeInto(at: Float64Array): void {
    at[0] = this.after[0]!;
    this.voice.timeAfter(at);
  }
}

interface LookAheadLayer {
  readonly shownWeight: number;
  /** Those that animate any of the numbers. */
  readonly voices: readonly LookAheadVoice[];
  /**
   * Those that determine what is left for others: a playback that fades in over a clip reduces everything that it
   * animates.
   */
  readonly all: readonly LookAheadVoice[];
}

/** Places on the way of a gauge that moves by a function of the game's own. */
const PLACES = 8;

/**
 * Some numbers of a player until its next moment: their values at a time and their bounds over an interval. For code
 * that needs the way between frames, and not only the pose at their end.
 */
export class LookAhead {
  readonly #rest: Float64Array;
  readonly #known = new Map<StageVoice, LookAheadVoice>();
  readonly #after = new Float64Array(1);
  readonly #at = new Float64Array(2);
  /** The laps at the start and at the end of an interval. */
  readonly #laps = new Float64Array(2);
  readonly #mixer: Mixer;
  #needs = 0;
  readonly #ranges: RangeMixer;
  readonly #whole: Range;
  #layers: readonly LookAheadLayer[] = [];
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
    this.#mixer = new Mixer(layout.size);
    this.#ranges = new RangeMixer(layout.size);
    this.#whole = range(layout.size);
  }

  /** Takes over what plays now: to be called after each frame, and after each command. */
  update(): void {
    const { core, from } = this;
    from.forEach((k, i) => (this.#rest[i] = core.stage.base.values[k]!));
    core.sample();
    const used = new Set<StageVoice>();
    this.#layers = core.shown.flatMap((layer): LookAheadLayer[] => {
      const all = layer.voices.map((voice): LookAheadVoice => {
        used.add(voice);
        let known = this.#known.get(voice);
        if (known?.whole !== voice.placed) {
          const mask = voice.placed.slots.map(({ name }) => name);
          known = new LookAheadVoice(voice, place(voice.clip, this.layout, mask), from, this.#after);
          this.#known.set(voice, known);
        }
        return known;
      });
      const voices = all.filter(({ placed }) => placed.slots.length > 0);
      return voices.length > 0 ? [{ shownWeight: layer.shownWeight, voices, all }] : [];
    });
    this.#needs = needsOf(this.#layers);
    for (const voice of this.#known.keys()) if (!used.has(voice)) this.#known.delete(voice);
  }

  /** The voice that a held property is taken from, at a time from now. */
  heaviest(property: string, after = 0): StageVoice | undefined {
    this.#shares(after, after);
    return heaviestOf(this.#layers, property);
  }

  /** Whether playbacks fade in or out: then the heaviest may change between two moments. */
  get isFading(): boolean {
    return this.#layers.some(({ all }) => all.some(isFading));
  }

  /**
   * Returns how long from now it takes until a held property is taken from another voice: at most `ahead`. Up to `same`
   * it is taken from this one for certain. While playbacks fade, the heaviest may change between two moments.
   */
  untilOther(property: string, ahead: number): number {
    this.#change.same = this.#change.other = ahead;
    if (ahead > 0 && this.isFading)
      findOther(this.#layers, property, ahead, (from, until) => this.#shares(from, until), this.#change);
    return this.#change.other;
  }

  get same(): number {
    return this.#change.same;
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
    this.#shares(after, after);
    this.#mixer.begin(this.#needs);
    for (const layer of this.#layers) this.#mixer.layer(layer, values);
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
    this.#shares(from, until);
    const ranges = this.#ranges;
    ranges.begin();
    for (const { voices, shownWeight } of this.#layers) {
      ranges.layer(voices, shownWeight, { low, high }, (voice, base, into) => {
        this.#bound(voice, from, until, base, into.low, into.high);
      });
    }
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
    for (const { voices } of this.#layers) {
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
    if (this.#layers.length !== 1) return undefined;
    const { all, shownWeight } = this.#layers[0]!;
    const one = all[0]!;
    return all.length === 1 && shownWeight === 1 && one.voice.share === 1 && !isFading(one) ? one : undefined;
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

  /** The share of each playback in its layer between two times from now; `share` is that at the first. */
  #shares(from: number, until: number): void {
    for (const { all } of this.#layers) {
      let [left, least, most] = [1, 1, 1];
      for (let i = all.length - 1; i >= 0; i--) {
        const one = all[i]!;
        if (!(one.voice instanceof Playback)) continue;
        const { voice } = one;
        const [f0, f1] = [voice.fadedIn(from), voice.fadedIn(until)];
        const [s0, s1] = [voice.stays(from), voice.stays(until)];
        one.share = left * f0 * voice.weight * s0;
        one.least = least * Math.min(f0, f1) * voice.weight * Math.min(s0, s1);
        one.most = most * Math.max(f0, f1) * voice.weight * Math.max(s0, s1);
        left *= 1 - f0;
        least *= 1 - Math.max(f0, f1);
        most *= 1 - Math.min(f0, f1);
      }
    }
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

function isFading({ voice }: LookAheadVoice): boolean {
  return voice instanceof Playback && voice.isFading;
}
