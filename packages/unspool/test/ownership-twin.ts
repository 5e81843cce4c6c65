/**
 * A slow twin of who owns a property and what it stands on, written from docs/reference/laws.md alone ("Whose a property is",
 * "Offsets", "Blending"): plain numbers, one list of voices a layer, everything worked out anew at each moment.
 */
export type After = 'hold' | 'rest';

export interface TwinTrack {
  readonly from: number;
  readonly to: number;
  readonly offset?: boolean;
}

export interface TwinClip {
  readonly duration: number;
  readonly after?: After;
  readonly loop?: boolean;
  readonly tracks: Readonly<Record<string, TwinTrack>>;
}

export interface TwinPlay {
  readonly clip: string;
  readonly layer: number;
  readonly fade?: number;
  readonly fadeOut?: number;
  readonly after?: After;
  readonly weight?: number;
}

interface Voice {
  readonly clip: TwinClip;
  readonly fade: number;
  readonly fadeOut: number;
  readonly weight: number;
  after: After;
  readonly began: number;
  /** What its properties were when it began: of those that it still shows. */
  readonly base: Map<string, number>;
  readonly shows: Set<string>;
  state: 'runs' | 'over';
  /** When it came to stand, if it did. */
  stoodAt?: number;
  /** When it was stopped: what begins with a fade at that very moment fades over it as it goes on. */
  stoppedAt?: number;
  /** Faded over by another since. */
  isUnder: boolean;
  leave?: { readonly at: number; readonly for: number };
}

interface Layer {
  weight: number;
  voices: Voice[];
  current?: Voice;
  queue: TwinPlay[];
}

/** Moments closer than this are one. */
const SAME = 1e-9;

export class OwnershipTwin {
  now = 0;
  readonly layers: Layer[];
  readonly ground = new Map<string, number>();
  /** Animated since the last write. */
  owed = new Set<string>();
  hasTicked = false;

  constructor(
    readonly clips: Readonly<Record<string, TwinClip>>,
    readonly properties: readonly string[],
    readonly declared: Readonly<Record<string, number>>,
    /** The game's objects; the player's own where there is no cast. */
    readonly objects: Map<string, number>,
    readonly hasCast: boolean,
    layers: number,
  ) {
    this.layers = Array.from({ length: layers }, () => ({ weight: 1, voices: [], queue: [] }));
    for (const property of properties) this.ground.set(property, declared[property] ?? 0);
    for (const property of Object.keys(declared)) this.owed.add(property);
  }

  get voices(): Voice[] {
    return this.layers.flatMap(({ voices }) => voices);
  }

  /** 0–1 of its fade-in, and of what is left of its fade-out. */
  fadedIn({ fade, began }: Voice): number {
    const past = this.now - began;
    return fade - past <= SAME ? 1 : past / fade;
  }

  left({ leave }: Voice): number {
    if (!leave) return 1;
    const rest = leave.for - (this.now - leave.at);
    return rest <= SAME ? 0 : rest / leave.for;
  }

  /** What is not shown any more goes: all under what has faded in whole, and what has faded out, with all under it. */
  forget(): void {
    for (const layer of this.layers) {
      const { voices } = layer;
      for (let i = voices.length - 1; i >= 0; i--) {
        if (this.left(voices[i]!) <= 0) layer.voices = voices.slice(i + 1);
        else if (this.fadedIn(voices[i]!) >= 1) layer.voices = voices.slice(i);
        else continue;
        break;
      }
    }
  }

  isFading({ voices }: Layer): boolean {
    return voices.length > 1 || voices.some((voice) => voice.leave !== undefined || this.fadedIn(voice) < 1);
  }

  /** Where a voice's track stands, before its base. */
  track({ clip, began, stoodAt }: Voice, { from, to }: TwinTrack): number {
    const time = (stoodAt ?? this.now) - began;
    const inside = clip.loop ? time % clip.duration : Math.min(time, clip.duration);
    return from + ((to - from) * inside) / clip.duration;
  }

