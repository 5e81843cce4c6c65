import type { ReelNames } from '../clip/names.js';
import type { ChainLink } from '../reel/sequences.js';
import { UnspoolError } from '../wording/error.js';
import { show } from '../wording/show.js';
import { Playback } from './playback.js';
import { chainRun } from './chain.js';
import type { LayerState, PlaybackState } from './saved.js';
import { weightOf } from './inside.js';
import { settingsOf, type EnqueueOptions, type PlayOptions } from './settings.js';
import type { Clip } from '../clip/clip.js';
import type { PlayContext } from './context.js';
import type { PlaybackPlace } from './course.js';

export interface LayerOptions {
  /** How much of the layer is shown over those below it, 0–1. */
  readonly weight?: number;
  /** All that it may animate: `'claw'` a role, `'claw.tint'` a property, `'*.tint'` that of every role. */
  readonly mask?: readonly string[];
}

/** A queue in which nothing waits; shared, as there are as many as players. */
const NONE: readonly never[] = [];

/** What comes after the first of a list, and one more. */
function after<P>(list: readonly P[], more?: P): readonly P[] {
  if (list.length === 1 && !more) return NONE;
  return more ? [...list.slice(1), more] : list.slice(1);
}

/** What plays in one place, one after the other: the playback of now, those that fade out under it, and its queue. */
export class Layer<N extends ReelNames = ReelNames> implements PlaybackPlace {
  readonly name: string;
  readonly mask: readonly string[] | undefined;
  /** @internal what is shown, the oldest first */
  voices: readonly Playback<N>[] = [];
  /** @internal */
  readonly core: PlayContext;
  #current: Playback<N> | undefined;
  #queue: readonly Playback<N>[] = NONE;
  #fallback: { readonly name: N['clip'] | N['chain']; readonly options: PlayOptions<N> } | undefined;
  #isFallback = false;
  /** @internal its weight, as a member that is read without a call */
  shownWeight = 1;

  /** @internal use `player.layer` */
  constructor(core: PlayContext, name: string, mask: readonly string[] | undefined) {
    this.core = core;
    this.name = name;
    this.mask = mask;
  }

  get weight(): number {
    return this.shownWeight;
  }

  set weight(weight: number) {
    this.shownWeight = weightOf(weight);
    this.core.frame.changed();
  }

  /** What plays here, or has ended and holds its last pose. */
  get playback(): Playback<N> | undefined {
    return this.#current;
  }

  /** What waits to be played, the next first. */
  get queue(): readonly Playback<N>[] {
    return this.#queue;
  }

  /**
   * Plays a clip or chain from now on. What played here is stopped, and what waited is forgotten.
   *
   * @param step @internal what it goes on with, at the same share of the clip
   */
  play(name: N['clip'] | N['chain'], options: PlayOptions<N> = {}, step?: Playback): Playback<N> {
    const made = this.#make(name, options, 'play');
    const first = made[0]!;
    if (step) first.stepOf(step);
    if (first.settings.signal?.aborted) {
      for (const one of made) one.stop();
      return first;
    }
    const back = first.settings.back ? this.#returning(first.settings.fade) : undefined;
    this.clear();
    this.#queue = after(made, back);
    this.#start(first, false);
    return first;
  }

