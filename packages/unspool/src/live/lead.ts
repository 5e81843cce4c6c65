import type { PlayerCore } from '../play/drive/core.js';
import type { Playback } from '../play/drive/playback.js';
import type { Player } from '../play/drive/player.js';
import { fitState } from '../play/state/fit.js';
import type { PlayerState } from '../play/state/saved.js';
import type { Value } from '../value/read.js';
import { LiveSamples } from '../edit/capture/live.js';
import type { ReelNames } from '../clip/names.js';
import { Gate, gateOf } from './gate.js';
import type { LiveMoment, LiveOrder, LivePlaying, LiveSample } from './messages.js';
import { ObjectValues } from './object-values.js';
import { platform } from './platform.js';

type Led = Player<ReelNames, never>;

/** So long (ms) an order waits for the reel that it speaks of. */
const PATIENCE = 1500;
/** Seconds of a recording at most. */
const LONGEST = 120;

/**
 * Leads a player for the workbench: its frames come through here, so that they can be held back, slowed down and
 * watched. It does nothing to a player that nobody watches.
 */
export class Lead {
  readonly #core: PlayerCore;
  readonly #objects: ObjectValues;
  /** The player's own frame, which is still that of its class. */
  readonly #tick: (dt: number) => void;
  readonly #own: Gate;
  #recording: LiveSamples | undefined;
  /** Seconds since the last sample, while one is due. */
  #unsampled: number | undefined;
  /** What was recorded and is not fetched yet. */
  #recorded: readonly LiveSample[] | undefined;
  /** Where it goes on with its first frame: players and gauges are complete then. */
  #resumeAt: PlayerState | undefined;
  /** Whether somebody watches it. */
  isWatched = false;
  /** An order for a clip that the reel does not have yet, and when (ms) it is given up. */
  #early: { readonly order: LiveOrder & { readonly clip: string }; readonly until: number } | undefined;
  /** Of the last order that it has had. */
  #mark: string | undefined;

  /**
   * @param onFrame  called after each frame of the game
   * @param resumeAt a saved state that the player goes on from with its first frame
   */
  constructor(
    readonly player: Led,
    readonly name: string,
    private readonly onFrame: () => void,
    resumeAt?: PlayerState,
  ) {
    this.#core = player.parts;
    this.#objects = new ObjectValues(this.#core);
    this.#resumeAt = resumeAt;
    this.#tick = player.tick.bind(player);
    this.#own = new Gate((dt) => this.#move(dt));
    // A member of the instance before that of the class: a player that nobody leads pays nothing.
    player.tick = (dt) => this.#frame(dt);
  }

  /** The player is its game's alone again. */
  end(): void {
    Reflect.deleteProperty(this.player, 'tick');
  }

  watch(isWatched: boolean): void {
    if (isWatched && !this.isWatched) this.#objects.note();
    // What nobody sees any longer must not stand still.
    if (!isWatched && this.isWatched) {
      this.#recording = undefined;
      this.#gate.open();
    }
    this.isWatched = isWatched;
  }

