import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { checkPlacement } from '../play/pose/placement.js';
import { FARTHEST } from '../value/number.js';
import { Core } from '../shape/core.js';
import type { Rounded, Vec } from '../shape/rounded.js';
import { movedShape, roundedOf, type HitShape } from '../shape/shapes.js';
import { boxOf, empty } from './boxes.js';
import { checkShapes } from './check-arguments.js';
import type { FrameClock } from './frame-motion.js';
import type { ShapeAt } from './moving-shape.js';
import { Activation, type ActiveWindow, type HitBody, type OwnedShape, type Owner } from './owner.js';
import { TOLERANCE } from './sweep.js';

/** A body: shapes that move with it in a straight line from the start of a frame to its end. */
export class BodyOwner implements Owner {
  readonly shapes: readonly BodyShape[];
  /** Where it goes in a frame is known when that begins. */
  readonly until = Infinity;
  looked = 0;
  /** Where it is at the start of the frame, and at its end. */
  x0 = 0;
  y0 = 0;
  x1 = 0;
  y1 = 0;
  #isPut = false;
  /** The activation that its shapes are in. */
  activation: string | number | null | undefined;

  constructor(
    readonly name: string,
    readonly clock: FrameClock,
    readonly body: HitBody,
  ) {
    checkShapes(name, body.shapes);
    this.shapes = Object.entries(body.shapes).map(
      ([name, { shape, tag, data }]) => new BodyShape(this, name, tag, data, roundedOf(shape)),
    );
    this.activation = body.activation;
    this.#read();
    [this.x0, this.y0] = [this.x1, this.y1];
  }

  #read(): void {
    const { position } = this.body as { readonly position: unknown };
    if (position === undefined)
      throw new UnspoolError('hit/body', `the body ${show(this.name)} has no position`, 'set it: { shapes, position: [x, y] }'); // prettier-ignore
    const isPair = Array.isArray(position) && position.length === 2 && isPlace(position[0]) && isPlace(position[1]);
    if (!isPair) checkPlacement({ position: position as Vec });
    this.x1 = (position as Vec)[0];
    this.y1 = (position as Vec)[1];
  }

  begin(): void {
    this.x0 = this.x1;
    this.y0 = this.y1;
    this.#read();
    if (!this.#isPut) {
      this.x0 = this.x1;
      this.y0 = this.y1;
    }
    this.#isPut = true;
    const { activation } = this.body;
    if (activation !== this.activation) {
      this.activation = activation;
      for (const { windows } of this.shapes) windows[0].activation = new Activation();
    }
    for (let i = 0; i < this.shapes.length; i++) this.shapes[i]!.begin();
  }

  /** It is elsewhere at once. */
  reset(x: number, y: number): void {
    this.#isPut = true;
    [this.x0, this.y0, this.x1, this.y1] = [x, y, x, y];
  }

  shown(): ShapeAt[] {
    const { position, shapes, activation } = this.body;
    if (activation === null) return [];
    const [x, y] = position;
    const moved = (shape: HitShape) => movedShape(shape, ([a, b]) => [a + x, b + y]);
    return Object.entries(shapes).map(([name, { tag, shape }]) => ({ name, tag, shape: moved(shape) }));
  }
}

const isPlace = (n: unknown): boolean => typeof n === 'number' && Math.abs(n) <= FARTHEST;

class BodyShape implements OwnedShape {
  readonly windows: readonly [ActiveWindow];
  box: Float64Array = new Float64Array(4);
  /** The box around it where its body is at 0, 0. */
  readonly #own = new Float64Array(4);

  constructor(
    readonly owner: BodyOwner,
    readonly name: string,
    readonly tag: string,
    data: unknown,
    readonly rounded: Rounded,
  ) {
    this.windows = [{ activation: new Activation(), data, from: 0, until: Infinity }];
    boxOf(new Core().set(rounded), this.#own);
  }

  get count(): number {
    return this.owner.activation === null ? 0 : 1;
  }

  begin(): void {
    const { box, owner } = this;
    empty(box);
    if (this.count === 0) return;
    const own = this.#own;
    box[0] = Math.min(owner.x0, owner.x1) + own[0]! - TOLERANCE;
    box[1] = Math.min(owner.y0, owner.y1) + own[1]! - TOLERANCE;
    box[2] = Math.max(owner.x0, owner.x1) + own[2]! + TOLERANCE;
    box[3] = Math.max(owner.y0, owner.y1) + own[3]! + TOLERANCE;
  }

  boxInto(_from: number, box: Float64Array): void {
    box.set(this.box);
  }

  put(time: number, core: Core): void {
    const { x0, y0, x1, y1, clock } = this.owner;
    const share = time < clock.length ? time / clock.length : 1;
    core.set(this.rounded, x0 + (x1 - x0) * share, y0 + (y1 - y0) * share);
  }

  farthest(from: number, until: number, x: number, y: number): number {
    const { x0, y0, x1, y1, clock } = this.owner;
    const { length } = clock;
    const share = from < length ? (Math.min(until, length) - from) / length : 0;
    const [dx, dy] = [(x1 - x0) * share, (y1 - y0) * share];
    return x === 0 && y === 0 ? Math.sqrt(dx * dx + dy * dy) : Math.max(0, dx * x + dy * y);
  }
}
