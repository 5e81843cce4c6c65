import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { BroadPhase } from './broad-phase.js';
import { BodyOwner, PlayerOwner } from './owner.js';
import type { HitBody, HitPlayer, OwnedShape, Owner, ActiveWindow, ReportedHits } from './owner.js';
import type { FrameClock } from './frame-motion.js';
import type { Placement } from '../play/pose/placement.js';
import { placeOf, type ShapeAt } from './moving-shape.js';
import { firstContact } from './sweep.js';
import { distanceOf } from './distance.js';
import type { Vec } from '../shape/rounded.js';
import { frameSeconds } from '../time/frame-seconds.js';

/** One side of a hit. */
export interface HitSide {
  /** The name given to `world.add`. */
  readonly owner: string;
  /** `role.shape` of a player, or the name of a body's shape. */
  readonly shape: string;
  readonly tag: string;
}

/**
 * A hit: the shape `by` met the shape `to`. `Data` is the type of the `data` of shapes, given to the world:
 * `new HitWorld<{ damage: number }>()`.
 */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- JSON whose shape only the game's author knows
export interface Hit<Data = any> {
  readonly by: HitSide;
  readonly to: HitSide;
  /** World time of the hit in seconds: the sum of all `dt` passed to `tick`, up to that moment. */
  readonly time: number;
  /** Seconds between the hit and the end of the frame. */
  readonly late: number;
  /** The point of contact, and the unit vector from the side that hits to the side that is hit. */
  readonly point: Vec;
  readonly normal: Vec;
  /** Penetration depth: close to 0, unless the shapes overlapped when the shape became active. */
  readonly depth: number;
  /** The `data` of the key that turned the shape on, else of the shape; `undefined` when there is none. */
  readonly data: Data | undefined;
}

/** Options of `new HitWorld(options)`. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- as above
export interface HitWorldOptions<Data = any> {
  /** Which tags hit which. Default: `[['hits', 'hurt']]`. */
  readonly pairs?: readonly (readonly [by: string, to: string])[];
  /** Returns whether two sides may hit each other, for example to exclude friends. Default: all may. */
  readonly may?: (by: HitSide, to: HitSide) => boolean;
  /** Called with each hit at its moment. All players and bodies are where they were then, and changes take effect then. */
  readonly onHit?: (hit: Hit<Data>) => void;
}

/** The saved state of a world, plain JSON. See `world.save`. */
export interface HitWorldState {
  readonly time: number;
  /** Where its bodies were at the end of the frame. */
  readonly places: readonly (readonly [body: string, x: number, y: number])[];
  readonly bodies: readonly (readonly [body: string, shape: string, targets: readonly string[]])[];
}

/** Hits within this time, in seconds, are reported together. */
const EPSILON = 1e-9;
/** More stretches than this in one frame are a circle. */
const MAX_HITS = 10_000;

interface Found {
  readonly by: OwnedShape;
  readonly to: OwnedShape;
  /** Seconds of the frame. */
  readonly time: number;
  readonly presence: ActiveWindow;
}

/** The bodies that a tag hits, and the first contacts of each shape with the tag, as far as they were computed. */
interface BodyTargets {
  readonly near: BroadPhase;
  readonly first: Map<OwnedShape, readonly Found[]>;
}

/**
 * Ticks players and bodies together and finds their hits: call `world.tick(dt)` instead of ticking each player. A hit is
 * an event at an exact moment, like a cue, and does not depend on the frame rate. While `onHit` runs, everything is
 * where it was at that moment, and what the handler changes takes effect for the rest of the frame.
 *
 * One activation of a shape hits each target once.
 *
 * @example
 * const world = new HitWorld({ onHit: ({ by, to, data }) => hurt(to.owner, data) });
 * world.add('crab', crab).add('urchin', urchin);
 * world.tick(dt); // once per frame
 */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- as above
