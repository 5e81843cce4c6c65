import type { Crowd, NamesOf } from 'unspool';
import type { Sprite } from 'pixi.js';
import type planktonReel from '../reels/plankton.reel.json';

type PlanktonCrowd = Crowd<NamesOf<typeof planktonReel>>;

/** A sprite, its home position, and the index of its numbers in the values of the crowd. */
interface Speck {
  readonly sprite: Sprite;
  readonly x: number;
  readonly y: number;
  readonly position: number;
  readonly opacity: number;
  readonly scale: number;
  /** −1 where its clip has none. */
  readonly tint: number;
}

/** Specks in the water: a crowd evaluates them all at once, and here their numbers go straight into sprites. */
export class Plankton {
  readonly #specks: readonly Speck[];

  constructor(
    readonly crowd: PlanktonCrowd,
    sprites: readonly Sprite[],
  ) {
    const ids = sprites.map((_, i) =>
      // Golden-ratio steps: phases, rates and places that never fall in line, the same on every run.
      crowd.add(i % 4 === 0 ? 'sink' : 'drift', { phase: (i * 0.618) % 1, rate: 0.6 + ((i * 0.382) % 0.8) }),
    );
    crowd.prepare();
    // No instance is added or removed from here on, so that the indices stay valid.
    this.#specks = sprites.map((sprite, i) => {
      const at = (property: string) => crowd.offsetOf(ids[i]!, property);
      return {
        ...{ sprite, x: sprite.x, y: sprite.y },
        position: at('speck.position'),
        opacity: at('speck.opacity'),
        scale: at('speck.scale'),
        tint: i % 4 === 0 ? -1 : at('speck.tint'),
      };
    });
  }

  tick(dt: number): void {
    const { crowd } = this;
    crowd.tick(dt);
    const { values } = crowd;
    for (const { sprite, x, y, position, opacity, scale, tint } of this.#specks) {
      sprite.position.set(x + values[position]!, y + values[position + 1]!);
      sprite.alpha = values[opacity]!;
      sprite.scale.set(values[scale]);
      if (tint >= 0) sprite.tint = [values[tint]!, values[tint + 1]!, values[tint + 2]!];
    }
  }
}
