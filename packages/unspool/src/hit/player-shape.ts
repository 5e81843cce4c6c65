import type { Clip } from '../clip/clip.js';
import { LookAhead } from '../play/drive/look-ahead.js';
import { Playback } from '../play/drive/playback.js';
import type { RootPlace } from '../play/pose/place-root.js';
import type { StageVoice } from '../play/pose/stage-voices.js';
import { numberOut } from '../play/time/playhead.js';
import type { HitState } from '../play/state/saved.js';
import { Core } from '../shape/core.js';
import type { HitShape } from '../shape/shapes.js';
import { boxOf, empty, fill, grow, includePoint } from './boxes.js';
import { findPlayed } from './clip-boxes.js';
import type { FrameMotion } from './frame-motion.js';
import { RigMotion, rigOf } from './moving-shape.js';
import { Activation, ROUNDING, type ActiveWindow, type HitPlayer, type OwnedShape, type Owner } from './owner.js';
import { TOLERANCE } from './sweep.js';

/** The playback and iteration of an activation, and the player time until which it was seen. */
interface LastActivation {
  of: object;
  iteration: number;
  until: number;
  activation: Activation;
}

const CORE = new Core();

/** The player that has a shape. */
interface ShapeOwner extends Owner {
  readonly player: HitPlayer;
  /** Seconds of the frame up to which it has been advanced; and from there to `until`. */
  readonly done: number;
  readonly ahead: number;
  /** When it handles a moment, or must look again: see `PlayerOwner`. */
  readonly due: number;
  /** Where the cast is now, and how it moves in the frame, for the shapes below a root. */
  placeOf(root: string): RootPlace;
  motionOf(root: string): FrameMotion;
}

/** A shape of a player's reel. */
export class PlayerShape implements OwnedShape {
  readonly windows: ActiveWindow[] = [];
  count = 0;
  box: Float64Array = new Float64Array(4);
  readonly #lookAhead: LookAhead;
  readonly #motion: RigMotion;
  readonly #place: FrameMotion;
  #isPossible = false;
  /** While playbacks fade, another may define it from moment to moment; else this one does. */
  isFading = false;
  #voice: StageVoice | undefined;
  /** The playback that alone says where it is. */
  #alone: Playback | undefined;
  /** Whether its box is of this frame, and not of all that the same plays. */
  #isTight = false;
  /** As long as the same plays: how far its root goes from its place, and it from there. NaN where nothing is known. */
  readonly #reach = new Float64Array(2);
  /** The activations that it was in last, by their places in the clip. */
  readonly #last = new Map<number, LastActivation>();

  constructor(
    readonly owner: ShapeOwner,
    readonly name: string,
    readonly tag: string,
    readonly data: unknown,
  ) {
    const core = owner.player.parts;
    const rig = rigOf(core.reel.facts, name);
    this.#place = owner.motionOf(rig.root);
    this.#lookAhead = new LookAhead(core, rig.layout, rig.from);
    this.#motion = new RigMotion(rig, this.#lookAhead);
    empty(this.box);
  }