  /** What paces it: a hit world that ticks it, or itself. */
  get #gate(): Gate {
    const { ticker } = this.#core;
    return ticker ? gateOf(ticker) : this.#own;
  }

  /** @throws UnspoolError for what the player refuses */
  follow(order: LiveOrder, mark: string): void {
    this.#mark = mark;
    this.#early = undefined;
    if ('clip' in order && !this.player.reel.clipNames.includes(order.clip))
      this.#early = { order, until: platform.performance.now() + PATIENCE };
    else this.#obey(order);
  }

  /**
   * Follows an order that came before the reel that it speaks of: steps and orders come on different ways.
   *
   * @throws UnspoolError for a clip that the reel does not have after a while
   */
  catchUp(): void {
    const early = this.#early;
    if (!early || (!this.player.reel.clipNames.includes(early.order.clip) && platform.performance.now() < early.until))
      return;
    this.#early = undefined;
    this.#obey(early.order);
  }

  #obey(order: LiveOrder): void {
    if (order.do === 'pause') this.#gate.paused = true;
    else if (order.do === 'resume') this.#gate.paused = false;
    else if (order.do === 'rate') this.#gate.rate = order.rate;
    else if (order.do === 'step') this.#gate.step(order.frames / (this.#playback?.clip.fps ?? 60));
    else if (order.do === 'play') this.#play(order.clip);
    else if (order.do === 'seek') this.#seek(order.clip, order.time);
    else if (order.do === 'record') this.#record(order.roles);
    else if (order.do === 'stop-recording') this.#stopRecording();
    else if (order.do === 'give-back')
      this.#objects.giveBack(order.names ?? this.#objects.changed().map(({ name }) => name));
  }

  moment(): LiveMoment {
    const recorded = this.#recording?.samples.at(-1)?.time;
    const { paused, rate } = this.isWatched ? this.#gate : this.#own;
    const playing = this.#core.layers.flatMap(({ name, playback, queue }): LivePlaying[] => {
      if (!playback) return [];
      const { clip, time, active } = playback;
      return [{ layer: name, clip: clip.name, time, active, queue: queue.map((one) => one.clip.name) }];
    });
    return {
      ...{ playing, paused, rate },
      ...(this.#mark !== undefined && { mark: this.#mark }),
      ...(recorded !== undefined && { recorded }),
      ...(this.isWatched && { values: this.#values(), changed: this.#objects.changed() }),
    };
  }

  /** What was recorded, once. */
  takeRecorded(): readonly LiveSample[] | undefined {
    const recorded = this.#recorded;
    this.#recorded = undefined;
    return recorded;
  }

  #frame(dt: number): void {
    if (this.#resumeAt) this.#resume(this.#resumeAt);
    // Under a hit world it is that which is held back.
    if (this.#core.ticker) this.#move(dt);
    else this.#own.frame(dt);
    if (this.#recording && dt >= 0 && dt < Infinity) this.#sampleAfter(dt, this.#recording);
    this.onFrame();
  }

  /** Goes on from a saved state, if the player can: its game may have changed too far since. */
  #resume(saved: PlayerState): void {
    this.#resumeAt = undefined;
    try {
      const { state, lost } = fitState(saved, this.player.reel);
      for (const problem of lost) this.#core.stage.warn(problem);
      this.player.restore(state);
    } catch (error) {
      platform.console.warn(`unspool: ${this.name} starts anew after the reload: ${(error as Error).message}`);
    }
  }

  #move(dt: number): void {
    this.#tick(dt);
    if (this.isWatched) this.#objects.note();
  }

  /** What the workbench means by the playhead: the highest layer that plays. */
  get #playback(): Playback | undefined {
    const { layers } = this.#core;
    return layers.findLast(({ playback }) => playback?.active)?.playback ?? layers.findLast(({ playback }) => playback)?.playback; // prettier-ignore
  }

  #play(clip: string): void {
    this.player.play(clip);
    this.#gate.paused = false;
  }

  #seek(clip: string, time: number): void {
    const is = ({ playback }: { readonly playback: Playback | undefined }) =>
      playback?.active && playback.clip.name === clip;
    const playback = this.#core.layers.find(is)?.playback ?? this.player.play(clip);
    this.#gate.paused = true;
    const { duration } = playback.clip;
    playback.seek(Math.min(Math.max(0, time), duration));
    // Not a frame of no length, in which what is at its end would end.
    const { stage, frame } = this.#core;
    this.#core.sample();
    stage.write(frame.isRegrouped);
    [frame.isWritten, frame.isRegrouped] = [true, false];
    this.#objects.note();
  }

  #values(): Readonly<Record<string, Value>> {
    const { pose } = this.player;
    return Object.fromEntries(pose.layout.slots.map(({ name }) => [name, pose.get(name)]));
  }

  /** Takes a sample when the frame is over: whatever else moves the objects has moved them then, before or after. */
  #sampleAfter(dt: number, recording: LiveSamples): void {
    this.#unsampled = (this.#unsampled ?? this.#sampleSoon(recording)) + dt;
  }

  #sampleSoon(recording: LiveSamples): number {
    platform.setTimeout(() => {
      const dt = this.#unsampled ?? 0;
      this.#unsampled = undefined;
      if (this.#recording !== recording) return;
      recording.tick(dt);
      if (recording.samples.at(-1)!.time >= LONGEST) this.#stopRecording();
    }, 0);
    return 0;
  }

  /** Records what the objects show; of a cast that is placed, how far it has come. */
  #record(roles: readonly string[]): void {
    const slots = this.#objects.slots.filter(({ role }) => roles.includes(role));
    const first = new Map(slots.map((slot) => [slot, this.#objects.read(slot) ?? slot.rest]));
    const isFar = (property: string) => property === 'position' || property === 'rotation';
    this.#recorded = undefined;
    this.#recording = new LiveSamples(
      () =>
        Object.fromEntries(
          slots.flatMap((slot): [string, Value][] => {
            const numbers = this.#objects.read(slot);
            const isPlaced = this.#objects.isPlaced(slot);
            if (!numbers || (isPlaced && !isFar(slot.property))) return [];
            const from = isPlaced ? first.get(slot)! : numbers.map(() => 0);
            return [[slot.name, this.#objects.valueOf(slot, numbers.map((n, k) => n - from[k]!))]]; // prettier-ignore
          }),
        ),
      { limit: LONGEST + 1 },
    );
  }

  #stopRecording(): void {
    this.#recorded = this.#recording?.samples ?? [];
    this.#recording = undefined;
  }
}
