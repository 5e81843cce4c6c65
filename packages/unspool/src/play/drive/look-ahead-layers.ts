import { prepareBase } from '../../clip/clip.js';
import type { Layout } from '../../clip/layout.js';
import { place, type RemappedClip } from '../pose/animated-slots.js';
import type { Voice } from '../pose/mixer.js';
import type { StageVoice } from '../pose/stage-voices.js';
import type { PlayerCore } from './core.js';
import type { SharedVoice } from './heaviest.js';
import { Playback } from './playback.js';

/** A voice as it is sampled into a part of the pose. */
export class LookAheadVoice implements Voice, SharedVoice {
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

  /** Whether it fades in or out. */
  get isFading(): boolean {
    return this.voice instanceof Playback && this.voice.isFading;
  }
}

export interface LookAheadLayer {
  readonly shownWeight: number;
  /** Those that animate any of the numbers. */
  readonly voices: readonly LookAheadVoice[];
  /**
   * Those that determine what is left for others: a playback that fades in over a clip reduces everything that it
   * animates.
   */
  readonly all: readonly LookAheadVoice[];
}

/** The voices of a player's layers, as far as they animate some numbers, with their shares. */
export class LookAheadLayers {
  list: readonly LookAheadLayer[] = [];
  readonly #known = new Map<StageVoice, LookAheadVoice>();

  /**
   * @param layout   of these numbers
   * @param from     the offset of each number in the reel's pose
   * @param after    where seconds from now are written before a voice is asked for its time
   * @param property the only one that counts; default: all of the layout
   */
  constructor(
    readonly core: PlayerCore,
    readonly layout: Layout,
    readonly from: Int32Array,
    readonly after: Float64Array,
    readonly property?: string,
  ) {}

  /** Takes over what plays now. */
  update(): void {
    const used = new Set<StageVoice>();
    this.list = this.core.shown.flatMap(({ voices: heard, shownWeight }): LookAheadLayer[] => {
      const all = heard.map((voice): LookAheadVoice => {
        used.add(voice);
        let known = this.#known.get(voice);
        if (known?.whole !== voice.placed) {
          const names = voice.placed.slots.map(({ name }) => name);
          const mask = this.property === undefined ? names : names.filter((name) => name === this.property);
          known = new LookAheadVoice(voice, place(voice.clip, this.layout, mask), this.from, this.after);
          this.#known.set(voice, known);
        }
        return known;
      });
      const voices = all.filter(({ placed }) => placed.slots.length > 0);
      return voices.length > 0 ? [{ shownWeight, voices, all }] : [];
    });
    for (const voice of this.#known.keys()) if (!used.has(voice)) this.#known.delete(voice);
  }

  /** The share of each playback in its layer between two times from now; `share` is that at the first. */
  share(from: number, until: number): void {
    for (const { all } of this.list) {
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
