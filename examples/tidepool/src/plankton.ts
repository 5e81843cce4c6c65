import type { Crowd } from 'unspool';
import type { Sprite } from 'pixi.js';

/** Specks in the water: a crowd evaluates them all at once, and here their numbers go straight into sprites. */
export class Plankton {
  readonly #specks: readonly { readonly sprite: Sprite; readonly id: number; readonly x: number; readonly y: number }[];

  constructor(
    readonly crowd: Crowd<{ readonly clip: 'drift' | 'sink'; readonly role: string; readonly cue: string }>,
    sprites: readonly Sprite[],
  ) {
    this.#specks = sprites.map((sprite, i) => ({
      sprite,
      // Golden-ratio steps: phases, rates and places that never fall in line, the same on every run.
      id: crowd.add(i % 4 === 0 ? 'sink' : 'drift', { phase: (i * 0.618) % 1, rate: 0.6 + ((i * 0.382) % 0.8) }),
      x: sprite.x,
      y: sprite.y,
    }));
    crowd.prepare();
  }

  tick(dt: number): void {
    const { crowd } = this;
    crowd.tick(dt);
    const { values } = crowd;
    for (const { sprite, id, x, y } of this.#specks) {
      const at = crowd.offsetOf(id, 'speck.position');
      sprite.position.set(x + values[at]!, y + values[at + crowd.stride]!);
      sprite.alpha = values[crowd.offsetOf(id, 'speck.opacity')]!;
      sprite.scale.set(values[crowd.offsetOf(id, 'speck.scale')]);
    }
  }
}
