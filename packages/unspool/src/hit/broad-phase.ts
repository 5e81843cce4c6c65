import Flatbush from 'flatbush';
import type { OwnedShape } from './owner.js';
import { boxAround, type Vec } from '../shape/rounded.js';

/** The box that a shape stays in for so many seconds: its place, extended by how far it may move. */
function boxOf(one: OwnedShape, step: number): readonly [x0: number, y0: number, x1: number, y1: number] {
  const { low, high } = boxAround(one.at(0));
  const far = one.farthest(0, step, ANYWHERE);
  return [low[0] - far, low[1] - far, high[0] + far, high[1] + far];
}

const ANYWHERE: Vec = [0, 0];

/** Which shapes may come near which others within so many seconds: those whose boxes overlap. */
export class BroadPhase {
  readonly #index: Flatbush | undefined;
  readonly #targets: readonly OwnedShape[];

  constructor(
    targets: readonly OwnedShape[],
    readonly step: number,
  ) {
    this.#targets = targets;
    if (targets.length === 0) return;
    this.#index = new Flatbush(targets.length);
    for (const target of targets) this.#index.add(...boxOf(target, step));
    this.#index.finish();
  }

  /** In the order in which the targets were given; for a shorter time, only those of that time. */
  of(one: OwnedShape, step = this.step): OwnedShape[] {
    if (!this.#index) return [];
    const found = this.#index.search(...boxOf(one, step));
    return found.sort((a, b) => a - b).map((place) => this.#targets[place]!);
  }
}
