import { prepareBase } from '../../clip/clip.js';
import { sampleCurves } from '../../clip/curves.js';
import { normalizeQuat } from '../../value/quat.js';
import { blend, BLEND_SIZE, COLORS, HELD, isShown, NUMBERS, QUATS, WHOLE } from './blend.js';
import type { RemappedClip } from './animated-slots.js';

/** What a playback is sampled with into the pose of its reel. */
export interface Voice {
  placed: RemappedClip;
  hints: Int32Array;
  /** What its properties were when it began, and the same as its offsets are counted from it. Empty without offsets. */
  before: Float64Array;
  base: Float64Array;
  /** Its part of its layer, 0–1; together they are 1 at most. */
  share: number;
  /** Writes the time inside its clip, and the lap, into an array of two. */
  timeInto(at: Float64Array): void;
}

/** A layer as it is shown. */
export interface MixedLayer<V extends Voice = Voice> {
  /** From 0 to 1. Read it from here and do not pass it on: the engine would box it. */
  readonly shownWeight: number;
  /** The oldest first. */
  readonly voices: readonly V[];
}

/** Layers with a single channel of a color; and with what is counted from what is below. */
const SINGLE = 1;
const OFFSETS = 2;

/** What a mix of layers needs, to be found when other voices are shown: what none of them needs is left out. */
export function needsOf(layers: readonly MixedLayer[]): number {
  let needs = 0;
  for (const { voices } of layers)
    for (const { placed } of voices)
      needs |= (placed.colorChannels.length > 0 ? SINGLE : 0) | (placed.offsets.length > 0 ? OFFSETS : 0);
  return needs;
}

/**
 * Blends the playbacks of layers by their shares and weights. Allocates nothing after its creation, and keeps nothing
 * from one mix to the next: all players of a reel share one, which stays in the cache.
 */
export class Mixer {
  /** What one playback shows; what the playbacks of the layer show together; and by how much of their shares. */
  readonly #sampled: Float64Array;
  readonly #mixed: Float64Array;
  readonly #weights: Float64Array;
  /** Of held numbers: the largest share so far. */
  readonly #heaviest: Float64Array;
  /** 1 where a layer below has put something: offsets are counted from that, and not from what was before. */
  readonly #touched: Uint8Array;
  /** 1 where a voice of the layer has a single channel of a color: then all have it as a number by itself. */
  readonly #single: Uint8Array;
  /** Of the mix that goes on: see `needsOf`. */
  #hasSingle = false;
  #hasOffsets = false;
  readonly #at = new Float64Array(2);
  /** The share of a blend: as an argument the engine would box it. */
  readonly #by = new Float64Array(1);
  /** What `isShown` asks for. */
  readonly #held = new Float64Array(3);

  constructor(size: number) {
    this.#sampled = new Float64Array(size);
    this.#mixed = new Float64Array(size);
    this.#weights = new Float64Array(size);
    this.#heaviest = new Float64Array(size);
    this.#touched = new Uint8Array(size);
    this.#single = new Uint8Array(size);
  }

