import { checkOptions } from '../../errors/check-options.js';
import type { CastAdapter } from '../../cast/cast.js';
import type { Cast } from '../../cast/using.js';
import { plainCast } from '../../cast/plain.js';
import type { Pose } from '../../clip/layout.js';
import type { ReelNames } from '../../clip/names.js';
import type { Reel } from '../../clip/reel.js';
import { UnspoolError } from '../../errors/error.js';
import { nearest, suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import { PlayerCore } from './core.js';
import type { EventType } from '../time/event-types.js';
import type { EventHandler } from './events.js';
import type { FaceOptions } from './facing.js';
import { Follow, type FollowOptions, type FollowSource } from './follow.js';
import { Dispatcher } from './dispatcher.js';
import { Gauge, type GaugeOptions } from './gauge.js';
import type { Layer, LayerOptions } from './layer.js';
import { runMoments } from './moments.js';
import type { Placement } from '../pose/placement.js';
import { isBetween } from '../time/inside.js';
import type { Playable } from '../time/pick.js';
import type { FinishOptions, Playback } from './playback.js';
import { type EnqueueOptions, type PlayOptions, type StopOptions } from '../time/settings.js';
import { addSeconds, isIdle } from './player-clock.js';
import { checkPlayer, checkTargets, ticked, warnOfFlat, warnOnConsole, type PlayerOptions } from './player-options.js';
import { Stage } from '../pose/stage.js';
import { restorePlayer, savePlayer } from './state.js';
import type { PlayerState } from '../state/saved.js';
import { frameSeconds } from '../../time/frame-seconds.js';

/** One clip after the other that are skipped at once: more are a circle of handlers that play the next. */
const MOST_SKIPPED = 1000;

/** Seconds of the frame that begins. Of all players: none begins inside another's beginning. */
const DELTA = new Float64Array(1);

/**
 * Plays the clips of one reel on one cast, on one or several layers.
 *
 * `tick` is a small simulation: it advances from one event to the next (a cue, a loop, an end), calls handlers there
 * with the playheads at that moment, and spends the rest of the frame on whatever plays then. Objects are written once,
 * at the end of the frame.
 *
 * @example
 * const crab = new Player(reel, { cast: { crab: crabSprite, claw: clawSprite } });
 * crab.on('cue', (cue) => sounds.play(cue.data.sound));
 * crab.play('snap');
 * crab.enqueue('sway', { loop: 'loop', fade: 0.1 });
 * crab.tick(dt); // once per frame, in seconds
 */
export class Player<N extends ReelNames = ReelNames, Target = object> {
  /** Its name in messages. */
  readonly name: string;
  /** Those of its clock: see `PlayerClock`. */
  readonly #cells: Float64Array;
  readonly #at: number;
  readonly #frame: Dispatcher;
  readonly #core: PlayerCore<N>;

  constructor(reel: Reel<N>, options: PlayerOptions<N, Target> = {}) {
    checkPlayer(reel, options);
    this.name = options.name ?? reel.name;
    const cast: Cast = (options.cast as Cast | undefined) ?? {};
    const adapter = (options.adapter ?? plainCast) as CastAdapter;
    checkTargets(reel, cast, adapter);
    const { seed = 1, cueLimit = Infinity } = options;
    const frame = new Dispatcher(options.onError, cueLimit);
    [this.#cells, this.#at, this.#frame] = [frame.cells, frame.at, frame];
    const stage = new Stage(reel, cast, adapter, this.name, options.onWarning ?? warnOnConsole);
    this.#core = new PlayerCore<N>(reel, frame, stage, seed);
    warnOfFlat(stage);
    reel.users?.add(new WeakRef(this));
  }

  /** The reel whose clips it plays. */
  get reel(): Reel<N> {
    return this.#core.reel;
  }

  /** The current values of all properties; inside a handler, the values at that moment. */
  get pose(): Pose<N['values']> {
    return this.#core.pose;
  }

  /** Player time in seconds: the sum of all `dt` passed to `tick`; inside a handler, up to that moment. */
  get time(): number {
    return this.#frame.now;
  }

  /** The playback of the lowest layer, or one that has ended and holds its last pose. */
  get playback(): Playback<N> | undefined {
    return this.#core.layers[0]!.playback;
  }

  /** The layers, the lowest first. */
  get layers(): readonly Layer<N>[] {
    return this.#core.layers;
  }

  /** The queue of the lowest layer, the next first. */
  get queue(): readonly Playback<N>[] {
    return this.#core.layers[0]!.queue;
  }

  /**
   * Plays a clip or chain now; of a list one of them, by share and from the player's `seed`, and not the last one again.
   * Stops the current playback of its layer and clears the queue. It starts with the next `tick`; inside a handler, at
   * that moment. Throws for an unknown name, option or value.
   *
   * @example
   * player.play('scuttle', { loop: 'loop', unless: 'playing' }); // in every frame
   * player.play(['sway', { clip: 'blink', share: 0.2 }]);
   */
  play(name: Playable<N>, options: PlayOptions<N> = {}): Playback<N> {
    return this.#layerOf(options).play(name, options);
  }

  /**
   * Adds a clip or chain to the queue of its layer. It starts at the exact moment when everything before it has ended.
   * Throws like `play`, and when the playback before it loops forever.
   */
  enqueue(name: Playable<N>, options: EnqueueOptions<N> = {}): Playback<N> {
    return this.#layerOf(options).enqueue(name, options);
  }

  /** Sets what the lowest layer plays whenever it is idle; of a list another one each time; `undefined` for nothing. */
  fallback(name: Playable<N> | undefined, options: Omit<PlayOptions<N>, 'unless'> = {}): this {
    this.#layerOf(options).fallback(name, options);
    return this;
  }

  /** Stops the playback of the lowest layer and clears its queue. What stays is its `after`, or the one passed here. */
  stop(options: StopOptions = {}): void {
    this.#core.layers[0]!.stop(options);
  }

  /**
   * Returns a layer by name; a new one is created above all others. It plays a clip or chain of its own over the layers
   * below. Default: the lowest layer, `base`.
   */
  layer(name = 'base', options: LayerOptions = {}): Layer<N> {
    if (this.#core.isDisposed) throw this.#disposed();
    checkOptions(options, ['weight', 'mask'], 'layer');
    let layer = this.#core.layers.find((one) => one.name === name);
    if (!layer) {
      for (const masked of options.mask ?? []) this.#checkMask(masked);
      layer = this.#core.addLayer(name, options.mask);
    } else if (options.mask && options.mask.join() !== layer.mask?.join()) {
      throw new UnspoolError(
        'play/mask',
        `the layer ${show(name)} has another mask`,
        'pass the mask when the layer is first used',
      );
    }
    if (options.weight !== undefined) layer.weight = options.weight;
    return layer;
  }

  /** The layer that options name. A new one whose name is all but that of another is probably a slip. */
  #layerOf(options: PlayOptions<N>): Layer<N> {
    checkOptions(options, Object.keys(options ?? {}), 'play');
    const { layer: name } = options;
    if (name !== undefined && typeof name !== 'string')
      throw new UnspoolError('play/layer', `the layer ${show(name)} is not a name`, 'use a string');
    const { layers } = this.#core;
    const isNew = name !== undefined && !layers.some((one) => one.name === name);
    const close =
      isNew &&
      nearest(
        name,
        layers.slice(1).map((one) => one.name),
      );
    if (typeof close === 'string') {
      const message = `${show(name)} creates a new layer above all others. Did you mean ${show(close)}?`;
      this.#core.stage.warn(
        new UnspoolError('play/new-layer', message, `if not, call player.layer(${show(name)}) first`),
      );
    }
    return this.layer(name);
  }

  #disposed(): Error {
    return new UnspoolError('play/disposed', `the player ${show(this.name)} is disposed`, 'create a new one');
  }

  #checkMask(name: string): void {
    const { roles, layout } = this.reel;
    const [role, ...rest] = name.split('.');
    const known = role === '*' ? layout.slots.some(({ property }) => property === rest.join('.')) : layout.find(name);
    if (known || roles.includes(name)) return;
    const names = [...roles, ...layout.slots.map((slot) => slot.name)];
    throw new UnspoolError('play/mask', `${show(name)} is not an animated role or property`, suggest(name, names));
  }

  /**
   * Returns a gauge by name: a clip driven by a number. Pass options the first time to create it. It shows its value
   * until it is removed.
   */
  gauge(name: string, options?: GaugeOptions<N>): Gauge<N> {
    const known = this.#core.gauges.find((one) => one.name === name);
    if (known && !options) return known;
    const names = this.#core.gauges.map((one) => one.name);
    if (known)
      throw new UnspoolError('play/gauge', `the gauge ${show(name)} already exists`, 'omit the options to get it');
    if (!options) throw new UnspoolError('play/gauge', `unknown gauge ${show(name)}`, suggest(name, names));
    if (this.#core.isDisposed) throw this.#disposed();
    const gauge = new Gauge<N>(this.#core, name, options);
    this.#core.addGauge(gauge);
    return gauge;
  }

  /**
   * Plays the clip of a facing for a direction, mirrored if the reel says so. Call it when the direction changes, or in
   * every frame: a clip that already plays continues, and a step that has started continues on the other side. `[0, 0]`
   * keeps the last direction.
   *
   * @param direction any length; y points down
   */
  face(name: N['facing'], direction: readonly [x: number, y: number], options: FaceOptions<N> = {}): Playback<N> {
    this.reel.facing(name);
    return this.#core.face(this.#layerOf(options), name, direction, options);
  }

  /**
   * Places the whole cast: its roles without a parent, and the others with them. Omitted members keep their value. From
   * the first call on, the player owns the position, rotation and scale of these roles; move them with `place`.
   *
   * Throws for an unknown member, and for numbers that are not finite or beyond ±1e100.
   */
  place(placement: Placement): this {
    this.#core.place(placement);
    return this;
  }

  /**
   * Keeps this player's cast at the position of `source` plus `offset`, updated at the end of every tick: tick it after
   * what it follows. When `source` is over, all that plays here stops: a player is over when it is disposed of, a
   * playback when it has ended or was stopped; and anything as soon as `while` returns false or `signal` is aborted.
   *
   * @param source a game object with `position: { x, y }`, another player (its first role without a parent), or one of
   * its playbacks; `undefined` to follow nothing any more
   * @param offset in the game's own units
   */
  follow(
    source: FollowSource | undefined,
    offset: readonly [x: number, y: number] = [0, 0],
    options: FollowOptions = {},
  ): this {
    const follow = source && new Follow(source, offset, options);
    this.#core.follow = follow;
    this.#frame.revise();
    if (follow) this.#core.goTo(follow.position());
    return this;
  }

  /** @internal what finds hits needs to know of it */
  get parts(): PlayerCore {
    return this.#core;
  }

  /** Whether the player was disposed. */
  get isDisposed(): boolean {
    return this.#core.isDisposed;
  }

  /** @internal Where its first role without a parent is, x and y. */
  rootInto(out: Float64Array): void {
    this.#core.rootInto(out);
  }

  /**
   * Whether what plays on any layer is inside an interval or span of this name, as `playback.isInside` says. False for
   * names that only other clips have; throws for one that no clip of the reel has.
   */
  isInside(name: N['cue'] | N['span']): boolean {
    const { layers } = this.#core;
    for (let i = 0; i < layers.length; i++) {
      const { playback } = layers[i]!;
      if (playback && isBetween(playback, name)) return true;
    }
    this.reel.expectMoment(name);
    return false;
  }

  /** Whether anything plays on any layer. */
  get isPlaying(): boolean {
    return this.#core.layers.some(({ playback }) => playback?.active);
  }

  /**
   * Skips all that plays and waits: goes on until every layer has nothing left that ends, and lands as if it had been
   * played so far, with the cues on the way in order, each with `skipped: true`. What loops forever goes on meanwhile, and
   * so does the time of the player. What is paused stays so, and what a fallback plays is not skipped.
   *
   * @param options `cues: false` emits no cues and loops on the way
   * @throws UnspoolError `play/nested-tick` inside an event handler
   */
  finish(options: FinishOptions = {}): void {
    checkOptions(options, ['cues'], 'finish');
    const { cues = true } = options;
    const { frame, hits, layers, isDisposed } = this.#core;
    if (frame.isRunning)
      throw new UnspoolError('play/nested-tick', 'finish was called inside an event handler', 'call it between frames');
    if (isDisposed) return;
    const known = hits?.save();
    frame.skipping = cues ? 'told' : 'silent';
    try {
      for (let rounds = 0; rounds < MOST_SKIPPED; rounds++) {
        const left = layers.flatMap((layer) => (layer.isBusy ? (layer.playback!.secondsLeft ?? []) : []));
        if (left.length === 0) return;
        DELTA[0] = Math.max(...left);
        this.#advance();
      }
    } finally {
      frame.skipping = undefined;
      // What was skipped has hit nothing.
      if (known) hits!.load(known);
    }
  }

  /**
   * Saves the whole state as plain JSON, including the hits of its shapes. Handlers, signals and the followed source
   * are not saved. `restore` continues from it exactly.
   */
  save(): PlayerState {
    return savePlayer(this.#core);
  }

  /**
   * Restores a saved state exactly, also in another process, with a player created in the same way. Current playbacks
   * are dropped without events. Objects are written at once. Create its gauges first; layers and gauges that the state
   * does not have are removed.
   *
   * @throws UnspoolError `play/state` for anything but an unmodified result of `save` of the same reel; nothing has
   *   changed then
   */
  restore(state: PlayerState): void {
    if (this.#core.isDisposed) throw this.#disposed();
    restorePlayer(this.#core, state);
  }

  /**
   * Disposes the player: stops all playbacks, clears the queues, and releases all handlers, objects and signals.
   * Objects keep their values.
   */
  dispose(): void {
    if (this.#core.isDisposed) return;
    this.#core.isDisposed = true;
    this.#frame.wake();
    for (const layer of this.#core.layers) layer.dispose();
    this.#core.follow = undefined;
    this.#frame.dispose();
    this.#core.stage.dispose();
  }

  /**
   * Advances the player by `dt` seconds. Events fire in order of time, then the cast is written once. A `dt` down to
   * -0.1 counts as 0, because the first frames of a page may have one.
   *
   * @throws RangeError for any other `dt` that is not a finite number ≥ 0, before anything changes
   */
  tick(dt: number): void {
    const cells = this.#cells;
    const at = this.#at;
    if (isIdle(cells, at) && dt >= 0 && dt < Infinity) {
      DELTA[0] = dt;
      addSeconds(cells, at, DELTA);
      return;
    }
    const frame = this.#frame;
    const { ticker, isDisposed } = this.#core;
    // The engine may box a number that is passed on: only unusual ones are.
    if (!(dt >= 0 && dt < Infinity)) dt = frameSeconds(dt);
    if (frame.isRunning || isDisposed || ticker?.isTicking === false) {
      this.#cannotTick();
      return;
    }
    DELTA[0] = dt;
    this.#advance();
  }

  /** By `DELTA`: a number that is passed on could be boxed. */
  #advance(): void {
    const frame = this.#frame;
    const { layers, gauges, routine } = this.#core;
    if (!frame.isHeld) this.#core.stage.frames++;
    if (routine) frame.beginFrame();
    addSeconds(frame.cells, frame.at, DELTA);
    for (let i = 0; i < layers.length; i++) {
      const layer = layers[i]!;
      const running = layer.playback;
      if (running?.isRunning || layer.isFading) frame.moves();
      running?.addFrame(DELTA);
    }
    for (let i = 0; i < gauges.length; i++) if (gauges[i]!.isMoving) frame.moves();
    frame.enter();
    try {
      this.#simulate();
    } finally {
      frame.leave();
    }
    if (!frame.isRunning && frame.isWritten) this.#findIdle();
    frame.report();
  }

  /** Whether nothing goes on: thousands may stand and wait. */
  #findIdle(): void {
    const { layers, gauges, routine, ticker, follow, stage } = this.#core;
    if (routine || ticker || follow) return;
    for (let i = 0; i < layers.length; i++) if (layers[i]!.isGoing) return;
    for (let i = 0; i < gauges.length; i++) if (gauges[i]!.isMoving) return;
    // For other players that write the same objects, it did not write in the frame before the next one.
    stage.frames++;
    this.#frame.rest();
  }

  #cannotTick(): void {
    if (this.#frame.isRunning)
      throw new UnspoolError('play/nested-tick', 'tick was called inside an event handler', 'call it once per frame');
    if (!this.#core.isDisposed) throw ticked(this.name);
  }

  /**
   * Calls a handler with every event of a type, at its exact moment. See `PlayerEvents` for the types. Throws for an
   * unknown type.
   *
   * @example
   * player.on('cue', (cue) => cue.name === 'shut' && sounds.play(cue.data.sound));
   */
  on<E extends EventType>(type: E, handler: EventHandler<N, E>): this {
    this.#frame.handlersOf(type).add(handler);
    return this;
  }

  /** Removes a handler that `on` has added. */
  off<E extends EventType>(type: E, handler: EventHandler<N, E>): this {
    this.#frame.handlersOf(type).delete(handler);
    return this;
  }

  #simulate(): void {
    const { layers } = this.#core;
    runMoments(this.#core);
    for (let i = 0; i < layers.length; i++) layers[i]!.playback?.settle();
    this.#frame.endMoments();
    const { follow } = this.#core;
    if (follow) this.#followNow(follow);
    this.#write();
    const { gauges } = this.#core;
    for (let i = 0; i < gauges.length; i++) gauges[i]!.settle();
  }

  #followNow(follow: NonNullable<PlayerCore['follow']>): void {
    let at: readonly [x: number, y: number] | undefined;
    try {
      at = follow.isThere ? follow.position() : undefined;
    } catch (error) {
      this.#frame.fail(error);
    }
    if (at) this.#core.goTo(at);
    else {
      this.#core.follow = undefined;
      this.#core.endRoutine();
      for (const layer of this.#core.layers) layer.end();
    }
  }

  /** Writes a new pose. One that does not change is not written, so that the game can move its objects. */
  #write(): void {
    const frame = this.#frame;
    if (frame.isWritten || frame.isHeld) return;
    this.#core.sample();
    this.#core.stage.write(frame.isRegrouped);
    frame.isWritten = true;
    frame.isRegrouped = false;
  }
}
