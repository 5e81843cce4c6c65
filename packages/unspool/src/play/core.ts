import type { Clip } from '../clip/clip.js';
import type { Pose } from '../clip/layout.js';
import type { ReelNames } from '../clip/names.js';
import type { Reel } from '../clip/reel.js';
import type { PlayContext } from './context.js';
import type { Faces } from './facing.js';
import type { Frame } from './frame.js';
import type { Gauge } from './gauge.js';
import { Layer } from './layer.js';
import type { Voice } from './mixer.js';
import type { ShownLayer, Stage } from './stage.js';

const NONE: readonly never[] = [];

/** What the parts of a player share: its time and listeners, its cast, and all that plays. */
export class PlayerCore<N extends ReelNames = ReelNames> implements PlayContext {
  /** The lowest first. */
  readonly layers: Layer<N>[];
  gauges: readonly Gauge<N>[] = NONE;
  /** Layers and gauges in the order in which they were made: what is shown, the lowest first. */
  shown: readonly ShownLayer[];
  faces: Faces<N> | undefined;

  /** @param nextSeed for what varies: another each time, the same ones for every player of the same seed */
  constructor(
    readonly reel: Reel<N>,
    readonly frame: Frame,
    readonly stage: Stage<never>,
    public nextSeed: number,
  ) {
    const base = new Layer<N>(this, 'base', undefined);
    this.layers = [base];
    // Most players have no gauge: then it is the same list.
    this.shown = this.layers;
    frame.layers = this.layers;
  }

  addLayer(name: string, mask: readonly string[] | undefined): Layer<N> {
    const layer = new Layer<N>(this, name, mask);
    this.layers.push(layer);
    if (this.gauges.length > 0) this.shown = [...this.shown, layer];
    return layer;
  }

  addGauge(gauge: Gauge<N>): void {
    this.gauges = [...this.gauges, gauge];
    this.shown = [...this.shown, ...gauge.shownLayers];
  }

  /** Readies a voice, which begins over what is shown now. */
  begin(voice: Voice & { readonly clip: Clip }, mask: readonly string[] | undefined): void {
    const live = !this.layers.some((layer) => layer.playback?.active);
    if (this.shown.some(({ voices }) => voices.length > 0)) this.sample();
    this.stage.begin(voice, mask, live);
  }

  left(voice: Voice): void {
    this.stage.left(voice);
  }

  /** The pose of now: the same one for ever. */
  get pose(): Pose {
    let { pose } = this.stage;
    if (!pose) {
      pose = this.stage.makePose();
      this.frame.isSampled = false;
    }
    this.sample();
    return pose;
  }

  /** Poses the cast by what plays now, if that has changed since it was last asked for. */
  sample(): void {
    const { frame, layers } = this;
    if (frame.isSampled && this.stage.isPosed) return;
    frame.isSampled = true;
    for (let i = 0; i < layers.length; i++) layers[i]!.share();
    this.stage.sample(this.shown);
  }

  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void {
    this.sample();
    this.stage.placed.rootInto(this.stage.values, out);
  }
}
