import type { ResolvedCue } from '../../reel/resolve/cue.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import { PlayerClock } from './player-clock.js';
import { EVENT_TYPES, type EventType } from '../time/event-types.js';
import { numberOut } from '../time/playhead.js';
import type { PlayerState } from '../state/saved.js';
import type { PlaybackSimulation, PlaybackHost, Skipping } from '../time/playback-simulation.js';

/** Handlers that call what calls handlers, and so on: deeper than this is a circle. */
const MAX_DEPTH = 100;

/** Events that are always reported, beyond `cueLimit` too. */
const OF_PLAYBACKS: readonly EventType[] = ['end', 'stop', 'skip', 'arrive', 'rule'];

/**
 * The time and event handlers of a player: the moment that is being handled, the handlers to call, and the errors that
 * they throw. As a clock it counts frames, up to the end of the current one.
 */
export class Dispatcher extends PlayerClock implements PlaybackHost {
  /**
   * The moment being handled: its time in seconds of the player, and how much of the running frame is left after it.
   */
  #momentTime = 0;
  #isMoment = false;
  left = 0;
  /** Whether the pose is that of now, and whether the objects show it. */
  isSampled = false;
  isWritten = true;
  /** Whether another set of playbacks may move than at the last write. */
  isRegrouped = true;
  /** Counts what makes it go on in another way: for those who look ahead. */
  revision = 0;
  /** Whether its objects are left as they are for now: a world of hits writes them when somebody may look. */
  isHeld = false;
  /** Whether a routine needs to know when the playheads of what begins now enter and leave spans. */
  isWatched = false;
  /** Whether something else than playheads has moments, so that none may be passed over. */
  isTimed = false;
  /** The last event that was emitted, for messages. */
  lastEvent = '';
  #handlers: Map<EventType, Set<(event: never) => void>> | undefined;
  #errors: unknown[] | undefined;
  /** Number of cue and loop events reported in this frame, and of those left out. */
  #emitted = 0;
  #skip: { loops: number; cues: number } | undefined;
  /** Of the player, the lowest first. */
  layers: readonly { readonly playback: PlaybackSimulation | undefined }[] = [];
  #depth = 0;
  skipping: Skipping;

  constructor(
    readonly onError: ((error: unknown) => void) | undefined,
    readonly cueLimit: number,
  ) {
    super();
  }

  /** Seconds of the player: the sum of its frames; while a moment is handled, up to that. */
  get now(): number {
    return this.#isMoment ? this.#momentTime : this.seconds;
  }

  /** Whether a handler is running, or a frame. */
  get isRunning(): boolean {
    return this.#depth > 0;
  }

