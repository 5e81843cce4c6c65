import { Player, startRoutine, type Reel, type ReelDocument, type RoutineRun, type RuleExplanation } from 'unspool';
import { valuesAt, type Values } from '../model/pose.js';
import { paintPlayer } from '../stage/painter.js';

/** The value of an input as the controls have it. */
export type Given = number | boolean | readonly [x: number, y: number];

/** A routine that runs on a player without objects of its own: its pose is painted. */
export class TryRoutine {
  readonly #player: Player;
  readonly #act: RoutineRun;
  readonly #rest: Values;

  /**
   * @param given values of inputs to begin with; those that the routine does not have any more are left out
   * @throws UnspoolError for a routine that cannot begin
   */
  constructor(
    private readonly doc: ReelDocument,
    private readonly reel: Reel,
    routine: string,
    given: Readonly<Record<string, Given>>,
  ) {
    this.#player = new Player(reel, { cast: {} });
    this.#rest = valuesAt(reel, undefined, 0);
    this.#act = startRoutine(this.#player, routine);
    for (const [name, value] of Object.entries(given)) this.set(name, value);
  }

  set(name: string, value: Given): void {
    try {
      this.#act.set(name, value as never);
    } catch {
      // The input has another kind by now, or is gone: what was set for it means nothing.
    }
  }

  signal(name: string): void {
    this.#act.signal(name);
  }

  explain(): RuleExplanation[] {
    return this.#act.explain();
  }

  /** `snap + hurt`: what plays on each layer, the lowest first. */
  get playing(): string {
    const clips = this.#player.layers.flatMap(({ playback }) => (playback ? [playback.clip.name] : []));
    return clips.join(' + ') || 'nothing';
  }

  tick(dt: number): void {
    this.#player.tick(dt);
  }

  paint(pen: CanvasRenderingContext2D): void {
    paintPlayer(pen, this.doc, this.reel, this.#player, this.#rest);
  }
}
