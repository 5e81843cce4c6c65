import type { Placement } from '../play/pose/placement.js';
import { DUE } from '../play/drive/decider.js';
import type { RootPlace } from '../play/pose/place-root.js';
import type { HitState } from '../play/state/saved.js';
import { revealOf } from '../value/shape.js';
import { FrameMotion, type FrameClock } from './frame-motion.js';
import { placeOf, type ShapeAt } from './moving-shape.js';
import { ROUNDING, type HitPlayer, type Owner } from './owner.js';
import { PlayerShape } from './player-shape.js';

const NOWHERE = placeOf({});

/** A player, as a participant in hits: what it does is known up to its next moment. */
export class PlayerOwner implements Owner {
  shapes: readonly PlayerShape[];
  done = 0;
  until = 0;
  /** When it handles a moment or must look again, in seconds of the frame; Infinity where that is not in this frame. */
  due = Infinity;
  /** Seconds from `done` to `until`. */
  ahead = 0;
  #moment = 0;
  looked = 0;
  /** Its place among the players of its world. */
  place = 0;
  /** By role without a parent: how its place moves. */
  readonly #motions: { readonly root: string; readonly motion: FrameMotion }[] = [];
  /** What it had come to at the last look: see `Dispatcher.revision`; and its base values. */
  #revision = -1;
  #base = -1;
  /** When its routine was to decide, in seconds of the player. */
  #decides = Infinity;

  constructor(
    readonly name: string,
    readonly clock: FrameClock,
    readonly player: HitPlayer,
    readonly at: (() => Placement) | undefined,
    /** Called when it has other shapes. */
    readonly onShapes: () => void,
  ) {
    this.shapes = this.#makeShapes();
    this.#load(player.parts.savedHits);
  }

  #makeShapes(): readonly PlayerShape[] {
    return Object.entries(this.player.parts.reel.facts.shapes).flatMap(([shape, { tag, data }]) =>
      tag === undefined || revealOf(tag) ? [] : [new PlayerShape(this, shape, tag, data)],
    );
  }

  /** Its reel is another: the shapes of that one, with what they have hit. */
  become(saved: readonly HitState[]): void {
    this.shapes = this.#makeShapes();
    this.onShapes();
    this.#load(saved);
  }

  /** What its activations have hit, for the state of its player; and the same put back. */
  save(): HitState[] {
    return this.shapes.flatMap((shape) => shape.save());
  }

  load(saved: readonly HitState[]): void {
    // It is at its previous place and has not moved there.
    for (const { root, motion } of this.#motions) motion.reset(this.at ? undefined : this.placeOf(root));
    this.#load(saved);
  }

  #load(saved: readonly HitState[]): void {
    this.#revision = -1;
    for (const shape of this.shapes) shape.load(saved);
  }

  /** Where the cast is now, for the shapes below a root. */
  placeOf(root: string): RootPlace {
    if (this.at) return placeOf(this.at());
    const { placed } = this.player.parts.stage;
    return placed ? placed.placeOf(root) : NOWHERE;
  }

  motionOf(root: string): FrameMotion {
    const known = this.#motions.find((one) => one.root === root);
    if (known) return known.motion;
    const motion = new FrameMotion(this.clock, this.placeOf(root));
    this.#motions.push({ root, motion });
    return motion;
  }

  begin(): void {
    this.#follow();
    for (let i = 0; i < this.#motions.length; i++) {
      const { root, motion } = this.#motions[i]!;
      motion.begin(this.placeOf(root));
    }
    this.done = 0;
    this.until = -1;
  }

  /** A cast that follows something goes in this frame to where that has been put. */
  #follow(): void {
    const { parts } = this.player;
    if (!parts.follow) return;
    let at: readonly [x: number, y: number] | undefined;
    try {
      at = parts.follow.position();
    } catch {
      // The tick says so.
    }
    if (at) parts.goTo(at);
  }

  /** Finds how many seconds it takes until the player handles a moment. */
  #findMoment(): void {
    const { layers, gauges, frame, routine } = this.player.parts;
    let horizon = routine ? Math.max(0, routine.times[DUE]! - frame.now) : Infinity;
    for (let i = 0; i < layers.length; i++) {
      const { playback } = layers[i]!;
      if (!playback) continue;
      playback.aim();
      horizon = Math.min(horizon, Math.max(0, -playback.head.due));
    }
    for (let i = 0; i < gauges.length; i++) horizon = Math.min(horizon, Math.max(0, gauges[i]!.arrivesAt - frame.now));
    this.#moment = routine?.isDue ? 0 : horizon;
  }

  /** Whether it has come to the end of what was seen. */
  get isThrough(): boolean {
    return this.done >= this.until - ROUNDING && this.until < this.clock.length;
  }

  /** Whether something else may be shown than at the last look. */
  get #isRevised(): boolean {
    const { frame, stage } = this.player.parts;
    return this.#revision !== frame.revision || this.#base !== stage.base.changes;
  }

  /** Whether it goes on in another way than it was seen to: something has been called since. */
  get isOther(): boolean {
    const { routine } = this.player.parts;
    return this.#isRevised || (routine !== undefined && (routine.isDue || routine.times[DUE] !== this.#decides));
  }

  /** Looks ahead, from where it is to its next moment. */
  look(round: number): void {
    const { frame, stage, routine } = this.player.parts;
    const { shapes, clock } = this;
    if (routine) this.#decides = routine.times[DUE]!;
    const isRevised = this.#isRevised;
    this.#findMoment();
    const moment = this.#moment;
    const left = Math.max(0, clock.length - this.done);
    const whole = Math.min(moment, left);
    this.ahead = whole;
    for (let i = 0; i < shapes.length; i++) {
      const shape = shapes[i]!;
      if (isRevised) shape.renew();
      shape.freshen();
      if (shape.isFading) this.ahead = Math.min(this.ahead, shape.untilOther(whole));
    }
    const { ahead } = this;
    // Taking over what plays may have ended a fade.
    this.#revision = frame.revision;
    this.#base = stage.base.changes;
    // To the end exactly: a sum may round to just before it.
    this.until = ahead < left ? Math.min(clock.length, this.done + ahead) : clock.length;
    this.due = ahead < whole || moment <= left + ROUNDING ? this.until : Infinity;
    this.looked = round;
    for (let i = 0; i < shapes.length; i++) shapes[i]!.look();
  }

  /** Advances it to a time of the frame. */
  advance(time: number): void {
    const step = Math.max(0, time - this.done);
    this.done = time;
    this.player.tick(step);
    for (let i = 0; i < this.shapes.length; i++) this.shapes[i]!.freshen();
  }

  shown(): ShapeAt[] {
    return this.shapes.flatMap((one) => {
      const shape = one.shown();
      return shape ? [{ name: one.name, tag: one.tag, shape }] : [];
    });
  }
}
