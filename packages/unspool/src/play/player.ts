import type { CastAdapter } from '../cast/cast.js';
import { plainCast } from '../cast/plain.js';
import type { Pose } from '../clip/layout.js';
import type { ReelNames } from '../clip/names.js';
import type { Reel } from '../clip/reel.js';
import type { LoopDocument } from '../reel/document.js';
import { resolveLoop } from '../reel/loop.js';
import { LOOP_MODES } from '../time/iteration.js';
import type { Time } from '../time/units.js';
import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import { show } from '../wording/show.js';
import type { EventType } from './event-types.js';
import { Frame, type Handler } from './frame.js';
import { secondsInside } from './inside.js';
import { Playback } from './playback.js';
import { Stage } from './stage.js';

export interface PlayerOptions<N extends ReelNames, Target> {
  /** The game's objects by role. A role without one is played, and not shown. */
  readonly cast?: { readonly [R in N['role']]?: Target };
  /** Writes poses into these objects. Left out: `plainCast`. */
  readonly adapter?: CastAdapter<Target>;
  /** How messages name the player. */
  readonly name?: string;
  /** Hears of errors that handlers throw. Left out: the first is thrown again when the frame is complete. */
  readonly onError?: (error: unknown) => void;
}

export interface PlayOptions {
  /** Where the playhead begins: a time inside the clip. Left out: at the start, or at the end when played backwards. */
  readonly from?: Time;
  /** Multiplies the clip's own rate: 1 as authored, −1 backwards. */
  readonly rate?: number;
  /** Replaces the clip's own loop mode. */
  readonly loop?: LoopDocument;
  /** What it leaves behind when it is over. Left out: as the clip says. */
  readonly after?: 'hold' | 'rest';
}

const PLAY_OPTIONS = ['from', 'rate', 'loop', 'after'];

/** More moments than this in one frame are a circle: a handler that plays what calls it again, without time going by. */
const MOST_MOMENTS = 10_000;

/**
 * Plays the clips of one reel on one cast, one at a time.
 *
 * `tick` is a small simulation: it goes from one moment to the next (a cue, a wrap, an end), calls handlers there with
 * the playheads on it, and gives what is left of the frame to whatever plays then. Objects are written once, at its end.
 */
export class Player<N extends ReelNames = ReelNames, Target = object> {
  readonly reel: Reel<N>;
  readonly name: string;
  readonly #stage: Stage<Target>;
  readonly #frame: Frame;
  #current: Playback<N> | undefined;

  constructor(reel: Reel<N>, options: PlayerOptions<N, Target> = {}) {
    this.reel = reel;
    this.name = options.name ?? reel.name;
    this.#frame = new Frame(options.onError);
    const cast: Readonly<Record<string, Target | undefined>> = options.cast ?? {};
    for (const role of Object.keys(cast)) {
      if (reel.roles.includes(role)) continue;
      throw new UnspoolError('play/unknown-role', `${reel.said} has no role ${show(role)}`, suggest(role, reel.roles));
    }
    const targets = reel.roles.map((role) => (Object.hasOwn(cast, role) ? cast[role] : undefined));
    this.#stage = new Stage(reel, targets, options.adapter ?? (plainCast as unknown as CastAdapter<Target>));
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

  /** What plays, or has ended and holds its last pose. */
  get playback(): Playback<N> | undefined {
    return this.#current;
  }

  /**
   * Plays a clip from now on; what played before is stopped. It begins with the next `tick`, inside a handler at the
   * moment of the handler. Throws for an unknown name, option or value.
   */
  play(name: N['clip'], options: PlayOptions = {}): Playback<N> {
    const clip = this.reel.clip(name);
    for (const option of Object.keys(options)) {
      if (PLAY_OPTIONS.includes(option)) continue;
      throw new UnspoolError(
        'play/unknown-option',
        `play has no option ${show(option)}`,
        suggest(option, PLAY_OPTIONS),
      );
    }
    const { from, rate = 1, loop, after = clip.after } = options;
    const mode = typeof loop === 'string' ? loop : loop?.mode;
    if (mode !== undefined && !LOOP_MODES.includes(mode)) {
      throw new UnspoolError('play/loop', `no loop mode is called ${show(mode)}`, suggest(String(mode), LOOP_MODES));
    }
    if (!Number.isFinite(rate))
      throw new UnspoolError('play/rate', `the rate ${rate} is not finite`, 'give a number, as 1');
    const settings = {
      from: from === undefined ? undefined : secondsInside(clip, from, 'from'),
      rate: rate * clip.rate,
      repeat: loop === undefined ? clip.repeat : resolveLoop(loop),
      after,
    };
    const previous = this.#current;
    const live = !previous?.active;
    if (!live) this.#sample();
    const playback = new Playback<N>(this.#frame, clip, settings);
    this.#current = playback;
    this.#stage.begin(clip, live);
    this.#frame.changed();
    previous?.stop();
    return playback;
  }

  /** Stops what plays. It leaves behind what its `after` says, or the one given here. */
  stop(options: { readonly after?: 'hold' | 'rest' } = {}): void {
    this.#current?.stop(options);
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
    frame.begin(dt);
    const running = this.#current;
    if (running?.active && !running.paused) frame.changed();
    running?.addFrame();
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

  #simulate(): void {
    for (let moments = 0; this.#current?.step(); moments++) {
      if (moments < MOST_MOMENTS) continue;
      const clip = show(this.#current.clip.name);
      const said = `one frame has more than ${MOST_MOMENTS} moments, the last of clip ${clip}: ${this.#frame.lastEvent}`;
      const hint = 'does a handler play again what calls it? or is one frame very long, and the clip very short?';
      this.#frame.fail(new UnspoolError('play/circle', said, hint));
      break;
    }
    this.#frame.endMoments();
    this.#write();
  }

  /** Poses the cast by what plays now, if that has changed since it was last asked for. */
  #sample(): void {
    const frame = this.#frame;
    if (frame.isSampled) return;
    frame.isSampled = true;
    const playback = this.#current;
    const shows = playback !== undefined && (playback.active || playback.after === 'hold');
    if (shows) playback.timeInto(this.#stage.pose.at);
    this.#stage.sample(shows);
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
