import type { CastAdapter } from '../cast/cast.js';
import { plainCast } from '../cast/plain.js';
import type { Pose } from '../clip/layout.js';
import type { ReelNames } from '../clip/names.js';
import type { Reel } from '../clip/reel.js';
import { NANOSECOND } from '../time/units.js';
import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import { show } from '../wording/show.js';
import type { PlayerCore } from './core.js';
import type { EventType } from './event-types.js';
import { Frame, type Handler } from './frame.js';
import { Faces, type FaceOptions } from './facing.js';
import { Follow, type FollowSource } from './follow.js';
import { Gauge, type GaugeOptions } from './gauge.js';
import { EMPTY_LAYER, Layer, type LayerOptions } from './layer.js';
import type { Placement } from './placement.js';
import type { Playback } from './playback.js';
import type { EnqueueOptions, PlayOptions } from './settings.js';
import { Stage, type ShownLayer } from './stage.js';
import { ChainNumbers, chainRuns, checkState, STATE_VERSION, type PlayerState } from './state.js';

export interface PlayerOptions<N extends ReelNames, Target> {
  /** The game's objects by role. A role without one is played, and not shown. */
  readonly cast?: { readonly [R in N['role']]?: Target };
  /** Writes poses into these objects. Left out: `plainCast`. */
  readonly adapter?: CastAdapter<Target>;
  /** How messages name the player. */
  readonly name?: string;
  /** For what varies (see `PlayOptions.vary`): the same seed plays the same. Left out: 1. */
  readonly seed?: number;
  /** At most so many cues and loops are told in one frame; then `skip` says how many were not. Left out: all. */
  readonly cueLimit?: number;
  /** Hears of what is odd and goes on all the same, as two players that write one object. Left out: the console. */
  readonly onWarning?: (problem: UnspoolError) => void;
  /** Hears of errors that handlers throw. Left out: the first is thrown again when the frame is complete. */
  readonly onError?: (error: unknown) => void;
}

function warn({ message }: UnspoolError): void {
  const { console } = globalThis as { readonly console?: { warn(message: string): void } };
  console?.warn(message);
}

/** Moments of two layers closer than this are at one time: how a frame is cut makes them differ by rounding. */
const SAME = NANOSECOND / 10;

/** More moments than this in one frame are a circle: a handler that plays what calls it again, without time going by. */
const MOST_MOMENTS = 10_000;

/**
 * Plays the clips of one reel on one cast: one at a time, or on several layers.
 *
 * `tick` is a small simulation: it goes from one moment to the next (a cue, a wrap, an end), calls handlers there with
 * the playheads on it, and gives what is left of the frame to whatever plays then. Objects are written once, at its end.
 */
export class Player<N extends ReelNames = ReelNames, Target = object> {
  readonly reel: Reel<N>;
  readonly name: string;
  readonly #stage: Stage<Target>;
  readonly #frame: Frame;
  readonly #core: PlayerCore;
  readonly #layers: Layer<N>[];
  readonly #gauges: Gauge<N>[] = [];
  /** Layers and gauges in the order in which they were made: what is shown, the lowest first. */
  readonly #shown: ShownLayer[] = [];
  #faces: Faces<N> | undefined;
  #follow: Follow | undefined;
  #seed: number;
  #disposed = false;

