import type { ResolvedCue } from '../reel/resolve/cue.js';
import type { CueMomentType } from '../play/time/cue-timeline.js';

const TYPES: readonly CueMomentType[] = ['cue', 'cue-start', 'cue-end'];

/** A cue event of a crowd. */
export interface CrowdCue {
  /** The id of the instance. */
  readonly id: number;
  readonly type: 'cue' | 'cue-start' | 'cue-end';
  readonly clip: string;
  readonly name: string;
  readonly data: unknown;
  /** Seconds between the event and the end of the tick. */
  readonly late: number;
}

/** The cues of a crowd's last tick. `for (const cue of crowd.cues)` creates an object for each; use `at(i)` for one. */
export class CueList implements Iterable<CrowdCue> {
  /** Number of cues. */
  count = 0;
  /** The id of the instance of each cue. */
  ids = new Float64Array(16);
  /** Seconds between each cue and the end of the tick. */
  late = new Float64Array(16);
  #codes = new Int32Array(16);
  readonly #cues: { readonly clip: string; readonly cue: ResolvedCue }[] = [];
  readonly #places = new Map<ResolvedCue, number>();

  /** Returns the cue at an index from 0 to `count − 1`. */
  at(i: number): CrowdCue {
    if (!(i >= 0 && i < this.count))
      throw new RangeError(`the cue index ${i} is out of range: there are ${this.count} cues`);
    const code = this.#codes[i]!;
    const { clip, cue } = this.#cues[Math.floor(code / 3)]!;
    const { name, data } = cue;
    return { id: this.ids[i]!, type: TYPES[code % 3]!, clip, name, data, late: this.late[i]! };
  }

  /** @internal The cue itself at an index. */
  cueAt(i: number): ResolvedCue {
    return this.#cues[Math.floor(this.#codes[i]! / 3)]!.cue;
  }

  /** Creates an object for each cue. */
  *[Symbol.iterator](): Iterator<CrowdCue> {
    for (let i = 0; i < this.count; i++) yield this.at(i);
  }

  /** @internal The cues from an index on are so many times as late. */
  stretch(from: number, by: number): void {
    for (let i = from; i < this.count; i++) this.late[i] = this.late[i]! * by;
  }

  /** @internal Has what another list has, and nothing else; the other is empty then. */
  take(other: CueList): void {
    this.count = 0;
    for (let i = 0; i < other.count; i++) {
      const code = other.#codes[i]!;
      const { clip, cue } = other.#cues[Math.floor(code / 3)]!;
      this.add(other.ids, i, clip, cue, TYPES[code % 3]!, other.late.subarray(i, i + 1));
    }
    other.count = 0;
  }

  /**
   * @internal
   * @param ids  has the id at `i`
   * @param late one number; below 0 it is none
   */
  add(ids: Float64Array, i: number, clip: string, cue: ResolvedCue, type: CueMomentType, late: Float64Array): void {
    if (this.count === this.#codes.length) this.#grow();
    let place = this.#places.get(cue);
    if (place === undefined) this.#places.set(cue, (place = this.#cues.push({ clip, cue }) - 1));
    this.ids[this.count] = ids[i]!;
    this.late[this.count] = Math.max(0, late[0]!);
    this.#codes[this.count++] = place * 3 + TYPES.indexOf(type);
  }

  #grow(): void {
    const room = this.count * 2;
    const [ids, late, codes] = [new Float64Array(room), new Float64Array(room), new Int32Array(room)];
    ids.set(this.ids);
    late.set(this.late);
    codes.set(this.#codes);
    [this.ids, this.late, this.#codes] = [ids, late, codes];
  }
}
