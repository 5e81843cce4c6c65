import type { Time } from '../../time/units.js';
import type { Layer } from '../drive/layer.js';
import type { ChainRun, Playback } from '../drive/playback.js';
import type { CompiledRule } from './compile.js';

/** A layer as a routine sees it: the rule in force there, and what that has begun. */
export class Lane {
  /** The rule in force. */
  rule: CompiledRule | undefined;
  /** Since when, in seconds of the player. */
  since = 0;
  playback: Playback | undefined;
  /** The chain that it has begun. */
  run: ChainRun | undefined;
  /** The clip that was picked last. */
  picked: string | undefined;
  /** The direction that was faced last. */
  x = 0;
  y = 0;

  constructor(
    readonly layer: Layer,
    /** Whether it lies above others: then nothing stays of what played there. */
    readonly isAbove: boolean,
    readonly rules: readonly CompiledRule[],
  ) {}

  /** Its rule has begun something. */
  took(playback: Playback): void {
    this.playback = playback;
    this.run = playback.chain;
  }

  /** Whether the layer plays what its rule has begun; false once the game has played something there. */
  get isOurs(): boolean {
    const { playback } = this.layer;
    if (!playback) return this.playback === undefined;
    return playback === this.playback || (this.run !== undefined && playback.chain === this.run);
  }

  /** Whether the game plays something on the layer. */
  get isTaken(): boolean {
    return this.layer.isBusy && !this.isOurs;
  }

  /** The playback that its rule shows now: the one that it began, or the link that a chain has come to. */
  get shown(): Playback | undefined {
    return this.isOurs ? this.layer.playback : undefined;
  }

  /** Whether what its rule has begun is still going on: until its end, or until it has landed where it was meant to. */
  get isGoingOn(): boolean {
    const playback = this.shown;
    if (!playback) return false;
    const run = this.run;
    if (run && this.layer.queue.some((next) => next.chain === run)) return true;
    const { until } = playback.settings;
    return playback.active && !(until !== undefined && playback.paused && playback.time === until);
  }

  /** Stops what its rule has begun, with all links of a chain. */
  end(fade: Time): void {
    const { shown } = this;
    if (!shown) return;
    for (const next of this.layer.queue) if (next.chain !== undefined && next.chain === this.run) next.stop();
    shown.stop({ fade, ...(this.isAbove && { after: 'rest' as const }) });
  }

  /** Whether what its rule has begun was stopped from outside. */
  get wasStopped(): boolean {
    return this.layer.playback === undefined || this.layer.playback.state === 'stopped' || !this.isOurs;
  }
}