  constructor(reel: Reel<N>, options: PlayerOptions<N, Target> = {}) {
    this.reel = reel;
    this.name = options.name ?? reel.name;
    this.#frame = new Frame(options.onError, options.cueLimit ?? Infinity);
    this.#seed = options.seed ?? 1;
    const cast: Readonly<Record<string, Target | undefined>> = options.cast ?? {};
    for (const role of Object.keys(cast)) {
      if (reel.roles.includes(role)) continue;
      throw new UnspoolError('play/unknown-role', `${reel.said} has no role ${show(role)}`, suggest(role, reel.roles));
    }
    const targets = reel.roles.map((role) => (Object.hasOwn(cast, role) ? cast[role] : undefined));
    const adapter = options.adapter ?? (plainCast as unknown as CastAdapter<Target>);
    this.#stage = new Stage(reel, targets, adapter, this.name, options.onWarning ?? warn);
    this.#core = {
      reel,
      frame: this.#frame,
      stage: {
        begin: (voice, mask) => {
          const live = !this.#layers.some((layer) => layer.playback?.active);
          if (!live) this.#sample();
          this.#stage.begin(voice, mask, live);
        },
        left: (voice) => this.#stage.left(voice),
      },
      rootInto: (out) => this.rootInto(out),
      seed: () => this.#seed++,
    };
    this.#layers = this.#frame.layers as unknown as Layer<N>[];
    this.#addLayer('base', undefined);
  }

  #addLayer(name: string, mask: readonly string[] | undefined): Layer<N> {
    const layer = new Layer<N>(this.#core, name, mask);
    this.#layers.push(layer);
    this.#shown.push(layer);
    return layer;
  }

  /** The values of every property now: what was written last, or inside a handler what would be. */
  get pose(): Pose {
    this.#sample();
    return this.#stage.pose;
  }

  /** Seconds played so far: the sum of what was given to `tick`; inside a handler, up to its moment. */
  get time(): number {
    return this.#frame.now;
  }

  /** What plays on the lowest layer, or has ended and holds its last pose. */
  get playback(): Playback<N> | undefined {
    return this.#layers[0]!.playback;
  }

  /** The layers, the lowest first. */
  get layers(): readonly Layer<N>[] {
    return this.#layers;
  }

  /** What waits on the lowest layer, the next first. */
  get queue(): readonly Playback<N>[] {
    return this.#layers[0]!.queue;
  }

  /**
   * Plays a clip or chain from now on; what played before on its layer is stopped, and what waited there is forgotten.
   * It begins with the next `tick`, inside a handler at the moment of the handler. Throws for an unknown name, option or
   * value.
   */
  play(name: N['clip'] | N['chain'], options: PlayOptions<N> = {}): Playback<N> {
    return this.layer(options.layer).play(name, options);
  }

  /**
   * Plays a clip or chain when what plays and waits on its layer has ended, at that very moment. Throws as `play`, and
   * when the one before loops for ever.
   */
  enqueue(name: N['clip'] | N['chain'], options: EnqueueOptions<N> = {}): Playback<N> {
    return this.layer(options.layer).enqueue(name, options);
  }

  /** What the lowest layer plays whenever nothing else does there; `undefined` nothing. */
  fallback(name: N['clip'] | N['chain'] | undefined, options: PlayOptions<N> = {}): this {
    this.layer(options.layer).fallback(name, options);
    return this;
  }

  /** Stops what plays on the lowest layer, and forgets what waits there. It leaves behind what its `after` says, or the one given. */
  stop(options: Parameters<Playback['stop']>[0] = {}): void {
    this.#layers[0]!.stop(options);
  }

  /**
   * A layer by its name, made above all others when it is new: it plays a clip or chain of its own, over what is below.
   * Left out: the lowest, which is called `base`.
   */
  layer(name = 'base', options: LayerOptions = {}): Layer<N> {
    if (this.#disposed)
      throw new UnspoolError('play/disposed', `the player ${show(this.name)} is disposed of`, 'make another');
    let layer = this.#layers.find((one) => one.name === name);
    if (!layer) {
      for (const masked of options.mask ?? []) this.#checkMask(masked);
      layer = this.#addLayer(name, options.mask);
    } else if (options.mask && options.mask.join() !== layer.mask?.join()) {
      throw new UnspoolError('play/mask', `the layer ${show(name)} has another mask`, 'give it when it is first used');
    }
    if (options.weight !== undefined) layer.weight = options.weight;
    return layer;
  }

  #checkMask(name: string): void {
    const { roles, layout } = this.reel;
    const [role, ...rest] = name.split('.');
    const known = role === '*' ? layout.slots.some(({ property }) => property === rest.join('.')) : layout.find(name);
    if (known || roles.includes(name)) return;
    const names = [...roles, ...layout.slots.map((slot) => slot.name)];
    throw new UnspoolError('play/mask', `${show(name)} is no role or property that is animated`, suggest(name, names));
  }

  /**
   * A gauge by its name: a clip driven by a number. Its options make it, the first time; it shows its value from then on.
   */
  gauge(name: string, options?: GaugeOptions<N>): Gauge<N> {
    const known = this.#gauges.find((one) => one.name === name);
    if (known && !options) return known;
    const names = this.#gauges.map((one) => one.name);
    if (known) throw new UnspoolError('play/gauge', `there is a gauge ${show(name)} already`, 'leave its options out');
    if (!options) throw new UnspoolError('play/gauge', `there is no gauge ${show(name)}`, suggest(name, names));
    const gauge = new Gauge<N>(this.#core, name, options);
    this.#gauges.push(gauge);
    this.#shown.push(...gauge.shownLayers);
    return gauge;
  }

  /**
   * Plays the clip of a facing that lies towards a direction, mirrored where the reel says so. To be called whenever the
   * direction changes, or once a frame: what plays already goes on, and a step begun to one side goes on to the other.
   * `[0, 0]` keeps the last direction.
   *
   * @param direction of any length; y points down
   */
  face(name: N['facing'], direction: readonly [x: number, y: number], options: FaceOptions<N> = {}): Playback<N> {
    const sides = this.reel.facing(name);
    const layer = this.layer(options.layer);
    const { playback, flip } = (this.#faces ??= new Faces<N>()).face(layer, name, sides, direction, options);
    if (flip || this.#stage.isPlaced) {
      const { placed } = this.#stage;
      if (placed.mirrored !== flip) this.#frame.changed();
      placed.mirrored = flip;
    }
    return playback;
  }

  /** Puts the whole cast somewhere: its roles without a parent, the others with them. What is left out stays. */
  place(placement: Placement): this {
    this.#stage.placed.set(placement);
    this.#frame.changed();
    return this;
  }

  /**
   * Stays above something else from the end of each frame on, and ends with it: a game object with a `position`, another
   * player (its first role without a parent; until nothing plays there), or a playback of one (until it is over).
   * `undefined` follows nothing any more. Tick it after what it follows.
   */
  follow(source: FollowSource | undefined, offset: readonly [x: number, y: number] = [0, 0]): this {
    this.#follow = source && new Follow(source, offset);
    if (this.#follow) this.place({ position: this.#follow.position() });
    return this;
  }

  /** @internal Where its first role without a parent is, x and y. */
  rootInto(out: Float64Array): void {
    this.#sample();
    this.#stage.placed.rootInto(this.#stage.pose.values, out);
  }

  /** Whether anything plays, on any layer. */
  get isPlaying(): boolean {
    return this.#layers.some(({ playback }) => playback?.active);
  }

  /** All of it as plain JSON, but for handlers, signals and what it follows: `restore` goes on from there exactly. */
  save(): PlayerState {
    const chains = new ChainNumbers<N>();
    const layers = this.#layers.map((layer) => layer.save(chains));
    const { placed, isPlaced } = {
      placed: this.#stage.isPlaced ? this.#stage.placed : undefined,
      isPlaced: this.#stage.isPlaced,
    };
    const faces = [...(this.#faces?.playing ?? [])];
    return {
      saved: STATE_VERSION,
      reel: this.reel.name,
      clock: this.#frame.save(),
      seed: this.#seed,
      covered: this.#stage.coverage.names,
      rest: this.#stage.saveRest(),
      chains: chains.runs.map(({ name }) => name),
      layers,
      gauges: this.#gauges.map((gauge) => [gauge.name, gauge.save()]),
      direction: this.#faces?.direction ? [...this.#faces.direction] : null,
      faces: faces.map(([layer, { facing, side }]) => [layer, facing, side.name]),
      place:
        isPlaced && placed
          ? [[...placed.position], placed.rotation, [...placed.scale], placed.flip, placed.mirrored]
          : null,
    };
  }

  /**
   * Becomes what was saved, to the bit: also in another process, with a player made in the same way. What plays is
   * forgotten without an event; its gauges have been made before. Throws for a state of another reel, and changes nothing.
   */
  restore(state: PlayerState): void {
    checkState(state, this.reel);
    const { layers, gauges, faces, direction, place } = state;
    const found = gauges.map(([name]) => this.gauge(name));
    for (const { voices, queue } of layers)
      for (const { clip } of [...voices, ...queue]) this.reel.clip(clip as N['clip']);
    layers.forEach(({ name, mask }) => this.layer(name, mask ? { mask } : {}));
    for (const layer of this.#layers) layer.load(layers.find(({ name }) => name === layer.name) ?? EMPTY_LAYER);
    chainRuns(
      state.chains,
      layers.map(({ name }) => this.layer(name)),
      layers,
    );
    found.forEach((gauge, i) => gauge.restore(gauges[i]![1]));
    this.#faces = undefined;
    if (direction || faces.length > 0) {
      this.#faces = new Faces<N>();
      this.#faces.direction = (direction as [number, number] | null) ?? undefined;
      for (const [layer, facing, name] of faces) {
        const side = this.reel.facing(facing as N['facing']).find((one) => one.name === name);
        const { playback } = this.layer(layer);
        if (side && playback) this.#faces.playing.set(layer, { facing, side, playback });
      }
    }
    if (place) {
      const [position, rotation, scale, flip, mirrored] = place;
      this.place({ position: position as [number, number, number], rotation, scale: scale as [number, number], flip });
      this.#stage.placed.mirrored = mirrored;
    }
    this.#stage.load(state.covered, state.rest);
    this.#seed = state.seed;
    this.#frame.load(state.clock);
  }

  /**
   * Ends it: what plays is stopped, what waits is forgotten, and then it holds no handler, no object and no signal any
   * more. Objects stay as they are.
   */
  dispose(): void {
    if (this.#disposed) return;
    for (const layer of this.#layers) layer.dispose();
    this.#disposed = true;
    this.#follow = undefined;
    this.#frame.dispose();
    this.#stage.dispose();
  }

  /**
   * One frame: `dt` seconds go by. Events are told in order of time, then the cast is written once. Throws a
   * `RangeError` for a `dt` that is not a finite number ≥ 0, before anything has changed.
   */
  tick(dt: number): void {
    if (!(dt >= 0 && dt < Infinity)) {
      throw new RangeError(`tick was given ${String(dt)}. Give the seconds that went by: a finite number, 0 or more.`);
    }
    const frame = this.#frame;
    if (frame.isRunning)
      throw new UnspoolError('play/nested-tick', 'tick was called inside a handler', 'call it once a frame');
    if (this.#disposed) return;
    const layers = this.#layers;
    this.#stage.frames++;
    frame.begin(dt);
    for (let i = 0; i < layers.length; i++) {
      const layer = layers[i]!;
      const running = layer.playback;
      if (running?.isRunning || layer.isFading) frame.changed();
      running?.addFrame();
    }
    for (const gauge of this.#gauges) if (gauge.isMoving(frame.end - dt)) frame.changed();
    frame.enter();
    try {
      this.#simulate();
    } finally {
      frame.leave();
    }
    frame.report();
  }

  on<E extends EventType>(type: E, handler: Handler<N, E>): this {
    this.#frame.handlersOf(type).add(handler);
    return this;
  }

  off<E extends EventType>(type: E, handler: Handler<N, E>): this {
    this.#frame.handlersOf(type).delete(handler);
    return this;
  }

  /** From moment to moment in order of time; of those at one time, first on the lowest layer. */
  #simulate(): void {
    const layers = this.#layers;
    for (let moments = 0; ; moments++) {
      let next: Playback<N> | undefined;
      for (let i = 0; i < layers.length; i++) {
        const one = layers[i]!.playback;
        if (!one) continue;
        one.aim();
        if (one.head.due >= -NANOSECOND && (!next || one.head.due > next.head.due + SAME)) next = one;
      }
      const gauge = this.#gauges.length > 0 ? this.#arriving(next) : undefined;
      if (!next && !gauge) break;
      if (moments >= MOST_MOMENTS) {
        const last = next ? `clip ${show(next.clip.name)}` : `gauge ${show(gauge!.name)}`;
        const said = `one frame has more than ${MOST_MOMENTS} moments, the last of ${last}: ${this.#frame.lastEvent}`;
        const hint = 'does a handler play again what calls it? or is one frame very long (see cueLimit)?';
        this.#frame.fail(new UnspoolError('play/circle', said, hint));
        break;
      }
      if (gauge) gauge.arrive();
      else next!.arrive();
    }
    for (let i = 0; i < layers.length; i++) layers[i]!.playback?.settle();
    this.#frame.endMoments();
    if (this.#follow) this.#followNow(this.#follow);
    this.#write();
  }

  /** The gauge that arrives before a playback has its next moment, if there is one in this frame. */
  #arriving(next: Playback<N> | undefined): Gauge<N> | undefined {
    let most = next ? next.head.due : -NANOSECOND;
    let found: Gauge<N> | undefined;
    for (const gauge of this.#gauges) {
      const due = this.#frame.end - gauge.arrivesAt;
      if (due <= most && !(due >= -NANOSECOND && !next && !found)) continue;
      most = due;
      found = gauge;
    }
    return found;
  }

  #followNow(follow: Follow): void {
    if (follow.isThere) {
      const [x, y] = follow.position();
      const { position } = this.#stage.placed;
      if (position[0] !== x || position[1] !== y) this.place({ position: [x, y, position[2]] });
    } else {
      this.#follow = undefined;
      for (const layer of this.#layers) layer.end();
    }
  }

  /** Poses the cast by what plays now, if that has changed since it was last asked for. */
  #sample(): void {
    const frame = this.#frame;
    if (frame.isSampled) return;
    frame.isSampled = true;
    const layers = this.#layers;
    for (let i = 0; i < layers.length; i++) layers[i]!.share();
    this.#stage.sample(this.#shown);
  }

  /** Writes a pose that is new. One that stands still is left alone, so that the game may move its objects itself. */
  #write(): void {
    const frame = this.#frame;
    if (frame.isWritten) return;
    this.#sample();
    this.#stage.write();
    frame.isWritten = true;
  }
}
