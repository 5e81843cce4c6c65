import { checkOptions } from '../errors/check-options.js';
import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import type { Aim, May } from './aim.js';
import { BodyOwner } from './body-owner.js';
import { checkParticipant, checkWorld } from './check-arguments.js';
import { ROUNDING, type Activation, type HitBody, type HitPlayer, type OwnedShape } from './owner.js';
import { PlayerOwner } from './player-owner.js';
import { rosterOf, type Roster } from './roster.js';
import { checkWorldState, type HitWorldState } from './world-state.js';
import type { FrameClock } from './frame-motion.js';
import type { Placement } from '../play/pose/placement.js';
import type { ShapeAt } from './moving-shape.js';
import { contactAt } from './sweep.js';
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

/** More moments than this in one frame are a circle. */
const MAX_MOMENTS = 10_000;

/** Two shapes that meet. */
interface Found {
  readonly aim: Aim;
  readonly to: OwnedShape;
  readonly activation: Activation;
  readonly data: unknown;
  /** The place of the target among all shapes. */
  readonly place: number;
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
  readonly #owners = new Map<string, PlayerOwner | BodyOwner>();
  readonly #pairs: readonly (readonly [by: string, to: string])[];
  readonly #mayHit: May;
  readonly #onHit: HitWorldOptions<Data>['onHit'];
  readonly #clock: FrameClock = { length: 0 };
  #roster: Roster | undefined;
  readonly #forget = () => void (this.#roster = undefined);
  #time = 0;
  #isRunning = false;
  /** Seconds of the running frame that are over. */
  #now = 0;
  /** Counts the times at which anything has looked ahead. */
  #round = 0;
  /** Whether handlers were called at the last moment: then anything may be another. */
  #wasHeard = false;
  #errors: unknown[] | undefined;
  /** The players that have a moment now. */
  readonly #due: PlayerOwner[] = [];
  /** Those that meet at the next moment. */
  readonly #found: Found[] = [];

  constructor(options: HitWorldOptions<Data> = {}) {
    checkOptions(options, ['pairs', 'may', 'onHit'], 'HitWorld');
    const { pairs = [['hits', 'hurt']], may, onHit } = options;
    checkWorld(pairs, { may, onHit });
    this.#pairs = pairs;
    this.#mayHit = may && ((by, to) => may(sideOf(by), sideOf(to)));
    this.#onHit = onHit;
  }

  /** World time in seconds: the sum of all `dt` passed to `tick`; inside `onHit`, up to the hit. */
  get time(): number {
    return this.#time;
  }

