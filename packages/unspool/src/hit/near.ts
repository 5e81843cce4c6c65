import type { Aim } from './aim.js';
import { ENDLESS } from './boxes.js';
import type { OwnedShape } from './owner.js';

/** Where one axis is so much longer than the other, the boxes are sorted along it. */
const LONGER = 1.5;
/** Numbers of a box. */
const BOX = 4;

/**
 * Finds which boxes overlap, by sorting them along an axis (sort and sweep: Baraff, "Dynamic simulation of
 * non-penetrating rigid bodies", 1992). From frame to frame their order hardly changes, so that sorting them again
 * costs little.
 */
export class Near {
  /** The places of the shapes that hit or are hit, in order along the axis. */
  readonly #order: Int32Array;
  /** Those that the sweep is inside of. */
  readonly #hitting: Int32Array;
  readonly #hit: Int32Array;
  /** By place: 1 for a target; what hits with it. */
  readonly #isTarget: Uint8Array;
  readonly #aims: readonly (Aim | undefined)[];
  #axis = 0;

  /**
   * @param shapes all of the world, by place
   * @param boxes  their boxes, one behind the other
   */
  constructor(
    readonly shapes: readonly OwnedShape[],
    readonly boxes: Float64Array,
    aims: readonly Aim[],
    targets: readonly OwnedShape[],
  ) {
    const hits = new Set(targets);
    const own = new Map(aims.map((aim) => [aim.by, aim]));
    this.#isTarget = Uint8Array.from(shapes, (shape) => (hits.has(shape) ? 1 : 0));
    this.#aims = shapes.map((shape) => own.get(shape));
    this.#order = Int32Array.from(shapes.keys()).filter((at) => this.#aims[at] ?? this.#isTarget[at] === 1);
    this.#hitting = new Int32Array(this.#order.length);
    this.#hit = new Int32Array(this.#order.length);
    this.#sort();
  }

  /** Adds to every aim the targets whose boxes overlap that of its shape. */
  find(): void {
    this.#choose();
    this.#settle();
    const { boxes, shapes } = this;
    const order = this.#order;
    const hitting = this.#hitting;
    const hit = this.#hit;
    const axis = this.#axis;
    let hitters = 0;
    let targets = 0;
    for (let i = 0; i < order.length; i++) {
      const place = order[i]!;
      const low = boxes[BOX * place + axis]!;
      // What is not active comes last.
      if (low === Infinity) break;
      const across = boxes[BOX * place + 1 - axis]!;
      const acrossEnd = boxes[BOX * place + 3 - axis]!;
      const isTarget = this.#isTarget[place] === 1;
      if (isTarget) {
        let kept = 0;
        for (let k = 0; k < hitters; k++) {
          const at = hitting[k]!;
          if (boxes[BOX * at + axis + 2]! < low) continue;
          hitting[kept++] = at;
          if (boxes[BOX * at + 1 - axis]! <= acrossEnd && boxes[BOX * at + 3 - axis]! >= across)
            this.#aims[at]!.add(shapes[place]!);
        }
        hitters = kept;
      }
      const aim = this.#aims[place];
      if (aim) {
        let kept = 0;
        for (let k = 0; k < targets; k++) {
          const at = hit[k]!;
          if (boxes[BOX * at + axis + 2]! < low) continue;
          hit[kept++] = at;
          if (boxes[BOX * at + 1 - axis]! <= acrossEnd && boxes[BOX * at + 3 - axis]! >= across) aim.add(shapes[at]!);
        }
        targets = kept;
        hitting[hitters++] = place;
      }
      if (isTarget) hit[targets++] = place;
    }
  }

  /** Takes the axis along which they lie further apart. */
  #choose(): void {
    const along = spread(this.boxes, this.#axis);
    if (!(spread(this.boxes, 1 - this.#axis) > LONGER * along)) return;
    this.#axis = 1 - this.#axis;
    this.#sort();
  }

  #sort(): void {
    const { boxes } = this;
    const axis = this.#axis;
    this.#order.sort((a, b) => {
      const [x, y] = [boxes[BOX * a + axis]!, boxes[BOX * b + axis]!];
      return x < y ? -1 : x > y ? 1 : 0;
    });
  }

  /** Sorts what is nearly sorted; all of it when too much has moved. */
  #settle(): void {
    const { boxes } = this;
    const order = this.#order;
    const axis = this.#axis;
    let left = 16 * order.length;
    for (let i = 1; i < order.length; i++) {
      const place = order[i]!;
      const low = boxes[BOX * place + axis]!;
      let k = i - 1;
      while (k >= 0 && boxes[BOX * order[k]! + axis]! > low && left > 0) {
        order[k + 1] = order[k]!;
        k--;
        left--;
      }
      order[k + 1] = place;
      if (left > 0) continue;
      this.#sort();
      return;
    }
  }
}

/** How far apart the boxes lie along an axis, without those that have no end. */
function spread(boxes: Float64Array, axis: number): number {
  let low = Infinity;
  let high = -Infinity;
  for (let i = axis; i < boxes.length; i += BOX) {
    const at = boxes[i]!;
    if (at < low && at > -ENDLESS) low = at;
    if (at > high && at < ENDLESS) high = at;
  }
  return high - low;
}