  /** @param needs of the layers that follow: see `needsOf` */
  begin(needs: number): void {
    this.#hasSingle = (needs & SINGLE) !== 0;
    this.#hasOffsets = (needs & OFFSETS) !== 0;
    if (this.#hasOffsets) this.#touched.fill(0);
  }

  /**
   * Blends a layer over what is below.
   *
   * @param layer  its voices with their shares
   * @param values what is below; receives the result
   */
  layer(layer: MixedLayer, values: Float64Array): void {
    const { voices } = layer;
    let heard = 0;
    let only: Voice | undefined;
    for (let i = 0; i < voices.length; i++) {
      if (voices[i]!.share === 0) continue;
      heard++;
      only = voices[i]!;
    }
    if (!only || layer.shownWeight === 0) return;
    if (heard === 1 && only.share * layer.shownWeight === 1) {
      this.#sample(only, values, values);
      if (this.#hasOffsets) this.#touch(only);
      return;
    }
    if (heard === 1 && !this.#hasSingle) {
      this.#sample(only, values, this.#sampled);
      this.#blendOne(layer, only, values);
      if (this.#hasOffsets) this.#touch(only);
      return;
    }
    if (this.#hasSingle) this.#findSingle(voices);
    for (let i = 0; i < voices.length; i++) {
      const voice = voices[i]!;
      if (voice.share === 0) continue;
      this.#sample(voice, values, this.#sampled);
      this.#add(voice);
    }
    for (let i = 0; i < voices.length; i++) if (voices[i]!.share > 0) this.#merge(layer, voices[i]!, values);
    if (!this.#hasOffsets) return;
    for (let i = 0; i < voices.length; i++) if (voices[i]!.share > 0) this.#touch(voices[i]!);
  }

  /** What `#add` and `#merge` come to for a voice that is alone in its layer. */
  #blendOne(layer: MixedLayer, { placed: { blends }, share }: Voice, values: Float64Array): void {
    const sampled = this.#sampled;
    const by = share * layer.shownWeight;
    this.#by[0] = by;
    this.#held[0] = this.#held[1] = share;
    this.#held[2] = layer.shownWeight;
    const shows = isShown(this.#held);
    for (let i = 0; i < blends.length; i += BLEND_SIZE) {
      const target = blends[i]!;
      const how = blends[i + 2]!;
      // Nearly all of them, and by hand: a call costs more.
      if (how === NUMBERS && by < WHOLE) {
        const n = values[target]!;
        values[target] = n + (sampled[target]! - n) * by;
      } else if (how === HELD) {
        if (shows) values[target] = sampled[target]!;
      } else {
        blend(values, sampled, target, blends[i + 1]!, how, this.#by);
        if (how === QUATS) normalizeQuat(values, target);
      }
    }
  }

  #findSingle(voices: readonly Voice[]): void {
    this.#single.fill(0);
    for (let i = 0; i < voices.length; i++) {
      const { colorChannels } = voices[i]!.placed;
      if (voices[i]!.share === 0) continue;
      for (let k = 0; k < colorChannels.length; k++) {
        this.#single[colorChannels[k]!] = 1;
      }
    }
  }

  /** Whether a color that is keyed whole is blended number by number, as another is keyed by channels. */
  #isSplit(blends: Int32Array, i: number): boolean {
    if (blends[i + 2]! < COLORS) return false;
    const target = blends[i]!;
    for (let k = target; k < target + blends[i + 1]!; k++) if (this.#single[k] === 1) return true;
    return false;
  }

  /** Like `#add`, number by number. Returns false for values that are blended whole. */
  #addSplit(blends: Int32Array, i: number, share: number): boolean {
    if (!this.#isSplit(blends, i)) return false;
    const target = blends[i]!;
    for (let k = target; k < target + blends[i + 1]!; k++) {
      const weight = this.#weights[k]! + share;
      this.#weights[k] = weight;
      this.#by[0] = share / weight;
      blend(this.#mixed, this.#sampled, k, 1, NUMBERS, this.#by);
    }
    return true;
  }

  #mergeSplit(layer: MixedLayer, blends: Int32Array, i: number, values: Float64Array): boolean {
    if (!this.#isSplit(blends, i)) return false;
    const target = blends[i]!;
    for (let k = target; k < target + blends[i + 1]!; k++) {
      this.#by[0] = this.#weights[k]! * layer.shownWeight;
      this.#weights[k] = 0;
      if (this.#by[0] > 0) blend(values, this.#mixed, k, 1, NUMBERS, this.#by);
    }
    return true;
  }

  #sample(voice: Voice, below: Float64Array, out: Float64Array): void {
    const { curves, offsets } = voice.placed;
    const { before, base } = voice;
    if (offsets.length > 0) {
      for (let i = 0; i < offsets.length; i++) {
        const target = offsets[i]!;
        base[target] = this.#touched[target] === 1 ? below[target]! : before[target]!;
      }
      prepareBase(curves, base);
    }
    voice.timeInto(this.#at);
    sampleCurves(curves, this.#at, voice.hints, base, out);
  }

  /** Adds a playback to its layer. A mix of the first few is right at every step: each comes with its part of all so far. */
  #add({ placed: { blends }, share }: Voice): void {
    const weights = this.#weights;
    const hasSingle = this.#hasSingle;
    for (let i = 0; i < blends.length; i += BLEND_SIZE) {
      const target = blends[i]!;
      if (hasSingle && this.#addSplit(blends, i, share)) continue;
      const weight = weights[target]! + share;
      weights[target] = weight;
      if (blends[i + 2] === HELD) {
        if (share > this.#heaviest[target]!) {
          this.#heaviest[target] = share;
          this.#mixed[target] = this.#sampled[target]!;
        }
      } else {
        this.#by[0] = share / weight;
        blend(this.#mixed, this.#sampled, target, blends[i + 1]!, blends[i + 2]!, this.#by);
      }
    }
  }

  /** Blends what a layer shows of a playback's properties over what is below, once. */
  #merge(layer: MixedLayer, { placed: { blends } }: Voice, values: Float64Array): void {
    const { shownWeight } = layer;
    const hasSingle = this.#hasSingle;
    for (let i = 0; i < blends.length; i += BLEND_SIZE) {
      const target = blends[i]!;
      if (hasSingle && this.#mergeSplit(layer, blends, i, values)) continue;
      const weight = this.#weights[target]!;
      if (weight === 0) continue;
      this.#weights[target] = 0;
      if (blends[i + 2] === HELD) {
        this.#held[0] = this.#heaviest[target]!;
        this.#held[1] = weight;
        this.#held[2] = shownWeight;
        if (isShown(this.#held)) values[target] = this.#mixed[target]!;
        this.#heaviest[target] = 0;
      } else {
        const width = blends[i + 1]!;
        const how = blends[i + 2]!;
        this.#by[0] = weight * shownWeight;
        blend(values, this.#mixed, target, width, how, this.#by);
        if (how === QUATS) normalizeQuat(values, target);
      }
    }
  }

  #touch({ placed: { blends } }: Voice): void {
    for (let i = 0; i < blends.length; i += BLEND_SIZE) {
      const end = blends[i]! + blends[i + 1]!;
      for (let target = blends[i]!; target < end; target++) this.#touched[target] = 1;
    }
  }
}
