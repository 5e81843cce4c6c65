import type { Pose } from '../../clip/layout.js';
import type { ReelNames } from '../../clip/names.js';
import type { Reel } from '../../clip/reel.js';
import type { PlayContext } from './context.js';
import type { Decider } from './decider.js';
import { remapClip } from '../pose/animated-slots.js';
import { Faces, type FaceOptions } from './facing.js';
import type { Dispatcher } from './dispatcher.js';
import type { Gauge } from './gauge.js';
import { Layer } from './layer.js';
import type { Playback } from './playback.js';
import type { HitState } from '../state/saved.js';
import type { StageLayer, StageVoice, VoiceWatcher } from '../pose/stage-voices.js';
import type { Placement } from '../pose/placement.js';
import type { Stage } from '../pose/stage.js';

const NONE: readonly never[] = [];

/** What the parts of a player share: its time and listeners, its cast, and all that plays. */
export class PlayerCore<N extends ReelNames = ReelNames> implements PlayContext {
  /** The lowest first. */
  readonly layers: Layer<N>[];
  gauges: readonly Gauge<N>[] = NONE;
  /** Layers and gauges in the order of their creation: what is shown, the lowest first. */
  shown: readonly StageLayer[];
  faces: Faces<N> | undefined;
  routine: Decider | undefined;
  /** What its cast is kept at. */
  follow: { readonly isThere: boolean; position(): readonly [x: number, y: number] } | undefined;
  /** What is called with playbacks that come and go. */
  watchers: readonly VoiceWatcher[] = NONE;
  isDisposed = false;
  /**
   * The hit world that ticks the player instead of the game; its hits; and those of a restored state, until a world
   * exists.
   */
  ticker: { readonly isTicking: boolean } | undefined;
  hits:
    | {
        save(): readonly HitState[];
        load(saved: readonly HitState[]): void;
        become(saved: readonly HitState[]): void;
      }
    | undefined;
  savedHits: readonly HitState[] = NONE;

  /** @param nextSeed for what varies: another each time, the same ones for every player of the same seed */
  constructor(
    public reel: Reel<N>,
    readonly frame: Dispatcher,
    public stage: Stage,
    public nextSeed: number,
  ) {
    const base = new Layer<N>(this, 'base', undefined);
    this.layers = [base];
    // Most players have no gauge: then it is the same list.
    this.shown = stage.base.shown = this.layers;
    frame.layers = this.layers;
    if (!stage.base.due.isEmpty) frame.changed();
  }

  /** From now on a routine decides what plays, in place of another. */
  startRoutine(routine: Decider): void {
    this.routine = routine;
    this.frame.isTimed = false;
    this.frame.revise();
  }

  endRoutine(): void {
    this.routine = undefined;
    this.frame.isTimed = false;
  }

  addLayer(name: string, mask: readonly string[] | undefined): Layer<N> {
    const layer = new Layer<N>(this, name, mask);
    this.layers.push(layer);
    if (this.gauges.length > 0) this.#show([...this.shown, layer]);
    return layer;
  }

  addGauge(gauge: Gauge<N>): void {
    this.gauges = [...this.gauges, gauge];
    this.#show([...this.shown, ...gauge.shownLayers]);
  }

  removeGauge(gauge: { readonly shownLayers: readonly StageLayer[] }): void {
    if (!(this.gauges as readonly unknown[]).includes(gauge)) return;
    this.release(gauge.shownLayers.flatMap(({ voices }) => voices));
    this.gauges = this.gauges.filter((one) => (one as unknown) !== gauge);
    this.#show(this.shown.filter((layer) => !gauge.shownLayers.includes(layer)));
  }

