import { checkOptions } from '../errors/check-options.js';
import { mustBeReel } from '../clip/expect.js';
import type { Clip } from '../clip/clip.js';
import type { ReelNames } from '../clip/names.js';
import { prepareClip } from '../clip/fitted/prepare.js';
import type { Reel } from '../clip/reel.js';
import type { LoopDocument } from '../reel/document/document.js';
import { momentInside, rateOf } from '../play/time/clip-times.js';
import { startOf } from '../time/iteration.js';
import { repeatGiven } from '../play/time/settings.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { CueList } from './cue-list.js';
import { Group } from './group.js';
import { Ids } from './ids.js';
import type { CrowdState, GroupState } from './saved.js';
import { restoreCrowd, saveCrowd } from './state.js';
import { frameSeconds } from '../time/frame-seconds.js';
import type { Time } from '../time/units.js';

/** Options of `crowd.add(name, options)`. */
export interface CrowdOptions {
  /** Where the instance starts: a fraction of the duration, 0 to 1, from its usual start. Default: 0. */
  readonly phase?: number;
  /** Playback rate, multiplied by the clip's own: 1 is as authored, −1 backwards; within ±1e6. Default: 1. */
  readonly rate?: number;
  /** Overrides the loop mode of the clip: `'once'`, `'loop'`, `'ping-pong'` or `{ mode, count }`. */
  readonly loop?: LoopDocument;
}

/** Steps of preparing in each tick, until all clips are ready: about half a millisecond in a new process. */
const STEPS_A_TICK = 4;

/**
 * Thousands of playbacks of the clips of one reel, evaluated together. Calls no handlers and writes no objects: poses
 * are in `values`, cues in `cues`.
 *
 * Layout of `values`: the instances of one clip are contiguous, each with all numbers of the clip's pose, as in
 * `clip.layout`. Use `offsetOf` for the index. Indices are valid until an instance is added or removed.
 *
 * @example
 * const crowd = new Crowd(reel);
 * const id = crowd.add('sway', { phase: 0.3 });
 * crowd.tick(dt);
 * const y = crowd.values[crowd.offsetOf(id, 'weed.position.y')];
 */
export class Crowd<N extends ReelNames = ReelNames> {
  /** The reel whose clips it plays. */
  readonly reel: Reel<N>;
  /** Distance in `values` from one channel of a property to the next. */
  readonly stride = 1;
  /** The cues of the last tick, and intervals that ended because instances were removed. */
  readonly cues = new CueList();
  /** @internal Cues for the start of the next tick's list. */
  readonly pending = new CueList();
  /** @internal */
  readonly groups: Group[] = [];
  /** @internal */
  readonly ids = new Ids();
  readonly #groupOf = new Map<string, number>();
  #values = new Float64Array(0);
  #count = 0;
  #rate = 1;
  #isPaused = false;
  /** Whether all clips are prepared. */
  #isReady = false;

  /** @throws UnspoolError `play/no-reel` for anything but a reel */
  constructor(reel: Reel<N>) {
    mustBeReel(reel, 'new Crowd(parseReel(document))');
    this.reel = reel;
    reel.users?.add(new WeakRef(this));
  }

  /** @internal Plays a changed reel, whose clips its groups have already. */
  become(reel: Reel<N>): void {
    (this as { reel: Reel<N> }).reel = reel;
    this.#values = new Float64Array(0);
    this.#isReady = false;
    for (const group of this.groups) group.evaluate(this.values);
  }

  /** Number of instances. */
  get count(): number {
    return this.#count;
  }

  /** The poses of all instances after the last tick. See the class for the layout. */
  get values(): Float64Array {
    this.#makeRoom();
    return this.#values;
  }

  /**
   * Adds an instance of a clip. It starts with the next tick. Throws for an unknown name and for numbers out of range.
   *
   * @returns its id, an integer that is not reused before 256 other instances have used its slot
   */
  add(name: N['clip'], options: CrowdOptions = {}): number {
    checkOptions(options, ['phase', 'rate', 'loop'], 'add');
    const { phase = 0, rate = 1, loop } = options;
    const clip = this.reel.clip(name);
    if (!(phase >= 0 && phase <= 1)) {
      throw new UnspoolError(
        'crowd/phase',
        `the phase ${show(phase)} is not from 0 to 1`,
        'use a fraction of the duration',
      );
    }
    const repeat = loop === undefined ? clip.repeat : repeatGiven(loop);
    const speed = rateOf(rate) * clip.rate;
    const start = startOf(clip.duration, repeat, speed);
    const along = start + (speed < 0 ? -1 : 1) * phase * clip.duration;
    const index = this.#groupNamed(clip.name);
    this.groups[index]!.loopOf(repeat);
    const id = this.ids.take();
    this.ids.put(id, index, this.groups[index]!.add(id, Math.min(clip.duration, Math.max(0, along)), speed, repeat));
    this.#added();
    return id;
  }