  /** Takes over what plays now. */
  renew(): void {
    const { shown } = this.owner.player.parts;
    this.#isPossible = shown.some(({ voices }) => voices.some(({ clip }) => clip.activations.length > 0));
    this.isFading = false;
    if (!this.#isPossible) return;
    this.#lookAhead.update();
    this.#motion.reachInto(this.#reach);
    this.isFading = this.#lookAhead.isFading;
    this.#alone = this.#lookAhead.alone;
    this.#voice = this.#lookAhead.heaviest(this.name);
  }

  /** While it fades: the same defines the shape for so long, at most `ahead` seconds. */
  untilOther(ahead: number): number {
    return this.#lookAhead.untilOther(this.name, ahead);
  }

  /** Finds its activations, after `untilOther`, and the box that it stays in. */
  look(): void {
    this.count = 0;
    empty(this.box);
    if (!this.#isPossible) return;
    const voice = this.isFading ? this.#lookAhead.heaviest(this.name) : this.#voice;
    if (!voice) return;
    if (this.isFading) this.#lookAhead.hold(this.name, this.#ahead / 2);
    if (voice instanceof Playback) this.#findOfPlayback(voice as Playback);
    else this.#findOfGauge(voice);
    this.#findBox();
  }

  #findBox(): void {
    const { start, end } = this.#place;
    const alone = this.#alone;
    this.#isTight =
      alone !== undefined &&
      this.owner.due === Infinity &&
      findPlayed(alone, this.#motion.rig, this.owner, start, end, this.box);
    if (this.#isTight) return;
    const [far, near] = [this.#reach[0]!, this.#reach[1]!];
    if (!(far + near < Infinity)) {
      fill(this.box);
      return;
    }
    const placeMost = Math.max(Math.abs(start[3]), Math.abs(start[4]), Math.abs(end[3]), Math.abs(end[4]));
    const sizeMost = Math.max(Math.abs(start[6]), Math.abs(start[7]), Math.abs(end[6]), Math.abs(end[7]));
    // A little more, for what rounding adds.
    const by = (placeMost * far + sizeMost * near) * (1 + 1e-9) + TOLERANCE;
    includePoint(this.box, start[0], start[1], by);
    includePoint(this.box, end[0], end[1], by);
  }

  boxInto(from: number, box: Float64Array): void {
    const { until } = this.owner;
    if (this.#isTight) {
      box.set(this.box);
      return;
    }
    this.put(from, CORE);
    boxOf(CORE, box);
    grow(box, this.farthest(from, Math.max(from, until), 0, 0) + TOLERANCE);
  }

  #add(activation: Activation, data: unknown, from: number, until: number): void {
    const { done } = this.owner;
    const known = this.windows[this.count];
    if (known) {
      known.activation = activation;
      known.data = data;
      known.from = done + from;
      known.until = done + until;
    } else this.windows.push({ activation, data, from: done + from, until: done + until });
    this.count++;
  }

  /** Seconds for which what defines it now does so for certain. */
  get #ahead(): number {
    const { ahead } = this.owner;
    return this.isFading ? Math.min(ahead, this.#lookAhead.same) : ahead;
  }

  /** Its activations as a playhead passes them. */
  #findOfPlayback(playback: Playback): void {
    const ahead = this.#ahead;
    const { head, clip, repeat, isRunning } = playback;
    const speed = isRunning && playback.state === 'running' ? head.speed : 0;
    const { activations } = clip;
    for (let i = 0; i < activations.length; i++) {
      const index = speed < 0 ? activations.length - 1 - i : i;
      const { shape, at, until, data } = activations[index]!;
      if (shape !== this.name) continue;
      let from = 0;
      let end = ahead;
      if (speed === 0) {
        if (head.shown < at || (head.shown >= until && !(until === clip.duration && head.shown === until))) continue;
      } else {
        const first = (at - head.shown) / speed;
        const last = (until - head.shown) / speed;
        from = Math.max(0, Math.min(first, last));
        end = Math.min(ahead, Math.max(first, last));
        if (from > end) continue;
      }
      // Through the turn of a ping-pong it is the same; in the next pass of a loop it is another.
      const pass = repeat.mode === 'ping-pong' ? 0 : head.iteration;
      this.#add(this.#activationOf(playback, index, pass, from, end), data ?? this.data, from, end);
    }
  }

  /** Of a gauge: active or not, as it begins. */
  #findOfGauge(hand: StageVoice): void {
    const ahead = this.#ahead;
    if (!this.#motion.rig.isActive(this.#motion.values(0))) return;
    this.#add(this.#activationOf(hand, 0, 0, 0, ahead), this.data, 0, ahead);
  }

  /** The activation that it continues, if it was in one until now; else a new one. */
  #activationOf(of: object, index: number, pass: number, from: number, until: number): Activation {
    const { now } = this.owner.player.parts.frame;
    const last = this.#last.get(index);
    if (!last) {
      const activation = new Activation();
      this.#last.set(index, { of, iteration: pass, until: now + until, activation });
      return activation;
    }
    // It may have been expected to last longer, before something interrupted it.
    const goesOn =
      last.of === of && last.iteration === pass && Math.abs(now + from - Math.min(last.until, now)) < ROUNDING;
    if (!goesOn) last.activation = new Activation();
    last.of = of;
    last.iteration = pass;
    last.until = now + until;
    return last.activation;
  }

  save(): HitState[] {
    const { shown } = this.owner.player.parts;
    return [...this.#last].flatMap(
      ([
        place,
        {
          of,
          iteration: pass,
          until,
          activation: { targets },
        },
      ]): HitState[] => {
        const layer = shown.findIndex(({ voices }) => (voices as readonly object[]).includes(of));
        // What is no longer shown continues nothing.
        if (layer < 0) return [];
        const voice = (shown[layer]!.voices as readonly object[]).indexOf(of);
        const activation = Math.max(0, this.#activations(shown[layer]!.voices[voice]!).indexOf(place));
        return [
          {
            ...{ shape: this.name, activation, layer, voice, iteration: pass, until: numberOut(until) },
            targets: [...(targets ?? [])],
          },
        ];
      },
    );
  }

  load(saved: readonly HitState[]): void {
    const { shown } = this.owner.player.parts;
    this.#last.clear();
    for (const { shape, activation: nth, layer, voice, iteration, until, targets } of saved) {
      const of = shown[layer]?.voices[voice];
      if (shape !== this.name || !of) continue;
      const activation = new Activation();
      activation.targets = new Set(targets);
      this.#last.set(this.#activations(of)[nth] ?? 0, { of, iteration, until: Number(until), activation });
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

  /** A time of the frame as seconds from where its player is. */
  #after(time: number): number {
    return Math.max(0, time - this.owner.done);
  }

  put(time: number, core: Core): void {
    this.#motion.put(this.#after(time), this.#place.at(time), core);
  }

  farthest(from: number, until: number, x: number, y: number): number {
    const [start, end]: readonly RootPlace[] = [this.#place.at(from, 0), this.#place.at(until, 1)];
    return this.#motion.farthest(this.#after(from), this.#after(until), start!, end!, x, y);
  }

  /** Its current place, if it is active. */
  shown(): HitShape | undefined {
    const { isHeld } = this.#lookAhead;
    this.#lookAhead.update();
    this.freshen();
    const { rig } = this.#motion;
    const values = this.#motion.values(0);
    const shape = rig.isActive(values) ? rig.shape(values, this.owner.placeOf(rig.root)) : undefined;
    this.#lookAhead.isHeld = isHeld;
    this.freshen();
    return shape;
  }
}
