import type { ReelNames } from '../../clip/names.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import { Playback } from './playback.js';
import { makePlaybacks } from './chain.js';
import { choicesOf, pick, type Playable } from '../time/pick.js';
import type { LayerState, PlaybackState } from '../state/saved.js';
import { weightOf } from '../time/clip-times.js';
import {
  settingsIn,
  checkStop,
  unlessPlaying,
  type EnqueueOptions,
  type PlayOptions,
  type StopOptions,
} from '../time/settings.js';
import type { PlayContext } from './context.js';

/** Options of `player.layer(name, options)`. */
export interface LayerOptions {
  /** Weight of the layer over those below, 0 to 1. Default: 1. */
  readonly weight?: number;
  /** What the layer may animate: roles (`'claw'`), properties (`'claw.tint'`) or a property of all roles (`'*.tint'`). Default: everything. */
  readonly mask?: readonly string[];
}

/** A queue in which nothing waits; shared, as there are as many as players. */
const NONE: readonly never[] = [];

/** What comes after the first of a list. */
function after<P>(list: readonly P[]): readonly P[] {
  return list.length === 1 ? NONE : list.slice(1);
}

/** One layer of a player: the current playback, those that fade out below it, and its queue. */
export class Layer<N extends ReelNames = ReelNames> {
  /** The name that it was created with. */
  readonly name: string;
  /** What it may animate; `undefined` for everything. */
  readonly mask: readonly string[] | undefined;
  /** @internal what is shown, the oldest first */
  voices: readonly Playback<N>[] = [];
  /** @internal */
  readonly core: PlayContext;
  #current: Playback<N> | undefined;
  #queue: readonly Playback<N>[] = NONE;
  #fallback: { readonly name: Playable<N>; readonly options: PlayOptions<N> } | undefined;
  #isFallback = false;
  /** Whether the `stop` event of what a new playback replaces is being handled. */
  #isReplacing = false;
  /** Whether it was removed from its player. */
  #isGone = false;
  /** @internal its weight, as a member that is read without a call */
  shownWeight = 1;

  /** @internal use `player.layer` */
  constructor(core: PlayContext, name: string, mask: readonly string[] | undefined) {
    this.core = core;
    this.name = name;
    this.mask = mask;
  }

  /** Weight of the layer over those below, 0 to 1. */
  get weight(): number {
    return this.shownWeight;
  }

  set weight(weight: number) {
    this.shownWeight = weightOf(weight);
    for (const voice of this.voices) this.core.touch(voice);
    this.core.frame.changed();
  }

  /** @internal see `ShownLayer` */
  animates(voice: Playback<N>): boolean {
    return voice.isRunning || this.isFading;
  }

  /** @internal */
  claims(voice: Playback<N>): boolean {
    return voice.active || this.isFading;
  }

  /** The current playback, or one that has ended and holds its last pose. */
  get playback(): Playback<N> | undefined {
    return this.#current;
  }

  /** The playbacks in the queue, the next first. */
  get queue(): readonly Playback<N>[] {
    return this.#queue;
  }

