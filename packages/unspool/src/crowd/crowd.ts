import type { ReelNames } from '../clip/names.js';
import { prepareClip } from '../clip/prepare.js';
import type { Reel } from '../clip/reel.js';
import type { LoopDocument } from '../reel/document/document.js';
import { rateOf } from '../play/time/clip-times.js';
import { startOf } from '../time/iteration.js';
import { checkOptions, repeatGiven } from '../play/time/settings.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { CueList } from './cue-list.js';
import { Group, resized, roomFor } from './group.js';
import { frameSeconds } from '../time/frame-seconds.js';

/** Options of `crowd.add(name, options)`. */
export interface CrowdOptions {
  /** Where the instance starts: a fraction of the duration, 0 to 1, from its usual start. Default: 0. */
  readonly phase?: number;
  /** Playback rate, multiplied by the clip's own: 1 is as authored, −1 backwards; within ±1e6. Default: 1. */
  readonly rate?: number;
  /** Overrides the loop mode of the clip: `'once'`, `'loop'`, `'ping-pong'` or `{ mode, count }`. */
  readonly loop?: LoopDocument;
}

/** An id is the place of an instance, and above it how often the place was taken before. */
const PLACES = 2 ** 24;

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
  /** Cues for the start of the next tick's list. */
  readonly #pending = new CueList();
  readonly #groups: Group[] = [];
  readonly #groupOf = new Map<string, number>();
  #values = new Float64Array(0);
  /** By the place of an id: its group and place in there, and how often the place was taken. */
  #group = new Uint16Array(0);
  #place = new Int32Array(0);
  #turns = new Uint8Array(0);
  readonly #free: number[] = [];
  #taken = 0;
  #count = 0;

  constructor(reel: Reel<N>) {
    this.reel = reel;
    reel.users?.add(new WeakRef(this));
  }

  /** @internal */
  get groups(): readonly Group[] {
    return this.#groups;
  }

  /** @internal Plays a changed reel, whose clips its groups have already. */
  become(reel: Reel<N>): void {
    (this as { reel: Reel<N> }).reel = reel;
    this.#values = new Float64Array(0);
    for (const group of this.#groups) group.evaluate(this.values);
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
    const place = this.#free.pop() ?? this.#newPlace();
    const id = this.#turns[place]! * PLACES + place;
    this.#group[place] = index;
    this.#place[place] = this.#groups[index]!.add(id, Math.min(clip.duration, Math.max(0, along)), speed, repeat);
    this.#count++;
    return id;
  }

  /** Removes an instance; intervals that it is inside of end. Throws for an unknown id. */
  remove(id: number): void {
    const place = this.#find(id);
    const group = this.#groups[this.#group[place]!]!;
    const at = this.#place[place]!;
    this.#makeRoom();
    group.remove(at, this.#values, this.#pending);
    if (at < group.count) this.#place[group.ids[at]! % PLACES] = at;
    this.#turns[place] = this.#turns[place]! + 1;
    this.#free.push(place);
    this.#count--;
  }

  /** Returns whether an id belongs to an instance. */
  has(id: number): boolean {
    const place = id % PLACES;
    const { ids } = this.#groups[this.#group[place] ?? 0] ?? {};
    return place < this.#taken && ids?.[this.#place[place]!] === id;
  }

  /** Returns whether an instance has ended. It stays, and keeps what its clip leaves behind. */
  isOver(id: number): boolean {
    const place = this.#find(id);
    return this.#groups[this.#group[place]!]!.isOver(this.#place[place]!);
  }

  /** Returns the time of an instance inside its clip, in seconds. */
  timeOf(id: number): number {
    const place = this.#find(id);
    return this.#groups[this.#group[place]!]!.timeOf(this.#place[place]!);
  }

  /**
   * Returns the index in `values` of the first channel of a property; the others follow at `stride`. A channel can be
   * named too: `fish.position.y`. Without a name, the index where the pose of the instance begins. Throws for an unknown
   * id or name.
   */
  offsetOf(id: number, property?: string): number {
    const place = this.#find(id);
    this.#makeRoom();
    const group = this.#groups[this.#group[place]!]!;
    const start = group.offset + this.#place[place]! * group.width;
    return property === undefined ? start : start + group.clip.layout.offsetOf(property);
  }

  /**
   * Prepares the clips of all instances and the named ones, see `prepareClip`. A clip that is not prepared plays too,
   * at the cost of a player.
   *
   * @returns whether all of them are ready
   */
  prepare(names: readonly N['clip'][] = [], isOver?: () => boolean): boolean {
    for (const name of names) this.#groupNamed(name);
    return this.#groups.every(({ clip }) => prepareClip(clip, isOver));
  }

  /**
   * Advances all instances by `dt` seconds.
   *
   * @throws RangeError for a `dt` that is not a finite number ≥ 0 (down to -0.1 it counts as 0), before anything
   *   changes
   */
  tick(dt: number): void {
    dt = frameSeconds(dt);
    this.#makeRoom();
    this.cues.take(this.#pending);
    for (const group of this.#groups) {
      group.advance(dt, this.cues);
      group.evaluate(this.#values);
    }
  }

  #groupNamed(name: N['clip']): number {
    let index = this.#groupOf.get(name);
    if (index === undefined) {
      index = this.#groups.push(new Group(this.reel.clip(name))) - 1;
      this.#groupOf.set(name, index);
    }
    return index;
  }

  #newPlace(): number {
    if (this.#taken === this.#place.length) {
      const room = roomFor(this.#taken + 1);
      this.#group = resized(this.#group, room);
      this.#place = resized(this.#place, room);
      this.#turns = resized(this.#turns, room);
    }
    return this.#taken++;
  }

  #find(id: number): number {
    if (this.has(id)) return id % PLACES;
    throw new UnspoolError('crowd/unknown-id', `unknown instance id ${String(id)}`, 'check whether it was removed');
  }

  /** Lays out the groups again when one has outgrown its space. */
  #makeRoom(): void {
    const size = this.#groups.reduce((sum, { capacity, width }) => sum + capacity * width, 0);
    if (size === this.#values.length) return;
    const values = new Float64Array(size);
    let offset = 0;
    for (const group of this.#groups) {
      values.set(this.#values.subarray(group.offset, group.offset + group.count * group.width), offset);
      group.offset = offset;
      offset += group.capacity * group.width;
    }
    this.#values = values;
  }
}
