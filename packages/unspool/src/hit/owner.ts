import type { Clip } from '../clip/clip.js';
import type { PlayerCore } from '../play/drive/core.js';
import { DUE } from '../play/drive/decider.js';
import type { Placement } from '../play/pose/placement.js';
import { numberOut } from '../play/time/playhead.js';
import type { HitState } from '../play/state/saved.js';
import { Playback } from '../play/drive/playback.js';
import { LookAhead } from '../play/drive/look-ahead.js';
import { RigMotion, placeOf, rigOf, type Moving, type ShapeAt } from './moving-shape.js';
import type { RootPlace } from '../play/pose/place-root.js';
import { FrameMotion, type FrameClock } from './frame-motion.js';
import { revealOf } from '../value/shape.js';
import { lengthOf, shifted, type Rounded, type Vec } from '../shape/rounded.js';
import { movedShape, roundedOf, type HitShape } from '../shape/shapes.js';

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
}

/** What goes with a shape while it is active. `token` is another for each activation. */
export interface ActiveWindow {
  readonly token: object;
  readonly data: unknown;
  /** Seconds of the frame. */
  readonly from: number;
  readonly until: number;
}

/** A shape of an owner. Its times are seconds from now. */
export interface OwnedShape extends Moving {
  readonly owner: Owner;
  readonly name: string;
  readonly tag: string;
  /** When it is active, as far as that is known. */
  readonly windows: readonly ActiveWindow[];
}

/** A participant in hits. */
export interface Owner {
  readonly name: string;
  readonly shapes: readonly OwnedShape[];
  /** A frame begins: it has been somewhere until now, and will have been moved when it is over. */
  begin(): void;
  /** Seconds until it does anything but continue. */
  readonly horizon: number;
  /** Looks ahead up to its horizon. Returns false when nothing has changed since the last look. */
  look(): boolean;
  /** So much time goes by. */
  tick(step: number): void;
  /** Its active shapes at their current places. */
  shown(): ShapeAt[];
}

/** Whom an activation has hit, by name. */
export interface ReportedHits {
  get(token: object): readonly string[];
  set(token: object, targets: readonly string[]): void;
}

/** Seconds that rounding accounts for. */
const ROUNDING = 1e-9;

export class PlayerOwner implements Owner {
  shapes: readonly RigShape[];
  /** By role without a parent: how its place moves. */
  readonly #motions = new Map<string, FrameMotion>();
  /** What the last look was based on, per layer and gauge. */
  readonly #seen: unknown[] = [];
  /** Seconds of the frame up to which it has looked. */
  #looked = -1;
  /** When another playback begins to define one of its shapes, in seconds of the frame. */
  #changeAt = Infinity;

  constructor(
    readonly name: string,
    readonly clock: FrameClock,
    readonly player: HitPlayer,
    readonly at: (() => Placement) | undefined,
    readonly reported: ReportedHits,
  ) {
    this.shapes = this.#makeShapes();
    this.#load(player.parts.savedHits);
  }

