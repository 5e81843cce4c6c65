import type { NamesOf, Player } from 'unspool';
import type gateReel from '../reels/gate.reel.json';

type GatePlayer = Player<NamesOf<typeof gateReel>>;

/** Seconds that the gate stays open. */
const OPEN = 3;

/**
 * The sluice gate: one clip that opens and closes, played in two actions. It lands on its cues, can be turned back half
 * way, and closes by itself after a while.
 */
export class Sluice {
  #left = 0;

  constructor(readonly player: GatePlayer) {
    player.on('cue', ({ name, playback }) => {
      // It has come back to where it began to close: that is open again.
      if (name === 'opened' || (name === 'closing' && playback.rate < 0)) this.#left = OPEN;
    });
  }

  /** What the lever does: opens it, closes it, or reverses it. */
  pull(): void {
    const { playback } = this.player;
    if (!playback?.active) this.player.play('gate', { until: 'opened' });
    else if (playback.paused) this.#close();
    else {
      playback.reverse();
      if (playback.time > playback.clip.spans['closing']![0]) playback.resume({ until: 'closing' });
    }
  }

  #close(): void {
    const { playback } = this.player;
    this.#left = 0;
    if (!playback?.paused) return;
    playback.rate = Math.abs(playback.rate);
    playback.seek('closing', { cues: true });
    playback.resume();
  }

  tick(dt: number): void {
    if (this.#left > 0 && (this.#left -= dt) <= 0) this.#close();
    this.player.tick(dt);
  }
}