  /** What is shown of a property, by some of the voices. */
  shown(property: string, counts: (voice: Voice) => boolean = () => true): number {
    let value = this.ground.get(property)!;
    let isBelow = false;
    for (const layer of this.layers) {
      let [left, mean, shares] = [1, 0, 0];
      const voices = layer.voices.filter(counts);
      for (const voice of [...voices].reverse()) {
        const faded = this.fadedIn(voice);
        const share = left * faded * voice.weight * this.left(voice);
        left *= 1 - faded;
        const track = voice.clip.tracks[property];
        if (!track || !voice.shows.has(property) || share === 0) continue;
        const base = track.offset ? (isBelow ? value : voice.base.get(property)!) : 0;
        mean += share * (base + this.track(voice, track));
        shares += share;
      }
      if (shares > 0 && layer.weight > 0) {
        value = layer.weight * mean + (1 - layer.weight * shares) * value;
        isBelow = true;
      }
    }
    return value;
  }

  isAnimatedBeside(property: string, but: readonly Voice[]): boolean {
    return this.voices.some((voice) => !but.includes(voice) && voice.shows.has(property));
  }

  isGames(property: string): boolean {
    if (this.owed.has(property)) return false;
    return !this.layers.some((layer) =>
      layer.voices.some((voice) => voice.shows.has(property) && (voice.state === 'runs' || this.isFading(layer))),
    );
  }

  /** What its object shows of a property that is the game's; before the first frame the declared rest value. */
  found(property: string): number {
    if (!this.hasCast || (!this.hasTicked && property in this.declared)) return this.shown(property);
    return this.objects.get(property)!;
  }

  release(out: readonly Voice[], incoming?: TwinClip): void {
    const done = new Set<string>();
    const left = new Map<string, number>();
    for (const voice of [...out].reverse()) {
      for (const property of voice.shows) {
        if (done.has(property)) continue;
        done.add(property);
        if (this.isAnimatedBeside(property, out)) continue;
        const declared = voice.clip.tracks[property]!.offset ? undefined : this.declared[property];
        if (voice.after === 'rest') left.set(property, declared ?? voice.base.get(property)!);
        else if (incoming && property in incoming.tracks) continue;
        else left.set(property, this.isGames(property) ? this.found(property) : this.shown(property));
      }
      if (voice.after === 'rest') for (const property of voice.shows) this.owed.add(property);
    }
    for (const [property, value] of left) this.ground.set(property, value);
  }

  stands({ state, isUnder, stoppedAt }: Voice): boolean {
    return state !== 'runs' && !isUnder && stoppedAt !== this.now;
  }

  /** A property that is the game's stands on what its object shows; what has ended holds it no more. */
  takeOver(property: string): void {
    if (!this.isGames(property)) return;
    this.ground.set(property, this.found(property));
    for (const voice of this.voices) voice.shows.delete(property);
  }

  /** What stands since before is not faded where it is the game's; nor, faded over, where nothing else animates it. */
  settle(layer: Layer, isOut = false): void {
    const standing = layer.voices.filter((voice) => this.stands(voice));
    const gone = new Set<Voice>();
    for (const voice of standing) {
      for (const property of [...voice.shows]) this.takeOver(property);
      const alone = isOut ? [] : [...voice.shows].filter((property) => !this.isAnimatedBeside(property, [voice]));
      const values = alone.map((property) => this.shown(property));
      alone.forEach((property, i) => {
        this.ground.set(property, values[i]!);
        voice.shows.delete(property);
      });
      if (voice.shows.size === 0) gone.add(voice);
    }
    layer.voices = layer.voices.filter((voice) => !gone.has(voice));
  }