  /**
   * Plays a clip or chain now, or one of a list. Stops the current playback and clears the queue. Inside the `stop`
   * handler of a playback that another `play` call replaces, that other call wins.
   *
   * @param step @internal the playback to continue from, at the same phase
   */
  play(name: Playable<N>, options: PlayOptions<N> = {}, step?: Playback): Playback<N> {
    const playing = this.#current;
    if (unlessPlaying(options) && playing && this.#isPlaying(name)) return playing;
    const made = this.#make(name, options, 'play');
    const first = made[0]!;
    if (step) first.stepOf(step);
    if (first.settings.signal?.aborted || this.#isReplacing) {
      for (const one of made) one.stop();
      return first;
    }
    const back = first.settings.back ? this.#returning(first.settings.fade) : [];
    this.#clear((one) => !back.includes(one));
    this.#queue = after([...made, ...back]);
    this.#start(first, false);
    return first;
  }

  /**
   * Adds a clip or chain to the queue. It starts at the exact moment when everything before it has ended, or at once
   * when the layer is idle. Throws when the playback before it loops forever.
   */
  enqueue(name: Playable<N>, options: EnqueueOptions<N> = {}): Playback<N> {
    const made = this.#make(name, options, 'enqueue');
    const first = made[0]!;
    if (first.settings.signal?.aborted) {
      for (const one of made) one.stop();
      return first;
    }
    const busy = this.#current?.active && !this.#isFallback ? this.#current : undefined;
    const before = this.#queue.at(-1) ?? busy;
    if (before?.repeat.count === Infinity && first.settings.wait === 'end') {
      const message = `${show(first.chain?.name ?? first.clip.name)} would never play: ${show(before.clip.name)} before it loops forever`;
      throw new UnspoolError(
        'play/endless',
        message,
        "give that clip a count, or enqueue this one with { wait: 'loop' }",
      );
    }
    if (this.#isFallback) this.clear();
    this.#queue = [...this.#queue, ...made];
    if (!busy) this.#next();
    return first;
  }

  /** Sets what plays whenever the layer is idle; `undefined` for nothing. */
  fallback(name: Playable<N> | undefined, options: Omit<PlayOptions<N>, 'unless'> = {}): this {
    for (const { clip } of name === undefined ? [] : choicesOf(name))
      for (const one of this.#make(clip, options, 'fallback')) one.stop();
    this.#fallback = name === undefined ? undefined : { name, options };
    if (this.#isFallback) this.#current?.stop();
    else if (!this.#current?.active && this.#fallback) this.#next();
    return this;
  }

  /** Clears the queue. */
  clear(): void {
    this.#clear(() => true);
  }

  #clear(isOut: (waiting: Playback<N>) => boolean): void {
    const out = this.#queue.filter(isOut);
    this.#queue = NONE;
    for (const one of out) one.stop();
  }

  /** Clears the queue and stops the current playback. The fallback continues. */
  stop(options: StopOptions = {}): void {
    // Before anything changes, and also where nothing plays: any number of frames a second serves to check a length.
    checkStop(this.#current?.clip.fps ?? 1, options);
    this.clear();
    if (!this.#isFallback) this.#current?.stop(options);
  }

  /** @internal Nothing plays here from now on. */
  end(): void {
    this.#fallback = undefined;
    this.clear();
    this.#current?.stop();
  }

  /** @internal Nothing plays here from now on, nor can it. */
  dispose(): void {
    this.end();
    for (const voice of this.voices) voice.forget();
    this.voices = [];
    this.#current = undefined;
    this.#isGone = true;
  }

  /** @internal */
  rootInto(out: Float64Array): void {
    this.core.rootInto(out);
  }

  /** @internal */
  touch(playback: Playback<N>): void {
    if (!this.voices.includes(playback)) return;
    this.core.touch(playback);
    this.core.routine?.mark();
  }

  /** @internal A playback fades out, and with it those that it has faded over. */
  leave(playback: Playback<N>, seconds: number): void {
    this.core.sample();
    this.voices = this.core.settle(this.voices, true);
    const leaving = this.voices.slice(0, this.voices.indexOf(playback) + 1);
    if (leaving.length === 0) return;
    this.core.release(leaving.filter(({ after }) => after === 'rest'));
    playback.leave();
    for (const voice of leaving) {
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
    this.#decide(playback);
    if (playback !== this.#current) return;
    // It stays to be faded from, or to hold its pose.
    const { fadeOut } = playback.settings;
    if (playback.isLeaving) return;
    if (playback.state === 'ended' && fadeOut > 0) this.leave(playback, fadeOut);
    else if (playback.after === 'rest') this.#drop(playback);
  }

  /** What follows an ended playback begins at once, so that it can fade from its last pose. */
  #decide({ state }: Playback<N>): void {
    const { routine } = this.core;
    if (!routine) return;
    routine.mark();
    if (state === 'ended') routine.decide();
  }

  /** @internal Whether something plays here that is not the fallback. */
  get isBusy(): boolean {
    return this.#current?.active === true && !this.#isFallback;
  }

  /** @internal Whether what comes next waits only for the end of the current iteration. */
  handsOver(playback: Playback<N>): boolean {
    return playback === this.#current && this.#queue[0]?.settings.wait === 'loop';
  }

  /** @internal Computes how much each playback is shown, and releases those that are no longer shown. */
  share(): void {
    const { voices } = this;
    if (voices.length === 1 && !voices[0]!.isFading) {
      // The usual case. Nothing is passed on as a number, because the engine would box it.
      voices[0]!.share = voices[0]!.head.weight;
      return;
    }
    let left = 1;
    for (let i = voices.length - 1; i >= 0; i--) {
      const voice = voices[i]!;
      const faded = voice.fadedIn();
      voice.share = left * faded * voice.weight * voice.stays();
      left *= 1 - faded;
      if (faded === 1 && voice.envelope?.fading === 1) {
        voice.envelope.fading = 0;
        this.core.frame.regroup();
      }
      const isGone = voice.stays() === 0;
      if (!isGone && (left > 0 || i === 0)) continue;
      // Including what it had faded over, however far that had come.
      this.voices = voices.slice(isGone ? i + 1 : i);
      this.core.frame.regroup();
      break;
    }
  }

  /** @internal Whether time changes anything here. */
  get isGoing(): boolean {
    const now = this.#current;
    return this.isFading || (now !== undefined && (now.state === 'beginning' || now.isRunning));
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
      fallback: this.#fallback ? { name: this.#fallback.name, options } : null,
    };
  }

  /**
   * @internal Becomes what was saved. What played here is forgotten without a word, but for what goes on.
   *
   * @param goesOn the playback that has had a state until now, to have it again
   */
  load(
    { weight, voices, queue, current, gone, isFallback, fallback }: LayerState,
    goesOn?: (state: PlaybackState) => Playback<N> | undefined,
  ): void {
    const all = [...voices, ...queue, ...(gone ? [gone] : [])];
    const stay = all.map((state) => goesOn?.(state));
    for (const one of [...this.voices, ...this.#queue, this.#current]) if (!stay.includes(one)) one?.forget();
    const { reel, frame } = this.core;
    const load = (state: PlaybackState, shown: boolean) => {
      const clip = reel.clip(state.clip) as Playback<N>['clip'];
      const known = stay[all.indexOf(state)];
      const settings = settingsIn(clip, state.settings, known?.settings.signal);
      const one = known ?? new Playback<N>(frame, clip, settings);
      one.become(clip, settings, state.watched);
      one.layer = this;
      if (shown) this.core.ready(one, state.slots ?? this.mask);
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

  /** @internal What played here is no longer there: what comes next begins. */
  goOn(): void {
    if (!this.#current) this.#next();
  }

  /** The name of what comes last here: of the queue, or what plays or has played. */
  get #lastName(): string | undefined {
    const last = this.#queue.at(-1) ?? this.#current;
    return last?.chain?.name ?? last?.clip.name;
  }

  /** Whether one of these plays now. */
  #isPlaying(what: Playable<N>): boolean {
    const now = this.#current;
    if (!now?.active) return false;
    const name = now.chain?.name ?? now.clip.name;
    return choicesOf(what).some(({ clip }) => clip === name);
  }

  #make(what: Playable<N>, options: EnqueueOptions<N>, call: string): Playback<N>[] {
    if (this.#isGone) {
      const message = this.core.isDisposed
        ? 'the player is disposed'
        : `the layer ${show(this.name)} was removed when the player was restored`;
      throw new UnspoolError('play/disposed', message, 'get the layer from the player again, or create a new player');
    }
    const name = typeof what === 'string' ? what : pick(choicesOf(what), this.#lastName, this.core.nextSeed++).clip;
    return makePlaybacks(this.core, this, name, options, call);
  }

  /** The interrupted playback, to continue from where it is; and after it what that one had interrupted itself. */
  #returning(fade: number): Playback<N>[] {
    const now = this.#current;
    if (!now?.active || this.#isFallback) return [];
    const first = this.#queue.findIndex(({ returns }) => returns);
    return [now.again(fade), ...(first < 0 ? [] : this.#queue.slice(first))];
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
    const { core } = this;
    core.sample();
    const fades = playback.settings.fade > 0;
    const before = fades ? core.settle(this.voices) : this.voices;
    const leaves = ({ after }: Playback<N>) => after === 'rest';
    // What has just come to its end, and leaves the rest values, is nothing for offsets to count from.
    const isOver = (voice: Playback<N>) => voice.stands && leaves(voice);
    core.release(before.filter(isOver));
    this.voices = before.filter((voice) => !isOver(voice));
    core.begin(playback, this.mask);
    if (fades) {
      core.release(this.voices.filter(leaves));
      previous?.leave();
      this.voices = [...before, playback];
    } else {
      core.release(this.voices, playback);
      this.voices = [playback];
    }
    this.#current = playback;
    this.#isFallback = isFallback;
    playback.begin();
    core.routine?.mark();
    if (!previous?.active) return;
    const wasReplacing = this.#isReplacing;
    this.#isReplacing = true;
    try {
      previous.replace(playback);
    } finally {
      this.#isReplacing = wasReplacing;
    }
  }

  #drop(playback: Playback<N>): void {
    this.core.sample();
    const place = this.voices.indexOf(playback);
    if (place < 0) return;
    // Including what it had faded over, however far that had come.
    this.core.release(this.voices.slice(0, place + 1));
    this.voices = this.voices.slice(place + 1);
  }
}