  #added(): void {
    this.#count++;
    this.#isReady = false;
  }

  /** Removes an instance; intervals that it is inside of end. Throws for an unknown id. */
  remove(id: number): void {
    this.take(id, this.pending);
    this.ids.release(id);
  }

  /** @internal Takes an instance out of its group; its id stays taken. */
  take(id: number, cues: CueList): void {
    const [group, at] = this.placeOf(id);
    this.#makeRoom();
    group.remove(at, this.#values, cues);
    if (at < group.count) this.ids.places[this.ids.slotOf(group.ids[at]!)] = at;
    this.#count--;
  }

  /** @internal Adds an instance as it was saved. */
  put(id: number, saved: GroupState, i: number): void {
    const index = this.#groupNamed(saved.clip);
    this.ids.put(id, index, this.groups[index]!.put(id, saved, i));
    this.#added();
  }

  /** @internal Has no instances, and gets groups of these clips for new ones: in their order cues are listed. */
  clear(clips: readonly string[]): void {
    this.groups.length = 0;
    this.#groupOf.clear();
    this.#values = new Float64Array(0);
    this.#count = 0;
    for (const clip of clips) this.#groupNamed(clip);
  }

  /** Returns whether an id belongs to an instance. */
  has(id: number): boolean {
    if (!this.ids.mayBe(id)) return false;
    const slot = this.ids.slotOf(id);
    return this.groups[this.ids.groups[slot]!]?.ids[this.ids.places[slot]!] === id;
  }

  /** @internal */
  clipNamed(name: string): Clip | undefined {
    return this.reel.clipNames.includes(name) ? this.reel.clip(name) : undefined;
  }

  /** @internal The group of a clip, made if need be. */
  groupFor(clip: string): Group {
    return this.groups[this.#groupNamed(clip)]!;
  }

  /** @internal The group of an instance, and its place in there. Throws for an unknown id. */
  placeOf(id: number): readonly [group: Group, place: number] {
    const slot = this.#find(id);
    return [this.groups[this.ids.groups[slot]!]!, this.ids.places[slot]!];
  }

  /** Returns whether an instance has ended. It stays, and keeps what its clip leaves behind. */
  isOver(id: number): boolean {
    const [group, place] = this.placeOf(id);
    return group.isOver(place);
  }

  /** Returns the time of an instance inside its clip, in seconds. */
  timeOf(id: number): number {
    const [group, place] = this.placeOf(id);
    return group.timeOf(place);
  }

  /** How fast all of them go, on top of their own rates: 0 to 1e6. Default: 1. Throws for another number. */
  get rate(): number {
    return this.#rate;
  }

  set rate(rate: number) {
    if (!(rateOf(rate) >= 0))
      throw new UnspoolError('crowd/rate', `a crowd cannot go at the rate ${show(rate)}`, 'use 0 to 1e6; setRate turns single instances around'); // prettier-ignore
    this.#rate = rate;
  }

  /** Pauses all, or one: no time passes for it until `resume`. Throws for an unknown id. */
  pause(id?: number): void {
    this.#pause(id, true);
  }

  /** Continues all from exactly there, or one; those that were paused singly stay so. Throws for an unknown id. */
  resume(id?: number): void {
    this.#pause(id, false);
  }

  #pause(id: number | undefined, isPaused: boolean): void {
    if (id === undefined) this.#isPaused = isPaused;
    else {
      const [group, place] = this.placeOf(id);
      group.pause(place, isPaused);
    }
  }

  /** Returns whether all are paused, or whether one is by itself. Throws for an unknown id. */
  isPaused(id?: number): boolean {
    if (id === undefined) return this.#isPaused;
    const [group, place] = this.placeOf(id);
    return group.isPaused(place);
  }

  /** Returns the rate of an instance, relative to its clip's own. Throws for an unknown id. */
  rateOf(id: number): number {
    const [group, place] = this.placeOf(id);
    return group.rateOf(place) / group.clip.rate;
  }

  /**
   * Sets the rate of an instance, relative to its clip's own: 1 is as authored, −1 turns it around, 0 stops it; within
   * ±1e6. Throws for an unknown id and another rate.
   */
  setRate(id: number, rate: number): void {
    const [group, place] = this.placeOf(id);
    group.setRate(place, rateOf(rate) * group.clip.rate, this.pending);
  }

  /**
   * Moves the playhead of an instance, inside its iteration; one that has ended plays on from there. Intervals that it
   * leaves end with the next tick, and those that it comes into start; no other cue fires. Throws for an unknown id and
   * for a time that its clip does not have.
   *
   * @param time seconds inside the clip, a string with a unit (`'9f'`), or the name of a cue or a span (its start)
   */
  seek(id: number, time: Time | N['cue'] | N['span']): void {
    const [group, place] = this.placeOf(id);
    group.seek(place, momentInside(group.clip, time, 'seek', 0), this.pending);
  }

  /**
   * Puts every instance where it is so many seconds after it began, at the rate that it has now: all of them begin
   * together, each with its own phase. What is paused stays so. Cues as with `seek`.
   *
   * @param seconds 0 or more, finite
   */
  seekAll(seconds: number): void {
    if (!(Number.isFinite(seconds) && seconds >= 0))
      throw new UnspoolError('crowd/time', `the time ${show(seconds)} is not one to seek to`, 'use finite seconds of 0 or more'); // prettier-ignore
    for (const group of this.groups) group.seekAll(seconds, this.pending);
  }

  /** Returns the state of all instances, or of one, as plain JSON for `restore`. Throws for an unknown id. */
  save(id?: number): CrowdState {
    return saveCrowd(this, id);
  }

  /**
   * Becomes what was saved: the same instances, with the same ids, at the same moment. Or gives one instance the state
   * of one: its clip, time, rate and whether it is paused. Fires no cues. A playhead beyond the end of a clip that is
   * shorter now is at its end.
   *
   * @throws UnspoolError `crowd/state` for anything but an unmodified result of `save` of a crowd of this reel, before
   *   anything changes; `crowd/unknown-id`
   */
  restore(state: CrowdState, id?: number): void {
    restoreCrowd(this, state, id);
  }

  /**
   * Returns the index in `values` of the first channel of a property; the others follow at `stride`. A channel can be
   * named too: `fish.position.y`. Without a name, the index where the pose of the instance begins. Throws for an unknown
   * id or name.
   */
  offsetOf(id: number, property?: string): number {
    const slot = this.#find(id);
    this.#makeRoom();
    const group = this.groups[this.ids.groups[slot]!]!;
    const start = group.offset + this.ids.places[slot]! * group.width;
    return property === undefined ? start : start + group.clip.layout.offsetOf(property);
  }

  /**
   * Prepares the clips of all instances and the named ones, see `prepareClip`. Otherwise each tick prepares a little of
   * what plays; until a clip is ready, an instance of it costs as much as a player.
   *
   * @returns whether all of them are ready
   */
  prepare(names: readonly N['clip'][] = [], isOver?: () => boolean): boolean {
    const given: unknown = names;
    if (!Array.isArray(given))
      throw new UnspoolError('crowd/prepare', `prepare expects a list of clips, found ${show(names)}`, "pass ['swim']");
    for (const name of names) this.#groupNamed(name);
    return this.groups.every(({ clip }) => prepareClip(clip, isOver));
  }

  /**
   * Advances all instances by `dt` seconds.
   *
   * @throws RangeError for a `dt` that is not a finite number ≥ 0 (down to -0.1 it counts as 0), before anything
   *   changes
   */
  tick(dt: number): void {
    const elapsed = frameSeconds(dt);
    const seconds = this.#isPaused ? 0 : Math.min(elapsed * this.#rate, Number.MAX_VALUE);
    this.#makeRoom();
    this.cues.take(this.pending);
    const first = this.cues.count;
    for (const group of this.groups) {
      group.advance(seconds, this.cues);
      group.evaluate(this.#values);
    }
    if (this.#rate > 0) this.cues.stretch(first, 1 / this.#rate);
    if (!this.#isReady) this.#prepareSome();
  }

  #prepareSome(): void {
    let steps = 0;
    const isOver = () => ++steps >= STEPS_A_TICK;
    this.#isReady = this.groups.every(({ clip, count }) => count === 0 || prepareClip(clip, isOver));
  }

  #groupNamed(name: string): number {
    let index = this.#groupOf.get(name);
    if (index === undefined) {
      index = this.groups.push(new Group(this.reel.clip(name))) - 1;
      this.#groupOf.set(name, index);
    }
    return index;
  }

  #find(id: number): number {
    if (this.has(id)) return this.ids.slotOf(id);
    throw new UnspoolError('crowd/unknown-id', `unknown instance id ${String(id)}`, 'check whether it was removed');
  }

  /** Lays out the groups again when one has outgrown its space. */
  #makeRoom(): void {
    const size = this.groups.reduce((sum, { capacity, width }) => sum + capacity * width, 0);
    if (size === this.#values.length) return;
    const values = new Float64Array(size);
    let offset = 0;
    for (const group of this.groups) {
      values.set(this.#values.subarray(group.offset, group.offset + group.count * group.width), offset);
      group.offset = offset;
      offset += group.capacity * group.width;
    }
    this.#values = values;
  }
}