  /**
   * Plays a clip or chain when what plays and waits here has ended: at that very moment. At once when nothing does.
   * Throws when the one before loops for ever, and would never end.
   */
  enqueue(name: N['clip'] | N['chain'], options: EnqueueOptions<N> = {}): Playback<N> {
    const made = this.#make(name, options, 'enqueue');
    const first = made[0]!;
    if (first.settings.signal?.aborted) {
      for (const one of made) one.stop();
      return first;
    }
    const busy = this.#current?.active && !this.#isFallback ? this.#current : undefined;
    const before = this.#queue.at(-1) ?? busy;
    if (before?.repeat.count === Infinity && first.settings.wait === 'end') {
      const said = `${show(name)} would never be played: ${show(before.clip.name)} before it loops for ever`;
      throw new UnspoolError('play/endless', said, "give that a count, or this { wait: 'loop' }");
    }
    if (this.#isFallback) this.clear();
    this.#queue = [...this.#queue, ...made];
    if (!busy) this.#next();
    return first;
  }

  /** What plays here whenever nothing else does; `undefined` nothing. */
  fallback(name: N['clip'] | N['chain'] | undefined, options: PlayOptions<N> = {}): this {
    if (name !== undefined) for (const one of this.#make(name, options, 'fallback')) one.stop();
    this.#fallback = name === undefined ? undefined : { name, options };
    if (this.#isFallback) this.#current?.stop();
    else if (!this.#current?.active && this.#fallback) this.#next();
    return this;
  }

  /** Forgets what waits. */
  clear(): void {
    const waiting = this.#queue;
    this.#queue = NONE;
    for (const one of waiting) one.stop();
  }

  /** Forgets what waits and stops what plays; the fallback goes on. */
  stop(options: Parameters<Playback['stop']>[0] = {}): void {
    this.clear();
    if (!this.#isFallback) this.#current?.stop(options);
  }

  /** @internal Nothing plays here any more, nor will. */
  end(): void {
    this.#fallback = undefined;
    this.clear();
    this.#current?.stop();
  }

  dispose(): void {
    this.end();
    for (const voice of this.voices) voice.forget();
    this.voices = [];
    this.#current = undefined;
  }

  /** @internal */
  rootInto(out: Float64Array): void {
    this.core.rootInto(out);
  }

  /** @internal A playback fades out, and with it those that it has faded over. */
  leave(playback: Playback<N>, seconds: number): void {
    playback.leave();
    for (const voice of this.voices.slice(0, this.voices.indexOf(playback) + 1)) {
      const presence = voice.makePresence();
      if (presence.leaveFor >= 0) continue;
      presence.leaveAt = this.core.frame.now;
      presence.leaveFor = seconds;
    }
  }

  /** @internal Something here is over. */
  over(playback: Playback<N>): void {
    if (this.#queue.includes(playback)) this.#queue = this.#queue.filter((one) => one !== playback);
    if (playback !== this.#current) return;
    this.#next();
    // It stays to be faded from, or to hold its pose.
    if (playback === this.#current && playback.after === 'rest' && playback.stays() === 1) this.#drop(playback);
  }

  /** @internal Whether what comes next waits for the end of a pass of this one. */
  handsOver(playback: Playback<N>): boolean {
    return playback === this.#current && this.#queue[0]?.settings.wait === 'loop';
  }

  /** @internal Says by how much each is shown now, and lets go of those that are not any more. */
  share(): void {
    const { voices } = this;
    if (voices.length === 1 && !voices[0]!.isFading) {
      // Most of the time; and nothing here is handed on as a number, which would put it in a box.
      voices[0]!.share = voices[0]!.head.weight;
      return;
    }
    let left = 1;
    for (let i = voices.length - 1; i >= 0; i--) {
      const voice = voices[i]!;
      const faded = voice.fadedIn();
      voice.share = left * faded * voice.weight * voice.stays();
      left *= 1 - faded;
      if (faded === 1 && voice.presence) voice.presence.fading = 0;
      if (left === 0 && i > 0) {
        this.voices = voices.slice(i);
        break;
      }
      if (voice.stays() === 0) {
        this.#drop(voice);
        break;
      }
    }
  }

  /** @internal Whether a fade is going on. */
  get isFading(): boolean {
    const { voices } = this;
    return voices.length > 1 || (voices.length === 1 && voices[0]!.isFading);
  }

  /** @internal */
  save(chainOf: (playback: Playback<N>) => number): LayerState {
    const save = (playback: Playback<N>) => playback.save(chainOf(playback));
    const current = this.#current;
    const place = current ? this.voices.indexOf(current) : -1;
    const { signal, ...options } = this.#fallback?.options ?? {};
    return {
      name: this.name,
      mask: this.mask ?? null,
      weight: this.weight,
      voices: this.voices.map(save),
      queue: this.#queue.map(save),
      current: place,
      gone: current && place < 0 ? save(current) : null,
      isFallback: this.#isFallback,
      fallback: this.#fallback ? { name: this.#fallback.name, options: options } : null,
    };
  }

  /** @internal Becomes what was saved. What played here is forgotten without a word. */
  load({ weight, voices, queue, current, gone, isFallback, fallback }: LayerState): void {
    for (const one of [...this.voices, ...this.#queue, this.#current]) one?.forget();
    const { reel, frame } = this.core;
    const load = (state: PlaybackState, shown: boolean) => {
      const { repeat, ...settings } = state.settings;
      const one = new Playback<N>(frame, reel.clip(state.clip), {
        ...settings,
        repeat: { mode: repeat.mode, count: Number(repeat.count) },
        from: settings.from,
        until: settings.until,
        signal: undefined,
      });
      one.layer = this;
      if (shown) this.core.begin(one, this.mask);
      one.load(state);
      return one;
    };
    this.voices = voices.map((state) => load(state, true));
    this.#queue = queue.map((state) => load(state, false));
    this.#current = gone ? load(gone, true) : this.voices[current];
    this.shownWeight = weight;
    this.#isFallback = isFallback;
    this.#fallback = fallback ? { name: fallback.name, options: fallback.options } : undefined;
  }

  #make(name: string, options: EnqueueOptions<N>, call: string): Playback<N>[] {
    const { reel, frame } = this.core;
    const make = (clip: string, given: EnqueueOptions<N>) => {
      const found = reel.clip(clip) as Clip<N['clip']>;
      const one = new Playback<N>(
        frame,
        found,
        settingsOf(found, given, call, () => this.core.nextSeed++),
      );
      one.layer = this;
      return one;
    };
    if (!Object.hasOwn(reel.facts.chains, name)) return [make(name, options)];
    const { wait, ...others } = options;
    const links = reel.chain(name).map((link, i) => {
      const { clip, ...said }: ChainLink = link;
      // What is said of a link stands over what is said of the whole; but rates multiply, and the whole's fade and
      // beginning are its first's.
      const { from, fade, ...rest } = others;
      const rate = (options.rate ?? 1) * (said.rate ?? 1);
      return make(clip, { ...(i === 0 ? options : rest), ...said, rate });
    });
    const run = chainRun(name, links);
    for (const link of links) link.chain = run;
    return links;
  }

  /** What plays now, to be played again from where it is. */
  #returning(fade: number): Playback<N> | undefined {
    const now = this.#current;
    if (!now?.active || this.#isFallback) return undefined;
    return now.again(fade);
  }

  #next(): void {
    const waiting = this.#queue[0];
    if (waiting) {
      this.#queue = after(this.#queue);
      this.#start(waiting, false);
    } else if (this.#fallback) {
      const { name, options } = this.#fallback;
      const made = this.#make(name, options, 'fallback');
      this.#queue = after(made);
      this.#start(made[0]!, true);
    }
  }

  #start(playback: Playback<N>, isFallback: boolean): void {
    const previous = this.#current;
    this.core.begin(playback, this.mask);
    const faded = playback.settings.fade > 0;
    if (faded) previous?.leave();
    this.voices = faded ? [...this.voices, playback] : [playback];
    this.#current = playback;
    this.#isFallback = isFallback;
    playback.begin();
    if (previous?.active) previous.stop();
  }

  #drop(playback: Playback<N>): void {
    const place = this.voices.indexOf(playback);
    if (place < 0) return;
    // And with it what it faded over, however far it came.
    const gone = this.voices.slice(0, place + 1);
    this.voices = this.voices.slice(place + 1);
    for (const voice of gone) this.core.left(voice);
  }
}
