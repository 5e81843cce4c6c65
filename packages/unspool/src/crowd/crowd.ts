import type { Layout } from '../clip/layout.js';
import type { ReelNames } from '../clip/names.js';
import { prepareClip } from '../clip/prepare.js';
import type { Reel } from '../clip/reel.js';
import type { LoopDocument } from '../reel/document.js';
import { rateOf } from '../play/clip-times.js';
import { startOf } from '../play/iterations.js';
import { checkOptions, repeatGiven } from '../play/settings.js';
import { KINDS } from '../value/kind.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { CueList } from './cue-list.js';
import { Group, resized, roomFor } from './group.js';
import { frameSeconds } from '../time/frame-seconds.js';

export interface CrowdOptions {
  /** How far it has come when it begins: a share of the duration, 0–1, from where it would begin otherwise. */
  readonly phase?: number;
  /** Multiplies the clip's own rate: 1 as authored, −1 backwards; within ±1e6. */
  readonly rate?: number;
  /** Replaces the clip's own loop mode. */
  readonly loop?: LoopDocument;
}

/** An id is the place of an instance, and above it how often the place was taken before. */
const PLACES = 2 ** 24;

/**
 * Thousands of playbacks of the clips of one reel, evaluated together. No handlers are called and no objects written:
 * poses stand in `values`, cues in `cues`.
 *
 * The layout of `values`: the instances of one clip stand together, each with all numbers of the clip's pose one after
 * the other, as in `clip.layout`. `offsetOf` says where. Both hold until an instance is added or removed.
 */
export class Crowd<N extends ReelNames = ReelNames> {
  readonly reel: Reel<N>;
  /** From one channel of a property to the next in `values`. */
  readonly stride = 1;
  /** The cues passed in the last tick, and what ended when instances were removed since the one before. */
  readonly cues = new CueList();
  /** What the next tick will tell of first. */
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
  }

  /** How many instances there are. */
  get count(): number {
    return this.#count;
  }

  /** The poses of all instances, as of the last tick. See the class for its layout. */
  get values(): Float64Array {
    this.#makeRoom();
    return this.#values;
  }

  /**
   * Adds an instance of a clip. It begins, and has a pose, with the next tick. Throws for an unknown name and for
   * numbers out of range.
   *
   * @returns its id: a whole number that is not given again until 256 others have had its place
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

  /** Takes an instance out. Intervals that it is inside of end. Throws for an id that is not there. */
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

  /** Whether an id is that of an instance. */
  has(id: number): boolean {
    const place = id % PLACES;
    const { ids } = this.#groups[this.#group[place] ?? 0] ?? {};
    return place < this.#taken && ids?.[this.#place[place]!] === id;
  }

  /** Whether an instance has come to its end. It stays, and shows what its clip leaves behind. */
  isOver(id: number): boolean {
    const place = this.#find(id);
    return this.#groups[this.#group[place]!]!.isOver(this.#place[place]!);
  }

  /** The time inside its clip at which an instance is, in seconds. */
  timeOf(id: number): number {
    const place = this.#find(id);
    return this.#groups[this.#group[place]!]!.timeOf(this.#place[place]!);
  }

  /**
   * Where a property of an instance stands in `values`: the place of its first channel; the next ones follow at
   * `stride`. A channel may be named too (`fish.position.y`). Throws for an id or a name that is not there.
   */
  offsetOf(id: number, property: string): number {
    const place = this.#find(id);
    this.#makeRoom();
    const group = this.#groups[this.#group[place]!]!;
    return group.offset + this.#place[place]! * group.width + indexIn(group.clip.layout, property);
  }

  /**
   * Gets the clips of all instances ready, and of those named: see `prepareClip`. A clip that is not ready is played
   * all the same, at the cost of a player.
   *
   * @returns whether all are ready
   */
  prepare(names: readonly N['clip'][] = [], isOver?: () => boolean): boolean {
    for (const name of names) this.#groupNamed(name);
    return this.#groups.every(({ clip }) => prepareClip(clip, isOver));
  }

  /**
   * One frame: `dt` seconds go by.
   *
   * @throws RangeError for a `dt` that is not a finite number ≥ 0 (from -0.1 on it counts as 0), before anything changed
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

  /** Lays the groups out anew where one has outgrown its room. */
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

/** Where the first number of a property, or the one of a channel (`fish.position.y`), stands in a pose. */
function indexIn(layout: Layout, name: string): number {
  const dot = name.lastIndexOf('.');
  const whole = layout.find(name) ? undefined : layout.find(name.slice(0, dot));
  const channels: readonly string[] = whole ? KINDS[whole.kind].channels : [];
  const channel = channels.indexOf(name.slice(dot + 1));
  return whole && channel >= 0 ? whole.offset + channel : layout.slot(name).offset;
}
