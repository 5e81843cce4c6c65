import { contains, overlap } from './boxes.js';
import type { Activation, OwnedShape } from './owner.js';
import { firstContact } from './sweep.js';

/** The box in which a shape stays until its owner's next moment, and that of another. */
const OWN = new Float64Array(4);
const OTHER = new Float64Array(4);

/** Whether two sides may hit each other. */
export type May = ((by: OwnedShape, to: OwnedShape) => boolean) | undefined;

/** A shape that hits, with all that it may hit in this frame, and when it does first. */
export class Aim {
  /** Those whose boxes overlap its own, the first `count` of these; and the places of the two among all. */
  readonly near: OwnedShape[] = [];
  count = 0;
  /** By place in `near`: when they meet first, Infinity for not at all; in which activation; and when that was asked. */
  #times = new Float64Array(8);
  readonly #activations: (Activation | undefined)[] = [];
  readonly #data: unknown[] = [];
  #asked = new Int32Array(8);
  /** Those that `may` has refused. */
  readonly #refused: boolean[] = [];
  /** The box that its neighbors were found for. */
  readonly #box = new Float64Array(4);
  /** When it meets any of them first. */
  first = Infinity;
  /** Whether anything of it is to be asked anew. */
  isOpen = true;

  /**
   * @param pair which of the pairs of tags it belongs to
   * @param place its place among the shapes of the world, in the order in which they were added
   */
  constructor(
    readonly by: OwnedShape,
    readonly pair: number,
    readonly place: number,
  ) {}

  /** A frame begins. */
  begin(): void {
    this.count = 0;
    this.first = Infinity;
    this.isOpen = true;
    this.#box.set(this.by.box);
  }

  add(to: OwnedShape): void {
    if (to.owner === this.by.owner) return;
    const at = this.count++;
    if (at >= this.#times.length) {
      const [times, asked] = [this.#times, this.#asked];
      this.#times = new Float64Array(2 * at);
      this.#times.set(times);
      this.#asked = new Int32Array(2 * at);
      this.#asked.set(asked);
    }
    this.near[at] = to;
    this.#times[at] = Infinity;
    this.#asked[at] = -1;
  }

  /** In the middle of a frame it goes on in another way: what may be near now, too. */
  extend(targets: readonly OwnedShape[]): void {
    const { box } = this.by;
    this.isOpen = true;
    if (contains(this.#box, box)) return;
    this.#box.set(box);
    for (let i = 0; i < targets.length; i++) this.meet(targets[i]!);
  }

  /** A target goes on in another way, and may be near now. */
  meet(to: OwnedShape): void {
    // What was known to be near may be so no longer.
    this.isOpen = true;
    if (!overlap(this.by.box, to.box)) return;
    for (let i = 0; i < this.count; i++) if (this.near[i] === to) return;
    this.add(to);
  }

  /**
   * Finds when it meets its neighbors first, where that is not known.
   *
   * @param now    seconds of the frame: nothing before counts
   * @param newest the last round in which any owner has looked ahead
   */
  find(now: number, newest: number, may: May): void {
    const { by, count } = this;
    if (!this.isOpen) return;
    this.isOpen = false;
    const isActive = by.count > 0;
    let hasBox = false;
    for (let i = 0; i < count; i++) {
      const to = this.near[i]!;
      const asked = this.#asked[i]!;
      if (asked < by.owner.looked || asked < to.owner.looked) {
        this.#asked[i] = newest;
        this.#times[i] = Infinity;
        this.#refused[i] = false;
        if (isActive && to.count > 0 && overlap(by.box, to.box)) {
          if (!hasBox) by.boxInto(now, OWN);
          hasBox = true;
          this.#findAt(i, now, may);
        }
      }
    }
    this.#findFirst();
  }

  #findFirst(): void {
    this.first = Infinity;
    for (let i = 0; i < this.count; i++) this.first = Math.min(this.first, this.#times[i]!);
  }

  /** What it meets first is known: another activation of it may meet the same later. */
  ask(at: number): void {
    this.#asked[at] = -1;
    this.isOpen = true;
  }

  /** Whether the two may still hit each other, now that they meet; if not, they do not. */
  confirm(at: number, may: May): boolean {
    if (!may || may(this.by, this.near[at]!)) return true;
    this.#refused[at] = true;
    this.#times[at] = Infinity;
    this.#findFirst();
    return false;
  }

  /** Handlers were called: what was refused may be allowed now. */
  reconsider(): void {
    for (let i = 0; i < this.count; i++) if (this.#refused[i]) this.ask(i);
  }

  time(at: number): number {
    return this.#times[at]!;
  }

  activation(at: number): Activation {
    return this.#activations[at]!;
  }

  data(at: number): unknown {
    return this.#data[at];
  }

  #findAt(i: number, now: number, may: May): void {
    const { by } = this;
    const to = this.near[i]!;
    if (!overlap(OWN, to.box)) return;
    // Where a smaller box may be worth its while.
    if (to.owner.until < Infinity) {
      to.boxInto(now, OTHER);
      if (!overlap(OWN, OTHER)) return;
    }
    if (may && !may(by, to)) {
      this.#refused[i] = true;
      return;
    }
    for (let k = 0; k < by.count; k++) {
      const { activation, data, from, until } = by.windows[k]!;
      if (activation.targets?.has(to.owner.name)) continue;
      for (let m = 0; m < to.count; m++) {
        const other = to.windows[m]!;
        const start = Math.max(now, from, other.from);
        const end = Math.min(until, other.until);
        if (start > end) continue;
        const time = firstContact(by, to, start, end);
        if (time === undefined) continue;
        this.#times[i] = time;
        this.#activations[i] = activation;
        this.#data[i] = data;
        return;
      }
    }
  }
}
