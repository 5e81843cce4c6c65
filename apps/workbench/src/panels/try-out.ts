import { Player, type CueEvent, type Gauge, type Reel, type ReelDocument } from 'unspool';
import { valuesAt, type Values } from '../model/pose.js';
import { setStatus } from '../model/store.js';
import { paintPlayer } from '../stage/painter.js';

/** A player of the reel, without objects of its own: its pose is painted. */
export class TryOut {
  readonly #player: Player;
  readonly #rest: Values;
  #gauge: Gauge | undefined;

  /**
   * @param gauge which clip is driven by a number from 0 to 1, if one is
   * @param hear  what a game would hear
   */
  constructor(
    private readonly doc: ReelDocument,
    private readonly reel: Reel,
    gauge: { readonly clip: string; readonly value: number } | undefined,
    hear: (label: string) => void,
  ) {
    this.#player = new Player(reel, { cast: {} });
    this.#rest = valuesAt(reel, undefined, 0);
    for (const type of ['cue', 'cue-start', 'cue-end'] as const)
      this.#player.on(type, ({ name, clip, data }: CueEvent) =>
        hear(`${type} ${name} of ${clip}${data === undefined ? '' : ` ${JSON.stringify(data)}`}`),
      );
    this.#player.on('end', ({ clip }) => hear(`${clip} ended`));
    if (!gauge) return;
    this.#gauge = this.#player.gauge('pad', { clip: gauge.clip, time: 0.15 });
    this.#gauge.jump(gauge.value);
  }

  play(name: string, add: boolean, fade: string): void {
    const options = { fade: fade as '6f' };
    this.#try(() => (add ? this.#player.enqueue(name, options) : this.#player.play(name, options)));
  }

  face(name: string, side: readonly [number, number]): void {
    this.#try(() => this.#player.face(name, [side[0], side[1]]));
  }

  setGauge(value: number): void {
    if (this.#gauge) this.#gauge.value = value;
  }

  stop(): void {
    this.#player.stop();
  }

  tick(dt: number): void {
    this.#player.tick(dt);
  }

  paint(pen: CanvasRenderingContext2D): void {
    paintPlayer(pen, this.doc, this.reel, this.#player, this.#rest);
  }

  #try(run: () => unknown): void {
    try {
      run();
    } catch (error) {
      // An invalid fade or a facing that lacks a side: reported, and nothing is played.
      setStatus((error as Error).message, true);
    }
  }
}
