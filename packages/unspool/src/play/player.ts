import type { CastAdapter } from '../cast/cast.js';
import { plainCast } from '../cast/plain.js';
import type { Pose } from '../clip/layout.js';
import type { ReelNames } from '../clip/names.js';
import type { Reel } from '../clip/reel.js';
import type { LoopDocument } from '../reel/document.js';
import { resolveLoop } from '../reel/loop.js';
import type { ResolvedCue } from '../reel/resolve.js';
import { Clock } from '../time/clock.js';
import { LOOP_MODES } from '../time/iteration.js';
import type { Time } from '../time/units.js';
import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import { show } from '../wording/show.js';
import { EVENT_TYPES, type EventType } from './event-types.js';
import type { PlayerEvents } from './events.js';
import { Playback, secondsInside, type PlaybackHost } from './playback.js';
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

type Handler<N extends ReelNames, E extends EventType> = (event: PlayerEvents<N>[E]) => void;

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
  readonly #onError: ((error: unknown) => void) | undefined;
  readonly #handlers = new Map<EventType, Set<(event: never) => void>>();
  readonly #clock = new Clock();
  #current: Playback<N> | undefined;
  #momentTime: number | undefined;
  #left = 0;
  #sampled = false;
  #written = true;
  #lastEvent = '';
  #errors: unknown[] = [];
  #depth = 0;

  constructor(reel: Reel<N>, options: PlayerOptions<N, Target> = {}) {
    this.reel = reel;
    this.name = options.name ?? reel.name;
    this.#onError = options.onError;
    const cast = new Map(Object.entries<Target | undefined>(options.cast ?? {}).filter(isCast));
    for (const role of cast.keys()) {
      if (reel.roles.includes(role)) continue;
      throw new UnspoolError('play/unknown-role', `${reel.said} has no role ${show(role)}`, suggest(role, reel.roles));
    }
    this.#stage = new Stage(reel, cast, options.adapter ?? (plainCast as unknown as CastAdapter<Target>));
  }

  /** The values of every property now: what was written last, or inside a handler what would be. */
  get pose(): Pose {
    this.#sample();
    return this.#stage.pose;
  }

  /** Seconds played so far: the sum of what was given to `tick`; inside a handler, up to its moment. */
  get time(): number {
    return this.#momentTime ?? this.#clock.seconds;
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
    const playback = new Playback<N>(this.#host, clip, settings);
    this.#current = playback;
    this.#stage.prepare(clip);
    this.#stage.begin(clip, live);
    this.#host.changed();
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
    if (this.#depth > 0)
      throw new UnspoolError('play/nested-tick', 'tick was called inside a handler', 'call it once a frame');
    this.#clock.add(dt);
    const running = this.#current;
    if (running?.active && !running.paused) this.#host.changed();
    running?.addTime(dt);
    this.#guarded(() => this.#simulate());
  }

  on<E extends EventType>(type: E, handler: Handler<N, E>): this {
    this.#handlersOf(type).add(handler);
    return this;
  }

  off<E extends EventType>(type: E, handler: Handler<N, E>): this {
    this.#handlersOf(type).delete(handler);
    return this;
  }

  /** What its playbacks may ask and tell. One object for all of them. */
  readonly #host: PlaybackHost = this.#createHost();

  #createHost(): PlaybackHost {
    // The getters stand for the player's own state, which `this` inside them would not reach.
    const now = () => this.time;
    const left = () => this.#left;
    const heard = () => EVENT_TYPES.some((type) => type !== 'end' && type !== 'stop' && this.#handlers.get(type)?.size);
    return {
      get now() {
        return now();
      },
      get left() {
        return left();
      },
      get heard() {
        return heard();
      },
      guarded: (run) => this.#guarded(run),
      emit: (type, playback, cue) => this.#emit(type, playback as unknown as Playback<N>, cue),
      changed: () => {
        this.#sampled = false;
        this.#written = false;
      },
    };
  }

  #handlersOf(type: EventType): Set<(event: never) => void> {
    if (!EVENT_TYPES.includes(type)) {
      throw new UnspoolError(
        'play/unknown-event',
        `no event is called ${show(type)}`,
        suggest(String(type), EVENT_TYPES),
      );
    }
    let handlers = this.#handlers.get(type);
    if (!handlers) this.#handlers.set(type, (handlers = new Set()));
    return handlers;
  }

  #simulate(): void {
    for (let moments = 0; this.#current?.step(); moments++) {
      if (moments < MOST_MOMENTS) continue;
      const clip = show(this.#current.clip.name);
      const said = `one frame has more than ${MOST_MOMENTS} moments, the last of clip ${clip}: ${this.#lastEvent}`;
      const hint = 'does a handler play again what calls it? or is one frame very long, and the clip very short?';
      this.#errors.push(new UnspoolError('play/circle', said, hint));
      break;
    }
    this.#momentTime = undefined;
    this.#left = 0;
    this.#write();
  }

  /** Runs what may call handlers; the errors of all of them come out at its end. */
  #guarded(run: () => void): void {
    this.#depth++;
    try {
      run();
    } finally {
      this.#depth--;
      if (this.#depth === 0) {
        this.#momentTime = undefined;
        this.#left = 0;
      }
    }
    if (this.#depth > 0 || this.#errors.length === 0) return;
    const errors = this.#errors;
    this.#errors = [];
    if (this.#onError) for (const error of errors) this.#onError(error);
    else throw errors[0];
  }

  #emit(type: EventType, playback: Playback<N>, cue: ResolvedCue | undefined): void {
    const handlers = this.#handlers.get(type);
    if (!handlers || handlers.size === 0) return;
    this.#lastEvent = cue ? `${type} ${show(cue.name)}` : type;
    // A playback that somebody stops is told of now, whenever its own last moment was.
    if (playback.active || playback.isOver) {
      this.#momentTime = playback.momentTime;
      this.#left = playback.leftOver;
    }
    const event = {
      type,
      ...(cue && { name: cue.name, data: cue.data }),
      clip: playback.clip.name,
      playback,
      at: playback.time,
      iteration: playback.iteration,
      time: this.time,
      late: this.#left,
    };
    this.#sampled = false;
    for (const handler of [...handlers]) {
      if (!handlers.has(handler)) continue; // taken off by another handler of this very event
      try {
        handler(event as never);
      } catch (error) {
        this.#errors.push(error);
      }
    }
  }

  /** Poses the cast by what plays now, if that has changed since it was last asked for. */
  #sample(): void {
    if (this.#sampled) return;
    this.#sampled = true;
    const playback = this.#current;
    const shows = playback && (playback.active || playback.after === 'hold');
    this.#stage.sample(playback?.clip, shows ? playback.time : undefined);
  }

  /** Writes a pose that is new. One that stands still is left alone, so that the game may move its objects itself. */
  #write(): void {
    if (this.#written) return;
    this.#sample();
    this.#stage.write();
    this.#written = true;
  }
}

function isCast<T>(entry: [string, T | undefined]): entry is [string, T] {
  return entry[1] !== undefined;
}