  get hasListeners(): boolean {
    const handlers = this.#handlers;
    if (this.isTimed) return true;
    if (!handlers || this.#emitted >= this.cueLimit) return false;
    return EVENT_TYPES.some((type) => !OF_PLAYBACKS.includes(type) && handlers.get(type)?.size);
  }

  /** Something is another than it was: what plays, or how it is shown. */
  changed(): void {
    this.isSampled = false;
    this.isWritten = false;
    this.regroup();
  }

  /** Another set of playbacks may move than at the last write. */
  regroup(): void {
    this.isRegrouped = true;
    this.revise();
  }

  revise(): void {
    this.wake();
    this.revision = (this.revision + 1) | 0;
  }

  /** Whether any handler is there to be called. */
  get isHeard(): boolean {
    if (this.#handlers) for (const handlers of this.#handlers.values()) if (handlers.size > 0) return true;
    return false;
  }

  /** Time goes by for what plays anyway, or its cast is elsewhere. */
  moves(): void {
    this.wake();
    this.isSampled = false;
    this.isWritten = false;
  }

  handlersOf(type: EventType): Set<(event: never) => void> {
    if (!EVENT_TYPES.includes(type)) {
      const hint = suggest(String(type), EVENT_TYPES);
      throw new UnspoolError('play/unknown-event', `unknown event ${show(type)}`, hint);
    }
    this.#handlers ??= new Map();
    let handlers = this.#handlers.get(type);
    if (!handlers) this.#handlers.set(type, (handlers = new Set()));
    return handlers;
  }

  /** Player time is that of the playback's moment until the next, and its other playheads are shown there too. */
  moment(playback: PlaybackSimulation): void {
    const { head } = playback;
    this.#momentTime = head.momentTime;
    this.#isMoment = true;
    this.left = head.leftOver;
    this.#showAll(playback);
  }

  /** Like `moment`, for a moment that does not belong to a playback. */
  momentAt(time: number): void {
    this.#momentTime = time;
    this.#isMoment = true;
    this.left = Math.max(0, this.seconds - time);
    this.#showAll(undefined);
  }

  /** Like `momentAt`, for the start of the frame: all playheads are shown there, where the last frame has ended. */
  momentAtStart(): void {
    this.#momentTime = this.began;
    this.#isMoment = true;
    this.left = this.seconds - this.began;
  }

  /** Writes `now` into an array: the engine would box a returned number. */
  nowInto(out: Float64Array): void {
    out[0] = this.#isMoment ? this.#momentTime : this.seconds;
  }

  #showAll(but: PlaybackSimulation | undefined): void {
    this.isSampled = false;
    for (const layer of this.layers) {
      const other = layer.playback;
      // One that waits to begin does not move.
      if (other && other !== but && other.state === 'running' && other.isRunning) other.head.show(this.left);
    }
  }

  save(): PlayerState['clock'] {
    return { sum: numberOut(this.sum), lost: numberOut(this.lost) };
  }

  load({ sum, lost }: PlayerState['clock']): void {
    this.setClock(Number(sum), Number(lost));
    this.changed();
  }

  /** Releases all handlers. */
  dispose(): void {
    this.#handlers = undefined;
  }

  /** @returns false when it was left out, because the frame has reached `cueLimit` */
  emit(
    type: EventType,
    playback: PlaybackSimulation,
    cue: ResolvedCue | undefined,
    must: boolean,
    by?: PlaybackSimulation,
  ): boolean {
    const handlers = this.#handlers?.get(type);
    if (cue || type === 'loop') {
      if (this.skipping === 'silent' && !must) return false;
      if (this.#emitted >= this.cueLimit && !must) {
        if (type !== 'cue-end') this.skipped(cue ? 0 : 1, 0, cue ? 1 : 0);
        return false;
      }
      if (handlers?.size) this.#emitted++;
    }
    if (!handlers || handlers.size === 0) return true;
    this.lastEvent = cue ? `${type} ${show(cue.name)}` : type;
    // An event of a playback that is stopped has the current time, whenever its own last moment was.
    if (playback.active || playback.state === 'ended') this.moment(playback);
    this.emitNow({
      type,
      ...(cue && { name: cue.name, data: cue.data }),
      clip: playback.clip.name,
      playback,
      at: playback.time,
      iteration: playback.iteration,
      ...(type === 'stop' && { replacedBy: by }),
      time: this.now,
      late: this.late,
      ...(this.skipping && { skipped: true }),
    });
    return true;
  }

  /** How long before the end of the frame the moment is: `now + late` is the player's time after it. */
  get late(): number {
    return Math.max(0, this.seconds - this.now);
  }

  /** Calls the handlers of an event. */
  emitNow(event: { readonly type: EventType; readonly [member: string]: unknown }): void {
    const handlers = this.#handlers?.get(event.type);
    if (!handlers) return;
    if (this.#depth > MAX_DEPTH) {
      const message = `event handlers are nested ${MAX_DEPTH} deep, the last one for ${this.lastEvent}`;
      this.fail(new UnspoolError('play/circle', message, 'check for a handler that triggers its own event'));
      return;
    }
    this.isSampled = false;
    this.#depth++;
    for (const handler of [...handlers]) {
      if (!handlers.has(handler)) continue; // taken off by another handler of this very event
      try {
        handler(event as never);
      } catch (error) {
        this.fail(error);
      }
    }
    this.#depth--;
  }

  skipped(passes: number, cuesEach: number, cues = passes * cuesEach): void {
    if (this.#emitted < this.cueLimit) return;
    const skip = (this.#skip ??= { loops: 0, cues: 0 });
    skip.loops += passes;
    skip.cues += cues;
  }

  /** Reports the events that exceeded the limit. */
  #emitSkipped(): void {
    const skip = this.#skip;
    this.#emitted = 0;
    if (!skip) return;
    this.#skip = undefined;
    this.emitNow({ type: 'skip', ...skip, time: this.now });
  }

  /** Keeps an error until the current call is complete. */
  fail(error: unknown): void {
    (this.#errors ??= []).push(error);
  }

  /** Before and after whatever may call handlers; `leave` also when it throws. */
  enter(): void {
    this.#depth++;
  }

  leave(): void {
    this.#depth--;
    if (this.#depth === 0) this.endMoments();
  }

  /** At the end of the outermost: what handlers threw comes out. */
  report(): void {
    const errors = this.#errors;
    if (this.#depth > 0 || !errors) return;
    this.#errors = undefined;
    if (!this.onError) throw errors[0];
    for (const error of errors) this.onError(error);
  }

  /** No moment is being handled any longer, though the frame continues. */
  endMoments(): void {
    this.#isMoment = false;
    this.left = 0;
    this.#emitSkipped();
  }

  guarded(run: () => void): void {
    this.enter();
    try {
      run();
    } finally {
      this.leave();
    }
    this.report();
  }
}