export class HitWorld<Data = any> {
  readonly #owners = new Map<string, Owner>();
  readonly #pairs: readonly (readonly [by: string, to: string])[];
  readonly #may: HitWorldOptions<Data>['may'];
  readonly #onHit: HitWorldOptions<Data>['onHit'];
  /** By activation: the names of its targets so far. */
  readonly #reported = new WeakMap<object, Set<string>>();
  readonly #reportedTo: ReportedHits = {
    get: (token) => [...(this.#reported.get(token) ?? [])],
    set: (token, names) => void this.#reported.set(token, new Set(names)),
  };
  readonly #clock: FrameClock = { done: 0, length: 0 };
  #time = 0;
  #isRunning = false;

  constructor({ pairs = [['hits', 'hurt']], may, onHit }: HitWorldOptions<Data> = {}) {
    this.#pairs = pairs;
    this.#may = may;
    this.#onHit = onHit;
  }

  /** World time in seconds: the sum of all `dt` passed to `tick`; inside `onHit`, up to the hit. */
  get time(): number {
    return this.#time;
  }

  /**
   * Adds a player, which the world ticks from now on, or a body. Throws for a name that is in use.
   *
   * @param at where the cast of a player is, if the game moves its container; default: the player's own placement
   */
  add(name: string, one: HitPlayer<Data> | HitBody<Data>, at?: () => Placement): this {
    if (this.#owners.has(name))
      throw new UnspoolError('hit/owner', `${show(name)} already exists`, 'remove it first, or use another name');
    if ('shapes' in one) {
      this.#owners.set(name, new BodyOwner(name, this.#clock, one));
      return this;
    }
    const { parts } = one;
    if (parts.ticker && parts.ticker !== this) {
      const message = `the player ${show(name)} is already in another hit world`;
      throw new UnspoolError('hit/owner', message, 'remove it there first: two worlds would tick it twice');
    }
    const owner = new PlayerOwner(name, this.#clock, one, at, this.#reportedTo);
    this.#owners.set(name, owner);
    parts.ticker = this;
    parts.hits = owner;
    return this;
  }

  /** Removes a player or body by name. The game ticks a removed player again. */
  remove(name: string): this {
    const owner = this.#owners.get(name);
    this.#owners.delete(name);
    if (owner instanceof PlayerOwner) {
      const { parts } = owner.player;
      parts.savedHits = owner.save();
      parts.ticker = parts.hits = undefined;
    }
    return this;
  }

  /** @internal Whether it ticks its players now. */
  get isTicking(): boolean {
    return this.#isRunning;
  }

  /** Saves the time of the world and the hits of its bodies as plain JSON. Players save their own hits. */
  save(): HitWorldState {
    const bodies = [...this.#owners.values()].filter((owner) => owner instanceof BodyOwner);
    const hits = bodies.flatMap(({ name, shapes }) =>
      shapes.map((shape) => [name, shape.name, this.#reportedTo.get(shape.windows[0]!.token)] as const),
    );
    const places = bodies.map(({ name, way }) => [name, way.end[0], way.end[1]] as const);
    return { time: this.#time, places, bodies: hits.filter(([, , targets]) => targets.length > 0) };
  }

  /**
   * Restores a saved state. Restore its players too: their hits are saved with them. Owners that are no longer in the
   * world are skipped. Throws for anything but a result of `save`.
   */
  restore(state: HitWorldState): void {
    const message = state as unknown as Readonly<Partial<Record<keyof HitWorldState, unknown>>> | null;
    const isText = (value: unknown): value is string => typeof value === 'string';
    const isHit = (value: unknown) => {
      const [owner, shape, targets] = (Array.isArray(value) ? value : []) as readonly unknown[];
      return isText(owner) && isText(shape) && Array.isArray(targets) && targets.every(isText);
    };
    const isPlace = (value: unknown) => {
      const [owner, x, y] = (Array.isArray(value) ? value : []) as readonly unknown[];
      return isText(owner) && Number.isFinite(x) && Number.isFinite(y);
    };
    const { time, bodies, places } = message ?? {};
    const isTime = typeof time === 'number' && time >= 0 && time < Infinity;
    const areLists = Array.isArray(bodies) && bodies.every(isHit) && Array.isArray(places) && places.every(isPlace);
    if (!isTime || !areLists)
      throw new UnspoolError('hit/state', `${show(state)} is not a saved state`, 'pass what save() returned');
    this.#time = time;
    for (const owner of this.#owners.values()) {
      if (!(owner instanceof BodyOwner)) continue;
      const place = state.places.find(([body]) => body === owner.name);
      if (place) owner.way.reset(placeOf({ position: [place[1], place[2]] }));
      for (const { name, windows: presences } of owner.shapes) {
        const found = state.bodies.find(([body, shape]) => body === owner.name && shape === name);
        this.#reportedTo.set(presences[0]!.token, found?.[2] ?? []);
      }
    }
  }

  /** All active shapes at their current places, for a debug overlay. */
  get shapes(): readonly ShapeAt[] {
    return [...this.#owners.values()].flatMap((owner) => owner.shown());
  }

  /**
   * Advances all players and bodies by `dt` seconds and returns the hits of the frame, in order of time. Players that
   * were placed and bodies that were moved since the last frame move there evenly.
   *
   * @throws RangeError for a `dt` that is not a finite number ≥ 0 (values from −0.1 count as 0). At the end of the
   * frame, rethrows the first error of a handler
   */
  tick(dt: number): readonly Hit<Data>[] {
    dt = frameSeconds(dt);
    if (this.#isRunning)
      throw new UnspoolError('hit/nested-tick', 'tick was called inside a hit handler', 'call it once per frame');
    const hits: Hit[] = [];
    const clock = this.#clock;
    const begun = this.#time;
    const errors: unknown[] = [];
    // What handlers throw does not stop the others: it comes out when the frame is complete.
    const attempt = (run: () => void) => {
      try {
        run();
      } catch (error) {
        errors.push(error);
      }
    };
    this.#isRunning = true;
    try {
      [clock.done, clock.length] = [0, dt];
      for (const owner of this.#owners.values()) owner.begin();
      const bodies = this.#bodyTargets(dt);
      for (let stretches = 0; ; stretches++) {
        if (stretches > MAX_HITS)
          throw new UnspoolError(
            'hit/circle',
            `one frame has more than ${MAX_HITS} moments`,
            'check for a hit that causes itself',
          );
        const owners = [...this.#owners.values()];
        // First: how far an owner goes on in the same way depends on what it finds.
        const changed = new Set(owners.filter((owner) => owner.look()));
        let until = owners.reduce((least, { horizon }) => Math.min(least, clock.done + horizon), dt);
        const found = this.#first(owners, bodies, until, changed);
        if (found.length > 0) until = found[0]!.time;
        const step = until - clock.done;
        // Before the players advance: after that their shapes are elsewhere.
        const made = found.map((one) => this.#hit(one));
        for (const owner of owners) attempt(() => owner.tick(step));
        clock.done = until;
        this.#time = begun + until;
        for (const one of made) {
          const hit = { ...one, time: this.#time, late: dt - until };
          hits.push(hit);
          attempt(() => this.#onHit?.(hit));
        }
        if (until >= dt) break;
      }
    } finally {
      this.#isRunning = false;
      // Whatever asks from now on asks of where things are.
      clock.done = clock.length;
    }
    if (errors.length > 0) throw errors[0];
    return hits;
  }

  /** The bodies that may be hit: where they go in a frame is known when it begins. */
  #bodyTargets(dt: number): BodyTargets[] {
    const bodies = [...this.#owners.values()].filter((owner) => owner instanceof BodyOwner);
    const shapes = bodies.flatMap((owner) => owner.shapes);
    return this.#pairs.map(([, hit]) => ({
      near: new BroadPhase(
        shapes.filter(({ tag }) => tag === hit),
        dt,
      ),
      first: new Map(),
    }));
  }

  /** The hits that come first, all at one time, if any come until then. */
  #first(
    owners: readonly Owner[],
    bodies: readonly BodyTargets[],
    until: number,
    changed: ReadonlySet<Owner>,
  ): Found[] {
    const shapes = owners.flatMap((owner) => owner.shapes);
    const active = shapes.filter(({ windows: presences }) => presences.length > 0);
    const players = active.filter(({ owner }) => owner instanceof PlayerOwner);
    let first = until;
    let found: Found[] = [];
    const take = (one: Found) => {
      if (one.time > first + EPSILON || !this.#owners.has(one.to.owner.name)) return;
      if (one.time < first - EPSILON) found = [];
      first = Math.min(first, one.time);
      // Of the shapes of one target the first counts.
      if (!found.some((other) => other.presence.token === one.presence.token && other.to.owner === one.to.owner))
        found.push(one);
    };
    this.#pairs.forEach(([hitting, hit], i) => {
      const hitters = active.filter(({ tag }) => tag === hitting);
      if (hitters.length === 0) return;
      const { near, first: known } = bodies[i]!;
      for (const by of hitters) {
        const isKnown = !changed.has(by.owner) && known.has(by);
        // As far as it has looked, which may be further than now counts.
        const met = isKnown ? known.get(by)! : this.#meet(by, near);
        known.set(by, met);
        for (const one of met) if (!this.#reported.get(one.presence.token)?.has(one.to.owner.name)) take(one);
      }
      const targets = players.filter(({ tag }) => tag === hit);
      if (targets.length === 0) return;
      const others = new BroadPhase(targets, until - this.#clock.done);
      for (const by of hitters)
        for (const to of others.of(by)) for (const one of this.#contacts(by, to, first)) take(one);
    });
    return found.filter(({ time }) => time <= first + EPSILON).map((one) => ({ ...one, time: first }));
  }

  /** All bodies that a shape meets, as far as it has looked. */
  #meet(by: OwnedShape, near: BroadPhase): Found[] {
    const { done, length } = this.#clock;
    const end = Math.min(
      length,
      by.windows.reduce((most, one) => Math.max(most, one.until), done),
    );
    return near.of(by, end - done).flatMap((to) => this.#contacts(by, to, end));
  }

  /** When a shape hits another first, in each activation that has not hit it yet, until a time of the frame. */
  #contacts(by: OwnedShape, to: OwnedShape, until: number): Found[] {
    if (to.owner === by.owner || (this.#may && !this.#may(sideOf(by), sideOf(to)))) return [];
    const { done } = this.#clock;
    return by.windows.flatMap((presence): Found[] => {
      if (this.#reported.get(presence.token)?.has(to.owner.name)) return [];
      for (const other of to.windows) {
        const from = Math.max(presence.from, other.from, done);
        const end = Math.min(presence.until, other.until, until);
        if (from > end) continue;
        const time = firstContact(by, to, from - done, end - done);
        if (time !== undefined) return [{ by, to, time: done + time, presence }];
      }
      return [];
    });
  }

  #hit({ by, to, time, presence }: Found): Omit<Hit, 'time' | 'late'> {
    const { token } = presence;
    const reported = this.#reported.get(token) ?? new Set<string>();
    this.#reported.set(token, reported.add(to.owner.name));
    const after = time - this.#clock.done;
    const { point, normal, distance } = distanceOf(by.at(after), to.at(after));
    return { by: sideOf(by), to: sideOf(to), point, normal, depth: Math.max(0, -distance), data: presence.data };
  }
}

function sideOf({ owner, name, tag }: OwnedShape): HitSide {
  return { owner: owner.name, shape: name, tag };
}