  #makeShapes(): readonly RigShape[] {
    return Object.entries(this.player.parts.reel.facts.shapes).flatMap(([shape, { tag, data }]) =>
      tag === undefined || revealOf(tag) ? [] : [new RigShape(this, shape, tag, data)],
    );
  }

  /** Its reel is another: the shapes of that one, with what they have hit. */
  become(saved: readonly HitState[]): void {
    this.shapes = this.#makeShapes();
    this.#load(saved);
  }

  /** What its activations have hit, for the state of its player; and the same put back. */
  save(): HitState[] {
    return this.shapes.flatMap((shape) => shape.save(this.reported));
  }

  load(saved: readonly HitState[]): void {
    // It is at its previous place and has not moved there.
    for (const [root, motion] of this.#motions) motion.reset(this.at ? undefined : this.placeOf(root));
    this.#load(saved);
  }

  #load(saved: readonly HitState[]): void {
    this.#looked = -1;
    this.#seen.length = 0;
    for (const shape of this.shapes) shape.load(saved, this.reported);
  }

  /** Where the cast is now, for the shapes below a root. */
  placeOf(root: string): RootPlace {
    if (this.at) return placeOf(this.at());
    return this.player.parts.stage.placed?.placeOf(root) ?? placeOf({});
  }

  motionOf(root: string): FrameMotion {
    let motion = this.#motions.get(root);
    if (!motion) this.#motions.set(root, (motion = new FrameMotion(this.clock, this.placeOf(root))));
    return motion;
  }

  begin(): void {
    for (const [root, motion] of this.#motions) motion.begin(this.placeOf(root));
    this.#looked = -1;
    this.#changeAt = Infinity;
  }

  get horizon(): number {
    return Math.min(this.#nextMoment, this.#changeAt - this.clock.done);
  }

  /** Seconds until the player handles a moment. */
  get #nextMoment(): number {
    const { layers, gauges, frame, routine } = this.player.parts;
    if (routine?.isDue) return 0;
    let horizon = routine ? Math.max(0, routine.times[DUE]! - frame.now) : Infinity;
    for (const { playback } of layers) {
      if (!playback) continue;
      playback.aim();
      horizon = Math.min(horizon, Math.max(0, -playback.head.due));
    }
    for (const gauge of gauges) horizon = Math.min(horizon, Math.max(0, gauge.arrivesAt - frame.now));
    return horizon;
  }

  look(): boolean {
    const { done, length } = this.clock;
    // A moment of a routine may change nothing, and rounding may put it just before what was looked at.
    if (!this.#isNew() && done < this.#looked - ROUNDING) return false;
    const whole = Math.min(this.#nextMoment, length - done);
    const ahead = this.shapes.reduce((least, shape) => Math.min(least, shape.untilOther(whole)), whole);
    this.#changeAt = ahead < whole ? done + ahead : Infinity;
    this.#looked = done + ahead;
    for (const shape of this.shapes) shape.look(ahead);
    return true;
  }

  /** Whether it goes another way than when this was asked last. */
  #isNew(): boolean {
    const { shown, layers, stage, gauges } = this.player.parts;
    let at = 0;
    let isNew = false;
    const see = (value: unknown) => {
      // A playback that lands nowhere has NaN for where it does.
      if (!Object.is(this.#seen[at], value)) isNew = true;
      this.#seen[at++] = value;
    };
    see(stage.base.changes);
    for (const { voices, shownWeight } of shown) {
      see(voices);
      see(shownWeight);
    }
    for (const { playback } of layers) {
      if (!playback) continue;
      const { head, state, paused } = playback;
      const { start, speed, iteration, until, weight } = head;
      for (const value of [playback, state, paused, start, speed, iteration, until, weight]) see(value);
    }
    for (const gauge of gauges) see(gauge.value);
    return isNew;
  }

  tick(step: number): void {
    this.player.tick(step);
    for (const shape of this.shapes) shape.freshen();
  }

  shown(): ShapeAt[] {
    return this.shapes.flatMap((one) => {
      const shape = one.shown();
      return shape ? [{ name: one.name, tag: one.tag, shape }] : [];
    });
  }
}

/** The playback and iteration of an activation, and the player time until which it was seen. */
interface LastActivation {
  readonly of: object;
  readonly iteration: number;
  readonly until: number;
  readonly token: object;
}

/** A shape of a player's reel. */
class RigShape implements OwnedShape {
  windows: readonly ActiveWindow[] = [];
  readonly #lookAhead: LookAhead;
  readonly #motion: RigMotion;
  readonly #place: FrameMotion;
  #isPossible = false;
  /** The activations that it was in last, by their places in the clip. */
  readonly #last = new Map<number, LastActivation>();

  constructor(
    readonly owner: PlayerOwner,
    readonly name: string,
    readonly tag: string,
    readonly data: unknown,
  ) {
    const core = owner.player.parts;
    const rig = rigOf(core.reel.facts, name);
    this.#place = owner.motionOf(rig.root);
    this.#lookAhead = new LookAhead(core, rig.layout, rig.from);
    this.#motion = new RigMotion(rig, this.#lookAhead);
  }

  /** Takes over what plays now. Returns how long the same playback defines the shape: at most `ahead` seconds. */
  untilOther(ahead: number): number {
    const { shown } = this.owner.player.parts;
    this.#isPossible = shown.some(({ voices }) => voices.some(({ clip }) => clip.activations.length > 0));
    if (!this.#isPossible) return ahead;
    this.#lookAhead.update();
    this.#motion.freshen();
    return this.#lookAhead.untilOther(this.name, ahead);
  }

  /** Finds its activations, after `untilOther`. */
  look(ahead: number): void {
    this.windows = [];
    if (!this.#isPossible) return;
    const voice = this.#lookAhead.heaviest(this.name);
    if (!voice) return;
    this.windows = voice instanceof Playback ? this.#ofPlayback(voice as Playback, ahead) : this.#ofGauge(voice, ahead);
  }

  /** Its activations as a playhead passes them. */
  #ofPlayback(playback: Playback, ahead: number): ActiveWindow[] {
    const { head, clip, repeat, isRunning } = playback;
    const speed = isRunning && playback.state === 'running' ? head.speed : 0;
    const { done } = this.owner.clock;
    const found: ActiveWindow[] = [];
    const inOrder =
      speed < 0 ? clip.activations.map((_, i) => clip.activations.length - 1 - i) : clip.activations.keys();
    for (const index of inOrder) {
      const { shape, at, until, data } = clip.activations[index]!;
      if (shape !== this.name) continue;
      let [from, end] = [0, ahead];
      if (speed === 0) {
        if (head.shown < at || (head.shown >= until && !(until === clip.duration && head.shown === until))) continue;
      } else {
        const [first, last] = [(at - head.shown) / speed, (until - head.shown) / speed];
        from = Math.max(0, Math.min(first, last));
        end = Math.min(ahead, Math.max(first, last));
        if (from > end) continue;
      }
      // Through the turn of a ping-pong it is the same; in the next pass of a loop it is another.
      const pass = repeat.mode === 'ping-pong' ? 0 : head.iteration;
      const token = this.#tokenOf(playback, index, pass, from, end);
      found.push({ token, data: data ?? this.data, from: done + from, until: done + end });
    }
    return found;
  }

  /** Of a gauge: active or not, as it begins. */
  #ofGauge(hand: { readonly clip: Clip }, ahead: number): ActiveWindow[] {
    if (!this.#motion.rig.isActive(this.#motion.values(0))) return [];
    const { done } = this.owner.clock;
    const token = this.#tokenOf(hand, 0, 0, 0, ahead);
    return [{ token, data: this.data, from: done, until: done + ahead }];
  }

  /** The activation that it continues, if it was in one until now; else a new one. */
  #tokenOf(of: object, index: number, pass: number, from: number, until: number): object {
    const { now } = this.owner.player.parts.frame;
    const last = this.#last.get(index);
    // It may have been expected to last longer, before something interrupted it.
    const goesOn =
      last?.of === of && last.iteration === pass && Math.abs(now + from - Math.min(last.until, now)) < ROUNDING;
    const token = goesOn ? last.token : {};
    this.#last.set(index, { of, iteration: pass, until: now + until, token });
    return token;
  }

  save(reported: ReportedHits): HitState[] {
    const { shown } = this.owner.player.parts;
    return [...this.#last].flatMap(([place, { of, iteration: pass, until, token }]): HitState[] => {
      const layer = shown.findIndex(({ voices }) => (voices as readonly object[]).includes(of));
      // What is no longer shown continues nothing.
      if (layer < 0) return [];
      const voice = (shown[layer]!.voices as readonly object[]).indexOf(of);
      const targets = reported.get(token);
      const activation = Math.max(0, this.#activations(shown[layer]!.voices[voice]!).indexOf(place));
      return [{ shape: this.name, activation, layer, voice, iteration: pass, until: numberOut(until), targets }];
    });
  }

  load(saved: readonly HitState[], reported: ReportedHits): void {
    const { shown } = this.owner.player.parts;
    this.#last.clear();
    for (const { shape, activation, layer, voice, iteration, until, targets } of saved) {
      const of = shown[layer]?.voices[voice];
      if (shape !== this.name || !of) continue;
      const token = {};
      reported.set(token, targets);
      this.#last.set(this.#activations(of)[activation] ?? 0, { of, iteration, until: Number(until), token });
    }
  }

  /** The places in a clip of what activates the shape; of a gauge the first. */
  #activations({ clip }: { readonly clip: Clip }): readonly number[] {
    return clip.activations.flatMap(({ shape }, place) => (shape === this.name ? [place] : []));
  }

  /** The time of the last sample is out of date. */
  freshen(): void {
    this.#motion.freshen();
  }

  at(after: number): Rounded {
    return this.#motion.rounded(after, this.#place.at(after));
  }

  /** Its current place, if it is active. */
  shown(): HitShape | undefined {
    this.#lookAhead.update();
    this.#motion.freshen();
    const { rig } = this.#motion;
    const values = this.#motion.values(0);
    return rig.isActive(values) ? rig.shape(values, this.owner.placeOf(rig.root)) : undefined;
  }

  farthest(from: number, until: number, direction: Vec): number {
    const place = this.#place;
    return this.#motion.farthest(from, until, place.at(from), place.at(until), direction);
  }
}

export class BodyOwner implements Owner {
  readonly shapes: readonly OwnedShape[];
  readonly horizon = Infinity;
  readonly way: FrameMotion;

  constructor(
    readonly name: string,
    clock: FrameClock,
    readonly body: HitBody,
  ) {
    const way = new FrameMotion(clock, placeOf({ position: body.position }));
    this.way = way;
    this.shapes = Object.entries(body.shapes).map(([name, { shape, tag, data }]): OwnedShape => {
      const rounded = roundedOf(shape);
      return {
        owner: this,
        name,
        tag,
        windows: [{ token: {}, data, from: 0, until: Infinity }],
        at: (after) => {
          const [x, y] = way.at(after);
          return shifted(rounded, x, y);
        },
        farthest: (from, until, [nx, ny]) => {
          const [[x0, y0], [x1, y1]] = [way.at(from), way.at(until)];
          return nx === 0 && ny === 0 ? lengthOf(x1 - x0, y1 - y0) : Math.max(0, (x1 - x0) * nx + (y1 - y0) * ny);
        },
      };
    });
  }

  begin(): void {
    this.way.begin(placeOf({ position: this.body.position }));
  }

  /** Where it goes in a frame is known when that begins. */
  look(): boolean {
    return false;
  }

  tick(): void {}

  shown(): ShapeAt[] {
    const { position, shapes } = this.body;
    return Object.entries(shapes).map(([name, { tag, shape }]) => ({ name, tag, shape: moved(shape, position) }));
  }
}

function moved(shape: HitShape, [x, y]: Vec): HitShape {
  return movedShape(shape, ([a, b]) => [a + x, b + y]);
}
