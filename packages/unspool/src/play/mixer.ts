import { prepareBase } from '../clip/clip.js';
import { sampleCurves } from '../clip/curves.js';
import { fromMixing, intoMixing } from '../value/mixing.js';
import { normalizeQuat } from '../value/quat.js';
import { BLEND_SIZE, COLORS, HELD, NUMBERS, QUATS, TURNS } from './blend.js';
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
  /** Writes the time inside its clip into an array. */
  timeInto(at: Float64Array): void;
}

/** A layer as it is shown. */
export interface MixedLayer<V extends Voice = Voice> {
  /** From 0 to 1. Read it from here and do not pass it on: the engine would box it. */
  readonly shownWeight: number;
  /** The oldest first. */
  readonly voices: readonly V[];
}

/** A number for a function that is not inlined: passed as an argument, the engine would box it. */
const part = new Float64Array(1);

/** Blends the playbacks of layers by their shares and weights. Allocates nothing after its creation. */
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
  /** Whether there may be any: to be said when other voices are shown. */
  hasSingle = false;
  readonly #at = new Float64Array(1);

  constructor(size: number) {
    this.#sampled = new Float64Array(size);
    this.#mixed = new Float64Array(size);
    this.#weights = new Float64Array(size);
    this.#heaviest = new Float64Array(size);
    this.#touched = new Uint8Array(size);
    this.#single = new Uint8Array(size);
  }

  begin(): void {
    this.#touched.fill(0);
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
      this.#touch(only);
      return;
    }
    if (this.hasSingle) this.#findSingle(voices);
    for (let i = 0; i < voices.length; i++) {
      const voice = voices[i]!;
      if (voice.share === 0) continue;
      this.#sample(voice, values, this.#sampled);
      this.#add(voice);
    }
    part[0] = layer.shownWeight;
    for (let i = 0; i < voices.length; i++) if (voices[i]!.share > 0) this.#merge(voices[i]!, values);
    for (let i = 0; i < voices.length; i++) if (voices[i]!.share > 0) this.#touch(voices[i]!);
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
      part[0] = share / weight;
      blend(this.#mixed, this.#sampled, k, 1, NUMBERS);
    }
    return true;
  }

  #mergeSplit(blends: Int32Array, i: number, layer: number, values: Float64Array): boolean {
    if (!this.#isSplit(blends, i)) return false;
    const target = blends[i]!;
    for (let k = target; k < target + blends[i + 1]!; k++) {
      part[0] = this.#weights[k]! * layer;
      this.#weights[k] = 0;
      if (part[0] > 0) blend(values, this.#mixed, k, 1, NUMBERS);
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
    const { hasSingle } = this;
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
        part[0] = share / weight;
        blend(this.#mixed, this.#sampled, target, blends[i + 1]!, blends[i + 2]!);
      }
    }
  }

  /** Blends what a layer shows of a playback's properties over what is below, once. */
  #merge({ placed: { blends } }: Voice, values: Float64Array): void {
    const layer = part[0]!;
    const { hasSingle } = this;
    for (let i = 0; i < blends.length; i += BLEND_SIZE) {
      const target = blends[i]!;
      if (hasSingle && this.#mergeSplit(blends, i, layer, values)) continue;
      const weight = this.#weights[target]!;
      if (weight === 0) continue;
      this.#weights[target] = 0;
      if (blends[i + 2] === HELD) {
        // Against what is below: the rest of the weight counts for it.
        if (this.#heaviest[target]! * layer >= 1 - weight * layer) values[target] = this.#mixed[target]!;
        this.#heaviest[target] = 0;
      } else {
        const width = blends[i + 1]!;
        const how = blends[i + 2]!;
        part[0] = weight * layer;
        blend(values, this.#mixed, target, width, how);
        if (how === QUATS) normalizeQuat(values, target);
      }
    }
    part[0] = layer;
  }

  #touch({ placed: { blends } }: Voice): void {
    for (let i = 0; i < blends.length; i += BLEND_SIZE) {
      const end = blends[i]! + blends[i + 1]!;
      for (let target = blends[i]!; target < end; target++) this.#touched[target] = 1;
    }
  }
}

/** Blends `from` into `out` by the weight in `part`: 0 leaves it, 1 copies it bit for bit. */
function blend(out: Float64Array, from: Float64Array, target: number, width: number, how: number): void {
  const share = part[0]!;
  if (share >= 1 - 1e-12) {
    for (let k = target; k < target + width; k++) out[k] = from[k]!;
    return;
  }
  if (how >= COLORS) {
    intoMixing(how - COLORS, out, target);
    intoMixing(how - COLORS, from, target);
  }
  let sign = 1;
  let turn = 0;
  if (how === QUATS) {
    let dot = 0;
    for (let k = target; k < target + 4; k++) dot += out[k]! * from[k]!;
    if (dot < 0) sign = -1;
  } else if (how === TURNS) turn = -360 * Math.round((from[target]! - out[target]!) / 360);
  for (let k = target; k < target + width; k++) {
    const n = out[k]!;
    out[k] = n + (sign * from[k]! + turn - n) * share;
  }
  if (how >= COLORS) fromMixing(how - COLORS, out, target);
}
