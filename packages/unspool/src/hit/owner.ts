import type { PlayerCore } from '../play/drive/core.js';
import type { HitShape } from '../shape/shapes.js';
import type { Vec } from '../shape/rounded.js';
import type { ShapeAt } from './moving-shape.js';
import type { Swept } from './sweep.js';

/** What a hit world needs of a player. `Data` is the type of the `data` of its hits, where its reel is known. */
export interface HitPlayer<Data = unknown> {
  /** Its reel, for the type of `data`. */
  readonly reel: { readonly types?: { readonly hit: Data } };
  /** Whether it was disposed. */
  readonly isDisposed: boolean;
  /** Advances the player by `dt` seconds. */
  tick(dt: number): void;
  /** @internal */
  readonly parts: PlayerCore;
}

/** Something without a reel that hits or is hit: shapes in its own coordinates, and a position. */
export interface HitBody<Data = unknown> {
  /** By name. Copied when the body is added. */
  readonly shapes: Readonly<Record<string, { readonly shape: HitShape; readonly tag: string; readonly data?: Data }>>;
  /** In the units of the game. Set it before `tick`: the body moves there in a straight line during the frame. */
  position: Vec;
  /**
   * Its activation, read at each `tick`: an activation hits each target once, and another value begins a new one.
   * `null`: its shapes are off. Default: one activation for good.
   *
   * @example
   * wave.activation = (wave.activation ?? 0) + 1; // hits everybody once more
   */
  activation?: string | number | null;
}

/** One activation of a shape, and the names of those whom it has hit. */
export class Activation {
  targets: Set<string> | undefined;
}

/** When in the frame a shape is active. It is filled anew whenever its owner looks ahead. */
export interface ActiveWindow {
  activation: Activation;
  data: unknown;
  /** Seconds of the frame. */
  from: number;
  until: number;
}

/** A shape of an owner. Its times are seconds of the frame. */
export interface OwnedShape extends Swept {
  readonly owner: Owner;
  readonly name: string;
  readonly tag: string;
  /** When it is active, as far as its owner has looked ahead: the first `count` of these. */
  readonly windows: readonly ActiveWindow[];
  readonly count: number;
  /**
   * A box that it stays in during the whole frame, whatever the time: low x and y, high x and y. Without an end where
   * nothing is known; low beyond high where it is not active. The boxes of a world lie one behind the other.
   */
  box: Float64Array;
  /** Writes a smaller box, that of the time from `from` until its owner's `until`. */
  boxInto(from: number, box: Float64Array): void;
}

/** A participant in hits. */
export interface Owner {
  readonly name: string;
  readonly shapes: readonly OwnedShape[];
  /** Seconds of the frame up to which what it does is known. */
  readonly until: number;
  /** The round of the frame in which it has looked ahead last. */
  looked: number;
  /** A frame begins: it has been somewhere until now, and will have been moved when it is over. */
  begin(): void;
  /** Its active shapes at their current places. */
  shown(): ShapeAt[];
}

/** Times that differ by less are one moment, in seconds: rounding accounts for as much. */
export const ROUNDING = 1e-9;
