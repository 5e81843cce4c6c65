import { mustBePlayer } from './player-options.js';
import { HEAD_SIZE, HEAD_TARGET, sampleCurves } from '../../clip/curves.js';
import type { ReelNames } from '../../clip/names.js';
import type { Slot } from '../../clip/layout.js';
import { UnspoolError } from '../../errors/error.js';
import { suggest } from '../../errors/nearest.js';
import { show } from '../../errors/show.js';
import type { Kind } from '../../value/kind.js';
import type { StageVoice } from '../pose/stage-voices.js';
import type { PlayerCore } from './core.js';
import type { Player } from './player.js';

const AT = new Float64Array(2);

/** How far what plays moves a property, from one `take` to the next. See `travelOf`. */
export class Travel {
  readonly #core: PlayerCore;
  readonly #property: string;
  /** The place of its first number in a pose; −1 when a changed reel no longer has it. */
  #offset: number;
  readonly #width: number;
  /** By playback: where it was when that was asked last; `undefined` for one that does not animate the property. */
  readonly #followed = new Map<StageVoice, Float64Array | undefined>();
  /** The way of playbacks that have gone. */
  readonly #gone: Float64Array;
  #values: Float64Array;
  #base: Float64Array;
  readonly #way: Float64Array;

  /** @internal use `travelOf` */
  constructor(core: PlayerCore, { name, offset, width }: Slot) {
    this.#core = core;
    this.#property = name;
    this.#offset = offset;
    this.#width = width;
    this.#gone = new Float64Array(width);
    this.#values = this.#base = this.#gone;
    this.#way = new Float64Array(width);
    core.watchers = [...core.watchers, this];
    this.become();
  }

  /** @internal */
  ends(): void {
    for (const { voices } of this.#core.layers) for (const voice of voices) this.leaves(voice);
    this.#followed.clear();
  }

  /** @internal */
  become(): void {
    const { reel, layers } = this.#core;
    const slot = reel.layout.find(this.#property);
    this.#offset = slot?.width === this.#width ? slot.offset : -1;
    this.#values = new Float64Array(reel.layout.size);
    // Offsets are counted from here: differences are the same from everywhere, and factors are factors of 1.
    this.#base = new Float64Array(reel.layout.size).fill(1);
    for (const { voices } of layers) for (const voice of voices) this.began(voice);
  }

  /**
   * How far what plays has moved the property since the last call, or since `travelOf`: one number per channel. Where
   * clips fade, each counts by its share at the end of the frame. A clip that begins, or is replaced, moves nothing by
   * that; a seek does.
   *
   * @returns always the same list
   */
  take(): Float64Array {
    const way = this.#way;
    const gone = this.#gone;
    this.#core.sample();
    way.fill(0);
    for (const { voices, shownWeight } of this.#core.layers) {
      let share = 0;
      // What lies above hides what is below by its weight; an offset is added.
      for (const voice of voices) if (this.#hides(voice)) share += voice.share * shownWeight;
      for (let k = 0; k < way.length; k++) way[k] = way[k]! * (1 - share);
      for (const voice of voices) this.#move(voice, voice.share * shownWeight, way);
    }
    if (this.#followed.size > 1) this.#forget();
    for (let k = 0; k < way.length; k++) {
      way[k] = way[k]! + gone[k]!;
      gone[k] = 0;
    }
    return way;
  }

  /** Stops counting. */
  stop(): void {
    this.#core.watchers = this.#core.watchers.filter((one) => one !== this);
    this.#followed.clear();
  }

  /** @internal */
  began(voice: StageVoice): void {
    const { heads, count } = voice.placed.curves;
    let isMoved = false;
    for (let head = 0; head < count * HEAD_SIZE; head += HEAD_SIZE) {
      const target = heads[head + HEAD_TARGET]!;
      isMoved ||= this.#offset >= 0 && target >= this.#offset && target < this.#offset + this.#width;
    }
    this.#followed.set(voice, undefined);
    if (!isMoved) return;
    const last = new Float64Array(this.#width);
    this.#followed.set(voice, last);
    this.#sample(voice);
    this.#copy(last);
  }

  /** @internal */
  leaves(voice: StageVoice): void {
    const layer = this.#core.layers.find(({ voices }) => (voices as readonly StageVoice[]).includes(voice));
    this.#move(voice, voice.share * (layer?.shownWeight ?? 1), this.#gone);
  }

  /** What is no longer shown. */
  #forget(): void {
    const { layers } = this.#core;
    const isShown = (voice: StageVoice) =>
      layers.some(({ voices }) => (voices as readonly StageVoice[]).includes(voice));
    for (const voice of this.#followed.keys()) if (!isShown(voice)) this.#followed.delete(voice);
  }

  #hides(voice: StageVoice): boolean {
    return this.#followed.get(voice) !== undefined && !voice.placed.offsets.includes(this.#offset);
  }

  /** Adds the way of a playback since it was asked last, by its share. */
  #move(voice: StageVoice, share: number, way: Float64Array): void {
    const last = this.#followed.get(voice);
    if (!last) {
      // A restored one is where it is.
      if (!this.#followed.has(voice)) this.began(voice);
      return;
    }
    this.#sample(voice);
    for (let k = 0; k < way.length; k++) way[k] = way[k]! + share * (this.#values[this.#offset + k]! - last[k]!);
    this.#copy(last);
  }

  #sample(voice: StageVoice): void {
    voice.timeInto(AT);
    sampleCurves(voice.placed.curves, AT, voice.hints, this.#base, this.#values);
  }

  #copy(out: Float64Array): void {
    for (let k = 0; k < out.length; k++) out[k] = this.#values[this.#offset + k]!;
  }
}

/**
 * Counts how far what plays moves a property, for games that move their objects themselves, by physics for example.
 * With a track that accumulates the way goes on from lap to lap. Give it a role of its own that you do not cast, and
 * nothing but the game moves the object.
 *
 * @param property a number, a vector or an angle: `role.property`. Default: the position of the first role without a
 *                 parent
 * @throws UnspoolError `play/travel` for a property that no clip animates, or that has no way: a color, a quaternion
 * @example
 * const way = travelOf(crab, 'feet.position');
 * crab.tick(dt);
 * const [x, y] = way.take();
 * body.move(x, y);
 */
export function travelOf<N extends ReelNames, Target>(player: Player<N, Target>, property?: string): Travel {
  mustBePlayer(player);
  const core = player.parts;
  const { layout, roles, facts } = core.reel;
  const root = roles.find((role) => !Object.hasOwn(facts.parents, role)) ?? '';
  const name = property ?? `${root}.position`;
  const slot = layout.find(name);
  if (!slot) {
    const known = layout.slots.map((one) => one.name);
    throw new UnspoolError('play/travel', `no clip animates ${show(name)}`, suggest(name, known));
  }
  if (!hasWay(slot.kind)) {
    const message = `${name} is of kind ${slot.kind}, which has no way`;
    throw new UnspoolError('play/travel', message, 'use a number, a vector or an angle');
  }
  return new Travel(core, slot);
}

function hasWay(kind: Kind): boolean {
  return kind === 'number' || kind === 'vec2' || kind === 'vec3' || kind === 'angle';
}
