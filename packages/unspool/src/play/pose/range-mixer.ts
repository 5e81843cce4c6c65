import type { RemappedClip } from './animated-slots.js';
import { BLEND_SIZE, blendRange, HELD, isSurelyShown, isPossiblyShown, range, SURE, type Range } from './blend.js';

/** A voice whose share of its layer is only known to lie between two numbers. */
export interface RangeVoice {
  readonly placed: RemappedClip;
  readonly base: Float64Array;
  readonly least: number;
  readonly most: number;
}

/** What `Mixer` does with numbers, done with the bounds of numbers. The rules of both are in `blend.ts`. */
export class RangeMixer {
  /** What one playback shows; what the playbacks of the layer show together; and by how much of their shares. */
  readonly #sampled: Range;
  readonly #mixed: Range;
  readonly #weights: Range;
  /** Of held numbers: the largest share so far. */
  readonly #heaviest: Range;
  readonly #touched: Uint8Array;

  constructor(size: number) {
    this.#sampled = range(size);
    this.#mixed = range(size);
    this.#weights = range(size);
    this.#heaviest = range(size);
    this.#touched = new Uint8Array(size);
  }

  begin(): void {
    this.#touched.fill(0);
  }

  /**
   * Blends a layer over what is below.
   *
   * @param values bounds of what is below; receives those of the result
   * @param sample writes the bounds of what a voice shows
   */
  layer<V extends RangeVoice>(
    voices: readonly V[],
    weight: number,
    values: Range,
    sample: (voice: V, base: Range, into: Range) => void,
  ): void {
    const weights = this.#weights;
    weights.low.fill(0);
    weights.high.fill(0);
    const targets = new Map<number, number>();
    for (const voice of voices) {
      if (voice.most === 0) continue;
      const { offsets, blends } = voice.placed;
      const base = { low: voice.base.slice(), high: voice.base.slice() };
      for (const k of offsets) {
        if (this.#touched[k] === 1) [base.low[k], base.high[k]] = [values.low[k]!, values.high[k]!];
      }
      sample(voice, base, this.#sampled);
      for (let i = 0; i < blends.length; i += BLEND_SIZE) {
        for (let k = blends[i]!; k < blends[i]! + blends[i + 1]!; k++) {
          const isFirst = !targets.has(k);
          targets.set(k, blends[i + 2]!);
          this.#add(k, blends[i + 2]!, voice, isFirst);
        }
      }
    }
    for (const [k, how] of targets) this.#merge(k, how, weight, values);
  }

  /** The weighted mean of the result so far and another. */
  #add(k: number, how: number, { least, most }: RangeVoice, isFirst: boolean): void {
    const [mixed, weights, heaviest, sampled] = [this.#mixed, this.#weights, this.#heaviest, this.#sampled];
    const [w0, w1] = [weights.low[k]!, weights.high[k]!];
    weights.low[k] = w0 + least;
    weights.high[k] = w1 + most;
    const [h0, h1] = isFirst ? [-1, -1] : [heaviest.low[k]!, heaviest.high[k]!];
    heaviest.low[k] = Math.max(h0, least);
    heaviest.high[k] = Math.max(h1, most);
    if (isFirst || (how === HELD && least > h1 + SURE)) copy(mixed, sampled, k);
    else if (how !== HELD) blendRange(mixed, sampled, k, how, least / (w1 + least || 1), most / (w0 + most || 1));
    else if (most >= h0 - SURE) widen(mixed, sampled, k);
  }

  #merge(k: number, how: number, layer: number, values: Range): void {
    const [mixed, weights, heaviest] = [this.#mixed, this.#weights, this.#heaviest];
    const [w0, w1] = [weights.low[k]!, weights.high[k]!];
    if (how !== HELD) blendRange(values, mixed, k, how, w0 * layer, w1 * layer);
    else if (isSurelyShown(heaviest.low[k]!, w0, layer)) copy(values, mixed, k);
    else if (isPossiblyShown(heaviest.high[k]!, w1, layer)) widen(values, mixed, k);
    this.#touched[k] = 1;
  }
}

function copy(out: Range, from: Range, k: number): void {
  out.low[k] = from.low[k]!;
  out.high[k] = from.high[k]!;
}

function widen(out: Range, from: Range, k: number): void {
  out.low[k] = Math.min(out.low[k]!, from.low[k]!);
  out.high[k] = Math.max(out.high[k]!, from.high[k]!);
}