  /**
   * Adds a player, which the world ticks from now on, or a body.
   *
   * @throws UnspoolError `hit/owner` for a name that is in use, and for what is neither; `hit/body` for a body without
   *   shapes or a position
   * @param at where the cast of a player is, if the game moves its container; default: the player's own placement
   */
  add(name: string, one: HitPlayer<Data> | HitBody<Data>, at?: () => Placement): this {
    checkParticipant(name, one, at);
    if (this.#owners.has(name))
      throw new UnspoolError('hit/owner', `${show(name)} already exists`, 'remove it first, or use another name');
    if ('shapes' in one) {
      this.#put(new BodyOwner(name, this.#clock, one));
      return this;
    }
    const { parts } = one;
    if (parts.ticker && parts.ticker !== this) {
      const message = `the player ${show(name)} is already in another hit world`;
      throw new UnspoolError('hit/owner', message, 'remove it there first: two worlds would tick it twice');
    }
    const owner = new PlayerOwner(name, this.#clock, one, at, this.#forget);
    this.#put(owner);
    parts.ticker = this;
    parts.frame.revise();
    parts.hits = owner;
    return this;
  }

  #put(owner: PlayerOwner | BodyOwner): void {
    this.#owners.set(owner.name, owner);
    this.#forget();
    if (!this.#isRunning) return;
    // In the middle of a frame it begins there.
    owner.begin();
    if (owner instanceof PlayerOwner) owner.done = this.#now;
  }

  /** Removes a player or body by name. The game ticks a removed player again. */
  remove(name: string): this {
    const owner = this.#owners.get(name);
    this.#owners.delete(name);
    this.#forget();
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
    const hits = bodies.flatMap(({ name, shapes, activation }) =>
      shapes.flatMap((shape): HitWorldState['bodies'] => {
        const targets = [...(shape.windows[0].activation.targets ?? [])];
        if (targets.length === 0) return [];
        return [activation === undefined ? [name, shape.name, targets] : [name, shape.name, targets, activation]];
      }),
    );
    return { time: this.#time, places: bodies.map(({ name, x1, y1 }) => [name, x1, y1] as const), bodies: hits };
  }

  /**
   * Restores a saved state. Restore its players too: their hits are saved with them. Owners that are no longer in the
   * world are skipped. Throws for anything but a result of `save`.
   */
  restore(state: HitWorldState): void {
    checkWorldState(state);
    this.#time = state.time;
    for (const owner of this.#owners.values()) {
      if (!(owner instanceof BodyOwner)) continue;
      const place = state.places.find(([body]) => body === owner.name);
      if (place) owner.reset(place[1], place[2]);
      owner.activation = owner.body.activation;
      for (const { name, windows } of owner.shapes) {
        const found = state.bodies.find(([body, shape]) => body === owner.name && shape === name);
        windows[0].activation.targets = found && new Set(found[2]);
        if (found && found.length > 3) owner.activation = found[3];
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
    const hits: Hit<Data>[] = [];
    const begun = this.#time;
    this.#isRunning = true;
    this.#clock.length = dt;
    this.#now = 0;
    try {
      for (const owner of this.#owners.values()) owner.begin();
      this.#aim();
      for (let moments = 0; ; moments++) {
        if (moments > MAX_MOMENTS) {
          const message = `one frame has more than ${MAX_MOMENTS} moments`;
          throw new UnspoolError('hit/circle', message, 'check for a hit that causes itself');
        }
        const roster = this.#look();
        const until = this.#next(roster, dt);
        // Before the players advance: after that their shapes are elsewhere.
        const made = this.#found.map((one) => this.#hit(one, until));
        this.#found.length = 0;
        const isHeard = made.length > 0 && this.#onHit !== undefined;
        this.#advance(roster, until, until >= dt, isHeard);
        this.#now = until;
        this.#time = begun + until;
        for (const one of made) {
          const hit = { ...one, time: this.#time, late: dt - until };
          hits.push(hit);
          if (this.#onHit) this.#tell(hit);
        }
        if (until >= dt) break;
      }
    } finally {
      this.#isRunning = false;
    }
    const errors = this.#errors;
    this.#errors = undefined;
    if (errors) throw errors[0];
    return hits;
  }

  /** What handlers throw does not stop the others: it comes out when the frame is complete. */
  #fail(error: unknown): void {
    (this.#errors ??= []).push(error);
  }

  #tell(hit: Hit<Data>): void {
    try {
      this.#onHit!(hit);
    } catch (error) {
      this.#fail(error);
    }
  }

  #lists(): Roster {
    return (this.#roster ??= rosterOf([...this.#owners.values()], this.#pairs));
  }

  /** Finds what may come near what in the frame, or in what is left of it. */
  #aim(): void {
    const roster = this.#lists();
    const { players, aims, pairs } = roster;
    this.#round++;
    for (let i = 0; i < players.length; i++) this.#lookOne(roster, players[i]!);
    for (let i = 0; i < aims.length; i++) aims[i]!.begin();
    for (let i = 0; i < pairs.length; i++) pairs[i]!.near.find();
    this.#due.length = 0;
    this.#wasHeard = false;
  }

  #lookOne({ until, due }: Roster, player: PlayerOwner): void {
    player.look(this.#round);
    until[player.place] = player.until;
    due[player.place] = player.due;
  }

  /** Lets everybody look ahead again who goes on in another way, and finds what they meet. */
  #look(): Roster {
    if (!this.#roster) this.#aim();
    const roster = this.#lists();
    const { aims, pairs } = roster;
    // Without handlers only those that had a moment are at the end of what they have seen.
    const players = this.#wasHeard ? roster.players : this.#due;
    this.#round++;
    for (let i = 0; i < players.length; i++) {
      const player = players[i]!;
      if (!player.isThrough && !(this.#wasHeard && player.isOther)) continue;
      this.#lookOne(roster, player);
      for (const { hit, aims, targets } of pairs) {
        for (const aim of aims) if (aim.by.owner === player) aim.extend(targets);
        for (const shape of player.shapes) if (shape.tag === hit) for (const aim of aims) aim.meet(shape);
      }
    }
    this.#wasHeard = false;
    for (let i = 0; i < aims.length; i++) aims[i]!.find(this.#now, this.#round, this.#mayHit);
    return roster;
  }

  /** The time of the next moment: when somebody goes on in another way, or shapes meet, which are in `#found` then. */
  #next({ until: all, aims, places }: Roster, dt: number): number {
    let until = dt;
    for (let i = 0; i < all.length; i++) until = Math.min(until, all[i]!);
    const found: Found[] = [];
    let first = until;
    while (found.length === 0) {
      first = Infinity;
      for (let i = 0; i < aims.length; i++) first = Math.min(first, aims[i]!.first);
      if (first > until + ROUNDING) return until;
      first = Math.min(first, until);
      for (let i = 0; i < aims.length; i++) {
        const aim = aims[i]!;
        if (aim.first > first + ROUNDING) continue;
        for (let k = 0; k < aim.count; k++) {
          if (aim.time(k) > first + ROUNDING || !aim.confirm(k, this.#mayHit)) continue;
          const to = aim.near[k]!;
          found.push({ aim, to, activation: aim.activation(k), data: aim.data(k), place: places.get(to)! });
          aim.ask(k);
        }
      }
    }
    // In the order in which they were added, whatever the search has found first.
    found.sort((a, b) => a.aim.pair - b.aim.pair || a.aim.place - b.aim.place || a.place - b.place);
    for (const one of found) {
      // Of the shapes of one target the first counts.
      const isSame = (other: Found) => other.activation === one.activation && other.to.owner === one.to.owner;
      if (!this.#found.some(isSame)) this.#found.push(one);
    }
    return first;
  }

  /**
   * Advances the players to a moment: those that it is a moment of; or all, where handlers are called then, or the
   * frame is over.
   */
  #advance({ players, due: all, aims }: Roster, until: number, isEnd: boolean, isHeard: boolean): void {
    const due = this.#due;
    due.length = 0;
    for (let i = 0; i < all.length; i++) if (all[i]! <= until + ROUNDING) due.push(players[i]!);
    for (let i = 0; i < due.length && !isHeard; i++) isHeard = due[i]!.player.parts.frame.isHeard;
    const isAll = isEnd || isHeard;
    if (isHeard) this.#wasHeard = true;
    if (isHeard && this.#mayHit) for (const aim of aims) aim.reconsider();
    // First those that only pass by: what the others call finds them where they are then.
    for (let i = 0; isAll && i < players.length; i++)
      if (!(all[i]! <= until + ROUNDING)) this.#advanceOne(players[i]!, until, false);
    for (let i = 0; i < due.length; i++) this.#advanceOne(due[i]!, until, !isAll);
  }

  /** @param isHeld whether its objects are left as they are */
  #advanceOne(player: PlayerOwner, until: number, isHeld: boolean): void {
    const { frame } = player.player.parts;
    frame.isHeld = isHeld;
    try {
      player.advance(until);
    } catch (error) {
      this.#fail(error);
    }
    frame.isHeld = false;
  }

  #hit({ aim: { by }, to, activation, data }: Found, time: number): Omit<Hit<Data>, 'time' | 'late'> {
    (activation.targets ??= new Set()).add(to.owner.name);
    const { point, normal, distance } = contactAt(by, to, time);
    const depth = Math.max(0, -distance);
    return { by: sideOf(by), to: sideOf(to), point, normal, depth, data: data as Data | undefined };
  }
}

function sideOf({ owner, name, tag }: OwnedShape): HitSide {
  return { owner: owner.name, shape: name, tag };
}