  /** There are these layers, in this order: those that it has and new ones. Gauges keep their places among them. */
  setLayers(saved: readonly { readonly name: string; readonly mask: readonly string[] | null }[]): void {
    const next = saved.map(({ name, mask }) => {
      const known = this.layers.find((layer) => layer.name === name && layer.mask?.join() === mask?.join());
      return known ?? new Layer<N>(this, name, mask ?? undefined);
    });
    for (const layer of this.layers) if (!next.includes(layer)) layer.dispose();
    const rest = [...next];
    const shown = this.shown.flatMap((one): StageLayer[] => {
      if (!(one instanceof Layer)) return [one];
      return (next as readonly StageLayer[]).includes(one) ? [rest.shift()!] : [];
    });
    this.layers.splice(0, this.layers.length, ...next);
    this.#show(this.gauges.length === 0 ? this.layers : [...shown, ...rest]);
  }

  #show(shown: readonly StageLayer[]): void {
    this.shown = this.stage.base.shown = shown;
    this.frame.changed();
  }

  /** Prepares a voice that begins over what is shown now. */
  begin(voice: StageVoice, mask: readonly string[] | undefined): void {
    const { stage, frame } = this;
    const placed = remapClip(voice.clip, this.reel, mask);
    frame.isSampled = false;
    this.sample();
    stage.base.acquire(placed, stage.values);
    frame.isSampled = false;
    this.sample();
    stage.begin(voice, mask);
    for (const watcher of this.watchers) watcher.began(voice);
    frame.changed();
  }

  ready(voice: StageVoice, mask: readonly string[] | undefined): void {
    this.stage.base.ready(voice, mask);
  }

  /** Playbacks go: see `Ground`. They are still shown. */
  release(outgoing: readonly StageVoice[], incoming?: StageVoice): void {
    if (outgoing.length === 0) return;
    this.sample();
    for (const watcher of this.watchers) for (const voice of outgoing) watcher.leaves(voice);
    this.stage.base.release(outgoing, this.stage.values, incoming);
    this.frame.changed();
  }

  /** Ended playbacks are faded over or out: returns those that have something left to fade. */
  settle<V extends StageVoice & { readonly stands: boolean }>(voices: readonly V[], isOut = false): readonly V[] {
    if (!voices.some(({ stands }) => stands)) return voices;
    this.sample();
    return voices.filter((voice) => !voice.stands || this.stage.base.settle(voice, this.stage.values, isOut));
  }

  /** Plays the side of a facing for a direction; see `player.face`. */
  face(
    layer: Layer<N>,
    name: N['facing'],
    direction: readonly [x: number, y: number],
    options: FaceOptions<N>,
    again = false,
  ): Playback<N> {
    const sides = this.reel.facing(name);
    const { playback, flip } = (this.faces ??= new Faces<N>()).face(layer, name, sides, direction, options, again);
    this.sample();
    if (this.stage.mirror(flip)) this.frame.changed();
    return playback;
  }

  /** Places its cast. What plays goes on as it did. */
  place(placement: Placement): void {
    this.sample();
    this.stage.place(placement);
    this.frame.moves();
  }

  /** Places its cast at a position, if it is not there. */
  goTo([x, y]: readonly [x: number, y: number]): void {
    const position = this.stage.placed?.position;
    if (position?.[0] !== x || position[1] !== y) this.place({ position: [x, y, position?.[2] ?? 0] });
  }

  /** Something changes how it is shown: it is written with the next frame, even if it does not move. */
  touch(voice: StageVoice): void {
    this.stage.base.touch(voice.placed);
  }

  /** The current pose. Always the same object. */
  get pose(): Pose {
    let { pose } = this.stage;
    if (!pose) {
      pose = this.stage.makePose();
      this.frame.isSampled = false;
    }
    this.sample();
    return pose;
  }

  /** Updates the pose if anything has changed since it was last read. */
  sample(): void {
    const { frame, layers } = this;
    if (frame.isSampled && this.stage.isPosed) return;
    frame.isSampled = true;
    for (let i = 0; i < layers.length; i++) layers[i]!.share();
    this.stage.sample(this.shown, frame.isRegrouped);
  }

  /** Where the first role without a parent is, x and y. */
  rootInto(out: Float64Array): void {
    this.sample();
    this.stage.rootInto(out);
  }
}