  start(layer: Layer, { clip: name, fade = 0, fadeOut = 0, weight = 1, after }: TwinPlay): void {
    this.forget();
    const clip = this.clips[name]!;
    if (fade > 0) this.settle(layer);
    const before = layer.voices;
    const isOver = (voice: Voice) => this.stands(voice) && voice.after === 'rest';
    this.release(before.filter(isOver));
    layer.voices = before.filter((voice) => !isOver(voice));
    for (const property of Object.keys(clip.tracks)) this.takeOver(property);
    const base = new Map(Object.keys(clip.tracks).map((property) => [property, this.shown(property)]));
    const shows = new Set(Object.keys(clip.tracks));
    const voice: Voice = {
      ...{ clip, fade, fadeOut, weight, after: after ?? clip.after ?? 'hold', began: this.now, base, shows },
      ...{ state: 'runs', isUnder: false },
    };
    if (fade > 0) {
      this.release(layer.voices.filter((one) => one.after === 'rest'));
      if (layer.current && !layer.current.isUnder) {
        if (layer.current.stoppedAt === this.now) delete layer.current.stoodAt;
        layer.current.isUnder = true;
      }
      layer.voices = [...before, voice];
    } else {
      this.release(layer.voices, clip);
      layer.voices = [voice];
    }
    if (layer.current?.state === 'runs') {
      layer.current.state = 'over';
      if (fade === 0) layer.current.stoodAt = this.now;
    }
    layer.current = voice;
    for (const property of shows) this.owed.add(property);
  }

  play(play: TwinPlay): void {
    const layer = this.layers[play.layer]!;
    layer.queue = [];
    this.start(layer, play);
  }

  enqueue(play: TwinPlay): void {
    const layer = this.layers[play.layer]!;
    if (layer.current?.state === 'runs') layer.queue.push(play);
    else this.start(layer, play);
  }

  leave(layer: Layer, voice: Voice, seconds: number): void {
    this.settle(layer, true);
    const place = layer.voices.indexOf(voice);
    if (place < 0) return;
    const leaving = layer.voices.slice(0, place + 1);
    this.release(leaving.filter(({ after }) => after === 'rest'));
    for (const one of leaving) one.leave ??= { at: this.now, for: seconds };
    voice.isUnder = true;
  }

  drop(layer: Layer, voice: Voice): void {
    const place = layer.voices.indexOf(voice);
    if (place < 0) return;
    const out = layer.voices.slice(0, place + 1);
    this.release(out);
    layer.voices = layer.voices.slice(place + 1);
  }

  stop(index: number, fade: number, after?: After): void {
    this.forget();
    const layer = this.layers[index]!;
    layer.queue = [];
    const voice = layer.current;
    if (!voice) return;
    voice.after = after ?? voice.after;
    if (fade > 0) this.leave(layer, voice, fade);
    if (voice.state === 'runs') {
      voice.state = 'over';
      // What fades goes on for the eye.
      if (fade === 0) voice.stoodAt = voice.stoppedAt = this.now;
    }
    if (!voice.leave && voice.after === 'rest') this.drop(layer, voice);
  }

  /** Time goes by, from end to end; then what is owed is written. */
  tick(dt: number): void {
    const end = this.now + dt;
    for (;;) {
      const ends = this.layers.flatMap(({ current }) =>
        current?.state === 'runs' && !current.clip.loop ? [current.began + current.clip.duration] : [],
      );
      const next = Math.min(...ends);
      if (next > end + SAME) break;
      this.now = Math.max(this.now, next);
      const layer = this.layers.find(
        ({ current }) =>
          current?.state === 'runs' && !current.clip.loop && current.began + current.clip.duration <= next + SAME / 10,
      )!;
      const voice = layer.current!;
      voice.state = 'over';
      voice.stoodAt = voice.began + voice.clip.duration;
      const following = layer.queue.shift();
      if (following) this.start(layer, following);
      else if (!voice.leave) {
        this.forget();
        if (voice.fadeOut > 0) this.leave(layer, voice, voice.fadeOut);
        else if (voice.after === 'rest') this.drop(layer, voice);
      }
    }
    this.now = end;
    this.write();
  }

  write(): void {
    this.hasTicked = true;
    // What fades counts until it is gone, its last frame with it.
    const moving = new Set<string>();
    for (const layer of this.layers)
      for (const voice of layer.voices)
        if (this.isFading(layer) || voice.state === 'runs') for (const one of voice.shows) this.owed.add(one);
    this.forget();
    for (const layer of this.layers)
      for (const voice of layer.voices)
        if (this.isFading(layer) || voice.state === 'runs') for (const one of voice.shows) moving.add(one);
    for (const property of this.owed) this.objects.set(property, this.shown(property));
    this.owed = moving;
  }
}
